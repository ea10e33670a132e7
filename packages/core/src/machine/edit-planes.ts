import {
  axisOf,
  dot,
  minus,
  quaternionOf,
  timesRotation,
  turned,
  turnedBack,
  unit3,
  UNTURNED,
  type Rotation,
} from '../geometry';
import { addPlane, VIEWS, type View } from './draw-plane';
import { bodiesOf } from './edit-mechanism';
import { acrossPlanes, GROUND, planesBelow, type Mechanism, type Plane } from './mechanism';
import { standingOf, type Frame } from './standing';

const back = ([a, b, c, d, e, f, g, h, i]: Rotation): Rotation => [a!, d!, g!, b!, e!, h!, c!, f!, i!];

/** The standard view of the machine as it is drawn from which a plane is seen; null where it stands askew. */
export function viewOfPlane(m: Mechanism, plane: Plane): View | null {
  const { axes: own } = standingOf(m).plane(plane.id);
  const same = (axes: Rotation) => axes.every((part, i) => Math.abs(part - own[i]!) < 1e-6);
  return (Object.keys(VIEWS) as View[]).find((view) => same(VIEWS[view].axes)) ?? null;
}

/** Turns a plane so that it is seen from a standard view of the machine as it is drawn, whatever its carrier's own frame. */
export function seePlaneFrom(m: Mechanism, plane: Plane, view: View): void {
  const carrier = plane.on === GROUND ? UNTURNED : standingOf(m).body(plane.on).axes;
  plane.turn = quaternionOf(timesRotation(back(carrier), VIEWS[view].axes));
}

/** Bodies that could carry a plane, the ground first: all that do not hang on it. */
export function carriersOfPlane(m: Mechanism, plane: Plane): string[] {
  const hangs = (id: string) => {
    const own = m.planes.find((other) => other.id === id);
    return own !== undefined && planesBelow(m, own).some((below) => below.id === plane.id);
  };
  return [GROUND, ...m.bodies.flatMap(({ id, plane: of }) => (hangs(of) ? [] : [id]))];
}

/** Puts a plane on another carrier; where it is drawn it keeps its place in space. */
export function carryPlane(m: Mechanism, plane: Plane, to: string): void {
  const standing = standingOf(m);
  const now = standing.plane(plane.id);
  const carrier: Frame = to === GROUND ? { at: [0, 0, 0], axes: UNTURNED } : standing.body(to);
  plane.on = to;
  plane.at = turnedBack(carrier.axes, minus(now.at, carrier.at));
  plane.turn = quaternionOf(timesRotation(back(carrier.axes), now.axes));
}

/**
 * Adds a plane square to another one, through a line of that: its x along the line, its y along the normal.
 * @param from, to two places of the line in the plane, m
 */
export function addSquarePlane(
  m: Mechanism,
  to: Plane,
  from: readonly [number, number],
  along: readonly [number, number],
  on: string = to.on,
): Plane {
  const standing = standingOf(m);
  const { at, axes } = standing.plane(to.id);
  const [x, y] = unit3([along[0] - from[0], along[1] - from[1], 0]);
  const own: Rotation = [x, 0, y, y, 0, -x, 0, 1, 0];
  const plane = addPlane(m, {
    at: [0, 1, 2].map((k) => at[k]! + turned(axes, [...from, 0])[k]!) as [number, number, number],
    turn: quaternionOf(timesRotation(axes, own)),
  });
  // Placed in the world first; its carrier keeps it there.
  carryPlane(m, plane, on);
  return plane;
}

/**
 * Moves a body to another plane; it keeps its place in space.
 * @returns null, or a sentence that says why it cannot
 */
export function moveToPlane(m: Mechanism, id: string, planeId: string): string | null {
  const body = m.bodies.find((own) => own.id === id);
  const plane = m.planes.find((own) => own.id === planeId);
  if (!body || !plane || body.plane === planeId) return null;
  if (planesBelow(m, plane).some(({ on }) => on === id))
    return `“${plane.name}” rides on “${body.name}”: choose a plane that does not.`;
  const tie = m.joints.find((joint) => !acrossPlanes(joint) && bodiesOf(m, joint).includes(id));
  if (tie)
    return `“${body.name}” is tied within its plane by “${tie.name}”: take that off first, or move all of the unit.`;
  const standing = standingOf(m);
  const [now, frame] = [standing.body(id), standing.plane(planeId)];
  const n = axisOf(frame.axes, 2);
  if (Math.abs(dot(axisOf(now.axes, 2), n) - 1) > 1e-9)
    return `“${body.name}” would have to be turned over: a body moves to another plane only where both lie alike. Turn the plane, or draw the body there.`;
  const [x, y, level] = turnedBack(frame.axes, minus(now.at, frame.at));
  const [ux, uy] = turnedBack(frame.axes, axisOf(now.axes, 0));
  body.plane = planeId;
  body.pose = { x, y, angle: Math.atan2(uy, ux) };
  body.level = level;
  return null;
}
