import { arcThrough, circleThrough, emptyCurvePoint, pathCurve, type CurvePoint, type Point2 } from '../geometry';
import { pieceEnds, type PathPiece, type PathShape } from './path';
import { apart, copy, meetsItself, SAME, withPiece, type At, type Chain } from './path-edit';

const between = (a: Readonly<Point2>, b: Readonly<Point2>): At => [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2];

/** What an arc is beside the point it bends by: its radius in m, which way it turns, and whether by more than half a turn. */
export interface ArcFacts {
  radius: number;
  turns: 'left' | 'right';
  large: boolean;
}

/** What an arc of a chain is; null where its three points lie in line. */
export function arcFacts(of: Chain, index: number): ArcFacts | null {
  const piece = of.pieces[index];
  const [from, to] = pieceEnds(of, index);
  const circle = piece?.kind === 'arc' ? circleThrough(from, piece.via, to) : undefined;
  if (piece?.kind !== 'arc' || !circle) return null;
  const side = (to[0] - from[0]) * (piece.via[1] - from[1]) - (to[1] - from[1]) * (piece.via[0] - from[0]);
  const { length } = arcThrough(from, piece.via, to);
  return { radius: circle.radius, turns: side < 0 ? 'left' : 'right', large: length > Math.PI * circle.radius * (1 + 1e-9) }; // prettier-ignore
}

/** The smallest radius that an arc between these ends can have, m. */
export const leastRadius = (of: Chain, index: number): number => {
  const [from, to] = pieceEnds(of, index);
  return apart(from, to) / 2;
};

/** An arc of a chain with another radius, the other side, or the other way round the circle. */
export function withArc(of: Chain, index: number, { radius, turns, large }: ArcFacts): PathShape {
  const [from, to] = pieceEnds(of, index);
  const chord = apart(from, to);
  // Typed to the last digit shown, half the distance may come out a hair shorter.
  const r = Math.max(radius, chord / 2);
  const rise = Math.sqrt(Math.max(0, r * r - (chord * chord) / 4));
  const sag = (large ? r + rise : r - rise) * (turns === 'left' ? 1 : -1);
  const [mx, my] = between(from, to);
  const via: At = [mx + (sag * (to[1] - from[1])) / chord, my - (sag * (to[0] - from[0])) / chord];
  return withPiece(of, index, { kind: 'arc', via, to: copy(to) });
}

/** How a piece begins or ends, seen along the path; null where it has no direction of its own, as a transition. */
function directionAt(of: Chain, index: number, end: 'start' | 'end'): CurvePoint | null {
  const count = of.pieces.length;
  const closing = of.closed && !meetsItself(of);
  const total = count + (closing ? 1 : 0);
  const i = of.closed ? (index + total) % total : index;
  if (i < 0 || i >= total) return null;
  const piece: PathPiece = of.pieces[i] ?? { kind: 'line', to: of.start };
  if (piece.kind === 'transition') return null;
  const start = i < count ? pieceEnds(of, i)[0] : pieceEnds(of, count - 1)[1];
  const curve = pathCurve({ kind: 'chain', start, pieces: [piece], closed: false });
  const p = emptyCurvePoint();
  curve.at(end === 'start' ? 0 : curve.length, p);
  return p;
}

/**
 * An arc that leaves in the direction of the piece before it, or goes over into the direction of the one behind.
 * @returns the path, or a sentence that says why there is none
 */
export function tangentArc(of: Chain, index: number, neighbour: 'before' | 'behind'): PathShape | string {
  const p = neighbour === 'before' ? directionAt(of, index - 1, 'end') : directionAt(of, index + 1, 'start');
  if (!p)
    return `There is no piece with a direction of its own ${neighbour} it: an arc can be tangent to a line, an arc or a spline.`;
  const [from, to] = pieceEnds(of, index);
  // Seen from the end it is the same arc run backwards.
  const [a, b, tx, ty] = neighbour === 'before' ? [from, to, p.tx, p.ty] : [to, from, -p.tx, -p.ty];
  const [dx, dy] = [b[0] - a[0], b[1] - a[1]];
  const off = Math.atan2(tx * dy - ty * dx, tx * dx + ty * dy);
  if (Math.abs(off) > Math.PI - 1e-6)
    return `The piece ${neighbour} it points straight back: no arc is tangent to it there. Move the end of the arc.`;
  const half = off / 2;
  const reach = Math.hypot(dx, dy) / (2 * Math.cos(half));
  const [c, s] = [Math.cos(half), Math.sin(half)];
  const via: At = [a[0] + reach * (c * tx - s * ty), a[1] + reach * (s * tx + c * ty)];
  return withPiece(of, index, { kind: 'arc', via, to: copy(to) });
}

/** A corner that has no room for a radius: which one, counted from 1, and the largest there, m. */
export interface NoRoom {
  corner: number;
  most: number;
}

/** The sides of a chain: its pieces with the line that closes it, those that only round a corner taken back. */
function sharpened(of: Chain): { sharp: Chain; radii: number[] } {
  const closing = of.closed && !meetsItself(of);
  const own: PathPiece[] = closing ? [...of.pieces, { kind: 'line', to: copy(of.start) }] : [...of.pieces];
  const chain: Chain = { ...of, pieces: own };
  const pieces = own.map((piece) => ({ ...piece }));
  const radii: number[] = [];
  const gone = new Set<number>();
  let { start } = of;
  own.forEach((piece, i) => {
    const found = piece.kind === 'arc' ? roundedCorner(chain, i) : null;
    if (!found) return;
    gone.add(i);
    radii.push(arcFacts(chain, i)!.radius);
    (pieces[found.before] as { to: At }).to = found.corner;
    if (i === own.length - 1 || i === 0) start = found.corner;
  });
  const left = pieces.filter((_, i) => !gone.has(i));
  const last = left.at(-1)!;
  // The last line of a closed chain ends where it begins.
  if (of.closed && last.kind !== 'spline') last.to = copy(start);
  return { sharp: { ...of, start: copy(start), pieces: left }, radii };
}

/** The corner that an arc between two lines rounds, and the line before it; null where it is no such arc. */
function roundedCorner(of: Chain, index: number): { corner: At; before: number } | null {
  const { pieces, closed } = of;
  const count = pieces.length;
  const before = index > 0 ? index - 1 : closed ? count - 1 : -1;
  const behind = index + 1 < count ? index + 1 : closed ? 0 : -1;
  if (pieces[before]?.kind !== 'line' || pieces[behind]?.kind !== 'line' || before === behind) return null;
  const [arrives, leaves] = [directionAt(of, before, 'end')!, directionAt(of, behind, 'start')!];
  const [first, last] = [directionAt(of, index, 'start')!, directionAt(of, index, 'end')!];
  const turn = cross(arrives, leaves);
  if (!isAlong(arrives, first) || !isAlong(last, leaves) || Math.abs(turn) < 1e-9) return null;
  const [from, to] = pieceEnds(of, index);
  const s = ((to[0] - from[0]) * leaves.ty - (to[1] - from[1]) * leaves.tx) / turn;
  return { corner: [from[0] + s * arrives.tx, from[1] + s * arrives.ty], before };
}

const cross = (a: CurvePoint, b: CurvePoint) => a.tx * b.ty - a.ty * b.tx;
const isAlong = (a: CurvePoint, b: CurvePoint) => Math.abs(cross(a, b)) < 1e-6 && a.tx * b.tx + a.ty * b.ty > 0;

/** The radius by which the corners of a chain are rounded, m: 0 where none is, null where they differ. */
export function cornerRadius(of: Chain): number | null {
  const { radii } = sharpened(of);
  if (radii.length === 0) return 0;
  return radii.every((radius) => Math.abs(radius - radii[0]!) < 1e-6 * radii[0]!) ? radii[0]! : null;
}

/**
 * Rounds all corners between lines of a chain by arcs of one radius; those rounded before are rounded anew.
 * @param radius m; 0 makes them sharp
 * @returns the path, or the first corner that has no room
 */
export function roundCorners(of: Chain, radius: number): PathShape | NoRoom {
  const { sharp } = sharpened(of);
  if (radius <= 0) return sharp;
  const count = sharp.pieces.length;
  const next = (i: number) => (i + 1 < count ? i + 1 : of.closed ? 0 : -1);
  const length = (i: number) => apart(...pieceEnds(sharp, i));
  /** How much of its lines a radius of 1 takes at the end of a piece; 0 where there is no corner between lines. */
  const share = sharp.pieces.map((piece, i) => {
    const behind = next(i);
    if (behind < 0 || piece.kind !== 'line' || sharp.pieces[behind]!.kind !== 'line') return 0;
    const [a, b] = [directionAt(sharp, i, 'end')!, directionAt(sharp, behind, 'start')!];
    const turn = Math.atan2(a.tx * b.ty - a.ty * b.tx, a.tx * b.tx + a.ty * b.ty);
    return Math.abs(turn) < 1e-6 ? 0 : Math.tan(Math.abs(turn) / 2);
  });
  const before = (i: number) => (i > 0 ? share[i - 1]! : of.closed ? share[count - 1]! : 0);
  let corner = 0;
  for (let i = 0; i < count; i++) {
    if (share[i] === 0) continue;
    corner++;
    const most = Math.min(
      length(i) / (share[i]! + before(i)),
      length(next(i)) / (share[i]! + share[next(i)]!),
    ); // prettier-ignore
    if (!(radius <= most * (1 + 1e-9))) return { corner, most };
  }
  const p = emptyCurvePoint();
  const pointOn = (i: number, from: number): At => {
    const [a, b] = pieceEnds(sharp, i);
    const t = from / length(i);
    return [a[0] + t * (b[0] - a[0]), a[1] + t * (b[1] - a[1])];
  };
  const pieces: PathPiece[] = [];
  sharp.pieces.forEach((piece, i) => {
    const trim = share[i]! * radius;
    if (trim === 0) return void pieces.push(piece);
    const from = pointOn(i, length(i) - trim);
    const to = pointOn(next(i), trim);
    // A line that both its corners take up whole has no length left.
    if (length(i) - trim - before(i) * radius > SAME) pieces.push({ kind: 'line', to: from });
    const corner = pieceEnds(sharp, i)[1];
    const middle = between(from, to);
    const away = apart(corner, middle);
    const towards = Math.hypot(radius, trim) - radius;
    p.x = corner[0] + ((middle[0] - corner[0]) * towards) / away;
    p.y = corner[1] + ((middle[1] - corner[1]) * towards) / away;
    pieces.push({ kind: 'arc', via: [p.x, p.y], to });
  });
  const begins = of.closed && share[count - 1]! > 0 ? pointOn(0, share[count - 1]! * radius) : copy(sharp.start);
  return { ...sharp, start: begins, pieces };
}
