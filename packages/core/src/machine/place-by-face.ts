import { cross, dot, minus, quaternionOf, turnedBack, unit3, type Point3, type Rotation } from '../geometry';
import { freeId } from './defaults';
import { addJoint, groundPoint } from './draw';
import { addPlane, VIEWS } from './draw-plane';
import { bodiesOf } from './edit-mechanism';
import { carryPlane } from './edit-planes';
import { isAlong, normalOf, turnToPlane } from './edit-solids';
import { acrossPlanes, GROUND, planesBelow, type Joint, type Mechanism, type Place, type Plane } from './mechanism';
import { standingOf } from './standing';

/** What was clicked on a solid: a place in the world, m, and the line that the face has there. */
export interface FaceSpot {
  at: Point3;
  /** Axis of a hole or shaft, or the way out of a flat face. */
  axis: Point3;
}

/** Corners of the solids of a body, in the world, m. */
export type CornersOf = (body: string) => readonly Point3[];

const nameOf = (m: Mechanism, id: string) => (id === GROUND ? 'the ground' : `“${m.bodies.find((b) => b.id === id)!.name}”`); // prettier-ignore

/** The axes of a plane with this normal: a standard view where one looks along it. */
function axesAlong(normal: Point3): Rotation {
  for (const view of ['front', 'right', 'top'] as const) {
    const { axes } = VIEWS[view];
    if (isAlong([axes[2], axes[5], axes[8]], normal)) return axes;
  }
  const up: Point3 = Math.abs(normal[1]) < 0.9 ? [0, 1, 0] : [0, 0, -1];
  const z = unit3(normal[2] < 0 ? [-normal[0], -normal[1], -normal[2]] : normal);
  const x = unit3(cross(up, z));
  const y = cross(z, x);
  return [x[0], y[0], z[0], x[1], y[1], z[1], x[2], y[2], z[2]];
}

const planeOfBody = (m: Mechanism, id: string): Plane =>
  m.planes.find((plane) => plane.id === m.bodies.find((body) => body.id === id)!.plane)!;

/** Whether one body hangs on another one through the planes that carry it. */
const ridesOn = (m: Mechanism, body: string, carrier: string): boolean =>
  planesBelow(m, planeOfBody(m, body)).some(({ on }) => on === carrier);

/** What holds a body in its plane. */
const tieOf = (m: Mechanism, id: string): Joint | undefined =>
  m.joints.find((joint) => !acrossPlanes(joint) && bodiesOf(m, joint).includes(id));

/**
 * Finds or makes a plane in which a body can be tied to another one, and brings the body there.
 * @param fits whether a plane with this normal will do
 * @param normal of the plane that is made where none does
 * @returns the plane with what of it `to` is, or a sentence
 */
function meetingPlane(
  m: Mechanism,
  body: string,
  to: string,
  fits: (normal: Point3) => boolean,
  normal: Point3,
  corners: CornersOf,
): { plane: string; onPlane: boolean; swapped: boolean } | string {
  const own = planeOfBody(m, body);
  if (fits(normalOf(m, own.id))) {
    if (own.on === to) return { plane: own.id, onPlane: true, swapped: false };
    if (to !== GROUND && planeOfBody(m, to).id === own.id) return { plane: own.id, onPlane: false, swapped: false };
  }
  if (to !== GROUND) {
    const other = planeOfBody(m, to);
    if (other.on === body && fits(normalOf(m, other.id))) return { plane: other.id, onPlane: true, swapped: true };
  }
  const tie = tieOf(m, body);
  if (tie || (to !== GROUND && ridesOn(m, to, body))) {
    // What is held already stays; the other one may come to it.
    if (to !== GROUND && !tieOf(m, to) && !ridesOn(m, body, to)) {
      const found = meetingPlane(m, to, body, fits, normal, corners);
      return typeof found === 'string' ? found : { ...found, swapped: !found.swapped };
    }
    return `${nameOf(m, body)} is held in its plane already${tie ? ` by “${tie.name}”` : ''}, and this would need another plane: place that joint first on the body that is still free, or join them by a ball.`;
  }
  const candidates = m.planes.filter(
    (plane) => fits(normalOf(m, plane.id)) && !planesBelow(m, plane).some(({ on }) => on === body),
  );
  // Where the other one moves is better than a plane on it: what turns there may be joined further.
  const shared = to !== GROUND && candidates.find(({ id }) => id === planeOfBody(m, to).id);
  const carried = candidates.find(({ on }) => on === to);
  const plane = (shared || undefined) ?? carried ?? newPlane(m, to, normal);
  const problem = turnToPlane(m, body, plane.id, corners(body));
  if (problem) return problem;
  return { plane: plane.id, onPlane: plane.on === to, swapped: false };
}

function newPlane(m: Mechanism, on: string, normal: Point3): Plane {
  const name = on === GROUND ? undefined : `On ${m.bodies.find(({ id }) => id === on)!.name}`.slice(0, 70);
  const taken = m.planes.some((plane) => plane.name === name);
  const plane = addPlane(m, { ...(name && !taken && { name }), turn: quaternionOf(axesAlong(normal)) });
  // In the world first; its carrier keeps it there.
  carryPlane(m, plane, on);
  return plane;
}

/** The point of a body, or of a plane, at a place of the world; made where there is none. */
function placeAt(m: Mechanism, carrier: string, plane: string | null, at: Point3): Place {
  const standing = standingOf(m);
  if (plane !== null) {
    const frame = standing.plane(plane);
    const [x, y, height] = turnedBack(frame.axes, minus(at, frame.at));
    return groundPoint(m, [x, y], plane, tidy(height));
  }
  const frame = standing.body(carrier);
  const [x, y, height] = turnedBack(frame.axes, minus(at, frame.at));
  const body = m.bodies.find(({ id }) => id === carrier)!;
  const known = body.points.find((p) => Math.hypot(p.at[0] - x, p.at[1] - y, (p.height ?? 0) - height) < 1e-9);
  if (known) return { body: carrier, point: known.id };
  // One at the same place and another height is another point: what hangs on that stays where it is.
  const id = freeId('p', body.points.map((own) => own.id)); // prettier-ignore
  body.points.push({ id, at: [x, y], ...(tidy(height) !== 0 && { height: tidy(height) }) });
  return { body: carrier, point: id };
}
const tidy = (value: number) => (Math.abs(value) < 1e-12 ? 0 : value);

/** The point of a body, or of the ground in the first plane, at a place of the world. */
export const spotOn = (m: Mechanism, carrier: string, at: Point3): Place =>
  placeAt(m, carrier, carrier === GROUND ? m.planes[0]!.id : null, at);

/**
 * Places a joint by what was clicked.
 * @param kind a pin about the axis, a slide along it, or a ball at its place
 * @param body of the solid that was clicked; @param to what it is joined to, a body or “ground”
 * @returns the joint, or a sentence that says why it cannot be
 */
export function placeJoint(
  m: Mechanism,
  kind: 'pin' | 'slide' | 'ball',
  body: string,
  to: string,
  spot: FaceSpot,
  corners: CornersOf,
): Joint | string {
  if (body === to) return 'Both faces are of one body: choose a face of another one, or the ground.';
  if (body === GROUND) return placeJoint(m, kind, to, body, spot, corners);
  const axis = unit3(spot.axis);
  if (kind === 'ball') return placeBall(m, body, to, spot.at);
  const fits = (normal: Point3) => (kind === 'pin' ? isAlong(normal, axis) : Math.abs(dot(normal, axis)) < 1e-6);
  const found = meetingPlane(m, body, to, fits, kind === 'pin' ? axis : sideOf(axis), corners);
  if (typeof found === 'string') return found;
  const [rider, carrier] = found.swapped ? [to, body] : [body, to];
  const a = placeAt(m, carrier, found.onPlane ? found.plane : null, spot.at);
  const b = placeAt(m, rider, null, spot.at);
  const [x, y] = turnedBack(standingOf(m).plane(found.plane).axes, axis);
  // Positive is to the right or up, as it is drawn.
  const sign = x < -1e-9 || (Math.abs(x) <= 1e-9 && y < 0) ? -1 : 1;
  return addJoint(m, kind, a, b, kind === 'slide' ? { direction: Math.atan2(sign * y, sign * x) } : {});
}

/** The normal of a plane in which a direction is drawn: the front, or else the side. */
function sideOf(axis: Point3): Point3 {
  if (Math.abs(axis[2]) < 1e-6) return [0, 0, 1];
  if (Math.abs(axis[0]) < 1e-6) return [1, 0, 0];
  if (Math.abs(axis[1]) < 1e-6) return [0, 1, 0];
  return unit3(cross(axis, Math.abs(axis[1]) < 0.9 ? [0, 1, 0] : [1, 0, 0]));
}

function placeBall(m: Mechanism, body: string, to: string, at: Point3): Joint | string {
  const b = placeAt(m, body, null, at);
  if (to === GROUND) {
    const own = planeOfBody(m, body);
    // Two points of one plane would be a pin: the ground of another plane holds the ball.
    const plane = m.planes.find(({ on, id }) => on === GROUND && id !== own.id) ?? newPlane(m, GROUND, [0, 1, 0]);
    if (plane.id === own.id) return 'A ball joint needs the ground of another plane: add one first.';
    return addJoint(m, 'ball', placeAt(m, GROUND, plane.id, at), b);
  }
  if (planeOfBody(m, to).id === planeOfBody(m, body).id)
    return `${nameOf(m, body)} and ${nameOf(m, to)} move in one plane: there a pin does what a ball would.`;
  return addJoint(m, 'ball', placeAt(m, to, null, at), b);
}

/** Adds a plane through a face, its normal along the axis of that: on what carries the face. */
export function placePlane(m: Mechanism, carrier: string, { at, axis }: FaceSpot): Plane {
  const plane = newPlane(m, carrier, unit3(axis));
  const frame = standingOf(m);
  const from = carrier === GROUND ? { at: [0, 0, 0] as Point3, axes: [1, 0, 0, 0, 1, 0, 0, 0, 1] } : frame.body(carrier); // prettier-ignore
  plane.at = turnedBack(from.axes, minus(at, from.at));
  return plane;
}
