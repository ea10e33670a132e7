import { putPolynomial, type MotionLaw } from '../law';
import type { MotionSourceOf } from '../machine';
import { hermitePiece, splineThrough, type HermiteKnots } from '../numeric';
import type { Motion, MotionStretch } from './motion';

/**
 * How a motion goes from point to point: straight lines, a spline of degree 3 or 5; the largest distance from the points
 * that smoothing may use, m or rad. Points that bring velocities (and accelerations) are met with them.
 */
export type PointFit = Pick<MotionSourceOf<'points'>, 'way' | 'ends' | 'tolerance'>;

/** Points of a motion: place (s, or master), value, and velocity and acceleration where they are known. */
export type MotionPoints = readonly (readonly number[])[];

/** Points that make no motion; the message names the row and what to do. */
export class PointsError extends Error {
  override name = 'PointsError';
}

const linePolynomials = (points: MotionPoints): Float64Array[] =>
  points.slice(1).map(([, y], i) => Float64Array.of(points[i]![1]!, y! - points[i]![1]!));

/** Two points that are to be joined freely by a curve of least bending: the straight line between them. */
function straightKnots(points: MotionPoints): HermiteKnots {
  const [[x0, y0], [x1, y1]] = points as [number[], number[]];
  const slope = (y1! - y0!) / (x1! - x0!);
  return { degree: 5, x: Float64Array.of(x0!, x1!), values: Float64Array.of(y0!, slope, 0, y1!, slope, 0) };
}

function knotsOf(points: MotionPoints, fit: PointFit): HermiteKnots {
  const x = points.map((row) => row[0]!);
  const columns = points[0]!.length;
  if (columns > 2)
    return {
      degree: columns === 3 ? 3 : 5,
      x: Float64Array.from(x),
      values: Float64Array.from(points.flatMap((row) => row.slice(1))),
    };
  const y = points.map((row) => row[1]!);
  // A free quintic has bending left to choose until a third point says it.
  if (points.length === 2 && fit.ends === 'free') return straightKnots(points);
  try {
    return splineThrough(x, y, { degree: fit.way === 'cubic' ? 3 : 5, ends: fit.ends, tolerance: fit.tolerance });
  } catch (error) {
    if (error instanceof RangeError) throw new PointsError(error.message);
    throw error;
  }
}

/** Whether a row and the one above are the two sides of a knee: one place and value, other velocity or acceleration. */
function isKnee(points: MotionPoints, i: number): boolean {
  const [a, b] = [points[i - 1]!, points[i]!];
  // Beside all that is run through: of a place near zero nothing but rounding may be left.
  const size = points.reduce((most, row) => Math.max(most, Math.abs(row[1]!)), 1e-9);
  return a.length > 2 && Math.abs(a[1]! - b[1]!) <= 1e-9 * size && (i < 2 || points[i - 2]![0] !== a[0]);
}

/**
 * The motion through points over [0, duration], two rows at one place being the sides of a knee: before the first and behind the last point it rests.
 * @throws PointsError naming the row where places do not rise or rows differ in length
 */
export function pointsMotion(points: MotionPoints, fit: PointFit, duration: number): Motion {
  if (points.length < 2) throw new PointsError('A motion needs at least two points: add rows or read a file.');
  points.forEach((row, i) => {
    if (row.length !== points[0]!.length)
      throw new PointsError(`Row ${i + 1} has ${row.length} values, the first row ${points[0]!.length}.`);
    if (i > 0 && (row[0]! < points[i - 1]![0]! || (row[0] === points[i - 1]![0] && !isKnee(points, i))))
      throw new PointsError(`Row ${i + 1} does not lie behind the row above it: clean the table.`);
  });
  const straight = fit.way === 'line' && points[0]!.length === 2;
  if (fit.ends === 'cyclic' && !straight && points[0]!.length === 2) {
    const gap = Math.abs(points.at(-1)![1]! - points[0]![1]!);
    if (gap > 1e-9 * Math.max(...points.map((row) => Math.abs(row[1]!)), 1e-9))
      throw new PointsError(
        'A closed curve must end at the value it begins with: mend the last row, or choose other ends.',
      );
  }
  const knots = straight ? undefined : knotsOf(points, fit);
  const polynomials = knots ? points.slice(1).map((_, i) => hermitePiece(knots, i)) : linePolynomials(points);
  const edges = new Set([0, duration]);
  const steps: number[] = [];
  const stretches: MotionStretch[] = [];
  const rest = (from: number, to: number, start: number) =>
    stretches.push({ from, to, start, stroke: 0, law: undefined });
  const [first, last] = [points[0]!, points.at(-1)!];
  const behind = knots ? knots.values.at(-(knots.degree === 3 ? 2 : 3))! : last[1]!;
  if (first[0]! > 0) rest(0, first[0]!, knots ? knots.values[0]! : first[1]!);
  polynomials.forEach((c, i) => {
    const [from, to] = [points[i]![0]!, points[i + 1]![0]!];
    if (from >= duration) return;
    if (from === to) return void steps.push(from);
    const law: MotionLaw = {
      derivatives: (tau, out, offset) => putPolynomial(c, tau, out, offset),
      breaks: [],
      accelerationSteps: [],
      velocitySteps: [],
    };
    stretches.push({ from, to, start: 0, stroke: 1, law });
    edges.add(Math.max(0, from));
    edges.add(Math.min(duration, to));
    if (straight || knots?.degree === 3) steps.push(...[from, to].filter((time) => time <= duration));
  });
  if (last[0]! < duration) rest(last[0]!, duration, behind);
  return { duration, stretches, edges: [...edges].sort((a, b) => a - b), steps: [...new Set(steps)] };
}

/** What is wrong with rows as they came, and the rows made fit: sorted, doubles merged. */
export interface CleanedPoints {
  points: number[][];
  notes: string[];
}

const alikeRows = (a: readonly number[], b: readonly number[]) => a.every((value, c) => value === b[c]);

/** Widest gap counts as one where it is this many times the usual distance. */
const GAP = 3.5;

/**
 * Sorts rows by place, merges rows at the same place into their mean (but for the two sides of a knee), and names what
 * was out of order, doubled, or missing. Row numbers count from 1, as given.
 */
export function cleanPoints(rows: MotionPoints, show: (place: number) => string = String): CleanedPoints {
  const notes: string[] = [];
  const order = rows.map((row, i) => ({ row, i }));
  const wrong = order.filter(({ row, i }) => i > 0 && row[0]! < rows[i - 1]![0]!);
  if (wrong.length > 0) notes.push(`${list(wrong.map(({ i }) => i + 1))} out of order: sorted.`);
  order.sort((a, b) => a.row[0]! - b.row[0]! || a.i - b.i);
  const points: number[][] = [];
  let same: typeof order = [];
  const flush = () => {
    if (same.length === 0) return;
    const width = same[0]!.row.length;
    points.push(
      Array.from({ length: width }, (_, c) =>
        c === 0 ? same[0]!.row[0]! : same.reduce((sum, { row }) => sum + row[c]!, 0) / same.length,
      ),
    );
    if (same.length > 1) {
      if (
        same.length === 2 &&
        isKnee(
          same.map(({ row }) => row),
          1,
        ) &&
        !alikeRows(same[0]!.row, same[1]!.row)
      ) {
        points.splice(-1, 1, ...same.map(({ row }) => [...row]));
        same = [];
        return;
      }
      const alike = same.every(({ row }) => alikeRows(row, same[0]!.row));
      notes.push(
        `${list(same.map(({ i }) => i + 1))} at the same place (${show(same[0]!.row[0]!)}): ${alike ? 'one kept' : 'their mean taken'}.`,
      );
    }
    same = [];
  };
  for (const entry of order) {
    if (same.length > 0 && entry.row[0] !== same[0]!.row[0]) flush();
    same.push(entry);
  }
  flush();
  const gaps = points.slice(1).map((row, i) => row[0]! - points[i]![0]!);
  const usual = [...gaps].sort((a, b) => a - b)[Math.floor(gaps.length / 2)] ?? 0;
  const wide = gaps.flatMap((gap, i) => (gaps.length > 4 && gap > GAP * usual ? [i] : []));
  for (const i of wide.slice(0, 3))
    notes.push(
      `Nothing between ${show(points[i]![0]!)} and ${show(points[i + 1]![0]!)}, where rows are usually ${show(usual)} apart: the curve is filled in.`,
    );
  if (wide.length > 3) notes.push(`${wide.length - 3} more gaps.`);
  return { points, notes };
}

const list = (rows: readonly number[]): string => {
  const shown = rows.slice(0, 4).join(', ');
  return `${rows.length === 1 ? 'Row' : 'Rows'} ${shown}${rows.length > 4 ? ` and ${rows.length - 4} more` : ''}`;
};
