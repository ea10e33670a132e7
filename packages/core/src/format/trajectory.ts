import { cycleTime, type Axis, type Machine } from '../machine';
import { MachineMotions, motionAt, pointsMotion, type Motion, movingMachine } from '../motion';
import { AXIS_KINDS, displayUnit, type AxisKind, type UnitSystem } from '../quantity';

/** How a motion is cut into points: evenly by a step, or as few as keep a largest error of the position. */
export type Spacing = { by: 'step'; step: number } | { by: 'error'; error: number };

/** What each point holds: position and velocity, or acceleration too. Between points a cubic or a quintic runs. */
export type PointForm = 'pvt' | 'pvat';

/** A motion as points for a controller, SI units: time, position, velocity (and acceleration). */
export interface Trajectory {
  axis: string;
  kind: AxisKind;
  /** Units that files show. */
  units: UnitSystem;
  form: PointForm;
  rows: number[][];
}

/** Most points a table may have. */
export const MOST_POINTS = 20_000;

/** A table that cannot be made or read; the message says why. */
export class TrajectoryError extends Error {
  override name = 'TrajectoryError';
}

/**
 * An axis that cues move has no motion before the cues have run: nothing could be written but its start.
 * @throws TrajectoryError that says what to take instead
 */
export function requireOwnMotion(axis: Pick<Axis, 'name' | 'motion'>): void {
  if (axis.motion.source.kind === 'cues')
    throw new TrajectoryError(
      `${axis.name} is moved by cues: when it moves comes out of the run. Take the channels of the run as CSV, or give the axis a motion of its own.`,
    );
}

/** The motion of an axis over one cycle, as the machine makes it. */
export function motionOfAxis(machine: Machine, axis: Axis): Motion {
  requireOwnMotion(axis);
  return new MachineMotions(movingMachine(machine)).of(axis.id).motion;
}

type Side = 'before' | 'after';
const row = (motion: Motion, time: number, form: PointForm, side: Side = 'after'): number[] => {
  const { position, velocity, acceleration } = motionAt(motion, time, side);
  return form === 'pvt' ? [time, position, velocity] : [time, position, velocity, acceleration];
};

/** What differs by less than this share of its largest value does not step. */
const SAME = 1e-9;

/** Tells whether two rows at one time say different things: whether velocity or acceleration steps there. */
function stepFinder(motion: Motion, form: PointForm): (before: readonly number[], after: readonly number[]) => boolean {
  // At their middle many laws have no acceleration: thirds and fifths tell how large it gets.
  const within = [0, 0.2, 1 / 3, 0.5, 0.8, 1];
  const places = motion.edges.slice(1).flatMap((to, i) => within.map((x) => to - x * (to - motion.edges[i]!)));
  const rows = places.flatMap((time) => [row(motion, time, form, 'before'), row(motion, time, form)]);
  const largest = (c: number) => Math.max(...rows.map((r) => Math.abs(r[c]!)));
  const bounds = form === 'pvt' ? [largest(2)] : [largest(2), largest(3)];
  return (before, after) => bounds.some((most, i) => Math.abs(before[i + 2]! - after[i + 2]!) > SAME * most);
}

/**
 * Cuts the motion of an axis into points over one cycle, both ends included. Where velocity or acceleration steps
 * there are two rows at one time, just before and just after, also between equal steps.
 * @throws TrajectoryError where more points would be needed than a table may have
 */
export function makeTrajectory(machine: Machine, axis: Axis, form: PointForm, spacing: Spacing): Trajectory {
  const motion = motionOfAxis(machine, axis);
  const T = cycleTime(machine);
  const steps = stepFinder(motion, form);
  const rows: number[][] = [];
  /** Adds the row that an interval ends with, and the one that the next begins with where it says something else. */
  const knee = (time: number) => {
    const [before, after] = [row(motion, time, form, 'before'), row(motion, time, form)];
    rows.push(before);
    if (time > 0 && time < T && steps(before, after)) rows.push(after);
  };
  if (spacing.by === 'step') {
    const intervals = Math.max(1, Math.ceil(T / spacing.step - 1e-9));
    if (intervals > MOST_POINTS)
      throw new TrajectoryError(
        `A step of ${spacing.step} s gives ${intervals} points; ${MOST_POINTS} are allowed: take at least ${(T / MOST_POINTS).toPrecision(3)} s.`,
      );
    for (const time of stepTimes(motion, T, intervals)) knee(time);
  } else {
    const add = (from: number[], to: number[], depth: number) => {
      const tooFar = intervalError(motion, from, to) > spacing.error;
      if (!tooFar || depth >= 14 || rows.length >= MOST_POINTS) return;
      const middle = row(motion, (from[0]! + to[0]!) / 2, form);
      add(from, middle, depth + 1);
      rows.push(middle);
      add(middle, to, depth + 1);
    };
    rows.push(row(motion, 0, form));
    // Edges that only rounding tells apart are one: both its sides are met by the last of them.
    const edges = motion.edges.slice(1).filter((edge, i, all) => !(all[i + 1]! - edge <= 1e-9 * T) && edge > 1e-9 * T);
    for (const edge of edges) {
      add(rows.at(-1)!, row(motion, edge, form, 'before'), 0);
      knee(edge);
    }
  }
  if (rows.length > MOST_POINTS)
    throw new TrajectoryError(
      `More than ${MOST_POINTS} points would be needed to keep that error: allow a larger one.`,
    );
  return { axis: axis.name, kind: axis.kind, units: machine.units, form, rows };
}

/** Equal steps over the cycle, and between them the times at which the motion steps. */
function stepTimes(motion: Motion, T: number, intervals: number): number[] {
  const even = Array.from({ length: intervals + 1 }, (_, k) => (T * k) / intervals);
  const near = (time: number) => even[Math.round((time / T) * intervals)]!;
  const between = motion.steps.filter((time) => time > 0 && time < T && Math.abs(near(time) - time) > 1e-9 * T);
  // A knee on an equal step takes its place to the last digit, so that both its sides are met.
  const knees = new Map(motion.steps.map((time) => [near(time), time]));
  const onGrid = even.map((time) => {
    const step = knees.get(time);
    return step !== undefined && Math.abs(step - time) <= 1e-9 * T ? step : time;
  });
  return [...new Set([...onGrid, ...between])].sort((a, b) => a - b);
}

const PROBES = 16;

/** Largest distance of the curve between two points from the motion. */
function intervalError(motion: Motion, from: readonly number[], to: readonly number[]): number {
  const piece = pointsMotion(
    [shifted(from, from[0]!), shifted(to, from[0]!)],
    { way: 'quintic', ends: 'free', tolerance: 0 },
    to[0]! - from[0]!,
  );
  let most = 0;
  for (let k = 1; k < PROBES; k++) {
    const x = ((to[0]! - from[0]!) * k) / PROBES;
    most = Math.max(most, Math.abs(motionAt(piece, x).position - motionAt(motion, from[0]! + x).position));
  }
  return most;
}

const shifted = (r: readonly number[], by: number) => [r[0]! - by, ...r.slice(1)];

/** The largest error of one quantity, and the time in s at which it stands. */
export interface WorstError {
  most: number;
  time: number;
}

/** How far a table is from the motion it stands for: position (m or rad), velocity and acceleration. */
export interface TableError {
  position: WorstError;
  velocity: WorstError;
  acceleration: WorstError;
}

/** Holds a table against a motion, between its points too, by the curve that a controller draws through them. */
export function tableError(rows: readonly (readonly number[])[], motion: Motion): TableError {
  const curve = pointsMotion(rows, { way: 'quintic', ends: 'free', tolerance: 0 }, motion.duration);
  const none = (): WorstError => ({ most: 0, time: 0 });
  const found: TableError = { position: none(), velocity: none(), acceleration: none() };
  for (let i = 0; i + 1 < rows.length; i++) {
    const [from, to] = [rows[i]![0]!, Math.min(motion.duration, rows[i + 1]![0]!)];
    if (from >= to) continue;
    for (let k = 0; k <= PROBES; k++) {
      const time = from + ((to - from) * k) / PROBES;
      // A step of velocity or acceleration belongs to neither side: read both alike.
      const side = k === PROBES ? 'before' : 'after';
      const [a, b] = [motionAt(curve, time, side), motionAt(motion, time, side)];
      for (const what of ['position', 'velocity', 'acceleration'] as const) {
        const away = Math.abs(a[what] - b[what]);
        if (away > found[what].most) found[what] = { most: away, time };
      }
    }
  }
  return found;
}

/**
 * Units in which a table is written: symbol and how many SI units one is, by column. Velocity and acceleration are in
 * the unit of the position per second, so that a controller can reckon with the columns as they stand.
 */
export function columnUnits({
  kind,
  units,
  form,
}: Pick<Trajectory, 'kind' | 'units' | 'form'>): { name: string; symbol: string; factor: number }[] {
  const { symbol, factor } = displayUnit(AXIS_KINDS[kind].position, units);
  const columns = [
    { name: 't', symbol: 's', factor: 1 },
    { name: 'position', symbol, factor },
    { name: 'velocity', symbol: `${symbol}/s`, factor },
    { name: 'acceleration', symbol: `${symbol}/s²`, factor },
  ];
  return form === 'pvt' ? columns.slice(0, 3) : columns;
}

/** Rows in the units of the file. */
export function shownRows(trajectory: Trajectory): number[][] {
  const units = columnUnits(trajectory);
  return trajectory.rows.map((r) => r.map((value, c) => Number((value / units[c]!.factor).toPrecision(15))));
}
