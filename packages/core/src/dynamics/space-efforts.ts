import { planeOf, type Element, type Place } from '../machine';
import {
  SpaceMotion,
  SpacePair,
  type MechanismModel,
  type Positions,
  type SpacePoint,
  type SpaceTree,
} from '../mechanism';
import type { Effort, EffortResult, EffortState } from './elements';

/** What an element does in space: adds generalised forces, fills its result, and tells what it does to which body. */
export type SpaceEffort = Pick<Effort, 'apply' | 'load'>;

const motionOf = ({ space, tree }: MechanismModel) => space ?? new SpaceMotion(tree);

/** Adds a force at a place, and what it turns, to the generalised forces of a body and of all that carry it. */
function pushChain(
  tree: SpaceTree,
  chain: readonly number[],
  f: Float64Array,
  [fx, fy, fz]: ArrayLike<number> & Iterable<number>,
  at: ArrayLike<number>,
): void {
  const A = tree.planeAxes;
  for (const body of chain) {
    const { base, plane } = tree.bodies[body]!;
    const p = 9 * plane;
    const x = at[0]! - tree.at[3 * body]!;
    const y = at[1]! - tree.at[3 * body + 1]!;
    const z = at[2]! - tree.at[3 * body + 2]!;
    f[base] = f[base]! + A[p]! * fx! + A[p + 3]! * fy! + A[p + 6]! * fz!;
    f[base + 1] = f[base + 1]! + A[p + 1]! * fx! + A[p + 4]! * fy! + A[p + 7]! * fz!;
    f[base + 2] =
      f[base + 2]! +
      A[p + 2]! * (y * fz! - z * fy!) +
      A[p + 5]! * (z * fx! - x * fz!) +
      A[p + 8]! * (x * fy! - y * fx!);
  }
}

/** A spring or damper between points of two planes. */
export function spaceSpring(
  model: MechanismModel,
  element: Extract<Element, { kind: 'spring' | 'damper' }>,
  result: EffortResult,
): SpaceEffort | null {
  const { tree, mechanism } = model;
  if (planeOf(mechanism, element.a) === planeOf(mechanism, element.b)) return null;
  const pair = new SpacePair(tree, motionOf(model), tree.point(element.a), tree.point(element.b));
  const { apart, speed, columns } = pair;
  const along = new Float64Array(columns.length);
  const { rate } = element;
  const load: Effort['load'] = (loads) => {
    loads.push(tree.bearerOf(pair.a), result.vector, pair.atA, -1);
    loads.push(tree.bearerOf(pair.b), result.vector, pair.atB);
  };
  const apply: Effort['apply'] = ({ q, v }, f) => {
    pair.place(q);
    pair.move(q, v);
    const length = Math.hypot(apart[0]!, apart[1]!, apart[2]!);
    const [ex, ey, ez] = length > 0 ? [apart[0]! / length, apart[1]! / length, apart[2]! / length] : [0, 0, 0];
    const quick = ex * speed[0]! + ey * speed[1]! + ez * speed[2]!;
    const drawn = element.kind === 'spring' ? length - element.free : 0;
    const force = element.kind === 'spring' ? rate * drawn : rate * quick;
    pair.along(ex, ey, ez, along);
    for (let i = 0; i < columns.length; i++) f[columns[i]!] = f[columns[i]!]! - force * along[i]!;
    result.force = force;
    result.length = length;
    setVector(result, -force * ex, -force * ey, -force * ez);
    result.power = -force * quick;
    result.energy = element.kind === 'spring' ? (rate * drawn * drawn) / 2 : 0;
  };
  return { apply, load };
}

/** A force that has a direction in space, or acts where planes are carried. */
export function spaceForce(
  model: MechanismModel,
  element: Extract<Element, { kind: 'force' }>,
  result: EffortResult,
  strength: (state: EffortState) => number,
): SpaceEffort | null {
  const { tree, space } = model;
  if (!space && !element.along) return null;
  const motion = motionOf(model);
  const point = tree.point(element.at);
  const { turns, angle, along } = element;
  const size = along ? Math.hypot(...along) : 1;
  const local = along ? along.map((part) => part / size) : [Math.cos(angle), Math.sin(angle), 0];
  const at = new Float64Array(3);
  const speed = new Float64Array(3);
  const force = new Float64Array(3);
  const apply: Effort['apply'] = (state, f) => {
    const { q, v } = state;
    motion.coast(q, v);
    tree.placeOf(point, at);
    const value = strength(state);
    turnOut(tree, point, turns, along !== undefined, local, force);
    for (let k = 0; k < 3; k++) force[k] = force[k]! * value;
    pushChain(tree, point.chain, f, force, at);
    motion.velocityOf(point, at, speed);
    result.force = value;
    setVector(result, force[0]!, force[1]!, force[2]!);
    result.power = force[0]! * speed[0]! + force[1]! * speed[1]! + force[2]! * speed[2]!;
  };
  return { apply, load: (loads) => loads.push(tree.bearerOf(point), result.vector, at) };
}

/** A direction in the axes that it is given in, turned into those of the world. */
function turnOut(
  tree: SpaceTree,
  { body, plane }: SpacePoint,
  turns: boolean,
  inSpace: boolean,
  local: readonly number[],
  out: Float64Array,
): void {
  if (!turns && inSpace) return out.set(local);
  // What turns with the ground turns with the plane that the point is fixed in.
  const [R, r] =
    turns && body >= 0 ? [tree.axes, 9 * body] : [tree.planeAxes, 9 * (body >= 0 ? tree.bodies[body]!.plane : plane)];
  for (let k = 0; k < 3; k++)
    out[k] = R[r + 3 * k]! * local[0]! + R[r + 3 * k + 1]! * local[1]! + R[r + 3 * k + 2]! * local[2]!;
}

/** A torque from outside on a body, about the normal of its plane. */
export function spaceTorque(
  { tree, space }: MechanismModel,
  body: string,
  result: EffortResult,
  strength: (state: EffortState) => number,
): SpaceEffort | null {
  const place = tree.bodies.findIndex(({ id }) => id === body);
  if (place < 0) return null;
  const chain = tree.chainOf(place);
  const A = tree.planeAxes;
  const o = 9 * tree.bodies[place]!.plane;
  const load: Effort['load'] = (loads) =>
    loads.turn(place, result.force * A[o + 2]!, result.force * A[o + 5]!, result.force * A[o + 8]!);
  if (!space)
    return {
      load,
      apply(state, f) {
        result.force = strength(state);
        const { base } = tree.bodies[place]!;
        f[base + 2] = f[base + 2]! + result.force;
        result.power = result.force * state.v[base + 2]!;
      },
    };
  const apply: Effort['apply'] = (state, f) => {
    space.coast(state.q, state.v);
    result.force = strength(state);
    const [nx, ny, nz] = [A[o + 2]!, A[o + 5]!, A[o + 8]!];
    for (const own of chain) {
      const { base, plane } = tree.bodies[own]!;
      const p = 9 * plane;
      f[base + 2] = f[base + 2]! + result.force * (nx * A[p + 2]! + ny * A[p + 5]! + nz * A[p + 8]!);
    }
    const w = space.w;
    result.power = result.force * (nx * w[3 * place]! + ny * w[3 * place + 1]! + nz * w[3 * place + 2]!);
  };
  return { apply, load };
}

/**
 * Force and moment in space on a body, at its centre of mass.
 * @param read writes force and moment along x, y and z at a time, and behind them the same as they would be at rest
 */
export function spaceWrench(
  model: MechanismModel,
  id: string,
  result: EffortResult,
  read: (time: number, out: Float64Array) => void,
): SpaceEffort {
  const { tree } = model;
  const motion = motionOf(model);
  const body = tree.bodies.findIndex((own) => own.id === id);
  const chain = tree.chainOf(body);
  const A = tree.planeAxes;
  const knot = new Float64Array(12);
  const force = new Float64Array(3);
  const moment = new Float64Array(3);
  const at = () => tree.at.subarray(3 * body, 3 * body + 3);
  return {
    load(loads) {
      loads.push(body, force, at());
      loads.turn(body, moment[0]!, moment[1]!, moment[2]!);
    },
    apply({ q, v, time, resting }, f) {
      motion.coast(q, v);
      read(time, knot);
      const first = resting ? 6 : 0;
      force.set(knot.subarray(first, first + 3));
      moment.set(knot.subarray(first + 3, first + 6));
      pushChain(tree, chain, f, force, at());
      for (const own of chain) {
        const { base, plane } = tree.bodies[own]!;
        const p = 9 * plane;
        f[base + 2] = f[base + 2]! + A[p + 2]! * moment[0]! + A[p + 5]! * moment[1]! + A[p + 8]! * moment[2]!;
      }
      result.force = Math.hypot(force[0]!, force[1]!, force[2]!);
      setVector(result, force[0]!, force[1]!, force[2]!);
      result.power = 0;
      for (let k = 0; k < 3; k++)
        result.power += force[k]! * motion.v[3 * body + k]! + moment[k]! * motion.w[3 * body + k]!;
    },
  };
}

/** What gravity does and stores where planes leave the front: its pull itself goes with the forces of inertia. */
export function spaceGravity(
  { tree }: MechanismModel,
  motion: SpaceMotion,
  gravity: readonly [number, number, number],
  result: EffortResult,
): SpaceEffort {
  const apply: Effort['apply'] = ({ q, v }) => {
    motion.coast(q, v);
    result.power = result.energy = 0;
    tree.bodies.forEach(({ mass }, b) => {
      for (let k = 0; k < 3; k++) {
        result.power += mass * gravity[k]! * motion.v[3 * b + k]!;
        result.energy -= mass * gravity[k]! * tree.at[3 * b + k]!;
      }
    });
  };
  return { apply };
}

/**
 * What a spring or damper within a plane does to its bodies: it pulls in the plane, at the height in the middle between
 * those of its ends.
 */
export function flatPull(
  tree: SpaceTree,
  { a, b }: { a: Place; b: Place },
  { vector }: EffortResult,
): NonNullable<Effort['load']> {
  const [one, other] = [tree.point(a), tree.point(b)];
  return (loads) => {
    const [from, to] = levelled(tree, one, other);
    loads.push(tree.bearerOf(one), vector, from, -1);
    loads.push(tree.bearerOf(other), vector, to);
  };
}

/** Two points of one plane where they stand, both put at the height in the middle between them. */
export function levelled(tree: SpaceTree, one: SpacePoint, other: SpacePoint): [Float64Array, Float64Array] {
  const [from, to] = [tree.spotOf(one), tree.spotOf(other)];
  const o = 9 * tree.planeOfPoint(one);
  const n = [2, 5, 8].map((k) => tree.planeAxes[o + k]!);
  const rise = n.reduce((sum, part, k) => sum + part * (to[k]! - from[k]!), 0) / 2;
  n.forEach((part, k) => {
    from[k] = from[k]! + part * rise;
    to[k] = to[k]! - part * rise;
  });
  return [from, to];
}

/** Turns a force within a plane into the axes of the world, in place. */
export function toWorld(model: MechanismModel, plane: number, q: Positions, { vector }: EffortResult): void {
  const { tree } = model;
  tree.pose(q);
  const A = tree.planeAxes;
  const p = 9 * plane;
  const [x, y] = vector;
  for (let k = 0; k < 3; k++) vector[k as 0 | 1 | 2] = A[p + 3 * k]! * x + A[p + 3 * k + 1]! * y;
}

/** Set at every evaluation: the same three numbers each time. */
export function setVector({ vector }: EffortResult, fx: number, fy: number, fz = 0): void {
  vector[0] = fx;
  vector[1] = fy;
  vector[2] = fz;
}
