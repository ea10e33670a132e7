import { carriedBy, centreOf, type BodyPush, type FlatParts, type Push } from '../contact';
import { NO_WRENCH, type WrenchSchedule } from '../dynamics';
import type { Point2 } from '../geometry';
import type { Machine } from '../machine';
import type { MechanismPoses } from './poses';

/** Time over which blows of parts are spread before they count as weight that an axis at rest would have to hold, s. */
export const BLOW = 0.05;

/** Accelerations of a body, m/s² and rad/s². */
interface Accelerations {
  ax: number;
  ay: number;
  alpha: number;
}

/** Steps over which an impulse that was given too much is paid back. */
const PAY_BACK = 8;

/** What goes along with a body from one step to the next: forces and moment for it, mass and inertia. */
interface GoingAlong {
  own: readonly [number, number, number];
  mass: number;
  inertia: number;
}

/** Bodies that loose parts can push: those that they meet, and those that carry surfaces, grippers, belts or platforms. */
export function pushableBodies({ loose, mechanism }: Machine): string[] {
  if (!loose.space)
    return [...new Set([...loose.solids, ...loose.surfaces, ...loose.grippers].map(({ body }) => body))];
  const carrying = [...loose.surfaces, ...loose.grippers, ...loose.belts, ...loose.platforms];
  return [
    ...new Set([...loose.solids.map(({ body }) => body), ...carrying.map((thing) => carriedBy(mechanism, thing).body)]),
  ];
}

const isNothing = ({ force: [x, y], moment }: Push) => x === 0 && y === 0 && moment === 0;

const NOTHING = [0, 0, 0] as const;

/** Adds a push, with its moment about a point, to three numbers of a knot. */
function addAbout(values: Float64Array, from: number, { force, moment }: Push, x: number, y: number): void {
  const [fx, fy] = force;
  values[from] = values[from]! + fx;
  values[from + 1] = values[from + 1]! + fy;
  values[from + 2] = values[from + 2]! + moment - (x * fy - y * fx);
}

/** The share of a wrench that presses along gravity, as weight does; where it pulls the other way there is none. */
function alongGravity(wrench: ArrayLike<number>, [gx, gy]: readonly [number, number]) {
  const [fx, fy, moment] = [wrench[0]!, wrench[1]!, wrench[2]!];
  const g = Math.sqrt(gx * gx + gy * gy);
  const along = g > 0 ? (fx * gx + fy * gy) / g : 0;
  if (!(along > 0)) return NOTHING;
  // The same point of action: the moment goes with what is left of the force along its line.
  return [(along * gx) / g, (along * gy) / g, (moment * along * along) / (fx * fx + fy * fy)] as const;
}

/** Where a body was at the end of a step, and its mean speeds in it: m, rad, m/s, rad/s. */
interface Way {
  x: number;
  y: number;
  angle: number;
  vx: number;
  vy: number;
  w: number;
}

/** Takes down what loose parts in the front plane do to the bodies of a mechanism, step by step, so that it feels them. */
export class PartForces {
  private readonly resting = new Map<string, Float64Array>();
  private readonly debts = new Map<string, { last: GoingAlong; before: GoingAlong; debt: readonly number[] }>();
  /** What is taken down next, as a schedule of wrenches takes it. */
  private readonly values = new Float64Array(8);
  /** Of bodies that give way. */
  private readonly ways = new Map<string, Way>();

  /**
   * @param world whose parts push
   * @param step length of the contact steps in s
   */
  constructor(
    machine: Machine,
    private readonly world: FlatParts,
    private readonly mechanism: MechanismPoses,
    private readonly wrenches: WrenchSchedule,
    private readonly step: number,
  ) {
    for (const body of pushableBodies(machine)) {
      const [x, y] = mechanism.centreOf(body);
      this.ways.set(body, { x, y, angle: mechanism.poses.get(body)?.angle ?? 0, vx: 0, vy: 0, w: 0 });
    }
  }

  /** Takes down what parts did to all bodies in the last step. */
  feel(from: number, to: number): void {
    const { world } = this.world;
    for (const { body, push } of world.pushes()) this.feelOn(body, push, world.gravity, from, to);
  }

  /**
   * Takes down what parts did to a body. One that is led feels the mean of a step at its middle. One that gives way
   * feels it as soon as it is known, in the step after the next; so that heavy parts do not throw a light body to and
   * fro, their mass goes along with it, and only what they do beyond that comes late. What impulse this gave or took
   * beside that of the parts is paid back.
   */
  private feelOn(body: string, push: BodyPush, gravity: Point2, from: number, to: number): void {
    const { touching, held, weight, parts } = push;
    if (!this.mechanism.isFree && isNothing(touching) && isNothing(held) && !this.resting.has(body)) {
      this.wrenches.add(body, (from + to) / 2, NO_WRENCH);
      return;
    }
    const [x, y] = this.mechanism.centreOf(body);
    const { values } = this;
    values.fill(0);
    addAbout(values, 0, touching, x, y);
    const rests = this.fadeTo(body, isNothing(touching) ? NOTHING : alongGravity(values, gravity));
    addAbout(values, 0, held, x, y);
    addAbout(values, 3, weight, x, y);
    for (let i = 0; i < 3; i++) values[3 + i] = values[3 + i]! + rests[i]!;
    if (this.mechanism.isFree) this.goAlong(body, parts, [x, y]);
    this.wrenches.add(body, this.mechanism.isFree ? to + this.step : (from + to) / 2, values);
  }

  /** At rest there would be the weight of what is held, and of what lies on the body: along gravity, without its blows. */
  private fadeTo(body: string, lying: readonly [number, number, number]): ArrayLike<number> {
    const rests = this.resting.get(body) ?? new Float64Array(3);
    const fade = Math.min(1, this.step / BLOW);
    for (let i = 0; i < 3; i++) rests[i] = rests[i]! + fade * (lying[i]! - rests[i]!);
    const gone =
      lying[0] === 0 && lying[1] === 0 && lying[2] === 0 && Math.hypot(rests[0]!, rests[1]!, rests[2]!) < 1e-9;
    if (gone) {
      rests.fill(0);
      this.resting.delete(body);
    } else this.resting.set(body, rests);
    return rests;
  }

  /** Adds to `values` what goes along with a body that gives way, less what of it was given too much before. */
  private goAlong(body: string, parts: BodyPush['parts'], at: readonly [number, number]): void {
    const { values } = this;
    const along = this.goingAlong(body, parts, at);
    const { mass, inertia } = along;
    const own = [mass * along.ax, mass * along.ay, inertia * along.alpha] as const;
    const debt = this.debtOf(body, { own, mass, inertia }, along);
    for (let i = 0; i < 3; i++) values[i] = values[i]! + own[i]! - debt[i]! / (PAY_BACK * this.step);
    values[6] = mass;
    values[7] = inertia;
  }

  /** Impulse that going along gave a body beside what parts did: what was added in a step, less what the masses took. */
  private debtOf(body: string, next: GoingAlong, { ax, ay, alpha }: Accelerations): number[] {
    const none: GoingAlong = { own: [0, 0, 0], mass: 0, inertia: 0 };
    const { last, before, debt } = this.debts.get(body) ?? { last: none, before: none, debt: [0, 0, 0] };
    // The step just done lay between the two knots before: straight between them.
    const mass = (last.mass + before.mass) / 2;
    const inertia = (last.inertia + before.inertia) / 2;
    const took = [mass * ax, mass * ay, inertia * alpha];
    const owed = debt.map((value, i) => {
      const given = (last.own[i]! + before.own[i]!) / 2 - took[i]! - value / (PAY_BACK * this.step);
      const now = value + given * this.step;
      return Math.abs(now) < 1e-12 ? 0 : now;
    });
    this.debts.set(body, { last: next, before: last, debt: owed });
    return owed;
  }

  /** Mass and inertia of parts about a point, and the acceleration that the body had in the step as parts saw it. */
  private goingAlong(body: string, parts: BodyPush['parts'], [x, y]: readonly [number, number]) {
    const { angle } = this.mechanism.poses.get(body)!;
    const before = this.ways.get(body)!;
    const way = {
      x,
      y,
      angle,
      vx: (x - before.x) / this.step,
      vy: (y - before.y) / this.step,
      w: (angle - before.angle) / this.step,
    };
    this.ways.set(body, way);
    let mass = 0;
    let inertia = 0;
    for (const part of parts) {
      const [px, py] = centreOf(part);
      mass += part.mass.mass;
      inertia += part.mass.inertia + part.mass.mass * ((px - x) ** 2 + (py - y) ** 2);
    }
    return {
      mass,
      inertia,
      ax: (way.vx - before.vx) / this.step,
      ay: (way.vy - before.vy) / this.step,
      alpha: (way.w - before.w) / this.step,
    };
  }
}
