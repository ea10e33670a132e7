import { driveModel, drivePartsInertia } from '../dynamics';
import { cycleTime, type Axis, type Machine } from '../machine';
import {
  checkAxisMotion,
  MachineMotions,
  MOST_PROPOSED,
  MOST_SAMPLES,
  motionAt,
  sampleMotion,
  sampleTimes,
  shortestMove,
  type BlockResult,
  type EngagementJump,
  type FoundMotions,
  type PlanContext,
  type PlanFinding,
  movingMachine,
} from '../motion';
import { CHANNEL_IDS, type ChannelId } from './channels';
import { gateAxis } from './gate';
import { integrateAxis, type AxisEnergy, type DutyIntegrals } from './integrals';
import { runMechanism } from './mechanism';
import { bendOf, proposeGrid } from './resolution';
import { hasMechanism } from './prepare';
import type { MechanismRun } from './mechanism-run';
import { axisModel, emptyInstant, evaluateAxis, doubled, withMechanism, type AxisModel } from './model';
import { besideJumps } from './beside';
import { MechanismSystem } from './system';

/** What one axis does over the cycle. */
export interface AxisRun {
  axisId: string;
  channels: Record<ChannelId, Float64Array>;
  /** Motor acceleration in rad/s², from which each candidate's own torque is formed. */
  motorAcceleration: Float64Array;
  energy: AxisEnergy & { balance: EnergyBalance };
  duty: DutyIntegrals;
  /** RMS values over the cycle: effort at the axis, torque with the chosen rotor, speed. */
  rms: { effort: number; shaftTorque: number; motorTorque: number; motorSpeed: number };
  findings: PlanFinding[];
  /** What each block of a servo move list did; empty for other motions. */
  blocks: readonly BlockResult[];
  /** Time in s that a list of servo moves takes; null for other motions. */
  blocksTime: number | null;
  /** What engaging with the master at once would do; null for an axis that does not. */
  jump: EngagementJump | null;
  /** Largest inertia of the mechanism felt by the axis over its poses, kg or kg·m²; 0 without one. */
  mechanismInertia: number;
  /** Largest effort in N or N·m that holds the mechanism at rest at any pose of the run. */
  mechanismHolding: number;
}

/** How well the energies of a run close: work put in against energy stored, lost and given off, in J. */
export interface EnergyBalance {
  /** Change of kinetic and potential energy from the first to the last sample. */
  stored: number;
  /** What does not add up. */
  residual: number;
  /** Energy turned over, against which the residual is judged. */
  turnedOver: number;
}

/** What is noteworthy about the run as a whole. */
export type RunFinding =
  | {
      code: 'coarse-step';
      severity: 'warning' | 'error';
      step: number;
      shortest: number;
      /** Most by which an effort bends between samples, as a share of its peak, and when, s. */
      bend: number;
      time: number;
      /** A finer step that is enough; null where it is the run that is too long for what moves in it. */
      proposed: number | null;
    }
  | { code: 'master'; severity: 'error'; text: string }
  | { code: 'step-refused'; severity: 'error'; step: number; least: number };

/** One simulated cycle of a machine: every channel of every axis over one grid of times (s). */
export interface Run {
  cycleTime: number;
  step: number;
  proposedStep: number;
  times: Float64Array;
  axes: AxisRun[];
  mechanism: MechanismRun | null;
  findings: RunFinding[];
  /** Signals of sensors where cues made the cycle: times of changes in s, the first is the start. */
  signals?: readonly RunSignal[];
}

/** The signal of a sensor over a run: on or off at the start, and when it changes. */
export interface RunSignal {
  sensor: string;
  first: boolean;
  times: readonly number[];
}

/** Inertia in kg·m² of rotor and brake, by axis identifier. */
export type RotorInertias = Readonly<Record<string, number>>;

/** What a simulated cycle hands to the run over it. */
export interface CycleFound {
  /** Motions as cues made them, over the length of the cycle. */
  motions: FoundMotions;
  /** The mechanism as the cycle had it, with the forces of parts that it took down; null without one. */
  system: MechanismSystem | null;
  /** Forces of belts and of cues on axes along their positive direction, N or N·m, straight between rising times in s. */
  pushes: readonly { axis: string; times: Float64Array; effort: Float64Array }[];
}

/** Settings of a run that are not in the document. */
export interface RunOptions {
  /** Rotors of chosen motors, or how they are chosen from the run without them. */
  rotors?: RotorInertias | ((plain: Run) => RotorInertias) | undefined;
  found?: CycleFound | undefined;
  /** Told the share done, from 0 to 1, now and then. */
  progress?: ((share: number) => void) | undefined;
}

/** An effort that bends by this share of its peak between samples is sampled finely enough; peaks are right to an eighth of it. */
const FINE_BEND = 0.004;
/** Beyond this a step is coarse, and beyond that its peaks and energies are wrong. */
const COARSE_BEND = 0.01;
const WRONG_BEND = 0.04;

/** A run before motors are chosen, and the way from it to one with their rotors. */
export interface PlainRun {
  run: Run;
  /** The run with rotors on the motors' shafts: they change the torques of their axes, and nothing else. */
  withRotors(rotors: RotorInertias): Run;
  /** An axis with another gearbox before it, everything behind that as it was; undefined where there is no such axis. */
  withGearbox(axisId: string, gearbox: Axis['gearbox']): AxisRun | undefined;
}

/** Samples at most of a run in which nothing but loose parts move. */
const MOST_EMPTY = 20_000;

/** Runs one cycle of all axes of a machine and of its mechanism. A machine with neither gives a run without channels. */
export function simulate(machine: Machine, { rotors, ...options }: RunOptions = {}): Run {
  const { run, withRotors } = simulatePlain(machine, options);
  return withRotors(typeof rotors === 'function' ? rotors(run) : (rotors ?? {}));
}

/** As {@link simulate}, without rotors. */
export function simulatePlain(machine: Machine, { found, progress }: Omit<RunOptions, 'rotors'> = {}): PlainRun {
  const duration = found?.motions.duration ?? cycleTime(machine);
  const made = new MachineMotions(movingMachine(machine), found?.motions ?? null);
  const models = machine.axes.map((axis) => {
    const model = axisModel(axis, made);
    const push = found?.pushes.find((p) => p.axis === axis.id && p.times.length > 1);
    // What pushes along the positive direction is taken off what the axis must give.
    return push ? withMechanism(model, { times: push.times, effort: push.effort.map((f) => -f) }) : model;
  });
  const motions = models.map((model) => model.motion);
  const system = found ? found.system : hasMechanism(machine) ? new MechanismSystem(machine, made) : null;
  if (motions.length === 0 && !system) {
    // Loose parts alone: their steps, as far as there is a use for so many.
    const step = found ? Math.max(machine.loose.step, duration / MOST_EMPTY) : duration;
    const count = found ? Math.round(duration / step) : 0;
    const times = Float64Array.from({ length: count > 0 ? count + 1 : 0 }, (_, k) => (duration * k) / count);
    const run: Run = { cycleTime: duration, step, proposedStep: step, times, axes: [], mechanism: null, findings: [] };
    return { run, withRotors: () => run, withGearbox: () => undefined };
  }
  const findings: RunFinding[] = [];
  const { step: proposedStep, moving } = proposeGrid(models, duration, system !== null);
  let step = machine.step ?? proposedStep;
  if (duration / step > MOST_SAMPLES) {
    findings.push({ code: 'step-refused', severity: 'error', step, least: duration / MOST_SAMPLES });
    step = proposedStep;
  }
  if (made.masterProblem !== null) findings.push({ code: 'master', severity: 'error', text: made.masterProblem });
  const loads = models.map(({ loadEdges }) => loadEdges(made, duration));
  const jumps = (found?.pushes ?? []).flatMap((push) => doubled(push.times));
  const byAxis = new Map(models.map(({ axis, motion }) => [axis.id, { motion, reversed: axis.reversed }]));
  const own = system?.edges(made, byAxis, duration) ?? { edges: [], steps: [], quiet: [] };
  const edges = [...loads.flatMap((load) => load.edges), ...own.edges, ...jumps];
  const steps = [...loads.flatMap((load) => load.steps), ...own.steps, ...jumps];
  const rest = { duration, stretches: [], edges: [0, duration], steps: [] };
  const stepping = [
    ...(motions.length > 0 ? motions : [rest]),
    ...(steps.length > 0 ? [{ ...rest, edges, steps }] : []),
  ];
  // What belts feel is known at these times and straight between them: nothing that a finer step would tell more of.
  const pushed = (found?.pushes ?? []).flatMap((push) => Array.from(push.times));
  const allEdges = [...edges, ...own.quiet, ...pushed, ...motions.flatMap((motion) => motion.edges)];
  const context = { cycleTime: cycleTime(machine), once: found !== undefined, oneOff: machine.oneOff };

  // How often it is run is not known before: each time takes half of what is left to tell.
  let told = 0;
  /** The whole run on a grid, and how to run an axis once more on it. */
  const runOn = (width: number) => {
    const before = told;
    told += (1 - before) / 2;
    const tell = progress && ((share: number) => progress(before + share * (told - before)));
    const times = sampleTimes(stepping, width, edges, machine.step === null ? moving : 1);
    const mechanism = system ? runMechanism(system, byAxis, times, tell) : null;
    const axisRun = (model: AxisModel): AxisRun => {
      const led = mechanism?.drives.some(({ axisId }) => axisId === model.axis.id);
      const reached = led ? mechanism!.reached : times.length;
      const run = gateAxis(runWithMechanism(model, times, context, mechanism), model.axis, times, reached);
      return reached < times.length ? withoutSums(run) : run;
    };
    const axes = models.map(axisRun);
    const channels = axes.flatMap(({ channels: { effort, acceleration, velocity } }) => [
      { effort, velocity },
      { effort: acceleration, velocity },
    ]);
    for (const { axisId, effort } of mechanism?.drives ?? []) {
      const velocity = axes.find((run) => run.axisId === axisId)?.channels.velocity;
      if (velocity) channels.push({ effort, velocity });
    }
    return { times, mechanism, axisRun, axes, bend: bendOf(times, allEdges, channels) };
  };
  let attempt = runOn(step);
  // What still bends between the samples, as a linkage near its dead position does, is sampled more finely: the step
  // that was proposed gives way; one that was typed is judged by it. A bend that stays is a jump, and no fault of the step.
  let trial = attempt;
  if (trial.bend.jumps) trial.bend.share = 0;
  for (let width = step; trial.bend.share > FINE_BEND && duration / width < MOST_PROPOSED;) {
    width = Math.max(duration / MOST_PROPOSED, width * Math.max(0.2, Math.sqrt(FINE_BEND / trial.bend.share) * 0.8));
    const finer = runOn(width);
    const isJump = finer.bend.share > 0.7 * trial.bend.share;
    if (isJump) trial.bend.share = 0;
    if (isJump || machine.step !== null) break;
    step = width;
    attempt = trial = finer;
  }
  const { times, mechanism, axisRun, axes, bend } = attempt;
  const shortest = shortestMove(motions);
  if (bend.share > COARSE_BEND)
    findings.push({
      code: 'coarse-step',
      severity: bend.share > WRONG_BEND ? 'error' : 'warning',
      step,
      shortest,
      bend: bend.share,
      time: bend.time,
      proposed: step > proposedStep * (1 + 1e-9) ? proposedStep : null,
    });
  const plain: Run = { cycleTime: duration, step, proposedStep, times, axes, mechanism, findings };
  return {
    run: plain,
    withGearbox(axisId, gearbox) {
      const model = models.find(({ axis }) => axis.id === axisId);
      if (!model) return undefined;
      const axis = { ...model.axis, gearbox };
      return axisRun({ ...model, axis, drive: driveModel(axis, axis.reversed) });
    },
    withRotors: (rotors) => ({
      ...plain,
      axes: models.map((model, i) => {
        const rotorInertia = rotors[model.axis.id] ?? 0;
        return rotorInertia > 0 ? axisRun({ ...model, rotorInertia }) : plain.axes[i]!;
      }),
    }),
  };
}

/** Runs an axis; what a mechanism asks of it is part of its load, and unknown where the mechanism did not get to. */
function runWithMechanism(
  model: AxisModel,
  times: Float64Array,
  context: RunContext,
  mechanism: MechanismRun | null,
): AxisRun {
  const drive = mechanism?.drives.find(({ axisId }) => axisId === model.axis.id);
  if (!mechanism || !drive) return runAxis(model, times, context);
  const { reached } = mechanism;
  const effort = drive.effort.map((value, k) => (k < reached ? value : 0));
  const run = runAxis(withMechanism(model, { times, effort }), times, context);
  for (const id of ['effort', 'power', 'shaftTorque', 'motorTorque', 'motorPower'] as const)
    run.channels[id].fill(NaN, reached);
  const largest = (values: Float64Array) =>
    values.subarray(0, reached).reduce((most, value) => Math.max(most, Math.abs(value)), 0);
  return { ...run, mechanismInertia: largest(drive.reflected), mechanismHolding: largest(drive.holding) };
}

/** Whether a jump of velocity is a cylinder that meets its end at the speed its cushion leaves: meant, and told in Build. */
function isCylinderEnd({ cylinder }: Axis, finding: PlanFinding): boolean {
  if (!cylinder || finding.code !== 'break' || finding.order !== 1 || finding.after !== 0) return false;
  const most = Math.max(
    ...[cylinder.out, cylinder.in].map(({ cushion, endSpeed, speed }) => (cushion > 0 ? endSpeed : speed)),
  );
  return Math.abs(finding.before) <= most * (1 + 1e-6);
}

/** What motions are checked against: the cycle of the document, whether it is run once, and whether a simulated cycle made them. */
type RunContext = Pick<PlanContext, 'cycleTime' | 'once' | 'oneOff'>;

/** Sums over a cycle that was not run to its end are unknown. */
function withoutSums(run: AxisRun): AxisRun {
  const unknown = <T extends object>(sums: T): T =>
    Object.fromEntries(Object.entries(sums).map(([key, value]) => [key, typeof value === 'number' ? NaN : value])) as T;
  const { balance, ...energy } = run.energy;
  return {
    ...run,
    energy: { ...unknown(energy), balance: unknown(balance) },
    duty: unknown(run.duty),
    rms: unknown(run.rms),
    mechanismInertia: NaN,
    mechanismHolding: NaN,
  };
}

function runAxis(model: AxisModel, times: Float64Array, context: RunContext): AxisRun {
  const { duration } = model.motion;
  const { axis, drive } = model;
  const motion = sampleMotion(model.motion, times);
  const count = times.length;
  const channels = Object.fromEntries(
    CHANNEL_IDS.map((id) => [id, id in motion ? motion[id as keyof typeof motion] : new Float64Array(count)]),
  ) as Record<ChannelId, Float64Array>;
  const motorAcceleration = new Float64Array(count);
  const instant = emptyInstant();
  for (let k = 0; k < count; k++) {
    const velocity = motion.velocity[k]!;
    const state = {
      position: motion.position[k]!,
      velocity,
      acceleration: motion.acceleration[k]!,
      jerk: motion.jerk[k]!,
    };
    evaluateAxis(model, besideJumps(times, k), state, instant);
    channels.effort[k] = instant.effort;
    channels.power[k] = instant.effort * velocity;
    channels.motorSpeed[k] = instant.motorSpeed;
    channels.shaftTorque[k] = instant.torque;
    channels.motorTorque[k] = instant.motorTorque;
    channels.motorPower[k] = instant.motorTorque * instant.motorSpeed;
    motorAcceleration[k] = drive.ratio * state.acceleration;
  }
  const { energy, duty } = integrateAxis(model, times);
  return {
    axisId: axis.id,
    channels,
    motorAcceleration,
    energy: { ...energy, balance: balanceOf(model, energy, 0, duration) },
    duty,
    rms: {
      effort: Math.sqrt(duty.effortSquare / duration),
      shaftTorque: rmsTorque(duty, 0),
      motorTorque: rmsTorque(duty, model.rotorInertia),
      motorSpeed: Math.sqrt(duty.speedSquare / duration),
    },
    findings: [
      ...checkAxisMotion(axis, model.made, {
        ...context,
        limits: axis.limits,
        travel: axis.travel,
        smooth: axis.smooth,
      }).filter((finding) => !isCylinderEnd(axis, finding)),
      ...(model.loadProblem ? [model.loadProblem] : []),
    ],
    blocks: model.made.blocks,
    blocksTime: model.made.blocksTime,
    jump: model.made.jump,
    mechanismInertia: 0,
    mechanismHolding: 0,
  };
}

/**
 * RMS torque over the cycle √(∫T² dt / ∫dt) with a rotor of this inertia (kg·m²): dwells count (IEC 60034-1).
 * (T + Jα)² is expanded, so any number of candidates share the same three integrals.
 */
export function rmsTorque(duty: DutyIntegrals, rotorInertia: number): number {
  const square =
    duty.torqueSquare + 2 * rotorInertia * duty.torqueAcceleration + rotorInertia ** 2 * duty.accelerationSquare;
  return Math.sqrt(Math.max(0, square) / duty.duration);
}

/** Holds the energies of [from, to] against the energy stored in masses and in height. */
export function balanceOf(model: AxisModel, energy: AxisEnergy, from: number, to: number): EnergyBalance {
  const first = motionAt(model.motion, from);
  const last = motionAt(model.motion, to, 'before');
  const inertia = model.load.inertia + drivePartsInertia(model.drive) + model.rotorInertia * model.drive.ratio ** 2;
  const stored =
    (inertia * (last.velocity ** 2 - first.velocity ** 2)) / 2 +
    model.load.potential(last.position) -
    model.load.potential(first.position);
  const put = energy.drawn - energy.regenerated + energy.externalWork;
  return {
    stored,
    residual: put - stored - energy.loadFriction - energy.driveLoss,
    turnedOver: energy.drawn + energy.regenerated + Math.abs(energy.externalWork),
  };
}
