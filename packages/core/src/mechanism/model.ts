import { emptyCurvePoint, nearestOn, pathCurve, PathError, type Curve } from '../geometry';
import {
  GROUND,
  massOf,
  planeOf,
  type Coupling,
  type Joint,
  type MassProperties,
  type Mechanism,
  type Place,
} from '../machine';
import { distanceCoordinate, pathCoordinate, railCoordinate, turnCoordinate } from './coordinates';
import { couplingConstraint, driveConstraint, type Transfer } from './couplings';
import { flatConstraint, guideConstraint, type CarriedCurve } from './guides';
import { angleConstraint, lineConstraint, pinConstraint } from './joints';
import { SpaceTree } from './planes';
import { ballConstraint, rodConstraint, spaceDistance, SpacePair } from './space-joints';
import { SpaceMotion } from './space-motion';
import { transferOf, type CoupledJoint } from './transfers';
import {
  baseOfBody,
  JacobianPattern,
  pointOf,
  positionsOf,
  unknownUnits,
  type Attachment,
  type Constraint,
  type Coordinate,
  type Layout,
  type Positions,
} from './state';

/** A body made ready; its frame sits at the centre of mass. */
export interface ModelBody extends MassProperties {
  id: string;
  name: string;
  base: number;
}

/** A joint made ready. */
export interface ModelJoint extends CoupledJoint {
  constraints: Constraint[];
}

/** One drive: the joint position that an axis leads. */
export interface ModelDrive {
  axisId: string;
  joint: ModelJoint;
  coordinate: Coordinate;
  row: number;
}

/** A stop of a joint: one equation that counts while the joint rests against it. */
export interface ModelStop {
  id: string;
  name: string;
  joint: ModelJoint;
  coordinate: Coordinate;
  row: number;
  min: number | null;
  max: number | null;
  restitution: number;
  /** Whether anything may switch it on and off. */
  switched: boolean;
}

/** A mechanism as equations. */
export interface MechanismModel extends Layout {
  mechanism: Mechanism;
  bodies: readonly ModelBody[];
  joints: readonly ModelJoint[];
  couplings: readonly { coupling: Coupling; constraint: Constraint; transfer: Transfer }[];
  drives: readonly ModelDrive[];
  stops: readonly ModelStop[];
  /** All equations: joints, then couplings, then drives, then stops. */
  constraints: readonly Constraint[];
  /** Rows of joints and couplings; drives follow. */
  tiedRows: number;
  /** Rows of joints, couplings and drives; stops follow. */
  driveEnd: number;
  rows: number;
  /** Entries of the Jacobian; slot 0 belongs to none. */
  entryRows: readonly number[];
  entryColumns: readonly number[];
  /** Mass or inertia that goes with each unknown; zero for arc lengths. */
  inertia: Float64Array;
  /** State of the drawing, ground places included. */
  start: Positions;
  /** How it stands in space. */
  tree: SpaceTree;
  /** How it moves in space, where it has more than the front plane; null where nothing leaves that. */
  space: SpaceMotion | null;
  /** Most unknowns that the position of a joint depends on. */
  widest: number;
  /** A length typical of the mechanism, m. */
  scale: number;
  /** What each unknown is measured by: {@link scale} for lengths, 1 for angles. */
  units: Float64Array;
  attach(place: Place): Attachment;
  joint(id: string): ModelJoint | undefined;
}

/** A mechanism that cannot be made into equations; the message names the culprit and what to do. */
export class MechanismError extends Error {
  override name = 'MechanismError';
}

/**
 * Turns a mechanism into constraint equations over the poses of its bodies (Nikravesh; Haug).
 * @param driven joints that axes lead
 * @param switched elements that anything may switch on and off: they take part though they begin off
 * @throws MechanismError where a path cannot be made
 */
export function compileMechanism(
  mechanism: Mechanism,
  driven: readonly { axisId: string; joint: string }[] = [],
  switched: ReadonlySet<string> = new Set(),
): MechanismModel {
  const bodies = mechanism.bodies.map((body, i): ModelBody => ({
    id: body.id,
    name: body.name,
    base: baseOfBody(i),
    ...massOf(body),
  }));
  const sliding = mechanism.joints.filter(({ kind }) => kind === 'guide' || kind === 'cam');
  const size = baseOfBody(bodies.length) + sliding.length;
  const start = positionsOf({ size });
  bodies.forEach(({ base, centre }, i) => {
    const { x, y, angle } = mechanism.bodies[i]!.pose;
    start[base] = x + Math.cos(angle) * centre[0] - Math.sin(angle) * centre[1];
    start[base + 1] = y + Math.sin(angle) * centre[0] + Math.cos(angle) * centre[1];
    start[base + 2] = angle;
  });
  const baseOf = new Map(bodies.map((body) => [body.id, body]));
  const attach = ({ body, point }: Place): Attachment => {
    if (body === GROUND) {
      const [x, y] = mechanism.ground.find(({ id }) => id === point)!.at;
      return { base: size, x, y, angle: NaN, cosine: 1, sine: 0 };
    }
    const { base, centre } = baseOf.get(body)!;
    const [x, y] = mechanism.bodies.find(({ id }) => id === body)!.points.find(({ id }) => id === point)!.at;
    return { base, x: x - centre[0], y: y - centre[1], angle: NaN, cosine: 1, sine: 0 };
  };
  const carry = (pathId: string): CarriedCurve & { name: string } => {
    const path = mechanism.paths.find(({ id }) => id === pathId)!;
    try {
      const curve = pathCurve(path.shape);
      const carrier = baseOf.get(path.body);
      return {
        base: carrier?.base ?? size,
        curve: carrier ? shifted(curve, carrier.centre) : curve,
        name: path.name,
      };
    } catch (error) {
      if (error instanceof PathError) throw new MechanismError(`${path.name}: ${error.message}`);
      throw error;
    }
  };
  const tree = new SpaceTree(mechanism);
  const leavesPlane = mechanism.planes.length > 1 || mechanism.joints.some(({ kind }) => kind === 'rod');
  const space = leavesPlane ? new SpaceMotion(tree) : null;
  const pairOf = (one: Place, other: Place) =>
    new SpacePair(tree, space ?? new SpaceMotion(tree), tree.point(one), tree.point(other));
  const pattern = new JacobianPattern({ size });
  const constraints: Constraint[] = [];
  let rows = 0;
  const add = <C extends Constraint>(constraint: C): C => {
    constraints.push(constraint);
    rows += constraint.rows.length;
    return constraint;
  };
  let column = baseOfBody(bodies.length);

  const joints = mechanism.joints.map((joint): ModelJoint => {
    const b = attach(joint.b);
    const plane = tree.planeOfPoint(tree.point(joint.b));
    if ('path' in joint) {
      const { name, ...carried } = carry(joint.path);
      const own = column++;
      const a: Attachment = { base: carried.base, x: 0, y: 0 };
      start[own] = placeOnCurve(joint, carried, b, start);
      const constraint =
        joint.kind === 'cam' && joint.follower.kind === 'flat'
          ? flatConstraint(joint.id, rows, carried, own, b, joint.follower.angle, pattern)
          : guideConstraint(joint.id, rows, carried, own, b, rollerOffset(joint, carried.curve), pattern);
      return {
        joint,
        coordinate: pathCoordinate(own, joint.zero),
        constraints: [add(constraint)],
        guide: { column: own, carried, pathName: name },
        a,
        b,
        plane,
      };
    }
    const a = attach(joint.a);
    const made = { joint, a, b, plane, guide: null };
    const { id } = joint;
    switch (joint.kind) {
      case 'pin':
        return {
          ...made,
          coordinate: turnCoordinate(a, b, joint.zero),
          constraints: [add(pinConstraint(id, rows, a, b, pattern))],
        };
      case 'weld':
        return {
          ...made,
          coordinate: null,
          constraints: [
            add(pinConstraint(id, rows, a, b, pattern)),
            add(angleConstraint(id, rows, a, b, joint.turn, pattern)),
          ],
        };
      case 'slide':
        return {
          ...made,
          coordinate: railCoordinate(a, b, joint.angle, joint.zero),
          constraints: [
            add(lineConstraint(id, rows, a, b, joint.angle, pattern)),
            add(angleConstraint(id, rows, a, b, joint.turn, pattern)),
          ],
        };
      case 'slot':
        return {
          ...made,
          coordinate: railCoordinate(a, b, joint.angle, joint.zero),
          constraints: [add(lineConstraint(id, rows, a, b, joint.angle, pattern))],
        };
      case 'cylinder': {
        const flat = planeOf(mechanism, joint.a) === planeOf(mechanism, joint.b);
        const distance = flat
          ? distanceCoordinate(a, b, joint.zero)
          : spaceDistance(pairOf(joint.a, joint.b), joint.zero);
        return { ...made, coordinate: distance, constraints: [] };
      }
      case 'rod': {
        const distance = spaceDistance(pairOf(joint.a, joint.b), joint.length);
        return { ...made, coordinate: null, constraints: [add(rodConstraint(id, rows, distance, pattern))] };
      }
      case 'ball':
        return {
          ...made,
          coordinate: null,
          constraints: [add(ballConstraint(id, rows, pairOf(joint.a, joint.b), pattern))],
        };
    }
  });
  const joint = (id: string) => joints.find((j) => j.joint.id === id);
  const couplings = mechanism.couplings.map((coupling) => {
    const first = joint(coupling.first)!;
    const second = joint(coupling.second)!;
    const transfer = transferOf(coupling, first, second, mechanism, start);
    const constraint = couplingConstraint(coupling.id, rows, first.coordinate!, second.coordinate!, transfer, pattern);
    return { coupling, constraint: add(constraint), transfer };
  });
  const tiedRows = rows;
  const drives = driven.flatMap(({ axisId, joint: id }): ModelDrive[] => {
    const led = joint(id);
    if (!led?.coordinate) return [];
    const row = rows;
    add(driveConstraint(axisId, row, led.coordinate, pattern));
    return [{ axisId, joint: led, coordinate: led.coordinate, row }];
  });
  const driveEnd = rows;
  const stops = mechanism.elements.flatMap((element): ModelStop[] => {
    if (element.kind !== 'stop' || !(element.on || switched.has(element.id))) return [];
    const held = joint(element.joint);
    if (!held?.coordinate) return [];
    const row = rows;
    add(driveConstraint(element.id, row, held.coordinate, pattern));
    const { id, name, min, max, restitution } = element;
    return [
      { id, name, joint: held, coordinate: held.coordinate, row, min, max, restitution, switched: switched.has(id) },
    ];
  });
  const scale = typicalLength(mechanism);
  const inertia = new Float64Array(size);
  for (const body of bodies) {
    inertia[body.base] = inertia[body.base + 1] = body.mass;
    inertia[body.base + 2] = body.inertia;
  }
  return {
    mechanism,
    size,
    bodies,
    joints,
    couplings,
    drives,
    stops,
    constraints,
    tiedRows,
    driveEnd,
    rows,
    entryRows: pattern.rows,
    entryColumns: pattern.columns,
    inertia,
    tree,
    space,
    widest: Math.max(6, ...joints.map(({ coordinate }) => coordinate?.columns.length ?? 0)),
    start,
    scale,
    units: unknownUnits(bodies.length, size, scale),
    attach,
    joint,
  };
}

function shifted(curve: Curve, [cx, cy]: readonly [number, number]): Curve {
  return {
    ...curve,
    at(s, out) {
      curve.at(s, out);
      out.x -= cx;
      out.y -= cy;
    },
  };
}

/** Sum of signed areas tells which way a closed curve runs: +1 anticlockwise. */
export function senseOf(curve: Curve): 1 | -1 {
  const p = emptyCurvePoint();
  let sum = 0;
  const steps = 256;
  for (let i = 0; i < steps; i++) {
    curve.at((curve.length * i) / steps, p);
    sum += p.x * p.ty - p.y * p.tx;
  }
  return sum >= 0 ? 1 : -1;
}

/** Shift along the left normal that puts the centre of a roller outside of its cam. */
function rollerOffset(joint: Extract<Joint, { path: string }>, curve: Curve): number {
  if (joint.kind !== 'cam' || joint.follower.kind !== 'roller') return 0;
  return -senseOf(curve) * joint.follower.radius;
}

/** Arc length where a follower stands in the drawing. */
function placeOnCurve(
  joint: Extract<Joint, { path: string }>,
  { base, curve }: CarriedCurve,
  b: Attachment,
  q: Positions,
): number {
  const [x, y] = pointOf(q, b);
  const [c, s] = [Math.cos(q[base + 2]!), Math.sin(q[base + 2]!)];
  const lx = c * (x - q[base]!) + s * (y - q[base + 1]!);
  const ly = -s * (x - q[base]!) + c * (y - q[base + 1]!);
  if (joint.kind !== 'cam' || joint.follower.kind !== 'flat') return nearestOn(curve, lx, ly);
  // A flat face touches where the cam reaches farthest towards it.
  const face = q[b.base + 2]! + joint.follower.angle - q[base + 2]!;
  let [gx, gy] = [-Math.sin(face), Math.cos(face)];
  if (gx * lx + gy * ly < 0) [gx, gy] = [-gx, -gy];
  const p = emptyCurvePoint();
  let best = 0;
  let most = -Infinity;
  for (let i = 0; i < 720; i++) {
    const at = (curve.length * i) / 720;
    curve.at(at, p);
    const reach = gx * p.x + gy * p.y;
    if (reach > most) {
      most = reach;
      best = at;
    }
  }
  return best;
}

function typicalLength(mechanism: Mechanism): number {
  const points = [
    ...mechanism.ground.map(({ at }) => at),
    ...mechanism.bodies.flatMap(({ pose, points: own }) =>
      own.map(({ at }) => [pose.x + at[0], pose.y + at[1]] as const),
    ),
  ];
  const extent = (k: 0 | 1) =>
    points.length > 0 ? Math.max(...points.map((p) => p[k])) - Math.min(...points.map((p) => p[k])) : 0;
  return Math.max(extent(0), extent(1), 1e-3);
}
