import { cycleTime, movingMachine, type Axis, type Machine } from '../machine';
import { MachineMotions, motionAt, pointsMotion, type Motion } from '../motion';
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

const row = (motion: Motion, time: number, form: PointForm): number[] => {
  const { position, velocity, acceleration } = motionAt(motion, time);
  return form === 'pvt' ? [time, position, velocity] : [time, position, velocity, acceleration];
};

/**
 * Cuts the motion of an axis into points over one cycle, both ends included.
 * @throws TrajectoryError where more points would be needed than a table may have
 */
export function makeTrajectory(machine: Machine, axis: Axis, form: PointForm, spacing: Spacing): Trajectory {
  const motion = motionOfAxis(machine, axis);
  const T = cycleTime(machine);
  const base = { axis: axis.name, kind: axis.kind, units: machine.units, form };
  if (spacing.by === 'step') {
    const intervals = Math.max(1, Math.ceil(T / spacing.step - 1e-9));
    if (intervals > MOST_POINTS)
      throw new TrajectoryError(
        `A step of ${spacing.step} s gives ${intervals} points; ${MOST_POINTS} are allowed: take at least ${(T / MOST_POINTS).toPrecision(3)} s.`,
      );
    return { ...base, rows: Array.from({ length: intervals + 1 }, (_, k) => row(motion, (T * k) / intervals, form)) };
  }
  const rows: number[][] = [];
  const edges = motion.edges;
  const add = (from: number[], to: number[], depth: number) => {
    const tooFar = intervalError(motion, from, to) > spacing.error;
    if (tooFar && depth < 14 && rows.length < MOST_POINTS) {
      const middle = row(motion, (from[0]! + to[0]!) / 2, form);
      add(from, middle, depth + 1);
      add(middle, to, depth + 1);
    } else rows.push(to);
  };
  rows.push(row(motion, 0, form));
  for (let i = 0; i + 1 < edges.length; i++) add(rows.at(-1)!, row(motion, edges[i + 1]!, form), 0);
  if (rows.length > MOST_POINTS)
    throw new TrajectoryError(
      `More than ${MOST_POINTS} points would be needed to keep that error: allow a larger one.`,
    );
  return { ...base, rows };
}

const PROBES = 8;

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

/** How far a table is from the motion it stands for: largest errors of position (m or rad) and velocity. */
export interface TableError {
  position: number;
  velocity: number;
  /** Time of the largest error of the position, s. */
  time: number;
}

/** Holds a table against a motion, between its points too, by the curve that a controller draws through them. */
export function tableError(rows: readonly (readonly number[])[], motion: Motion): TableError {
  const curve = pointsMotion(rows, { way: 'quintic', ends: 'free', tolerance: 0 }, motion.duration);
  const found: TableError = { position: 0, velocity: 0, time: 0 };
  for (let i = 0; i + 1 < rows.length; i++) {
    const [from, to] = [rows[i]![0]!, Math.min(motion.duration, rows[i + 1]![0]!)];
    for (let k = 0; k <= PROBES; k++) {
      const time = from + ((to - from) * k) / PROBES;
      // A jump of the velocity belongs to neither side: read both alike.
      const side = k === PROBES ? 'before' : 'after';
      const [a, b] = [motionAt(curve, time, side), motionAt(motion, time, side)];
      const away = Math.abs(a.position - b.position);
      if (away > found.position) Object.assign(found, { position: away, time });
      found.velocity = Math.max(found.velocity, Math.abs(a.velocity - b.velocity));
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
