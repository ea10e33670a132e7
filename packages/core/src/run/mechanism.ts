import {
  compileEfforts,
  courseEdges,
  ForwardDynamics,
  ForwardError,
  InverseDynamics,
  kineticEnergy,
  type Effort,
  type ElementFormulas,
} from '../dynamics';
import type { Machine } from '../machine';
import { indexerGeometry, indexerHalfAngle, Kinematics, leadPose, type MechanismModel } from '../mechanism';
import { motionAt, sampleMotion, type Motion, type MotionSamples } from '../motion';
import { bisectChange } from '../numeric';
import type { MechanismFinding, MechanismRun } from './mechanism-run';
import { checkMechanismRun } from './check-mechanism';
import { gateMechanism } from './gate';
import { prepareMechanism } from './prepare';
import { Recorder } from './record';

/** What leads the axes that drive a mechanism, by axis identifier. */
export type AxisMotions = ReadonlyMap<string, { motion: Motion; reversed: boolean }>;

/** Times at which a mechanism's run is not smooth: loads that change, and pins that enter an indexing wheel. */
export function mechanismEdges(
  machine: Machine,
  motions: AxisMotions,
  cycleTime: number,
): { edges: number[]; steps: number[] } {
  const edges: number[] = [];
  const steps: number[] = [];
  for (const element of machine.mechanism.elements)
    if (element.on && (element.kind === 'force' || element.kind === 'torque')) {
      const places = courseEdges(element.course, cycleTime);
      edges.push(...places);
      // A place that stands twice in a table is a jump.
      places.forEach((place, i) => place === places[i - 1] && steps.push(place));
    }
  for (const coupling of machine.mechanism.couplings) {
    if (coupling.kind !== 'indexer') continue;
    const axis = machine.axes.find(({ joint }) => joint === coupling.first);
    const led = motions.get(axis?.id ?? '');
    if (!axis || !led) continue;
    const { shift } = indexerGeometry(coupling, machine.mechanism);
    const half = indexerHalfAngle(coupling.slots);
    const engaged = (time: number) => {
      const angle = (led.reversed ? -1 : 1) * motionAt(led.motion, time).position + shift;
      return Math.abs(angle - 2 * Math.PI * Math.round(angle / (2 * Math.PI))) < half;
    };
    const probes = 720;
    for (let i = 0; i < probes; i++) {
      const [from, to] = [(cycleTime * i) / probes, (cycleTime * (i + 1)) / probes];
      if (engaged(from) === engaged(to)) continue;
      const change = bisectChange(engaged, from, to);
      edges.push(change);
      steps.push(change);
    }
  }
  return { edges, steps };
}

/**
 * Runs one cycle of the mechanism of a machine over rising times (s). Where all freedoms are driven, by kinematics and
 * inverse dynamics; where freedoms are left, by forward dynamics from rest. What cannot be reached ends the run
 * with a finding; what came before is kept.
 */
export function runMechanism(
  machine: Machine,
  motions: AxisMotions,
  times: Float64Array,
  cycleTime: number,
  progress?: (share: number) => void,
  formulas?: ElementFormulas,
): MechanismRun {
  const prepared = prepareMechanism(machine);
  if (!('model' in prepared)) return emptyRun(prepared.findings);
  const { model, mobility, findings } = prepared;
  const efforts = compileEfforts(model, cycleTime, formulas);
  const recorder = new Recorder(model, efforts, times.length);
  const samples = model.drives.map(({ axisId }) => {
    const led = motions.get(axisId)!;
    return { ...sampleMotion(led.motion, times), motion: led.motion, sign: led.reversed ? -1 : 1 };
  });
  const run: MechanismRun = {
    mode: mobility.remaining > 0 ? 'free' : 'led',
    reached: 0,
    bodies: model.bodies.map(({ id, centre, mass, inertia }) => ({ id, centre, mass, inertia })),
    q: recorder.q,
    v: recorder.v,
    a: recorder.a,
    assembled: Array.from(prepared.q),
    joints: recorder.joints,
    drives: recorder.drives,
    elements: recorder.elements,
    energy: recorder.energy,
    mobility,
    findings,
  };
  const task: Task = { model, efforts, recorder, samples, times, run, progress };
  if (!prepared.runs) {
    run.mode = 'none';
    return run;
  }
  if (run.mode === 'led') led(task, prepared.q, mobility.rows);
  else free(task, prepared.q, mobility.rows, cycleTime);
  gateMechanism(run, times);
  // A drive's effort is along the positive direction of its axis.
  samples.forEach(({ sign }, i) => {
    if (sign < 0) recorder.drives[i]!.effort.forEach((value, k, all) => (all[k] = -value));
  });
  findings.push(...checkMechanismRun(model, run, times));
  return run;
}

interface Task {
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
    drives: [],
    elements: [],
    energy: { kinetic: none, potential: none, elastic: none, drives: none, loads: none, lost: none, residual: none },
    mobility: null,
    findings,
  };
}

/** Bodies that moved most between two poses: those that a stuck mechanism is stuck at. */
function bodiesNear(model: MechanismModel, v: Float64Array): string[] {
  const amount = (base: number) => Math.abs(v[base + 2]!) + Math.hypot(v[base]!, v[base + 1]!) / model.scale;
  return model.bodies
    .filter(({ base }) => amount(base) > 0)
    .sort((x, y) => amount(y.base) - amount(x.base))
    .slice(0, 2)
    .map(({ id }) => id);
}

/** A hair's breadth, as a share of the time: how far beside a jump the values before and after it are read. */
const BESIDE = 1e-10;

/** The time at which a sample is taken: of a time that stands twice, just before and just after. */
function instant(times: Float64Array, k: number): number {
  const time = times[k]!;
  const hair = BESIDE * times[times.length - 1]!;
  if (times[k + 1] === time) return time - hair;
  if (k > 0 && times[k - 1] === time) return time + hair;
  return time;
}

function led(task: Task, start: Float64Array, rows: readonly number[]): void {
  const { model, efforts, recorder, samples, times, run } = task;
  const kinematics = new Kinematics(model, start, rows);
  const dynamics = new InverseDynamics(kinematics, efforts);
  const drives = model.drives.length;
  const [to, rate, change] = [0, 1, 2].map(() => new Float64Array(drives)) as [
    Float64Array,
    Float64Array,
    Float64Array,
  ];
  const influence = new Float64Array(model.size);
  const held = new Float64Array(model.rows);
  for (let k = 0; k < times.length; k++) {
    const time = instant(times, k);
    samples.forEach(({ position, velocity, acceleration, sign }, i) => {
      to[i] = sign * (position[k]! + velocity[k]! * (time - times[k]!));
      rate[i] = sign * velocity[k]!;
      change[i] = sign * acceleration[k]!;
    });
    const share = kinematics.moveTo(to, k > 0 ? time - instant(times, k - 1) : 0);
    if (share < 1) {
      stuckAt(task, kinematics, k, share, to);
      return;
    }
    if (!kinematics.derive(rate, change)) {
      run.findings.push({ code: 'singular', severity: 'error', time: times[k]! });
      return;
    }
    dynamics.solve(time);
    recorder.take(k, kinematics.state, dynamics.lambda, kinematics.equations);
    dynamics.hold(time, held);
    for (let i = 0; i < drives; i++) {
      kinematics.influence(i, influence);
      recorder.drives[i]!.reflected[k] = 2 * kineticEnergy(model, influence);
      recorder.drives[i]!.holding[k] = -held[model.drives[i]!.row]!;
    }
    run.reached = k + 1;
    if (task.progress && k % 500 === 0) task.progress(k / times.length);
  }
}

function stuckAt(
  { model, samples, times, run }: Task,
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
  const { axisId, coordinate } = model.drives[drive]!;
  const sign = samples[drive]!.sign;
  const position = sign * coordinate.value(q);
  if (k === 0) {
    run.findings.push({ code: 'start-far', severity: 'error', axisId, wanted: sign * to[drive]!, reached: position });
    run.assembled = Array.from(q);
    return;
  }
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

function free(task: Task, start: Float64Array, rows: readonly number[], cycleTime: number): void {
  const { model, efforts, recorder, samples, times, run } = task;
  const q = Float64Array.from(start);
  const begin = samples.map(({ position, sign }) => sign * position[0]!);
  const share = leadPose(model, q, rows, begin);
  run.assembled = Array.from(q);
  if (share < 1) {
    const far = model.drives.findIndex(({ coordinate }, i) => Math.abs(coordinate.value(q) - begin[i]!) > 1e-9);
    const { axisId, coordinate } = model.drives[Math.max(0, far)]!;
    const sign = samples[Math.max(0, far)]!.sign;
    run.findings.push({
      code: 'start-far',
      severity: 'error',
      axisId,
      wanted: sign * begin[Math.max(0, far)]!,
      reached: sign * coordinate.value(q),
    });
    return;
  }
  const leading = (time: number, out: { position: Float64Array; rate: Float64Array; change: Float64Array }) => {
    samples.forEach(({ motion, sign }, i) => {
      const state = motionAt(motion, Math.min(time, cycleTime));
      out.position[i] = sign * state.position;
      out.rate[i] = sign * state.velocity;
      out.change[i] = sign * state.acceleration;
    });
  };
  try {
    const forward = new ForwardDynamics(model, q, rows, efforts, leading);
    for (let k = 0; k < times.length; k++) {
      forward.advance(times[k]!);
      forward.equations.jacobian(forward.state.q);
      recorder.take(k, forward.state, forward.lambda, forward.equations);
      for (const drive of recorder.drives) drive.reflected[k] = drive.holding[k] = 0;
      run.reached = k + 1;
      if (task.progress && k % 50 === 0) task.progress(k / times.length);
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
