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

/** A place in the world, m. */
export type At = readonly [x: number, y: number];

/** Ends closer than this (m) count as one place. */
const SAME = 1e-9;

/** Where a point of a body, or of the ground, is in the world at the start pose. */
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

/** The point of the ground at a place; made where there is none. */
export function groundPoint(mechanism: Mechanism, at: At): Place {
  const known = mechanism.ground.find((p) => near(p.at, at));
  if (known) return { body: GROUND, point: known.id };
  const id = freeId('g', mechanism.ground.map((p) => p.id)); // prettier-ignore
  mechanism.ground.push({ id, at: [...at] });
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
}

/** The point of a body, or of the ground, at a place in its frame; made where there is none. */
export function pointIn(mechanism: Mechanism, { body: bodyId, at: local }: LocalPlace): Place {
  if (bodyId === GROUND) return groundPoint(mechanism, local);
  const body = mechanism.bodies.find(({ id }) => id === bodyId)!;
  const known = body.points.find((p) => near(p.at, local));
  if (known) return { body: bodyId, point: known.id };
  const id = freeId('p', body.points.map((p) => p.id)); // prettier-ignore
  body.points.push({ id, at: [...local] });
  return { body: bodyId, point: id };
}

function freshName(base: string, names: Iterable<string>): string {
  return freeId(`${base} `, names);
}

function addBody(mechanism: Mechanism, base: string, rest: Omit<Body, 'id' | 'name'>, name?: string): Body {
  const body: Body = {
    id: freeId('body', mechanism.bodies.map(({ id }) => id)), // prettier-ignore
    name: name ?? freshName(base, mechanism.bodies.map((b) => b.name)), // prettier-ignore
    ...rest,
  };
  mechanism.bodies.push(body);
  return mechanism.bodies[mechanism.bodies.length - 1]!;
}

/** Width of a bar of which nothing else is said: an eighth of its length, within bounds, m. */
const usualWidth = (length: number) => Math.min(0.02, Math.max(length * 0.12, 0.002));

/** Draws a bar between two places; its frame sits at the first and points to the second. */
export function addBar(mechanism: Mechanism, from: At, to: At, name?: string, width: number | null = null): Body {
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
      mass: { given: 'shape', thickness: FIRST_THICKNESS, density: STEEL },
    },
    name,
  );
}

/** Draws a plate with these corners; its frame sits at the first, upright. */
export function addPlate(
  mechanism: Mechanism,
  corners: readonly At[],
  name?: string,
  holes: readonly At[][] = [],
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
      mass: { given: 'shape', thickness: FIRST_THICKNESS, density: STEEL },
    },
    name,
  );
}

/** Draws a disc; its frame sits at the centre. */
export function addDisc(mechanism: Mechanism, centre: At, radius: number, name?: string): Body {
  return addBody(
    mechanism,
    'Disc',
    {
      pose: { x: centre[0], y: centre[1], angle: 0 },
      points: [{ id: 'p1', at: [0, 0] }],
      shape: { kind: 'disc', centre: [0, 0], radius },
      mass: { given: 'shape', thickness: FIRST_THICKNESS, density: STEEL },
    },
    name,
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

/**
 * Ties two points together; the position of the joint is zero at the start pose.
 * @param kind what ties them; guides and cams have {@link addGuide} and {@link addCam}
 */
export function addJoint(
  mechanism: Mechanism,
  kind: 'pin' | 'slide' | 'weld' | 'slot' | 'cylinder',
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
  const held = { zero: 0, friction: { ...NO_FRICTION } };
  const angle = direction - angleOf(mechanism, a.body);
  const [ax, ay] = worldOf(mechanism, a);
  const [bx, by] = worldOf(mechanism, b);
  const along = Math.cos(direction) * (bx - ax) + Math.sin(direction) * (by - ay);
  const joint: Joint =
    kind === 'weld'
      ? { kind, ...base, turn }
      : kind === 'pin'
        ? { kind, ...base, zero: turn, friction: held.friction }
        : kind === 'cylinder'
          ? { kind, ...base, zero: Math.hypot(bx - ax, by - ay), friction: held.friction }
          : kind === 'slide'
            ? { kind, ...base, angle, turn, zero: along, friction: held.friction }
            : { kind, ...base, angle, zero: along, friction: held.friction };
  mechanism.joints.push(joint);
  return joint;
}

/** Draws a path on a body or on the ground, in the frame of its carrier. */
export function addPath(
  mechanism: Mechanism,
  body: string,
  shape: MechanismPath['shape'],
  name?: string,
): MechanismPath {
  const path: MechanismPath = {
    id: freeId('path', mechanism.paths.map(({ id }) => id)), // prettier-ignore
    name: name ?? freshName('Path', mechanism.paths.map((p) => p.name)), // prettier-ignore
    body,
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

/** The step of 1, 2 or 5 times a power of ten that is nearest below a length or angle. */
const roundStep = (about: number): number => {
  const power = 10 ** Math.floor(Math.log10(about));
  return power * ([5, 2].find((k) => k * power <= about) ?? 1);
};

/**
 * Adds a stop to a joint, about where it is drawn and all that it has been seen to do.
 * @param position of the joint as drawn, m or rad
 * @param room beyond that on both sides, m or rad; the limits are round figures
 * @param seen least and largest position in a run
 */
export function addStop(
  mechanism: Mechanism,
  joint: Pick<Joint, 'id' | 'name'>,
  position: number,
  room: number,
  seen: readonly [least: number, largest: number] = [position, position],
): Element {
  const step = roundStep(room);
  const [min, max] = [Math.min(position, seen[0]) - room, Math.max(position, seen[1]) + room];
  const tidy = (value: number) => Number((value * step).toPrecision(12));
  const base = `Stop of ${joint.name.slice(0, 60)}`;
  const taken = mechanism.elements.map((e) => e.name);
  return addElement(mechanism, {
    kind: 'stop',
    name: taken.includes(base) ? freshName(base, taken) : base,
    joint: joint.id,
    min: tidy(Math.floor(min / step)),
    max: tidy(Math.ceil(max / step)),
    restitution: 0.3,
  });
}
