import { type Axis, type Machine } from '../machine';
import { MachineMotions, motionAt, type Motion, movingMachine } from '../motion';
import { AXIS_KINDS, displayUnit, type QuantityKind } from '../quantity';
import { heading, writeCsv } from './csv';
import { columnKinds, guessColumns, motionRows, readRawTable } from './motion-table';
import { requireOwnMotion, TrajectoryError } from './trajectory';

/** A motion over the master, for a controller's electronic cam: master, position, and change of position with it. */
export interface CamTable {
  rows: number[][];
  /** Largest distance of straight lines between the rows from the motion, m or rad. */
  lineError: number;
}

/** Time at which a rising master stands at a position. */
function timeAt(master: Motion, position: number): number {
  let [low, high] = [0, master.duration];
  for (let i = 0; i < 70; i++) {
    const middle = (low + high) / 2;
    if (motionAt(master, middle).position < position) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}

/** Slope of a function at a place from values beside it, inside of its range. */
function slopeBeside(f: (x: number) => number, x: number, low: number, high: number): number {
  const h = (high - low) * 1e-4;
  if (x - low < h) return (-3 * f(x) + 4 * f(x + h) - f(x + 2 * h)) / (2 * h);
  if (high - x < h) return (3 * f(x) - 4 * f(x - h) + f(x - 2 * h)) / (2 * h);
  return (f(x + h) - f(x - h)) / (2 * h);
}

/**
 * The motion of an axis over the way of the master in one cycle (one wrap, where it goes round once), evenly spaced.
 * @throws TrajectoryError where the master turns back or stands still
 */
export function camTable(machine: Machine, axis: Axis, intervals: number): CamTable {
  requireOwnMotion(axis);
  const motions = new MachineMotions(movingMachine(machine));
  const { master } = motions;
  const { motion } = motions.of(axis.id);
  const [start, end] = [motionAt(master, 0).position, motionAt(master, master.duration, 'before').position];
  if (!(end > start))
    throw new TrajectoryError('The master does not move on in this cycle: a cam table runs over its position.');
  const timeOf = (m: number) => (m <= start ? 0 : m >= end ? master.duration : timeAt(master, m));
  const positionAt = (m: number) => motionAt(motion, timeOf(m), m >= end ? 'before' : 'after').position;
  const mean = (end - start) / master.duration;
  const at = (m: number) => {
    const time = timeOf(m);
    const { position, velocity } = motionAt(motion, time, m >= end ? 'before' : 'after');
    const speed = motionAt(master, time, m >= end ? 'before' : 'after').velocity;
    // Where the master rests both speeds are nothing: the slope is that of the positions beside.
    return [m, position, speed > 1e-4 * mean ? velocity / speed : slopeBeside(positionAt, m, start, end)];
  };
  const rows = Array.from({ length: intervals + 1 }, (_, k) => at(start + ((end - start) * k) / intervals));
  let lineError = 0;
  for (let k = 0; k < intervals; k++) {
    const [a, b] = [rows[k]!, rows[k + 1]!];
    const middle = at((a[0]! + b[0]!) / 2);
    lineError = Math.max(lineError, Math.abs(middle[1]! - (a[1]! + b[1]!) / 2));
  }
  return { rows, lineError };
}

/** Cam table as CSV with units. */
export function camTableCsv(machine: Machine, axis: Axis, { rows }: CamTable): string {
  const kinds: QuantityKind[] = [AXIS_KINDS[machine.master.kind].position, AXIS_KINDS[axis.kind].position];
  const [m, p] = kinds.map((kind) => displayUnit(kind, machine.units)) as [
    ReturnType<typeof displayUnit>,
    ReturnType<typeof displayUnit>,
  ];
  return writeCsv(
    [heading('master', m.symbol), heading('position', p.symbol), heading('slope', `${p.symbol}/${m.symbol}`)],
    rows.map(([master, position, slope]) =>
      [master! / m.factor, position! / p.factor, (slope! * m.factor) / p.factor].map((value) =>
        Number(value.toPrecision(15)),
      ),
    ),
  );
}

/**
 * Reads a cam table back: master and position, SI units.
 * @throws CsvError naming the row and column
 */
export function readCamTableCsv(text: string, machine: Machine, axis: Axis): number[][] {
  const table = readRawTable(text);
  return motionRows(
    table,
    { ...guessColumns(table), velocity: null, acceleration: null },
    columnKinds(axis.kind, machine.master.kind),
    machine.units,
  );
}

/** Largest distance of the rows of a cam table from the motion, at the rows. */
export function camTableError(machine: Machine, axis: Axis, rows: readonly (readonly number[])[]): number {
  const motions = new MachineMotions(movingMachine(machine));
  const { motion } = motions.of(axis.id);
  return Math.max(
    ...rows.map(([m, position]) => {
      const time = Math.min(motion.duration, timeAt(motions.master, m!));
      return Math.abs(motionAt(motion, time, time >= motion.duration ? 'before' : 'after').position - position!);
    }),
  );
}
