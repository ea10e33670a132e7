import { brokenBy } from '../cycle';
import { findLaw, lawCharacteristics, makeLaw, type LawId } from '../law';
import { cycleTime, type Axis, type Machine } from '../machine';
import {
  checkPlan,
  MachineMotions,
  planDuration,
  planKnees,
  planPieces,
  residualVibration,
  reversedLaw,
  sampleMotion,
  sampleTimes,
  type LawChoice,
  type MotionPlan,
  type Oscillator,
  movingMachine,
} from '../motion';
import { axisModel, emptyInstant, evaluateAxis, isHeldBack, simulate } from '../run';
import { dutyOf } from './duty';
import { judgeMotor } from './rank';
import { runMachine } from './run-machine';
import type { Motor } from './motor';

/** What a proposal is to bring: the shortest plan, or the least peak or RMS torque at the same length. */
export type ProposalGoal = 'time' | 'peak' | 'rms';

/** A plan that might be better, and how it came about. */
export interface PlanCandidate {
  plan: MotionPlan;
  law: LawChoice;
  /** How the time of rises compares with that of returns: above 1 rises take longer than they did. */
  shift: number;
}

/** What a plan costs on this machine: torques in N·m at the motor shaft, motions in SI units of the axis. */
export interface PlanPrice {
  /** Time from its start to its end, s. */
  time: number;
  peakTorque: number;
  rmsTorque: number;
  velocity: number;
  acceleration: number;
  jerk: number;
  /** Largest oscillation left behind by one of its moves, m or rad; null where no frequency is given. */
  vibration: number | null;
}

export interface JudgedCandidate extends PlanCandidate {
  price: PlanPrice;
  /** What holds the shortest plan back; null for other goals. */
  bound: string | null;
}

/** What proposals are made for. */
export interface ProposalTask {
  axisId: string;
  goal: ProposalGoal;
  oscillator: Oscillator | null;
  /** Motor chosen for the axis; its limits bind the shortest plan, its rotor counts in the torque. */
  motor: Motor | null;
}

/** Why no proposals can be made for an axis, or null where they can. */
export function proposalProblem(axis: Axis): string | null {
  if (axis.motion.source.kind !== 'plan' || axis.motion.level !== 'position' || axis.motion.over !== 'time')
    return 'Proposals change laws and times of a motion plan over time: let this axis be led by one.';
  if (!axis.plan.segments.some(({ kind }, i) => kind === 'move' && strokes(axis.plan)[i] !== 0))
    return 'The plan has no move yet.';
  return null;
}

const strokes = (plan: MotionPlan): number[] => {
  const knees = planKnees(plan);
  return plan.segments.map((_, i) => knees[i + 1]!.position - knees[i]!.position);
};

const SPLITS = [0.3, 0.4, 0.5, 0.6, 0.7];
const STRAIGHTS = [0, 0.2, 0.4];
const SINE_FLANKS = [
  [0.25, 0.25],
  [0.25, 0.75],
  [0.5, 0.5],
] as const;
const LINEAR_FLANKS = [
  [0.25, 0.25],
  [0.5, 0.5],
] as const;
const SHIFTS = [0.6, 0.7, 0.75, 0.8, 0.9, 0.95, 1, 1.05, 1.1, 1.15, 1.25, 1.4, 1.6];
/** Laws without a step of the acceleration against rest. */
const SMOOTH: LawId[] = ['poly345', 'poly4567', 'cycloidal', 'modifiedSine', 'modifiedTrapezoid'];

/** Laws that are tried: all that begin and end without a step, and the adjustable ones over their shares. */
export function triedLaws(): LawChoice[] {
  const shares = (id: LawId, flanks: readonly (readonly [number, number])[]) =>
    SPLITS.flatMap((split) =>
      STRAIGHTS.flatMap((straight) =>
        flanks.map(([up, down]): LawChoice => ({ id, parameters: { split, straight, up, down } })),
      ),
    );
  return [
    ...SMOOTH.map((id): LawChoice => ({ id })),
    ...shares('adjustable', SINE_FLANKS),
    ...shares('jerkLimited', LINEAR_FLANKS),
  ];
}

/** A plan with one law in all moves (mirrored in time for returns) and another share of time for rises. */
export function withLaw(plan: MotionPlan, law: LawChoice, shift = 1): MotionPlan {
  const way = strokes(plan);
  const [up, down] = [1, -1].map((sign) =>
    plan.segments.reduce((sum, { duration }, i) => sum + (Math.sign(way[i]!) === sign ? duration : 0), 0),
  ) as [number, number];
  // Rises get `shift` times as much against returns; together they take what they took.
  const rise = up > 0 && down > 0 ? (shift * (up + down)) / (shift * up + down) : 1;
  const back = up > 0 && down > 0 ? (up + down) / (shift * up + down) : 1;
  return {
    ...plan,
    segments: plan.segments.map((segment, i) => {
      if (segment.kind === 'dwell' || way[i] === 0 || segment.law.id === 'straight') return segment;
      return {
        ...segment,
        duration: segment.duration * (way[i]! > 0 ? rise : back),
        law: way[i]! > 0 ? law : reversedLaw(law),
      };
    }),
  };
}

/** Candidates for a task, always in the same order, so that workers can share them out. */
export function planCandidates(axis: Axis, goal: ProposalGoal): PlanCandidate[] {
  const both = strokes(axis.plan).some((way) => way > 0) && strokes(axis.plan).some((way) => way < 0);
  const shifts = goal === 'time' || !both ? [1] : SHIFTS;
  return triedLaws().flatMap((law) => shifts.map((shift) => ({ law, shift, plan: withLaw(axis.plan, law, shift) })));
}

/** Samples a cycle is judged by. */
const SAMPLES = 400;

const withPlan = (machine: Machine, axisId: string, plan: MotionPlan): Machine => ({
  ...machine,
  axes: machine.axes.map((axis) => (axis.id === axisId ? { ...axis, plan } : axis)),
});

/**
 * The price of a plan on this machine. An axis with its own load alone is judged directly; one that drives a
 * mechanism by a run of the whole machine.
 */
export function pricePlan(machine: Machine, task: ProposalTask, plan: MotionPlan): PlanPrice {
  const changed = withPlan(machine, task.axisId, plan);
  const axis = changed.axes.find(({ id }) => id === task.axisId)!;
  const rotor = task.motor ? task.motor.inertia : 0;
  const kinematic = peaks(axis);
  const torque = axis.joint === null ? ownTorque(changed, axis, rotor) : wholeTorque(changed, axis, rotor);
  return {
    time: planDuration(plan),
    ...torque,
    ...kinematic,
    vibration: task.oscillator ? worstVibration(plan, task.oscillator) : null,
  };
}

function peaks({ plan }: Axis): Pick<PlanPrice, 'velocity' | 'acceleration' | 'jerk'> {
  const most = { velocity: 0, acceleration: 0, jerk: 0 };
  for (const { from, to, stroke, law } of planPieces(plan)) {
    if (!law) continue;
    const { cv, ca, cj } = lawCharacteristics(law);
    const [size, T] = [Math.abs(stroke), to - from];
    most.velocity = Math.max(most.velocity, (size * cv) / T);
    most.acceleration = Math.max(most.acceleration, (size * ca) / T ** 2);
    most.jerk = Math.max(most.jerk, (size * cj) / T ** 3);
  }
  return most;
}

function ownTorque(machine: Machine, axis: Axis, rotor: number): Pick<PlanPrice, 'peakTorque' | 'rmsTorque'> {
  const motions = new MachineMotions(movingMachine(machine));
  const model = { ...axisModel(axis, motions), rotorInertia: rotor };
  const T = cycleTime(machine);
  const times = sampleTimes([model.motion], T / SAMPLES, model.loadEdges(motions, T).edges);
  const motion = sampleMotion(model.motion, times);
  const instant = emptyInstant();
  let peak = 0;
  let square = 0;
  let before = 0;
  times.forEach((time, k) => {
    const state = {
      position: motion.position[k]!,
      velocity: motion.velocity[k]!,
      acceleration: motion.acceleration[k]!,
      jerk: motion.jerk[k]!,
    };
    evaluateAxis(model, time, state, instant);
    const torque = instant.motorTorque;
    peak = Math.max(peak, Math.abs(torque));
    // Between samples the torque goes straight: ∫T² = h (T₀² + T₀T₁ + T₁²)/3.
    if (k > 0) square += ((time - times[k - 1]!) * (before * before + before * torque + torque * torque)) / 3;
    before = torque;
  });
  return { peakTorque: peak, rmsTorque: Math.sqrt(square / T) };
}

function wholeTorque(machine: Machine, axis: Axis, rotor: number): Pick<PlanPrice, 'peakTorque' | 'rmsTorque'> {
  const run = simulate({ ...machine, step: cycleTime(machine) / SAMPLES }, { rotors: { [axis.id]: rotor } });
  const own = run.axes.find(({ axisId }) => axisId === axis.id)!;
  const peakTorque = largest(own.channels.motorTorque);
  return { peakTorque: Number.isNaN(peakTorque) ? Infinity : peakTorque, rmsTorque: own.rms.motorTorque };
}

const largest = (values: Float64Array) => values.reduce((most, value) => Math.max(most, Math.abs(value)), 0);

function worstVibration(plan: MotionPlan, { frequency, damping }: Oscillator): number {
  const way = strokes(plan);
  return plan.segments.reduce((most, segment, i) => {
    if (segment.kind === 'dwell' || way[i] === 0) return most;
    const law = makeLaw(segment.law.id, segment.law.parameters ?? {});
    return Math.max(most, Math.abs(way[i]!) * residualVibration(law, frequency * segment.duration, damping));
  }, 0);
}

const keepsLimits = (plan: MotionPlan, axis: Axis) =>
  !checkPlan(plan, { cycleTime: Infinity, limits: axis.limits, travel: null }).some(({ code }) => code === 'limit');

/** Judges one candidate; null where it breaks a limit of the axis (least torque) or of nothing binds it (shortest). */
export function judgeCandidate(machine: Machine, task: ProposalTask, candidate: PlanCandidate): JudgedCandidate | null {
  const axis = machine.axes.find(({ id }) => id === task.axisId)!;
  if (task.goal !== 'time') {
    if (!keepsLimits(candidate.plan, axis)) return null;
    return { ...candidate, price: pricePlan(machine, task, candidate.plan), bound: null };
  }
  const short = shortestPlan(machine, task, axis, candidate.plan);
  if (!short) return null;
  return {
    ...candidate,
    plan: short.plan,
    price: pricePlan(withCycle(machine, planDuration(short.plan)), task, short.plan),
    bound: short.bound,
  };
}

const withCycle = (machine: Machine, time: number): Machine => ({ ...machine, cycle: { given: 'time', time } });

/** Moves made shorter alike until a limit of the axis or of its motor is met. */
function shortestPlan(
  machine: Machine,
  task: ProposalTask,
  axis: Axis,
  plan: MotionPlan,
): { plan: MotionPlan; bound: string } | null {
  const way = strokes(plan);
  const scaled = (factor: number): MotionPlan => ({
    ...plan,
    segments: plan.segments.map((segment, i) =>
      segment.kind === 'move' && way[i] !== 0 ? { ...segment, duration: segment.duration * factor } : segment,
    ),
  });
  const holding = (factor: number): string | null => {
    const tried = scaled(factor);
    const finding = checkPlan(tried, { cycleTime: Infinity, limits: axis.limits, travel: null }).find(
      ({ code }) => code === 'limit',
    );
    if (finding?.code === 'limit') return `${finding.quantity} limit of the axis`;
    if (!task.motor) return null;
    const changed = withCycle(withPlan(machine, axis.id, tried), planDuration(tried));
    const alone = axis.joint === null ? { ...changed, axes: changed.axes.filter(({ id }) => id === axis.id) } : changed;
    const run = simulate({ ...alone, step: planDuration(tried) / SAMPLES });
    const own = run.axes.find(({ axisId }) => axisId === axis.id)!;
    const judged = judgeMotor(task.motor, dutyOf(axis, own, run.times), axis.sizing);
    const failed = judged.checks.find(({ ok, code }) => !ok && code !== 'inertia' && code !== 'brake');
    return failed
      ? `${{ peak: 'peak torque', rms: 'RMS torque', speed: 'speed', thermal: 'heat' }[failed.code as 'peak']} of the motor ${task.motor.type}`
      : null;
  };
  let high = 1;
  while (holding(high)) {
    high *= 1.5;
    if (high > 60) return null;
  }
  let low = high;
  let bound = holding(low);
  while (!bound) {
    low /= 1.5;
    if (low < 1e-3) return null;
    bound = holding(low);
  }
  while (high / low > 1.0005) {
    const middle = Math.sqrt(high * low);
    const found = holding(middle);
    if (found) [low, bound] = [middle, found];
    else high = middle;
  }
  return { plan: scaled(high), bound };
}

/**
 * What a plan costs as the run of the machine shows it once the plan is taken: with its cycle, where it has one, and
 * the motor chosen. Infinite torques where that run is broken.
 */
export async function priceByRun(machine: Machine, task: ProposalTask, plan: MotionPlan): Promise<PlanPrice> {
  const changed = withPlan(machine, task.axisId, plan);
  const axis = changed.axes.find(({ id }) => id === task.axisId)!;
  const { run, findings } = await runMachine(changed, { motors: task.motor ? [task.motor] : [] });
  const own = run.axes.find(({ axisId }) => axisId === axis.id)!;
  const isBroken = isHeldBack(own) || brokenBy(findings, axis) !== null;
  return {
    time: planDuration(plan),
    peakTorque: isBroken ? Infinity : largest(own.channels.motorTorque),
    rmsTorque: isBroken ? Infinity : own.rms.motorTorque,
    ...peaks(axis),
    vibration: task.oscillator ? worstVibration(plan, task.oscillator) : null,
  };
}

/**
 * The best of judged candidates, priced by runs of the machine: what they are proposed with is what the run will show.
 * @returns the price of the plan as it is too
 */
export async function confirmProposals(
  machine: Machine,
  task: ProposalTask,
  judged: readonly JudgedCandidate[],
): Promise<{ now: PlanPrice; list: JudgedCandidate[] }> {
  const axis = machine.axes.find(({ id }) => id === task.axisId)!;
  const now = await priceByRun(machine, task, axis.plan);
  const list: JudgedCandidate[] = [];
  for (const candidate of bestProposals(judged, task.goal)) {
    const cycle = task.goal === 'time' ? withCycle(machine, planDuration(candidate.plan)) : machine;
    list.push({ ...candidate, price: await priceByRun(cycle, task, candidate.plan) });
  }
  return { now, list: bestProposals(list, task.goal) };
}

/** The best of judged candidates first: by the goal, then by the other torque; those alike to the best of a law are left out. */
export function bestProposals(judged: readonly JudgedCandidate[], goal: ProposalGoal, most = 6): JudgedCandidate[] {
  const value = ({ price }: JudgedCandidate) =>
    goal === 'time' ? price.time : goal === 'peak' ? price.peakTorque : price.rmsTorque;
  const sorted = [...judged].sort((a, b) => value(a) - value(b) || a.price.rmsTorque - b.price.rmsTorque);
  const kept: JudgedCandidate[] = [];
  for (const candidate of sorted) {
    // One of each law: the list is to show what else there is, not ten shades of the same.
    if (kept.some(({ law }) => law.id === candidate.law.id)) continue;
    kept.push(candidate);
    if (kept.length === most) break;
  }
  return kept;
}

/** What a law with its shares is called. */
export function lawText({ id, parameters }: LawChoice): string {
  const family = findLaw(id)!;
  const shown = family.parameters.flatMap((spec) => {
    const value = parameters?.[spec.name];
    return value === undefined || Math.abs(value - spec.default) < 1e-9
      ? []
      : [`${spec.name} ${Number(value.toPrecision(3))}`];
  });
  return shown.length > 0 ? `${family.name} (${shown.join(', ')})` : family.name;
}
