import type { Collider, World } from '@dimforge/rapier3d-compat';
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

/** Reads what parts, and what carries them, did to each other in the last step of the library. */
export class ContactForces {
  private readonly owners = new Map<number, Owner>();
  private motions = new Map<SpacePart, Motion>();

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
    this.world.contactPair(own, other, (manifold, flipped) => {
      const count = manifold.numContacts();
      let presses = 0;
      const middle = [0, 0, 0];
      const places: { at: Point3; much: number }[] = [];
      for (let i = 0; i < count; i++) {
        const much = manifold.contactImpulse(i) / this.step;
        if (!(much > 0)) continue;
        const local = flipped ? manifold.localContactPoint2(i) : manifold.localContactPoint1(i);
        if (!local) continue;
        const { x, y, z } = own.translation();
        const r = own.rotation();
        const at = carriedPoint({ x, y, z, qw: r.w, qx: r.x, qy: r.y, qz: r.z }, [local.x, local.y, local.z]);
        presses += much;
        at.forEach((part, k) => (middle[k]! += much * part));
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
