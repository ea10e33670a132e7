import { ForwardDynamics, ForwardError, InverseDynamics, kineticEnergy, type Effort } from '../dynamics';
import { Kinematics, linkedUnknowns, ratesOf, type MechanismModel, type Rates } from '../mechanism';
import { hasPosition } from '../machine';
import { motionAt, sampleMotion, type Motion, type MotionSamples } from '../motion';
import { besideJumps } from './beside';
import { checkMechanismRun } from './check-mechanism';
import { gateMechanism } from './gate';
import type { MechanismFinding, MechanismRun } from './mechanism-run';
import { clearNoise } from './noise';
import { Recorder } from './record';
import type { AxisMotions, MechanismSystem } from './system';

/**
 * Runs a mechanism over rising times (s). Where all freedoms are driven, by kinematics and inverse dynamics; where
 * freedoms are left, by forward dynamics from rest. What cannot be reached ends the run with a finding; what came
 * before is kept.
 */
export function runMechanism(
  system: MechanismSystem,
  motions: AxisMotions,
  times: Float64Array,
  progress?: (share: number) => void,
): MechanismRun {
  const { model, mobility } = system;
  const findings = [...system.findings];
  if (!model || !mobility) return emptyRun(findings);
  const efforts = system.actingEfforts();
  const recorder = new Recorder(model, efforts, times.length);
  const samples = model.drives.map(({ axisId }, i) => {
    const led = motions.get(axisId)!;
    return { ...sampleMotion(led.motion, times), motion: led.motion, sign: system.signs[i]! };
  });
  const run: MechanismRun = {
    mode: system.isFree ? 'free' : 'led',
    reached: 0,
    bodies: model.bodies.map(({ id, centre, mass, inertia }) => ({ id, centre, mass, inertia })),
    q: recorder.q,
    v: recorder.v,
    a: recorder.a,
    assembled: Array.from(system.assembled),
    joints: recorder.joints,
    bearings: recorder.bearings,
    drives: recorder.drives,
    elements: recorder.elements,
    energy: recorder.energy,
    mobility,
    findings,
  };
  if (!system.runs) {
    run.mode = 'none';
    return run;
  }
  const task: Task = { system, model, efforts, recorder, samples, times, run, progress };
  if (run.mode === 'led') led(task, mobility.rows);
  else free(task, mobility.rows);
  gateMechanism(run, times);
  clearNoise(run, model);
  // What a drive gives, moving or at rest, is along the positive direction of its axis.
  samples.forEach(({ sign }, i) => {
    if (sign > 0) return;
    const { effort, holding } = recorder.drives[i]!;
    for (const list of [effort, holding]) list.forEach((value, k) => (list[k] = -value));
  });
  findings.push(...startVelocities(model, run), ...checkMechanismRun(model, run, times, system.acts));
  findings.push(...sharedLoads(run));
  // What ended a simulated cycle is told, also where the run over it just gets by.
  const { failure } = system;
  if (failure && !findings.some(({ code }) => code === failure.code)) findings.push(failure);
  return run;
}

/** Joints that share what they carry across their plane, each group once. */
function sharedLoads({ bearings }: MechanismRun): MechanismFinding[] {
  const groups = new Map<string, string[]>();
  for (const { id, with: others } of bearings)
    if (others.length > 0) {
      const joints = [id, ...others].sort();
      groups.set(joints.join(), joints);
    }
  return [...groups.values()].map((joints) => ({ code: 'shared-load', severity: 'info', joints }));
}

/** Joints that do not begin with the velocity that the document says. */
function startVelocities({ joints }: MechanismModel, run: MechanismRun): MechanismFinding[] {
  return joints.flatMap(({ joint }, i): MechanismFinding[] => {
    const got = run.joints[i]?.rate?.[0];
    if (!hasPosition(joint) || joint.velocity === undefined || got === undefined || !Number.isFinite(got)) return [];
    const { velocity: wanted } = joint;
    const same = Math.abs(got - wanted) <= 1e-6 * Math.max(Math.abs(wanted), 1e-3);
    return same ? [] : [{ code: 'start-velocity', severity: 'warning', id: joint.id, wanted, got }];
  });
}

interface Task {
  system: MechanismSystem;
  model: MechanismModel;
  efforts: readonly Effort[];
  recorder: Recorder;
  samples: readonly (MotionSamples & { motion: Motion; sign: number })[];
  times: Float64Array;
  run: MechanismRun;
  progress: ((share: number) => void) | undefined;
}

function emptyRun(findings: MechanismFinding[]): MechanismRun {
  const none = new Float64Array();
  return {
    mode: 'none',
    reached: 0,
    bodies: [],
    q: [],
    v: [],
    a: [],
    assembled: [],
    joints: [],
    bearings: [],
    drives: [],
    elements: [],
    energy: { kinetic: none, potential: none, elastic: none, drives: none, loads: none, lost: none, residual: none },
    mobility: null,
    findings,
  };
}

/** Bodies that moved most between two poses: those that a stuck mechanism is stuck at. */
function bodiesNear(model: MechanismModel, v: Rates): string[] {
  const amount = (base: number) => Math.abs(v[base + 2]!) + Math.hypot(v[base]!, v[base + 1]!) / model.scale;
  return model.bodies
    .filter(({ base }) => amount(base) > 0)
    .sort((x, y) => amount(y.base) - amount(x.base))
    .slice(0, 2)
    .map(({ id }) => id);
}

function led(task: Task, rows: readonly number[]): void {
  const { system, model, efforts, recorder, samples, times, run } = task;
  const kinematics = new Kinematics(model, system.assembled, rows);
  const dynamics = new InverseDynamics(kinematics, efforts);
  const drives = model.drives.length;
  const [to, rate, change] = [0, 1, 2].map(() => new Float64Array(drives)) as [
    Float64Array,
    Float64Array,
    Float64Array,
  ];
  const influence = ratesOf(model);
  const linked = linkedUnknowns(model);
  const held = new Float64Array(model.rows);
  for (let k = 0; k < times.length; k++) {
    const time = besideJumps(times, k);
    samples.forEach(({ position, velocity, acceleration, sign }, i) => {
      to[i] = sign * (position[k]! + velocity[k]! * (time - times[k]!));
      rate[i] = sign * velocity[k]!;
      change[i] = sign * acceleration[k]!;
    });
    // What stands as it stood needs no pose, only forces.
    const stands = k > 0 && kinematics.stands(to, rate, change);
    if (!stands) {
      const share = kinematics.moveTo(to, k > 0 ? time - besideJumps(times, k - 1) : 0);
      if (share < 1) {
        stuckAt(task, kinematics, k, share, to);
        return;
      }
      if (!kinematics.derive(rate, change)) {
        run.findings.push({ code: 'singular', severity: 'error', time: times[k]! });
        return;
      }
    }
    dynamics.solve(time);
    recorder.take(k, kinematics.state, dynamics.lambda, kinematics.equations);
    dynamics.hold(time, held);
    for (let i = 0; i < drives; i++) {
      const { reflected, holding } = recorder.drives[i]!;
      if (stands || (k > 0 && linked[i]!.every((j) => kinematics.state.q[j] === recorder.q[j]![k - 1])))
        reflected[k] = reflected[k - 1]!;
      else {
        kinematics.influence(i, influence);
        reflected[k] = 2 * kineticEnergy(model, kinematics.state.q, influence);
      }
      holding[k] = -held[model.drives[i]!.row]!;
    }
    run.reached = k + 1;
    if (task.progress && k % 500 === 0) task.progress(k / times.length);
  }
}

function stuckAt(
  { system, model, samples, times, run }: Task,
  kinematics: Kinematics,
  k: number,
  share: number,
  to: Float64Array,
): void {
  const { q } = kinematics.state;
  let drive = 0;
  const gap = (j: number) => Math.abs(to[j]! - model.drives[j]!.coordinate.value(q));
  model.drives.forEach((_, i) => {
    if (gap(i) > gap(drive)) drive = i;
  });
  if (k === 0) {
    run.findings.push(system.startFar(drive, to[drive]!, q));
    run.assembled = Array.from(q);
    return;
  }
  const { axisId, coordinate } = model.drives[drive]!;
  const position = samples[drive]!.sign * coordinate.value(q);
  const time = times[k - 1]! + share * (times[k]! - times[k - 1]!);
  const rates = model.drives.map((_, i) => to[i]! - samples[i]!.sign * samples[i]!.position[k - 1]!);
  const moving = kinematics.derive(
    rates,
    rates.map(() => 0),
  )
    ? bodiesNear(model, kinematics.state.v)
    : [];
  run.findings.push({ code: 'unreachable', severity: 'error', time, axisId, position, bodies: moving });
}

function free(
  { system, model, efforts, recorder, samples, times, run, progress }: Task,
  rows: readonly number[],
): void {
  const start = system.startAt(samples.map(({ position, sign }) => sign * position[0]!));
  run.assembled = Array.from(system.assembled);
  if (!(start instanceof Float64Array)) {
    run.findings.push(start);
    return;
  }
  const motions = new Map(model.drives.map(({ axisId }, i) => [axisId, samples[i]!.motion]));
  const leading = system.leading((axisId, time) => {
    const motion = motions.get(axisId)!;
    return motionAt(motion, Math.min(time, motion.duration));
  });
  const held = new Float64Array(model.rows);
  try {
    const forward = new ForwardDynamics(model, start, rows, efforts, leading, system.acts);
    // Where the simulated cycle could not go on, the run over it cannot either.
    const { failure } = system;
    const until = failure && 'time' in failure ? failure.time : Infinity;
    for (let k = 0; k < times.length && times[k]! <= until; k++) {
      forward.advance(besideJumps(times, k));
      forward.equations.jacobian(forward.state.q);
      recorder.take(k, forward.state, forward.lambda, forward.equations);
      forward.hold(held);
      recorder.drives.forEach((drive, i) => {
        drive.reflected[k] = forward.inertiaOf(i);
        drive.holding[k] = -held[model.drives[i]!.row]!;
      });
      run.reached = k + 1;
      if (progress && k % 50 === 0) progress(k / times.length);
    }
    for (const stop of model.stops) {
      const hits = forward.events.filter((event) => event.stop === stop.id);
      if (hits.length > 0)
        run.findings.push({
          code: 'stops-hit',
          severity: 'info',
          id: stop.id,
          count: hits.length,
          time: hits[0]!.time,
        });
    }
  } catch (error) {
    if (!(error instanceof ForwardError)) throw error;
    run.findings.push({ code: error.reason, severity: 'error', time: error.time });
  }
}
