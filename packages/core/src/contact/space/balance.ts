import { cross, length3, type Point3 } from '../../geometry';

/** A body whose change of motion is known, N and N·m: what all contacts must have done to it together. */
export interface BalancedBody {
  /** Centre of mass at the time of the contacts, m. */
  centre: Point3;
  /** Force, and moment about the centre. */
  force: Point3;
  moment: Point3;
  /** A length of it, m: what a moment is held against. */
  size: number;
}

/** Something that two bodies do to each other; the first is always one that is balanced. */
export interface Link {
  a: number;
  /** The other one; −1 where it is led. */
  b: number;
  at: Point3;
  /**
   * A contact: its normal towards `a`, how hard it presses, N, with its moment about the origin, and how far its points
   * lie apart, m; none for a grip, which holds in every way.
   */
  contact: { normal: Point3; presses: number; moment: Point3; spread: number } | null;
}

/** What a link did to its first body: force in N, and moment about the origin in N·m. */
export interface LinkForce {
  force: [number, number, number];
  moment: [number, number, number];
}

/** How much more a grip may take upon itself than all that presses and pulls there. */
const GRIP = 100;
/** Friction as a share of pressing, as it is expected beforehand: its spread. */
const FRICTION = 0.5;
/** By how much what the library tells of pressing may be wrong, as a share. */
const PRESSING = 0.02;
/** What is known of motion may be wrong by this share of all forces on a body. */
const MOTION = 1e-5;
/** Where a contact presses may be wrong by so much, m. */
const PLACE = 2e-4;
/** Where the search ends: as a share of what is sought. */
const NEAR = 1e-6;

const AXES: readonly Point3[] = [[1, 0, 0], [0, 1, 0], [0, 0, 1]]; // prettier-ignore

/** Two directions square to a normal. */
function acrossOf(n: Point3): [Point3, Point3] {
  const least: Point3 = Math.abs(n[0]) < 0.6 ? [1, 0, 0] : [0, 1, 0];
  const t = cross(n, least);
  const size = length3(t);
  const u: Point3 = [t[0] / size, t[1] / size, t[2] / size];
  return [u, cross(n, u)];
}

/**
 * Friction and grips from the motion of bodies. The physics library tells how hard contacts press, but not how they rub:
 * that is what is left of the change of motion of each body (Newton, Euler) once weight and pressing are taken off.
 * Where several contacts share it and mechanics cannot say how, it is divided as is likeliest beforehand (Gauss–Markov):
 * friction spreads with what presses, pressing is known to some percent, motion far better, so that the sum over all that
 * is led is exact.
 * @returns what each link did to its first body, pressing included
 */
export function balanced(bodies: readonly BalancedBody[], links: readonly Link[]): LinkForce[] {
  const forces: LinkForce[] = [];
  // What does not hang together is balanced by itself: most parts touch few others.
  for (const { members, of } of islands(bodies.length, links)) {
    const place = new Map(members.map((body, i) => [body, i]));
    const own = of.map((i) => {
      const link = links[i]!;
      return { ...link, a: place.get(link.a)!, b: link.b < 0 ? -1 : place.get(link.b)! };
    });
    const found = balancedTogether(members.map((body) => bodies[body]!), own); // prettier-ignore
    of.forEach((i, k) => (forces[i] = found[k]!));
  }
  return forces;
}

/** Bodies that hang together by links, with these. */
function islands(count: number, links: readonly Link[]): { members: number[]; of: number[] }[] {
  const root = Int32Array.from({ length: count }, (_, i) => i);
  const find = (i: number): number => {
    let at = i;
    while (root[at] !== at) at = root[at] = root[root[at]!]!;
    return at;
  };
  for (const { a, b } of links) if (b >= 0) root[find(a)] = find(b);
  const made = new Map<number, { members: number[]; of: number[] }>();
  const island = (body: number) => {
    const key = find(body);
    let known = made.get(key);
    if (!known) made.set(key, (known = { members: [], of: [] }));
    return known;
  };
  for (let i = 0; i < count; i++) island(i).members.push(i);
  links.forEach(({ a }, i) => island(a).of.push(i));
  return [...made.values()].filter(({ of }) => of.length > 0);
}

function balancedTogether(bodies: readonly BalancedBody[], links: readonly Link[]): LinkForce[] {
  const n = bodies.length;
  const right = new Float64Array(6 * n);
  /** All that presses and pulls at a body, N. */
  const strength = bodies.map(({ force }) => length3(force));
  for (const { a, b, contact } of links) {
    if (!contact) continue;
    strength[a] = strength[a]! + contact.presses;
    if (b >= 0) strength[b] = strength[b]! + contact.presses;
  }
  bodies.forEach(({ force, moment, size }, i) => {
    for (const k of [0, 1, 2] as const) {
      right[6 * i + k] = force[k];
      right[6 * i + 3 + k] = moment[k] / size;
    }
  });
  /** Adds a force at a place, and a moment, to what a body feels; moments are held against its size. */
  const feel = (out: Float64Array, from: number, body: number, sign: number, force: Point3, at: Point3, turns: Point3) => {
    if (body < 0) return;
    const { centre, size } = bodies[body]!;
    const [mx, my, mz] = cross([at[0] - centre[0], at[1] - centre[1], at[2] - centre[2]], force);
    out[from] = out[from]! + sign * force[0];
    out[from + 1] = out[from + 1]! + sign * force[1];
    out[from + 2] = out[from + 2]! + sign * force[2];
    out[from + 3] = out[from + 3]! + (sign * (mx + turns[0])) / size;
    out[from + 4] = out[from + 4]! + (sign * (my + turns[1])) / size;
    out[from + 5] = out[from + 5]! + (sign * (mz + turns[2])) / size;
  };
  const ways = links.map(({ a, b, at, contact }): Ways => {
    const forces: Way[] = [];
    if (contact) {
      const { normal, presses, moment, spread } = contact;
      const pressing: Point3 = [normal[0] * presses, normal[1] * presses, normal[2] * presses];
      // What is told of pressing goes to the right side, with its moment about the place of friction.
      const about = cross(at, pressing);
      const rest: Point3 = [moment[0] - about[0], moment[1] - about[1], moment[2] - about[2]];
      feel(right, 6 * a, a, -1, pressing, at, rest);
      feel(right, 6 * b, b, 1, pressing, at, rest);
      const rubs = FRICTION * presses;
      for (const force of acrossOf(normal)) forces.push({ force, turns: NONE, weight: rubs * rubs });
      forces.push({ force: normal, turns: NONE, weight: (PRESSING * presses) ** 2 });
      if (spread > 0) forces.push({ force: NONE, turns: normal, weight: (rubs * spread) ** 2 });
    } else {
      const most = GRIP * strength[a]!;
      const { size } = bodies[a]!;
      for (const way of AXES)
        forces.push({ force: way, turns: NONE, weight: most * most }, { force: NONE, turns: way, weight: (most * size) ** 2 });
    }
    const columns = new Float64Array(12 * forces.length);
    forces.forEach(({ force, turns }, k) => {
      feel(columns, 12 * k, a, 1, force, at, turns);
      feel(columns, 12 * k + 6, b, -1, force, at, turns);
    });
    return { a, b, forces, columns };
  });
  const noise = new Float64Array(6 * n);
  bodies.forEach(({ size }, i) => {
    const moves = Math.max(1e-9, MOTION * strength[i]!);
    const turns = Math.max(1e-9, (PLACE / size) * strength[i]!);
    for (let k = 0; k < 6; k++) noise[6 * i + k] = (k < 3 ? moves : turns) ** 2;
  });
  const multipliers = solve(n, ways, right, noise);
  return links.map(({ at, contact }, i) => {
    const { a, b, forces, columns } = ways[i]!;
    const result: LinkForce = { force: [0, 0, 0], moment: contact ? [...contact.moment] : [0, 0, 0] };
    if (contact) for (const k of [0, 1, 2] as const) result.force[k] = contact.normal[k] * contact.presses;
    forces.forEach(({ force, turns, weight }, k) => {
      const much = weight * pick(columns, 12 * k, multipliers, a, b);
      const turned = cross(at, force);
      for (const c of [0, 1, 2] as const) {
        result.force[c] += much * force[c];
        result.moment[c] += much * (turned[c] + turns[c]);
      }
    });
    return result;
  });
} // prettier-ignore

const NONE: Point3 = [0, 0, 0];

/** A force or a moment that a link may exert, with the square of its spread as it is expected. */
interface Way {
  force: Point3;
  turns: Point3;
  weight: number;
}
interface Ways {
  a: number;
  b: number;
  forces: readonly Way[];
  columns: Float64Array;
}

/** Scalar product of a column with the numbers of both its bodies. */
function pick(columns: Float64Array, from: number, numbers: Float64Array, a: number, b: number): number {
  let sum = 0;
  for (let i = 0; i < 6; i++) sum += columns[from + i]! * numbers[6 * a + i]!;
  if (b >= 0) for (let i = 0; i < 6; i++) sum += columns[from + 6 + i]! * numbers[6 * b + i]!;
  return sum;
}

/** Solves (A W Aᵀ + noise) λ = right by conjugate gradients, each body preconditioned by its own block. */
function solve(n: number, ways: readonly Ways[], right: Float64Array, noise: Float64Array): Float64Array {
  const blocks = Array.from({ length: n }, () => new Float64Array(36));
  const addTo = (body: number, columns: Float64Array, from: number, weight: number) => {
    if (body < 0) return;
    const block = blocks[body]!;
    for (let i = 0; i < 6; i++)
      for (let k = 0; k < 6; k++)
        block[6 * i + k] = block[6 * i + k]! + weight * columns[from + i]! * columns[from + k]!;
  };
  for (const { a, b, forces, columns } of ways)
    forces.forEach(({ weight }, k) => {
      addTo(a, columns, 12 * k, weight);
      addTo(b, columns, 12 * k + 6, weight);
    });
  blocks.forEach((block, i) => factor(block, noise.subarray(6 * i, 6 * i + 6)));
  const times = (x: Float64Array, out: Float64Array) => {
    for (let i = 0; i < out.length; i++) out[i] = noise[i]! * x[i]!;
    for (const { a, b, forces, columns } of ways)
      for (let k = 0; k < forces.length; k++) {
        const much = forces[k]!.weight * pick(columns, 12 * k, x, a, b);
        for (let i = 0; i < 6; i++) out[6 * a + i] = out[6 * a + i]! + much * columns[12 * k + i]!;
        if (b >= 0) for (let i = 0; i < 6; i++) out[6 * b + i] = out[6 * b + i]! + much * columns[12 * k + 6 + i]!;
      }
  };
  const x = new Float64Array(6 * n);
  const r = right.slice();
  const z = new Float64Array(6 * n);
  const precondition = () => blocks.forEach((block, i) => back(block, r, z, 6 * i));
  precondition();
  const p = z.slice();
  const q = new Float64Array(6 * n);
  let rz = product(r, z);
  const goal = NEAR * NEAR * rz;
  for (let round = 0; round < 12 * n + 20 && rz > goal && rz > 0; round++) {
    times(p, q);
    const share = rz / product(p, q);
    if (!Number.isFinite(share)) break;
    for (let i = 0; i < x.length; i++) {
      x[i] = x[i]! + share * p[i]!;
      r[i] = r[i]! - share * q[i]!;
    }
    precondition();
    const next = product(r, z);
    for (let i = 0; i < p.length; i++) p[i] = z[i]! + (next / rz) * p[i]!;
    rz = next;
  }
  return x;
}

function product(a: Float64Array, b: Float64Array): number {
  let sum = 0;
  for (let i = 0; i < a.length; i++) sum += a[i]! * b[i]!;
  return sum;
}

/** Cholesky’s factor of a 6×6 block with noise on its diagonal, in place. */
function factor(block: Float64Array, noise: Float64Array): void {
  for (let k = 0; k < 6; k++) block[7 * k] = block[7 * k]! + noise[k]!;
  for (let k = 0; k < 6; k++) {
    let sum = block[7 * k]!;
    for (let i = 0; i < k; i++) sum -= block[6 * k + i]! ** 2;
    const own = Math.sqrt(Math.max(sum, noise[k]!));
    block[7 * k] = own;
    for (let j = k + 1; j < 6; j++) {
      let off = block[6 * j + k]!;
      for (let i = 0; i < k; i++) off -= block[6 * j + i]! * block[6 * k + i]!;
      block[6 * j + k] = off / own;
    }
  }
}

/** Solves with the factor of a block. */
function back(block: Float64Array, right: Float64Array, out: Float64Array, from: number): void {
  for (let k = 0; k < 6; k++) {
    let sum = right[from + k]!;
    for (let i = 0; i < k; i++) sum -= block[6 * k + i]! * out[from + i]!;
    out[from + k] = sum / block[7 * k]!;
  }
  for (let k = 5; k >= 0; k--) {
    let sum = out[from + k]!;
    for (let i = k + 1; i < 6; i++) sum -= block[6 * i + k]! * out[from + i]!;
    out[from + k] = sum / block[7 * k]!;
  }
}
