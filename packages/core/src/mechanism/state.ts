/**
 * How the state of a mechanism is laid out: x, y, θ of the centre of mass of every body, then one arc length for
 * every guide and cam, and behind these unknowns three zeros for the ground. Lengths in m, angles in rad.
 */
export interface Layout {
  /** Number of unknowns; the ground's three places begin here. */
  size: number;
}

/** Where x, y, θ of a body begin in the state, by the place of the body in the mechanism. */
export const baseOfBody = (body: number): number => 3 * body;

declare const role: unique symbol;
/** Where everything stands, by unknowns; the ground's zeros stand behind them. It is moved by {@link retract} alone. */
export type Positions = Float64Array & { readonly [role]: 'positions' };
/**
 * How positions change, by the same unknowns: velocities, accelerations, small ways. In the plane they have as many
 * numbers as positions; nothing may count on that, nor take one for the other.
 */
export type Rates = Float64Array & { readonly [role]: 'rates' };

/** Room for positions. */
export const positionsOf = ({ size }: Layout): Positions => new Float64Array(size + 3) as Positions;
/** Room for velocities, accelerations or ways; all at rest. */
export const ratesOf = ({ size }: Layout): Rates => new Float64Array(size + 3) as Rates;
/** Positions or rates that can be changed without those that they are copied from. */
export const copyOf = <V extends Positions | Rates>(vector: V): V => vector.slice() as V;

/**
 * The state that lies a small way off another one: in the plane its coordinates go on by that way, each by itself.
 * @param q where it begins; @param way change of every unknown; @param out takes the new state, and may be `q`
 * @param share of the way that is gone; @param units what each unknown of the way is measured by, 1 where left out
 */
export function retract(
  { size }: Layout,
  q: Positions,
  way: Rates,
  out: Positions,
  share = 1,
  units?: Float64Array,
): void {
  for (let j = 0; j < size; j++) out[j] = q[j]! + share * way[j]! * (units ? units[j]! : 1);
}

/** As {@link retract}, of some unknowns alone, which must be those of whole bodies. */
export function retractSome(unknowns: ArrayLike<number>, q: Positions, way: Rates, out: Positions): void {
  for (let i = 0; i < unknowns.length; i++) {
    const j = unknowns[i]!;
    out[j] = q[j]! + way[j]!;
  }
}

/** x, y and θ of a body out of anything that goes by unknowns: a state, or samples of it. */
export function ofBody<T>(list: ArrayLike<T>, body: number): [x: T, y: T, angle: T] {
  const base = baseOfBody(body);
  return [list[base]!, list[base + 1]!, list[base + 2]!];
}

/**
 * What each unknown is measured by, so that all are comparable: a typical length for places and arc lengths, 1 for angles.
 * @param bodies how many there are; @param size number of unknowns; @param scale typical length, m
 */
export function unknownUnits(bodies: number, size: number, scale: number): Float64Array {
  const units = new Float64Array(size).fill(scale);
  for (let body = 0; body < bodies; body++) units[baseOfBody(body) + 2] = 1;
  return units;
}

/** A point fixed to a body, seen from the body's centre of mass. */
export interface Attachment {
  /** Where x of the body stands in the state. */
  base: number;
  x: number;
  y: number;
  /** The angle its sine and cosine were last taken of: the same pose is asked for many times over. */
  angle?: number;
  cosine?: number;
  sine?: number;
}

function turnTo(angle: number, p: Attachment): void {
  if (p.angle === angle) return;
  p.angle = angle;
  p.cosine = Math.cos(angle);
  p.sine = Math.sin(angle);
}

/** Arm from centre of mass to point in world directions, for the angle in the state. */
export function armX(q: Positions, p: Attachment): number {
  turnTo(q[p.base + 2]!, p);
  return p.cosine! * p.x - p.sine! * p.y;
}

/** As {@link armX}, along y. */
export function armY(q: Positions, p: Attachment): number {
  turnTo(q[p.base + 2]!, p);
  return p.sine! * p.x + p.cosine! * p.y;
}

/** Where an attachment stands at a state, in the world, m. */
export function pointOf(q: Positions, p: Attachment): [number, number] {
  return [q[p.base]! + armX(q, p), q[p.base + 1]! + armY(q, p)];
}

/** Collects which entries of the Jacobian can be other than zero; each gets a slot. Slot 0 takes what belongs to the ground. */
export class JacobianPattern {
  readonly rows: number[] = [0];
  readonly columns: number[] = [0];
  private readonly slots = new Map<number, number>();
  private readonly unknowns: number;

  constructor({ size }: Layout) {
    this.unknowns = size;
  }

  slot(row: number, column: number): number {
    if (column >= this.unknowns) return 0;
    const key = row * this.unknowns + column;
    const known = this.slots.get(key);
    if (known !== undefined) return known;
    const slot = this.rows.length;
    this.rows.push(row);
    this.columns.push(column);
    this.slots.set(key, slot);
    return slot;
  }

  /** Slots of x, y, θ of a body in a row. */
  body(row: number, base: number): [number, number, number] {
    return [this.slot(row, base), this.slot(row, base + 1), this.slot(row, base + 2)];
  }
}

/** Equations that tie bodies together, one or more rows of Φ(q) = 0. */
export interface Constraint {
  /** Identifier of the joint or coupling. */
  owner: string;
  firstRow: number;
  /** What each row is measured in: a length in m or an angle in rad. */
  rows: readonly ('length' | 'angle')[];
  /** Writes Φ at its rows. */
  residual(q: Positions, out: Float64Array): void;
  /** Adds the entries of Φq into their slots. */
  jacobian(q: Positions, values: Float64Array): void;
  /** Writes γ of Φq·a = γ at its rows, for velocities v. */
  gamma(q: Positions, v: Rates, out: Float64Array): void;
}

/** The position of a joint as a function of the state, with what its derivatives need. */
export interface Coordinate {
  /** Whether it is an angle (rad) or a length (m). */
  angular: boolean;
  /** Unknowns that it depends on; the ground's places may be among them. */
  columns: readonly number[];
  value(q: Positions): number;
  /** Writes the derivative by each of `columns`. */
  gradient(q: Positions, out: Float64Array): void;
  /** Its second time derivative where all accelerations are zero. */
  bend(q: Positions, v: Rates): number;
}

/** Rate of a coordinate for velocities v. */
export function coordinateRate(c: Coordinate, q: Positions, v: Rates, scratch: Float64Array): number {
  c.gradient(q, scratch);
  let sum = 0;
  for (let i = 0; i < c.columns.length; i++) sum += scratch[i]! * v[c.columns[i]!]!;
  return sum;
}
