import { drivePartsInertia } from '../dynamics';
import { cycleTime, movingMachine, type Machine } from '../machine';
import {
  checkAxisMotion,
  MachineMotions,
  MOST_SAMPLES,
  motionAt,
  proposeStep,
  sampleMotion,
  sampleTimes,
  shortestMove,
  type BlockResult,
  type EngagementJump,
  type FoundMotions,
  type PlanFinding,
} from '../motion';
import { CHANNEL_IDS, type ChannelId } from './channels';
import { elementFormulas } from './effort-formula';
import { gateAxis } from './gate';
import { integrateAxis, type AxisEnergy, type DutyIntegrals } from './integrals';
import { mechanismEdges, runMechanism } from './mechanism';
import { hasMechanism } from './prepare';
import type { MechanismRun } from './mechanism-run';
import { axisModel, emptyInstant, evaluateAxis, withMechanism, type AxisModel } from './model';

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
  | { code: 'coarse-step'; severity: 'warning'; step: number; shortest: number; proposed: number }
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

/** Settings of a run that are not in the document. */
export interface RunOptions {
  /** Inertia in kg·m² of rotor and brake, by axis identifier. */
  rotorInertia?: Readonly<Record<string, number>> | undefined;
  /** Motions found by simulating the cues, over the length of the cycle. */
  found?: FoundMotions | undefined;
  /** Forces that act on axes along their positive direction, N or N·m, straight between rising times in s. */
  pushes?: readonly { axis: string; times: Float64Array; effort: Float64Array }[] | undefined;
  /** Told the share done, from 0 to 1, now and then. */
  progress?: ((share: number) => void) | undefined;
}

/** Fewest samples on the shortest move before the step counts as too coarse. */
const FEWEST_PER_MOVE = 20;

/** Samples over a cycle where nothing but a mechanism left to itself moves. */
const FREE_SAMPLES = 1000;

/** Runs one cycle of all axes of a machine and of its mechanism. A machine with neither gives a run without channels. */
export function simulate(machine: Machine, options: RunOptions = {}): Run {
  const duration = cycleTime(machine);
  const made = new MachineMotions(movingMachine(machine), options.found ?? null);
  const models = machine.axes.map((axis) => {
    const model = axisModel(axis, made, options.rotorInertia?.[axis.id] ?? 0);
    const push = options.pushes?.find((p) => p.axis === axis.id && p.times.length > 1);
    // What pushes along the positive direction is taken off what the axis must give.
    return push ? withMechanism(model, { times: push.times, effort: push.effort.map((f) => -f) }) : model;
  });
  const motions = models.map((model) => model.motion);
  const withBodies = hasMechanism(machine);
  if (motions.length === 0 && !withBodies)
    return {
      cycleTime: duration,
      step: duration,
      proposedStep: duration,
      times: new Float64Array(),
      axes: [],
      mechanism: null,
      findings: [],
    };
  const rest = { duration, stretches: [], edges: [0, duration], steps: [] };
  const all = motions.length > 0 ? motions : [rest];
  const proposedStep = withBodies ? Math.min(proposeStep(all), duration / FREE_SAMPLES) : proposeStep(all);
  const findings: RunFinding[] = [];
  let step = machine.step ?? proposedStep;
  if (duration / step > MOST_SAMPLES) {
    findings.push({ code: 'step-refused', severity: 'error', step, least: duration / MOST_SAMPLES });
    step = proposedStep;
  }
  const shortest = shortestMove(motions);
  if (step > shortest / FEWEST_PER_MOVE)
    findings.push({ code: 'coarse-step', severity: 'warning', step, shortest, proposed: proposedStep });
  if (made.masterProblem !== null) findings.push({ code: 'master', severity: 'error', text: made.masterProblem });
  const tableTimes = models.flatMap(({ loadEdges }) => loadEdges);
  const byAxis = new Map(models.map(({ axis, motion }) => [axis.id, { motion, reversed: axis.reversed }]));
  const own = withBodies ? mechanismEdges(machine, byAxis, duration) : { edges: [], steps: [] };
  const formulas = elementFormulas(machine, made);
  own.edges.push(...formulas.edges);
  // Where a formula is not smooth it may jump: both sides are sampled.
  own.steps.push(...formulas.edges);
  const stepping = own.steps.length > 0 ? [...all, { ...rest, edges: own.edges, steps: own.steps }] : all;
  const times = sampleTimes(stepping, step, [...tableTimes, ...own.edges]);
  const mechanism = withBodies
    ? runMechanism(machine, byAxis, times, duration, options.progress, formulas.values)
    : null;
  mechanism?.findings.push(...formulas.findings);
  return {
    cycleTime: duration,
    step,
    proposedStep,
    times,
    axes: models.map((model) => {
      const reached = mechanism?.drives.some(({ axisId }) => axisId === model.axis.id)
        ? mechanism.reached
        : times.length;
      return gateAxis(runWithMechanism(model, times, duration, mechanism), model.axis, times, reached);
    }),
    mechanism,
    findings,
  };
}

/** Runs an axis; what a mechanism asks of it is part of its load, and unknown where the mechanism did not get to. */
function runWithMechanism(
  model: AxisModel,
  times: Float64Array,
  duration: number,
  mechanism: MechanismRun | null,
): AxisRun {
  const drive = mechanism?.drives.find(({ axisId }) => axisId === model.axis.id);
  if (!mechanism || !drive) return runAxis(model, times, duration);
  const { reached } = mechanism;
  const effort = drive.effort.map((value, k) => (k < reached ? value : 0));
  const run = runAxis(withMechanism(model, { times, effort }), times, duration);
  for (const id of ['effort', 'power', 'shaftTorque', 'motorTorque', 'motorPower'] as const)
    run.channels[id].fill(NaN, reached);
  const largest = (values: Float64Array) =>
    values.subarray(0, reached).reduce((most, value) => Math.max(most, Math.abs(value)), 0);
  return { ...run, mechanismInertia: largest(drive.reflected), mechanismHolding: largest(drive.holding) };
}

function runAxis(model: AxisModel, times: Float64Array, duration: number): AxisRun {
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
    evaluateAxis(model, times[k]!, state, instant);
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
        cycleTime: duration,
        limits: axis.limits,
        travel: axis.travel,
        smooth: axis.smooth,
      }),
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
