import { arcLengthOf, arcThrough, chainOf, emptyCurvePoint } from './curve';
import { PathError } from './path';
import { cross, dot, length3, minus, plus, unit3, type Point3 } from './space';
import { derivativeAt, septic, splineAt, splineCurvatures } from './spline';

/** One piece of a path in space: where it goes from where the piece before it ended. */
export type SpacePiece =
  | { kind: 'line'; to: Point3 }
  | { kind: 'arc'; via: Point3; to: Point3 }
  | { kind: 'spline'; through: readonly Point3[] };

/** A path in space: lines, arcs in any plane and splines in a chain. Places in the world, m. */
export interface SpacePath {
  start: Point3;
  pieces: readonly SpacePiece[];
  closed: boolean;
}

type Vector = [number, number, number];

/** What a curve in space does at an arc length: place, unit tangent, and its two derivatives by arc length (1/m, 1/m²). */
export interface SpaceCurvePoint {
  at: Vector;
  tangent: Vector;
  /** Towards the centre of curvature, as long as one over the radius. */
  bend: Vector;
  bendRate: Vector;
}

/** A curve in space by its arc length. Open curves go on straight beyond their ends; closed ones wrap. */
export interface SpaceCurve {
  length: number;
  closed: boolean;
  knees: readonly number[];
  /** Writes the state at arc length `s` (m) into `out`. */
  at(s: number, out: SpaceCurvePoint): void;
}

/** A corner of a path in space: its arc length, and the angle in rad by which the direction jumps. */
export interface SpaceCorner {
  at: number;
  angle: number;
}

interface Piece {
  length: number;
  at(s: number, out: SpaceCurvePoint): void;
}

export const emptySpaceCurvePoint = (): SpaceCurvePoint => ({
  at: [0, 0, 0],
  tangent: [1, 0, 0],
  bend: [0, 0, 0],
  bendRate: [0, 0, 0],
});

const NO_LENGTH = 1e-12;
/** Directions that differ by less are one, rad. */
const STRAIGHT = 1e-6;

/**
 * Makes a curve of a path in space, each of its corners rounded from `blend` (m along the path) before it to as far
 * behind it, so that direction, curvature and its rate run through. Where a piece is short, what is left of it is shared.
 * @throws PathError where a piece has no length
 */
export function spaceCurve(path: SpacePath, blend = 0): SpaceCurve {
  const pieces = blended(piecesOf(path), path.closed, blend);
  const { length, knees, find } = chainOf(pieces, path.closed);
  return {
    length,
    closed: path.closed,
    knees,
    at(s, out) {
      const { piece, inside, beyond } = find(s);
      pieces[piece]!.at(inside, out);
      if (beyond === 0) return;
      out.at = plus(out.at, out.tangent, beyond);
      out.bend = [0, 0, 0];
      out.bendRate = [0, 0, 0];
    },
  };
}

/**
 * Corners of a path in space as it is drawn, where the direction jumps from one piece to the next.
 * @throws PathError as {@link spaceCurve}
 */
export function spaceCorners(path: SpacePath): SpaceCorner[] {
  const pieces = piecesOf(path);
  let at = 0;
  return pieces.flatMap((piece, i) => {
    at += piece.length;
    const angle = cornerBehind(pieces, i, path.closed);
    return angle > STRAIGHT ? [{ at, angle }] : [];
  });
}

/** Places along a curve in space, evenly spaced by arc length, both ends included. */
export function spaceTrace(curve: SpaceCurve, count: number): Vector[] {
  const p = emptySpaceCurvePoint();
  return Array.from({ length: count }, (_, i) => {
    // The end of a closed curve is its beginning; a hair before, it is still the end.
    curve.at((curve.length * (1 - 1e-12) * i) / (count - 1), p);
    return [...p.at] as Vector;
  });
}

/** Places that a path in space is made of: no more than are worth it. */
const MOST_PLACES = 200;
/** How far lines may pass a place that is left out, m. */
const PASS = 5e-5;

/**
 * A path in space through places, as lines from one to the next or as one spline. Places that say nothing new are left
 * out: those that stand still, for lines those that lie on them, and for a spline all but an even selection.
 * @throws PathError where fewer than two places are left
 */
export function pathThrough(places: readonly Point3[], as: 'lines' | 'spline'): SpacePath {
  const moving = places.filter((place, i) => i === 0 || length3(minus(place, places[i - 1]!)) > 1e-7);
  if (moving.length < 2) throw new PathError('There are fewer than two places: a path needs a start and an end.');
  const closed = moving.length > 3 && length3(minus(moving.at(-1)!, moving[0]!)) < 1e-6;
  const kept = as === 'lines' ? corners(moving) : evenly(moving);
  if (closed) kept[kept.length - 1] = kept[0]!;
  const [start, ...rest] = kept;
  const pieces: SpacePiece[] = as === 'lines' ? rest.map((to) => ({ kind: 'line', to })) : [{ kind: 'spline', through: rest }]; // prettier-ignore
  return { start: start!, pieces, closed };
}

/** The places at which a line through many of them turns (Ramer, Douglas and Peucker). */
function corners(places: readonly Point3[]): Point3[] {
  const kept = new Set([0, places.length - 1]);
  const open: [number, number][] = [[0, places.length - 1]];
  while (open.length > 0) {
    const [from, to] = open.pop()!;
    const [a, way] = [places[from]!, minus(places[to]!, places[from]!)];
    const long = length3(way);
    let [most, at] = [PASS, -1];
    for (let i = from + 1; i < to; i++) {
      const off = minus(places[i]!, a);
      const along = long > 0 ? Math.max(0, Math.min(1, dot(off, way) / long ** 2)) : 0;
      const gap = length3(plus(off, way, -along));
      if (gap > most) [most, at] = [gap, i];
    }
    if (at < 0) continue;
    kept.add(at);
    open.push([from, at], [at, to]);
  }
  return [...kept].sort((a, b) => a - b).map((i) => places[i]!);
}

/** Places at even distances along a line through many, the first and the last among them. */
function evenly(places: readonly Point3[]): Point3[] {
  if (places.length <= MOST_PLACES) return [...places];
  const lengths = [0];
  for (let i = 1; i < places.length; i++) lengths.push(lengths[i - 1]! + length3(minus(places[i]!, places[i - 1]!)));
  const kept: Point3[] = [];
  let next = 0;
  places.forEach((place, i) => {
    if (lengths[i]! < next && i < places.length - 1) return;
    kept.push(place);
    next = (kept.length * lengths.at(-1)!) / (MOST_PLACES - 1);
  });
  return kept;
}

function piecesOf({ start, pieces, closed }: SpacePath): Piece[] {
  if (pieces.length === 0) throw new PathError('The path has no pieces yet: add a place that it leads to.');
  let from = start;
  const made = pieces.map((piece, i): Piece => {
    const to = endOf(piece);
    const begin = from;
    from = to;
    if (piece.kind === 'spline') return spline([begin, ...piece.through], i);
    if (piece.kind === 'arc') return arc(begin, piece.via, to, i);
    if (length3(minus(to, begin)) < NO_LENGTH) throw noLength(i);
    return line(begin, to);
  });
  if (closed && length3(minus(start, from)) > NO_LENGTH) made.push(line(from, start));
  return made;
}

const endOf = (piece: SpacePiece): Point3 =>
  piece.kind === 'spline' ? piece.through[piece.through.length - 1]! : piece.to;
const noLength = (i: number) => new PathError(`Piece ${i + 1} of the path has no length: move its end or remove it.`);

function line(from: Point3, to: Point3): Piece {
  const tangent = unit3(minus(to, from));
  return {
    length: length3(minus(to, from)),
    at(s, out) {
      out.at = plus(from, tangent, s);
      out.tangent = [...tangent];
      out.bend = [0, 0, 0];
      out.bendRate = [0, 0, 0];
    },
  };
}

/** An arc through three places, solved in the plane that they span; a line where they lie in line. */
function arc(from: Point3, via: Point3, to: Point3, i: number): Piece {
  const [a, b] = [minus(via, from), minus(to, from)];
  const size = Math.max(length3(a), length3(b));
  if (size < NO_LENGTH) throw noLength(i);
  const normal = cross(a, b);
  if (length3(normal) < 1e-12 * size * size) {
    if (length3(b) < NO_LENGTH) throw noLength(i);
    return line(from, to);
  }
  const e1 = unit3(length3(a) > length3(b) ? a : b);
  const e2 = cross(unit3(normal), e1);
  const flat = (v: Point3): [number, number] => [dot(v, e1), dot(v, e2)];
  const piece = arcThrough([0, 0], flat(a), flat(b));
  const p = emptyCurvePoint();
  const lifted = (x: number, y: number): Vector => plus([e1[0] * x, e1[1] * x, e1[2] * x], e2, y);
  return {
    length: piece.length,
    at(s, out) {
      piece.at(s, p);
      const k = p.curvature;
      out.at = plus(from, lifted(p.x, p.y));
      out.tangent = lifted(p.tx, p.ty);
      out.bend = lifted(-p.ty * k, p.tx * k);
      out.bendRate = lifted(-p.tx * k * k, -p.ty * k * k);
    },
  };
}

function spline(points: readonly Point3[], i: number): Piece {
  const u = [0];
  for (let k = 1; k < points.length; k++) {
    const chord = length3(minus(points[k]!, points[k - 1]!));
    if (chord < NO_LENGTH) throw noLength(i);
    u.push(u[k - 1]! + chord);
  }
  const columns = ([0, 1, 2] as const).map((axis) => {
    const y = points.map((p) => p[axis]);
    return { y, m: splineCurvatures(u, y, false) };
  });
  const write = (w: number, out: number[]) => columns.forEach((column, k) => splineAt(u, column, w, out, k, 3));
  return parametric(write, u[u.length - 1]!, Math.max(16, 2 * (points.length - 1)));
}

/** A piece given by a parameter, by arc length. `f` writes place and three derivatives, three numbers each. */
function parametric(f: (u: number, out: number[]) => void, end: number, cells: number): Piece {
  const d = new Array<number>(12).fill(0);
  const part = (order: number): Vector => [d[3 * order]!, d[3 * order + 1]!, d[3 * order + 2]!];
  const speed = (u: number) => {
    f(u, d);
    return Math.hypot(d[3]!, d[4]!, d[5]!);
  };
  const { length, parameterAt } = arcLengthOf(speed, end, cells);
  return {
    length,
    at(s, out) {
      f(parameterAt(s), d);
      const [r1, r2, r3] = [part(1), part(2), part(3)];
      const v = length3(r1);
      const t = unit3(r1);
      const v1 = dot(t, r2);
      // Derivatives by arc length from those by the parameter.
      const across = plus(r2, t, -v1);
      const bend: Vector = [across[0] / v ** 2, across[1] / v ** 2, across[2] / v ** 2];
      const v2 = v * dot(bend, r2) + dot(t, r3);
      out.at = part(0);
      out.tangent = t;
      out.bend = bend;
      out.bendRate = [0, 1, 2].map(
        (k) => (r3[k]! - v * bend[k]! * v1 - t[k]! * v2 - 2 * v1 * v * bend[k]!) / v ** 3,
      ) as Vector;
    },
  };
}

/** The angle in rad by which the direction jumps at the end of a piece; 0 where nothing follows. */
function cornerBehind(pieces: readonly Piece[], i: number, closed: boolean): number {
  const next = pieces[i + 1] ?? (closed ? pieces[0] : undefined);
  if (!next) return 0;
  const [end, start] = [emptySpaceCurvePoint(), emptySpaceCurvePoint()];
  pieces[i]!.at(pieces[i]!.length, end);
  next.at(0, start);
  return Math.atan2(length3(cross(end.tangent, start.tangent)), dot(end.tangent, start.tangent));
}

function blended(pieces: readonly Piece[], closed: boolean, distance: number): readonly Piece[] {
  if (!(distance > 0)) return pieces;
  const count = pieces.length;
  const behind = pieces.map((_, i) => cornerBehind(pieces, i, closed) > STRAIGHT);
  const before = (i: number) => behind[(i + count - 1) % count]! && (closed || i > 0);
  // Never more than leaves a hundredth of the piece standing.
  const trims = pieces.map(({ length }, i) => {
    const sides = (before(i) ? 1 : 0) + (behind[i] ? 1 : 0);
    return sides === 0 ? 0 : Math.min(distance, (0.99 * length) / sides);
  });
  const cut = (i: number): Piece => {
    const from = before(i) ? trims[i]! : 0;
    const to = pieces[i]!.length - (behind[i] ? trims[i]! : 0);
    return { length: to - from, at: (s, out) => pieces[i]!.at(from + s, out) };
  };
  const kept = pieces.map((_, i) => cut(i));
  return kept.flatMap((piece, i) => (behind[i] ? [piece, transition(piece, kept[(i + 1) % count]!)] : [piece]));
}

/** From the end of one piece to the start of another: a polynomial of degree seven that meets three derivatives at both. */
function transition(one: Piece, other: Piece): Piece {
  const [from, to] = [emptySpaceCurvePoint(), emptySpaceCurvePoint()];
  one.at(one.length, from);
  other.at(0, to);
  const scale = length3(minus(to.at, from.at));
  if (scale < NO_LENGTH)
    throw new PathError(
      'The path turns straight back on itself, which cannot be blended: lead it round by another place, or blend from 0 and let the tool stop there.',
    );
  const polynomials = ([0, 1, 2] as const).map((k) => {
    const [a, b] = [from, to].map(({ at, tangent, bend, bendRate }) => [
      at[k],
      tangent[k] * scale,
      bend[k] * scale ** 2,
      bendRate[k] * scale ** 3,
    ]);
    return septic(a!, b!);
  });
  const write = (u: number, out: number[]) => {
    for (let order = 0; order < 4; order++)
      polynomials.forEach((c, k) => (out[3 * order + k] = derivativeAt(c, u, order)));
  };
  return parametric(write, 1, 32);
}
