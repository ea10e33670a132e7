import type { Collider, TempContactManifold, World } from '@dimforge/rapier3d-compat';
import { carriedPoint, turnedBy, type Point3 } from '../../geometry';
import { balanced, type BalancedBody, type Link } from './balance';
import type { SpaceBody } from './colliders';
import { centreOfPart, type SpacePart } from './space-part';
import { addWrench, noWrench, type Wrench } from './wrench';

/** Something with colliders: a part, or what is led, by what it is called here. */
export interface Owner {
  body: SpaceBody;
  /** What moves by forces; null of what is led. */
  part: SpacePart | null;
  /** What forces do to it is read. */
  felt: boolean;
}

/** A grip on a part: where, and by what. */
export interface Grip {
  id: string;
  part: SpacePart;
  carrier: Owner;
  at: Point3;
}

/** How a part moved at the end of a step: velocity of its centre, and angular momentum about it. */
interface Motion {
  velocity: Point3;
  spin: Point3;
}

/** What contacts and grips did in the last step. */
export interface Felt {
  /** By owner: what touches it did to it, without grips. */
  touching: ReadonlyMap<Owner, Wrench>;
  /** Parts that press on each owner. */
  parts: ReadonlyMap<Owner, ReadonlySet<SpacePart>>;
  /** By gripper: what it did to its part. */
  grips: ReadonlyMap<string, Wrench>;
}

/** Contacts nearer to each other than this are in one place, m. */
const SAME = 1e-4;

/** Impulses of the contacts of a manifold in the step before, and which of two in one place was not solved then. */
interface Before {
  impulses: readonly number[];
  stale: number;
}

/**
 * Contacts of a manifold that were solved in the last step. Of many the library solves four that span them; the others
 * keep to the last bit what was found in a step before. The solved ones are told by their depth and place. Of two in one
 * place (the corner of a face, and the nearest point, which comes last) the one that has changed was solved.
 * @param placeOf where a contact is
 */
function solvedContacts(
  manifold: TempContactManifold,
  before: Before | undefined,
  placeOf: (contact: number) => Point3 | null,
): { solved: number[]; now: Before | null } {
  const count = manifold.numContacts();
  const all = Array.from({ length: count }, (_, i) => i);
  const most = manifold.numSolverContacts();
  if (most >= count) return { solved: all, now: null };
  const places = all.map(placeOf);
  const apart = (i: number, { x, y, z }: { x: number; y: number; z: number }) => {
    const at = places[i];
    return at ? Math.hypot(at[0] - x, at[1] - y, at[2] - z) : Infinity;
  };
  const left = [...all];
  const taken: number[] = [];
  for (let k = 0; k < most; k++) {
    const seen = manifold.solverContactPoint(k);
    const depth = manifold.solverContactDist(k);
    // Depths are the same to the last bit; places were taken before everything moved on.
    const cost = left.map((i) => 1e3 * Math.abs(manifold.contactDist(i) - depth) + (seen ? apart(i, seen) : 0));
    taken.push(left.splice(cost.indexOf(Math.min(...cost)), 1)[0]!);
  }
  const impulses = all.map((i) => manifold.contactImpulse(i));
  const same = (i: number) => before?.impulses.length === count && before.impulses[i] === impulses[i];
  let stale = -1;
  const solved = taken.map((i) => {
    const at = places[i];
    const twin = at ? left.find((other) => apart(other, { x: at[0], y: at[1], z: at[2] }) < SAME) : undefined;
    if (twin === undefined) return i;
    const last = Math.max(i, twin);
    const first = Math.min(i, twin);
    if (same(first) !== same(last)) stale = same(first) ? first : last;
    else stale = before && (before.stale === first || before.stale === last) ? before.stale : last;
    return stale === first ? last : first;
  });
  return { solved, now: { impulses, stale } };
}

/** Reads what parts, and what carries them, did to each other in the last step of the library. */
export class ContactForces {
  private readonly owners = new Map<number, Owner>();
  private motions = new Map<SpacePart, Motion>();
  /** Manifolds with more contacts than are solved, as they were in the step before, and as they are now. */
  private manifolds = new Map<string, Before>();
  private met = new Map<string, Before>();

  constructor(
    private readonly world: World,
    private readonly step: number,
    private readonly gravity: Point3,
    private readonly ownerOf: (part: SpacePart) => Owner,
  ) {}

  /** Tells whose colliders are whose. */
  know(owner: Owner): void {
    for (const { handle } of owner.body.colliders) this.owners.set(handle, owner);
  }

  forget(owner: Owner): void {
    for (const { handle } of owner.body.colliders) this.owners.delete(handle);
    if (owner.part) this.motions.delete(owner.part);
  }

  private motionOf(part: SpacePart): Motion {
    const { body } = this.ownerOf(part).body;
    const v = body.linvel();
    const w = body.angvel();
    const { now, made } = part;
    const { xx, yy, zz, xy, xz, yz } = made.mass.tensor;
    const [x, y, z] = turnedBy({ ...now, qx: -now.qx, qy: -now.qy, qz: -now.qz }, [w.x, w.y, w.z]);
    const spin = turnedBy(now, [xx * x + xy * y + xz * z, xy * x + yy * y + yz * z, xz * x + yz * y + zz * z]);
    return { velocity: [v.x, v.y, v.z], spin };
  }

  /** Notes how a part moves before the next step. */
  note(part: SpacePart): void {
    this.motions.set(part, this.motionOf(part));
  }

  /** What was done in the step that has just been made; parts stand at its end. */
  read(seeds: readonly Owner[], grips: readonly Grip[]): Felt {
    this.met = new Map();
    const parts = new Map<SpacePart, number>();
    const links: Link[] = [];
    const ends: (readonly [Owner, Owner])[] = [];
    const waiting: Owner[] = [];
    const take = (part: SpacePart): number => {
      const known = parts.get(part);
      if (known !== undefined) return known;
      parts.set(part, parts.size);
      waiting.push(this.ownerOf(part));
      return parts.size - 1;
    };
    for (const seed of seeds)
      this.touched(seed, (other) => {
        if (other.part) take(other.part);
      });
    for (const { part } of grips) take(part);
    for (let owner = waiting.pop(); owner; owner = waiting.pop()) {
      const own = owner;
      const a = parts.get(own.part!)!;
      this.touched(own, (other, link) => {
        const b = other.part ? take(other.part) : -1;
        // Of two parts the first one brings what is between them.
        if (b >= 0 && b < a) return;
        links.push({ a, b, at: link.at, contact: link.contact });
        ends.push([own, other]);
      });
    }
    this.manifolds = this.met;
    // Links between parts are found from both sides: those that the later one brought stand once, by the earlier one.
    const list = [...parts.keys()];
    for (const { part, at } of grips) links.push({ a: parts.get(part)!, b: -1, at, contact: null });
    const forces = balanced(list.map((part) => this.changeOf(part)), links); // prettier-ignore
    const touching = new Map<Owner, Wrench>();
    const pressing = new Map<Owner, Set<SpacePart>>();
    ends.forEach(([own, other], i) => {
      if (!other.felt) return;
      let sum = touching.get(other);
      if (!sum) touching.set(other, (sum = noWrench()));
      addWrench(sum, forces[i]!, -1);
      let set = pressing.get(other);
      if (!set) pressing.set(other, (set = new Set()));
      set.add(own.part!);
    });
    const held = new Map(grips.map(({ id }, i) => [id, forces[ends.length + i]!] as const));
    return { touching, parts: pressing, grips: held };
  }

  /** What changed the motion of a part in the last step beside gravity. */
  private changeOf(part: SpacePart): BalancedBody {
    const before = this.motions.get(part);
    const after = this.motionOf(part);
    const { mass } = part.made.mass;
    const rate = (k: 0 | 1 | 2) => (before ? (after.velocity[k] - before.velocity[k]) / this.step : 0);
    const turns = (k: 0 | 1 | 2) => (before ? (after.spin[k] - before.spin[k]) / this.step : 0);
    return {
      // Contacts are kept in the frames of the parts, and so are met where these stand now.
      centre: centreOfPart(part),
      force: [0, 1, 2].map((k) => mass * (rate(k as 0) - this.gravity[k]!)) as [number, number, number],
      moment: [0, 1, 2].map((k) => turns(k as 0)) as [number, number, number],
      size: part.made.size,
    };
  }

  /** Goes through what presses on an owner: the contact as that feels it. */
  private touched(own: Owner, tell: (other: Owner, link: Pick<Link, 'at' | 'contact'>) => void): void {
    for (const collider of own.body.colliders)
      this.world.contactPairsWith(collider, (other) => {
        const owner = this.owners.get(other.handle);
        if (owner) this.between(collider, other, (link) => tell(owner, link));
      });
  }

  private between(own: Collider, other: Collider, tell: (link: Pick<Link, 'at' | 'contact'>) => void): void {
    let nth = 0;
    this.world.contactPair(own, other, (manifold, flipped) => {
      if (manifold.numSolverContacts() === 0) return;
      const { x, y, z } = own.translation();
      const r = own.rotation();
      const stands = { x, y, z, qw: r.w, qx: r.x, qy: r.y, qz: r.z };
      const placeOf = (i: number): Point3 | null => {
        const local = flipped ? manifold.localContactPoint2(i) : manifold.localContactPoint1(i);
        return local && carriedPoint(stands, [local.x, local.y, local.z]);
      };
      const key = `${own.handle} ${other.handle} ${nth++}`;
      const { solved, now } = solvedContacts(manifold, this.manifolds.get(key), placeOf);
      if (now) this.met.set(key, now);
      let presses = 0;
      const middle = [0, 0, 0];
      const places: { at: Point3; much: number }[] = [];
      for (const contact of solved) {
        const much = manifold.contactImpulse(contact) / this.step;
        const at = much > 0 ? placeOf(contact) : null;
        if (!at) continue;
        presses += much;
        at.forEach((one, k) => (middle[k]! += much * one));
        places.push({ at, much });
      }
      if (presses === 0) return;
      const n = manifold.normal();
      const sign = flipped ? 1 : -1;
      const normal: Point3 = [sign * n.x, sign * n.y, sign * n.z];
      const at = middle.map((part) => part / presses) as [number, number, number];
      const moment: [number, number, number] = [0, 0, 0];
      let spread = 0;
      for (const { at: p, much } of places) {
        moment[0] += much * (p[1] * normal[2] - p[2] * normal[1]);
        moment[1] += much * (p[2] * normal[0] - p[0] * normal[2]);
        moment[2] += much * (p[0] * normal[1] - p[1] * normal[0]);
        spread += (much / presses) * ((p[0] - at[0]) ** 2 + (p[1] - at[1]) ** 2 + (p[2] - at[2]) ** 2);
      }
      tell({ at, contact: { normal, presses, moment, spread: Math.sqrt(spread) } });
    });
  }
}
