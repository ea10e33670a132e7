import { rotationOf, type Rotation } from '../geometry';
import { GROUND, solidMassOf, type Mechanism, type Place, type SolidMass } from '../machine';
import { baseOfBody, type Positions } from './state';

/** A plane made ready. */
export interface SpacePlane {
  id: string;
  name: string;
  /** Body that carries it, by its place in the mechanism; −1 for the ground. */
  carrier: number;
  /** Origin seen from the centre of mass of the carrier, in its frame, m. */
  origin: readonly [number, number, number];
  /** Turns from the axes of the plane to those of its carrier. */
  turn: Rotation;
}

/** A body as it is in space. */
export interface SpaceBody extends SolidMass {
  id: string;
  /** Where its unknowns begin. */
  base: number;
  /** Plane that it moves in, by its place. */
  plane: number;
  /** Centre of mass over that plane, m. */
  over: number;
}

/** A point fixed to a body, or to the frame of a plane. */
export interface SpacePoint {
  /** Body that carries it, by its place; −1 where a plane does. */
  body: number;
  plane: number;
  /** Seen from the centre of mass of the body, in its frame; or from the origin of the plane, in its axes. */
  local: readonly [number, number, number];
  /** Bodies whose unknowns move it: the one that carries it, the one that carries that one's plane, and so on. */
  chain: readonly number[];
}

/**
 * Planes and bodies of a mechanism as a tree: how all of it stands and moves in the world for a state that holds x, y
 * and θ of every body relative to its plane. World axes, SI; a body by the place that it has in the mechanism.
 */
export class SpaceTree {
  readonly planes: readonly SpacePlane[];
  readonly bodies: readonly SpaceBody[];
  /** Bodies from the ground outward. */
  readonly order: readonly number[];
  /** Whether a body carries planes. */
  readonly carries: readonly boolean[];
  /** By plane: axes (9, by rows) and origin (3). */
  readonly planeAxes: Float64Array;
  readonly planeAt: Float64Array;
  /** By body: axes (9, by rows) and centre of mass (3). */
  readonly axes: Float64Array;
  readonly at: Float64Array;
  private readonly seen: Float64Array;
  private readonly places: Map<string, number>;

  constructor(private readonly mechanism: Pick<Mechanism, 'planes' | 'bodies' | 'ground'>) {
    this.places = new Map(mechanism.bodies.map(({ id }, i) => [id, i]));
    const planeOf = new Map(mechanism.planes.map(({ id }, i) => [id, i]));
    this.bodies = mechanism.bodies.map((body, i): SpaceBody => {
      const solid = solidMassOf(body);
      const over = body.level + solid.height;
      return { id: body.id, base: baseOfBody(i), plane: planeOf.get(body.plane)!, over, ...solid };
    });
    this.planes = mechanism.planes.map(({ id, name, on, at, turn }): SpacePlane => {
      const carrier = on === GROUND ? -1 : this.places.get(on)!;
      const from = this.bodies[carrier];
      const [cx, cy, cz] = from ? [...from.centre, from.height] : [0, 0, 0];
      return { id, name, carrier, origin: [at[0] - cx!, at[1] - cy!, at[2] - cz!], turn: rotationOf(turn) };
    });
    this.carries = this.bodies.map((_, i) => this.planes.some(({ carrier }) => carrier === i));
    const depth = (body: number) => this.chainOf(body).length;
    this.order = this.bodies.map((_, i) => i).sort((a, b) => depth(a) - depth(b));
    const [bodies, planes] = [this.bodies.length, this.planes.length];
    this.planeAxes = new Float64Array(9 * planes);
    this.planeAt = new Float64Array(3 * planes);
    this.axes = new Float64Array(9 * bodies);
    this.at = new Float64Array(3 * bodies);
    this.seen = new Float64Array(3 * bodies).fill(NaN);
    // What stands on the ground stays as it is.
    this.planes.forEach((plane, p) => {
      if (plane.carrier >= 0) return;
      this.planeAxes.set(plane.turn, 9 * p);
      this.planeAt.set(plane.origin, 3 * p);
    });
  }

  /** A body with those that carry it, itself first. */
  chainOf(body: number): number[] {
    const chain: number[] = [];
    for (let at = body; at >= 0; at = this.planes[this.bodies[at]!.plane]!.carrier) chain.push(at);
    return chain;
  }

  /** Whether there is such a point. */
  has({ body, point }: Place): boolean {
    const points = body === GROUND ? this.mechanism.ground : this.mechanism.bodies[this.places.get(body) ?? -1]?.points;
    return points?.some(({ id }) => id === point) ?? false;
  }

  /** A point of a body, or of the ground, made ready. */
  point({ body, point }: Place): SpacePoint {
    if (body === GROUND) {
      const own = this.mechanism.ground.find(({ id }) => id === point)!;
      const plane = this.planes.findIndex(({ id }) => id === own.plane);
      const { carrier } = this.planes[plane]!;
      const chain = carrier < 0 ? [] : this.chainOf(carrier);
      return { body: -1, plane, local: [...own.at, own.height ?? 0], chain };
    }
    const place = this.places.get(body)!;
    const own = this.mechanism.bodies[place]!.points.find(({ id }) => id === point)!;
    const { centre, height, plane } = this.bodies[place]!;
    const local = [own.at[0] - centre[0], own.at[1] - centre[1], (own.height ?? 0) - height] as const;
    return { body: place, plane, local, chain: this.chainOf(place) };
  }

  /** Works out how everything stands for a state; nothing is done where that is known. */
  pose(q: Positions): void {
    const { seen, order } = this;
    let same = true;
    for (let j = 0; j < seen.length && same; j++) same = seen[j] === q[j];
    if (same) return;
    for (let j = 0; j < seen.length; j++) seen[j] = q[j]!;
    for (let i = 0; i < order.length; i++) this.poseBody(order[i]!, q);
  }

  private poseBody(body: number, q: Positions): void {
    const { planeAxes: A, planeAt, axes: B, at } = this;
    const { base, plane, over } = this.bodies[body]!;
    const p = 9 * plane;
    const b = 9 * body;
    const [x, y, angle] = [q[base]!, q[base + 1]!, q[base + 2]!];
    const c = Math.cos(angle);
    const s = Math.sin(angle);
    for (let r = 0; r < 3; r++) {
      const [a0, a1, a2] = [A[p + 3 * r]!, A[p + 3 * r + 1]!, A[p + 3 * r + 2]!];
      at[3 * body + r] = planeAt[3 * plane + r]! + a0 * x + a1 * y + a2 * over;
      B[b + 3 * r] = a0 * c + a1 * s;
      B[b + 3 * r + 1] = a1 * c - a0 * s;
      B[b + 3 * r + 2] = a2;
    }
    if (this.carries[body])
      for (let i = 0; i < this.planes.length; i++) if (this.planes[i]!.carrier === body) this.posePlane(i);
  }

  private posePlane(plane: number): void {
    const { planeAxes: A, planeAt, axes: B, at } = this;
    const { carrier, origin, turn } = this.planes[plane]!;
    for (let r = 0; r < 3; r++) {
      const b = 9 * carrier + 3 * r;
      const [b0, b1, b2] = [B[b]!, B[b + 1]!, B[b + 2]!];
      planeAt[3 * plane + r] = at[3 * carrier + r]! + b0 * origin[0] + b1 * origin[1] + b2 * origin[2];
      for (let k = 0; k < 3; k++) A[9 * plane + 3 * r + k] = b0 * turn[k]! + b1 * turn[3 + k]! + b2 * turn[6 + k]!;
    }
  }

  /** The body that takes what pushes at a point: where a plane carries it, the body that carries that; −1 for the ground. */
  bearerOf({ body, plane }: SpacePoint): number {
    return body >= 0 ? body : this.planes[plane]!.carrier;
  }

  /** Plane in which a point is drawn. */
  planeOfPoint({ body, plane }: SpacePoint): number {
    return body >= 0 ? this.bodies[body]!.plane : plane;
  }

  /** Where a point stands after {@link pose}, m. */
  spotOf(point: SpacePoint): Float64Array {
    const spot = new Float64Array(3);
    this.placeOf(point, spot);
    return spot;
  }

  /** Where a point stands after {@link pose}: into `out` at `o`, m. */
  placeOf({ body, plane, local }: SpacePoint, out: Float64Array, o = 0): void {
    const [R, r, at, t] =
      body >= 0
        ? ([this.axes, 9 * body, this.at, 3 * body] as const)
        : ([this.planeAxes, 9 * plane, this.planeAt, 3 * plane] as const);
    for (let k = 0; k < 3; k++)
      out[o + k] = at[t + k]! + R[r + 3 * k]! * local[0] + R[r + 3 * k + 1]! * local[1] + R[r + 3 * k + 2]! * local[2];
  }
}
