import { length3, minus } from '../geometry';
import { freeId } from './defaults';
import {
  COUPLINGS,
  ELEMENTS,
  FIRST_THICKNESS,
  GROUND,
  JOINTS,
  mapPath,
  STEEL,
  type Body,
  type Coupling,
  type Element,
  type Joint,
  type Mechanism,
  type MechanismPath,
  type Place,
} from './mechanism';
import { spaceOf } from './standing';

/** A place in a plane, m. */
export type At = readonly [x: number, y: number];

/** Ends closer than this (m) count as one place. */
const SAME = 1e-9;

/** Where a point of a body, or of the ground, is in its plane at the start pose: in the front plane that is the world. */
export function worldOf(mechanism: Mechanism, { body, point }: Place): [number, number] {
  if (body === GROUND) return [...mechanism.ground.find(({ id }) => id === point)!.at];
  const carrier = mechanism.bodies.find(({ id }) => id === body)!;
  return inWorld(carrier, carrier.points.find(({ id }) => id === point)!.at);
}

/** A place in the frame of a body, in the world at its start pose. */
function inWorld({ pose }: Pick<Body, 'pose'>, [x, y]: At): [number, number] {
  const [c, s] = [Math.cos(pose.angle), Math.sin(pose.angle)];
  return [pose.x + c * x - s * y, pose.y + s * x + c * y];
}

/** A place in the world seen from the frame of a body at its start pose. */
export function localOf({ pose }: Pick<Body, 'pose'>, [x, y]: At): [number, number] {
  const [c, s] = [Math.cos(pose.angle), Math.sin(pose.angle)];
  const [dx, dy] = [x - pose.x, y - pose.y];
  return [c * dx + s * dy, -s * dx + c * dy];
}

const near = (a: At, b: At) => Math.hypot(a[0] - b[0], a[1] - b[1]) < SAME;

/** The plane that every mechanism has. */
export const firstPlane = ({ planes }: Pick<Mechanism, 'planes'>): string => planes[0]!.id;

/** The point of the ground at a place in a plane; made where there is none. */
export function groundPoint(mechanism: Mechanism, at: At, plane = firstPlane(mechanism), height = 0): Place {
  const known = mechanism.ground.find(
    (p) => p.plane === plane && near(p.at, at) && Math.abs((p.height ?? 0) - height) < SAME,
  );
  if (known) return { body: GROUND, point: known.id };
  const id = freeId('g', mechanism.ground.map((p) => p.id)); // prettier-ignore
  mechanism.ground.push({ id, plane, at: [...at], ...(height !== 0 && { height }) });
  return { body: GROUND, point: id };
}

/** The point of a body at a place in the world; made where there is none. */
export function bodyPoint(mechanism: Mechanism, bodyId: string, at: At): Place {
  return pointIn(mechanism, {
    body: bodyId,
    at: localOf(
      mechanism.bodies.find(({ id }) => id === bodyId)!,
      at,
    ),
  });
}

/** A place in the frame of a body, or of the ground, m; no drawn point need be there. */
export interface LocalPlace {
  body: string;
  at: [number, number];
  /** Plane of a place on the ground: the first where nothing is said. */
  plane?: string;
  /** The drawn point that is meant, where there is one: others may lie at the same place at another height. */
  point?: string;
}

/** The point of a body, or of the ground, at a place in its frame; made where there is none. */
export function pointIn(mechanism: Mechanism, { body: bodyId, at: local, plane, point }: LocalPlace): Place {
  const drawn = bodyId === GROUND ? mechanism.ground : mechanism.bodies.find(({ id }) => id === bodyId)!.points;
  if (point !== undefined && drawn.some(({ id }) => id === point)) return { body: bodyId, point };
  if (bodyId === GROUND) return groundPoint(mechanism, local, plane);
  const body = mechanism.bodies.find(({ id }) => id === bodyId)!;
  const known = body.points.find((p) => near(p.at, local));
  if (known) return { body: bodyId, point: known.id };
  const id = freeId('p', body.points.map((p) => p.id)); // prettier-ignore
  body.points.push({ id, at: [...local] });
  return { body: bodyId, point: id };
}

/** A name that none of these has yet. */
export function freshName(base: string, names: Iterable<string>): string {
  return freeId(`${base} `, names);
}

type Drawn = Pick<Body, 'pose' | 'points' | 'shape'>;

function addBody(
  mechanism: Mechanism,
  base: string,
  drawn: Drawn,
  name: string | undefined,
  plane: string = firstPlane(mechanism),
): Body {
  const body: Body = {
    id: freeId('body', mechanism.bodies.map(({ id }) => id)), // prettier-ignore
    name: name ?? freshName(base, mechanism.bodies.map((b) => b.name)), // prettier-ignore
    plane,
    level: 0,
    thickness: FIRST_THICKNESS,
    ...drawn,
    mass: { given: 'shape', density: STEEL },
  };
  mechanism.bodies.push(body);
  return mechanism.bodies[mechanism.bodies.length - 1]!;
}

/** Width of a bar of which nothing else is said: an eighth of its length, within bounds, m. */
const usualWidth = (length: number) => Math.min(0.02, Math.max(length * 0.12, 0.002));

/** Draws a bar between two places; its frame sits at the first and points to the second. */
export function addBar(
  mechanism: Mechanism,
  from: At,
  to: At,
  name?: string,
  width: number | null = null,
  plane?: string,
): Body {
  const length = Math.hypot(to[0] - from[0], to[1] - from[1]);
  const pose = { x: from[0], y: from[1], angle: Math.atan2(to[1] - from[1], to[0] - from[0]) };
  return addBody(
    mechanism,
    'Bar',
    {
      pose,
      points: [
        { id: 'p1', at: [0, 0] },
        { id: 'p2', at: [length, 0] },
      ],
      shape: { kind: 'bar', width: width ?? usualWidth(length) },
    },
    name,
    plane,
  );
}

/** Draws a plate with these corners; its frame sits at the first, upright. */
export function addPlate(
  mechanism: Mechanism,
  corners: readonly At[],
  name?: string,
  holes: readonly At[][] = [],
  plane?: string,
): Body {
  const [ox, oy] = corners[0]!;
  const local = ([x, y]: At): [number, number] => [x - ox, y - oy];
  return addBody(
    mechanism,
    'Plate',
    {
      pose: { x: ox, y: oy, angle: 0 },
      points: corners.slice(0, 12).map((corner, i) => ({ id: `p${i + 1}`, at: local(corner) })),
      shape: { kind: 'plate', outline: corners.map(local), holes: holes.map((hole) => hole.map(local)) },
    },
    name,
    plane,
  );
}

/** Draws a disc; its frame sits at the centre. */
export function addDisc(mechanism: Mechanism, centre: At, radius: number, name?: string, plane?: string): Body {
  return addBody(
    mechanism,
    'Disc',
    {
      pose: { x: centre[0], y: centre[1], angle: 0 },
      points: [{ id: 'p1', at: [0, 0] }],
      shape: { kind: 'disc', centre: [0, 0], radius },
    },
    name,
    plane,
  );
}

const angleOf = (mechanism: Mechanism, body: string) => mechanism.bodies.find(({ id }) => id === body)?.pose.angle ?? 0;

/** What a joint needs besides its ends. */
export interface JointOptions {
  name?: string;
  /** Direction of a rail or slot in the world, rad. */
  direction?: number;
}

const NO_FRICTION = { coulomb: 0, viscous: 0 };

/** A joint that fits how its two points are drawn. */
function jointBetween(
  mechanism: Mechanism,
  kind: Exclude<Joint['kind'], 'guide' | 'cam'>,
  base: { id: string; name: string; a: Place; b: Place },
  { turn, direction }: { turn: number; direction: number },
): Joint {
  const friction = { ...NO_FRICTION };
  const angle = direction - angleOf(mechanism, base.a.body);
  const apart = () => length3(minus(spaceOf(mechanism, base.b), spaceOf(mechanism, base.a)));
  const along = () => {
    const [ax, ay] = worldOf(mechanism, base.a);
    const [bx, by] = worldOf(mechanism, base.b);
    return Math.cos(direction) * (bx - ax) + Math.sin(direction) * (by - ay);
  };
  switch (kind) {
    case 'weld':
      return { kind, ...base, turn };
    case 'ball':
      return { kind, ...base };
    case 'rod':
      return { kind, ...base, length: apart() };
    case 'cylinder':
      return { kind, ...base, zero: apart(), friction };
    case 'pin':
      return { kind, ...base, zero: turn, friction };
    case 'slide':
      return { kind, ...base, angle, turn, zero: along(), friction };
    case 'slot':
      return { kind, ...base, angle, zero: along(), friction };
  }
}

/**
 * Ties two points together; the position of the joint is zero at the start pose.
 * @param kind what ties them; guides and cams have {@link addGuide} and {@link addCam}
 */
export function addJoint(
  mechanism: Mechanism,
  kind: 'pin' | 'slide' | 'weld' | 'slot' | 'cylinder' | 'rod' | 'ball',
  a: Place,
  b: Place,
  { name, direction = 0 }: JointOptions = {},
): Joint {
  const turn = angleOf(mechanism, b.body) - angleOf(mechanism, a.body);
  const base = {
    id: freeId('joint', mechanism.joints.map(({ id }) => id)), // prettier-ignore
    name: name ?? freshName(JOINTS[kind].label, mechanism.joints.map((j) => j.name)), // prettier-ignore
    a,
    b,
  };
  const joint = jointBetween(mechanism, kind, base, { turn, direction });
  mechanism.joints.push(joint);
  return joint;
}

/** Draws a path on a body or on the ground, in the frame of its carrier. */
export function addPath(
  mechanism: Mechanism,
  body: string,
  shape: MechanismPath['shape'],
  name?: string,
  plane: string = firstPlane(mechanism),
): MechanismPath {
  const path: MechanismPath = {
    id: freeId('path', mechanism.paths.map(({ id }) => id)), // prettier-ignore
    name: name ?? freshName('Path', mechanism.paths.map((p) => p.name)), // prettier-ignore
    body,
    plane: body === GROUND ? plane : null,
    shape,
  };
  mechanism.paths.push(path);
  return path;
}

/** Gives a path to another carrier, or to the ground; it keeps its place. */
export function carryPath(mechanism: Mechanism, path: MechanismPath, to: string): void {
  const from = mechanism.bodies.find(({ id }) => id === path.body);
  const next = mechanism.bodies.find(({ id }) => id === to);
  path.shape = mapPath(path.shape, (at) => {
    const world = from ? inWorld(from, at) : ([...at] as [number, number]);
    return next ? localOf(next, world) : world;
  });
  path.plane = to === GROUND ? (path.plane ?? from!.plane) : null;
  path.body = to;
}

/** Holds a point on a path. */
export function addGuide(mechanism: Mechanism, path: string, b: Place, name?: string): Joint {
  const joint: Joint = {
    kind: 'guide',
    id: freeId('joint', mechanism.joints.map(({ id }) => id)), // prettier-ignore
    name: name ?? freshName('Guide', mechanism.joints.map((j) => j.name)), // prettier-ignore
    path,
    b,
    zero: 0,
    friction: { ...NO_FRICTION },
  };
  mechanism.joints.push(joint);
  return joint;
}

/** Pairs a cam outline with a follower. */
export function addCam(
  mechanism: Mechanism,
  path: string,
  b: Place,
  follower: Extract<Joint, { kind: 'cam' }>['follower'],
  name?: string,
): Joint {
  const joint: Joint = {
    kind: 'cam',
    id: freeId('joint', mechanism.joints.map(({ id }) => id)), // prettier-ignore
    name: name ?? freshName('Cam', mechanism.joints.map((j) => j.name)), // prettier-ignore
    path,
    b,
    follower,
    closure: 'spring',
    zero: 0,
    friction: { ...NO_FRICTION },
  };
  mechanism.joints.push(joint);
  return joint;
}

type WithoutId<T> = T extends unknown ? Omit<T, 'id' | 'name'> & { name?: string } : never;

/** Adds a coupling between two joints. */
export function addCoupling(mechanism: Mechanism, coupling: WithoutId<Coupling>): Coupling {
  const made = {
    ...coupling,
    id: freeId('coupling', mechanism.couplings.map(({ id }) => id)), // prettier-ignore
    name: coupling.name ?? freshName(COUPLINGS[coupling.kind].label, mechanism.couplings.map((c) => c.name)), // prettier-ignore
  } as Coupling;
  mechanism.couplings.push(made);
  if (made.kind === 'indexer') putDrivingPin(mechanism, made);
  return made;
}

/** Gives the crank of an indexing wheel a driving pin where it has none off its centre: so far out that it enters the slots smoothly. */
function putDrivingPin(mechanism: Mechanism, coupling: Extract<Coupling, { kind: 'indexer' }>): void {
  const [crank, wheel] = [coupling.first, coupling.second].map((id) =>
    mechanism.joints.find((joint) => joint.id === id),
  );
  const body = mechanism.bodies.find(({ id }) => id === crank?.b.body);
  const point = (id: string) => body?.points.find((own) => own.id === id)?.at;
  const [pin, hub] = [point(coupling.pin), point(crank?.b.point ?? '')];
  if (!crank || !wheel || !body || !pin || !hub || Math.hypot(pin[0] - hub[0], pin[1] - hub[1]) > 1e-9) return;
  const [[x, y], [wx, wy]] = [worldOf(mechanism, crank.b), worldOf(mechanism, wheel.b)];
  const distance = Math.hypot(wx - x, wy - y);
  if (distance === 0) return;
  // Away from the wheel: it begins between two slots.
  const share = Math.sin(Math.PI / coupling.slots);
  const id = freeId('p', body.points.map((own) => own.id)); // prettier-ignore
  body.points.push({ id, at: localOf(body, [x - (wx - x) * share, y - (wy - y) * share]) });
  coupling.pin = id;
}

/** Adds a spring, damper, stop, force or torque, switched on. */
export function addElement(
  mechanism: Mechanism,
  element: WithoutId<Element> extends infer E ? (E extends unknown ? Omit<E, 'on'> : never) : never,
): Element {
  const made = {
    ...element,
    id: freeId('element', mechanism.elements.map(({ id }) => id)), // prettier-ignore
    name: element.name ?? freshName(ELEMENTS[element.kind].label, mechanism.elements.map((e) => e.name)), // prettier-ignore
    on: true,
  } as Element;
  mechanism.elements.push(made);
  return made;
}
