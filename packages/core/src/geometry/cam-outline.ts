import { emptyCurvePoint, type Curve } from './curve';
import { pathCurve } from './path';
import type { Point2 } from './mass';

/** How a follower runs on a cam that turns about the origin. */
export type CamFollower =
  /** A slide along y at x = `offset`; `base` is the y of tip or roller centre at zero lift. */
  | { kind: 'slide'; offset: number; base: number }
  /** A lever on a pivot; angle `base` of the lever at zero lift, rad. */
  | { kind: 'lever'; pivot: Point2; length: number; base: number }
  /** Tip or roller centre goes as told; its place by the cam angle, m. The lift is not asked for. */
  | { kind: 'point'; at(angle: number): Point2 };

/** What is wanted of a cam. Angles of the cam in rad, anticlockwise; lift in m (slide) or rad (lever). */
export interface CamWish {
  follower: CamFollower;
  /** Radius of the roller, m; 0 for a tip. */
  roller: number;
  /** +1 where the cam turns anticlockwise. */
  sense: 1 | -1;
  /** Lift and its derivative by the cam angle over one turn. */
  lift(angle: number): { value: number; slope: number };
}

/** A cam outline with what decides whether it is any good. */
export interface CamOutline {
  outline: [number, number][];
  /** Largest angle in rad between the force on the follower and its motion, with the cam angle. */
  pressure: { angle: number; at: number };
  /** Smallest radius of curvature in m on the outer side (bulging), with the cam angle; infinite where it is straight. */
  smallestRadius: { radius: number; at: number };
  /** Cam angles in rad at which the roller undercuts: the outline would fold over itself. */
  undercut: number[];
}

/** Pressure angle from which a slide tends to jam, rad (common practice: 30°). */
export const LARGEST_PRESSURE_SLIDE = Math.PI / 6;

/**
 * Outline of a cam for a wanted motion of its follower: the path of tip or roller centre seen from the turning cam,
 * and the line beside it by the radius of the roller (VDI 2142, envelope of the roller).
 * @param count points of the outline
 */
export function camOutline(wish: CamWish, count = 360): CamOutline {
  const { follower, roller, sense } = wish;
  const centre = (angle: number): [number, number] => {
    const { value } = wish.lift(angle);
    const [x, y] =
      follower.kind === 'slide'
        ? [follower.offset, follower.base + value]
        : follower.kind === 'point'
          ? follower.at(angle)
          : [
              follower.pivot[0] + follower.length * Math.cos(follower.base + value),
              follower.pivot[1] + follower.length * Math.sin(follower.base + value),
            ];
    const back = -sense * angle;
    const [c, s] = [Math.cos(back), Math.sin(back)];
    return [c * x - s * y, s * x + c * y];
  };
  const angles = Array.from({ length: count }, (_, i) => (2 * Math.PI * i) / count);
  const centres = angles.map(centre);
  const pitch: Curve = pathCurve({ kind: 'loop', through: centres });
  const p = emptyCurvePoint();
  let s = 0;
  const outline: [number, number][] = [];
  const undercut: number[] = [];
  const pressure = { angle: 0, at: 0 };
  const smallestRadius = { radius: Infinity, at: 0 };
  const anticlockwise = signedArea(centres) > 0 ? 1 : -1;
  angles.forEach((angle, i) => {
    const next = centres[(i + 1) % count]!;
    // Arc length at the knots: the spline's own, near enough to the sum of chords to start from.
    s = i === 0 ? 0 : refine(pitch, s, centres[i]!);
    pitch.at(s, p);
    const inward: [number, number] = [-p.ty * anticlockwise, p.tx * anticlockwise];
    outline.push([centres[i]![0] + roller * inward[0], centres[i]![1] + roller * inward[1]]);
    const bulge = p.curvature * anticlockwise;
    const radius = bulge > 0 ? 1 / bulge - roller : Infinity;
    if (bulge > 0 && radius <= 0) undercut.push(angle);
    if (radius < smallestRadius.radius) Object.assign(smallestRadius, { radius, at: angle });
    const direction = motionDirection(wish, angle);
    // One that rests is not pushed.
    if (direction) {
      const cosine = Math.abs(
        direction[0] * turned(inward, sense * angle)[0] + direction[1] * turned(inward, sense * angle)[1],
      );
      const size = Math.acos(Math.min(1, cosine));
      if (size > pressure.angle) Object.assign(pressure, { angle: size, at: angle });
    }
    s += Math.hypot(next[0] - centres[i]![0], next[1] - centres[i]![1]);
  });
  return { outline, pressure, smallestRadius, undercut };
}

function refine(curve: Curve, near: number, [x, y]: Point2): number {
  const p = emptyCurvePoint();
  let s = near;
  for (let i = 0; i < 4; i++) {
    curve.at(s, p);
    s += (x - p.x) * p.tx + (y - p.y) * p.ty;
  }
  return s;
}

const signedArea = (points: readonly Point2[]) =>
  points.reduce((sum, [x, y], i) => {
    const [nx, ny] = points[(i + 1) % points.length]!;
    return sum + x * ny - nx * y;
  }, 0) / 2;

function turned([x, y]: readonly [number, number], angle: number): [number, number] {
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  return [c * x - s * y, s * x + c * y];
}

/** How far a point must go per radian of the cam, m, to be said to move. */
const MOVES = 1e-5;
/** Half the angle over which its direction is taken, rad. */
const BESIDE = 1e-3;

/** Direction in which tip or roller centre moves, in the world; null where it rests. */
function motionDirection({ follower, lift }: CamWish, angle: number): [number, number] | null {
  if (follower.kind === 'slide') return [0, 1];
  if (follower.kind === 'point') {
    const [a, b] = [follower.at(angle - BESIDE), follower.at(angle + BESIDE)];
    const [dx, dy] = [b[0] - a[0], b[1] - a[1]];
    const way = Math.hypot(dx, dy);
    return way > 2 * BESIDE * MOVES ? [dx / way, dy / way] : null;
  }
  const { value } = lift(angle);
  return [-Math.sin(follower.base + value), Math.cos(follower.base + value)];
}
