import { gaussNodes } from '../numeric';
import type { Point2 } from './mass';

/** What a curve does at an arc length: place, unit tangent, signed curvature (1/m) and its rate (1/m²). */
export interface CurvePoint {
  x: number;
  y: number;
  tx: number;
  ty: number;
  curvature: number;
  curvatureRate: number;
}

/** A plane curve by its arc length. Open curves go on straight beyond their ends; closed ones wrap. */
export interface Curve {
  length: number;
  closed: boolean;
  /** Arc lengths at which pieces meet, the start of a closed curve among them. */
  knees: readonly number[];
  /** Writes the state at arc length `s` (m) into `out`. */
  at(s: number, out: CurvePoint): void;
}

export const emptyCurvePoint = (): CurvePoint => ({ x: 0, y: 0, tx: 1, ty: 0, curvature: 0, curvatureRate: 0 });

/** One smooth piece of a path, over its own arc length from 0 to `length`. */
export interface CurvePiece {
  length: number;
  at(s: number, out: CurvePoint): void;
}

/** A straight piece. */
export function linePiece(from: Point2, to: Point2): CurvePiece {
  const length = Math.hypot(to[0] - from[0], to[1] - from[1]);
  const tx = (to[0] - from[0]) / length;
  const ty = (to[1] - from[1]) / length;
  return {
    length,
    at(s, out) {
      out.x = from[0] + tx * s;
      out.y = from[1] + ty * s;
      out.tx = tx;
      out.ty = ty;
      out.curvature = 0;
      out.curvatureRate = 0;
    },
  };
}

/** An arc about `centre` from direction `start` (rad), turning anticlockwise by `sweep` (rad, negative: clockwise). */
export function arcPiece(centre: Point2, radius: number, start: number, sweep: number): CurvePiece {
  const sense = Math.sign(sweep);
  return {
    length: radius * Math.abs(sweep),
    at(s, out) {
      const angle = start + (sense * s) / radius;
      const c = Math.cos(angle);
      const d = Math.sin(angle);
      out.x = centre[0] + radius * c;
      out.y = centre[1] + radius * d;
      out.tx = -sense * d;
      out.ty = sense * c;
      out.curvature = sense / radius;
      out.curvatureRate = 0;
    },
  };
}

/** The circle through three points, or undefined where they lie in line. */
export function circleThrough(a: Point2, b: Point2, c: Point2): { centre: Point2; radius: number } | undefined {
  const bx = b[0] - a[0];
  const by = b[1] - a[1];
  const cx = c[0] - a[0];
  const cy = c[1] - a[1];
  const twice = 2 * (bx * cy - by * cx);
  const size = Math.max(Math.hypot(bx, by), Math.hypot(cx, cy));
  if (Math.abs(twice) < 1e-12 * size * size) return undefined;
  const ux = (cy * (bx * bx + by * by) - by * (cx * cx + cy * cy)) / twice;
  const uy = (bx * (cx * cx + cy * cy) - cx * (bx * bx + by * by)) / twice;
  return { centre: [a[0] + ux, a[1] + uy], radius: Math.hypot(ux, uy) };
}

/** An arc through three points; a line where they lie in line. */
export function arcThrough(from: Point2, via: Point2, to: Point2): CurvePiece {
  const circle = circleThrough(from, via, to);
  if (!circle) return linePiece(from, to);
  const { centre, radius } = circle;
  const angle = (p: Point2) => Math.atan2(p[1] - centre[1], p[0] - centre[0]);
  const start = angle(from);
  const turn = (p: Point2) => {
    const sweep = angle(p) - start;
    return sweep < 0 ? sweep + 2 * Math.PI : sweep;
  };
  const sweep = turn(via) < turn(to) ? turn(to) : turn(to) - 2 * Math.PI;
  return arcPiece(centre, radius, start, sweep);
}

/** Place and three derivatives of a parametric curve. */
export type Derivatives = [
  x: number,
  y: number,
  x1: number,
  y1: number,
  x2: number,
  y2: number,
  x3: number,
  y3: number,
];

/** Arc length over a parameter u from 0 to `end`: tabulated by Gauss–Legendre, inverted by Newton to rounding. */
export function arcLengthOf(
  speed: (u: number) => number,
  end: number,
  cells: number,
): { length: number; parameterAt(s: number): number } {
  const between = (a: number, b: number) => {
    let sum = 0;
    gaussNodes(a, b, (u, weight) => (sum += weight * speed(u)));
    return sum;
  };
  const table = new Float64Array(cells + 1);
  for (let i = 0; i < cells; i++) table[i + 1] = table[i]! + between((end * i) / cells, (end * (i + 1)) / cells);
  return {
    length: table[cells]!,
    parameterAt(s) {
      let low = 0;
      let high = cells;
      while (high - low > 1) {
        const middle = (low + high) >> 1;
        if (table[middle]! <= s) low = middle;
        else high = middle;
      }
      const from = (end * low) / cells;
      const span = table[low + 1]! - table[low]!;
      let u = from + ((end / cells) * (s - table[low]!)) / span;
      for (let i = 0; i < 6; i++) {
        const step = (table[low]! + between(from, u) - s) / speed(u);
        u -= step;
        if (Math.abs(step) < 1e-15 * end) break;
      }
      return u;
    },
  };
}

/** A piece given by a parameter u from 0 to `end`, by arc length. Curvature and its rate follow from the derivatives. */
export function parametricPiece(f: (u: number, out: Derivatives) => void, end: number, cells: number): CurvePiece {
  const d: Derivatives = [0, 0, 0, 0, 0, 0, 0, 0];
  const speed = (u: number) => {
    f(u, d);
    return Math.hypot(d[2], d[3]);
  };
  const { length, parameterAt } = arcLengthOf(speed, end, cells);
  return {
    length,
    at(s, out) {
      f(parameterAt(s), d);
      const [x, y, x1, y1, x2, y2, x3, y3] = d;
      const v = Math.hypot(x1, y1);
      const cross = x1 * y2 - y1 * x2;
      out.x = x;
      out.y = y;
      out.tx = x1 / v;
      out.ty = y1 / v;
      out.curvature = cross / v ** 3;
      const rate = (x1 * y3 - y1 * x3) / v ** 3 - (3 * cross * (x1 * x2 + y1 * y2)) / v ** 5;
      out.curvatureRate = rate / v;
    },
  };
}

/** Pieces one after another: where each begins, and which of them an arc length lies in. */
export function chainOf(
  pieces: readonly { length: number }[],
  closed: boolean,
): { length: number; knees: readonly number[]; find(s: number): { piece: number; inside: number; beyond: number } } {
  const starts: number[] = [];
  let length = 0;
  for (const piece of pieces) {
    starts.push(length);
    length += piece.length;
  }
  return {
    length,
    knees: closed ? starts : starts.slice(1),
    find(s) {
      const place = closed ? s - length * Math.floor(s / length) : s;
      const within = place < 0 ? 0 : place > length ? length : place;
      let piece = pieces.length - 1;
      while (piece > 0 && starts[piece]! > within) piece--;
      return { piece, inside: Math.min(within - starts[piece]!, pieces[piece]!.length), beyond: place - within };
    },
  };
}

/** Chains pieces into one curve. */
export function chainCurve(pieces: readonly CurvePiece[], closed: boolean): Curve {
  const { length, knees, find } = chainOf(pieces, closed);
  return {
    length,
    closed,
    knees,
    at(s, out) {
      const { piece, inside, beyond } = find(s);
      pieces[piece]!.at(inside, out);
      if (beyond === 0) return;
      out.x += out.tx * beyond;
      out.y += out.ty * beyond;
      out.curvature = 0;
      out.curvatureRate = 0;
    },
  };
}

/** Arc length of the point of a curve that lies nearest to a place: a scan, then Newton on the tangent's foot. */
export function nearestOn(curve: Curve, x: number, y: number, near?: number): number {
  const p = emptyCurvePoint();
  const distance = (s: number) => {
    curve.at(s, p);
    return (p.x - x) ** 2 + (p.y - y) ** 2;
  };
  let best = near ?? 0;
  if (near === undefined) {
    const scan = 400;
    let least = Infinity;
    for (let i = 0; i <= scan; i++) {
      const d = distance((curve.length * i) / scan);
      if (d < least) {
        least = d;
        best = (curve.length * i) / scan;
      }
    }
  }
  for (let i = 0; i < 30; i++) {
    const before = distance(best);
    const along = (x - p.x) * p.tx + (y - p.y) * p.ty;
    const across = -(x - p.x) * p.ty + (y - p.y) * p.tx;
    const stiffness = 1 - across * p.curvature;
    let step = stiffness > 0.1 ? along / stiffness : along;
    while (Math.abs(step) > 1e-15 && distance(best + step) > before + 1e-30) step /= 2;
    best += step;
    if (Math.abs(step) < 1e-14 * curve.length) break;
  }
  return curve.closed ? best : Math.max(0, Math.min(curve.length, best));
}
