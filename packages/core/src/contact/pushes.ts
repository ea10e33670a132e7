import type { Collider, World } from '@dimforge/rapier2d-compat';
import type { Point2 } from '../geometry';
import type { LoosePart } from './loose-part';

/** What parts did to a carrier in one step: mean force (N), and its moment (N·m) about the origin of the world. */
export interface Push {
  force: readonly [x: number, y: number];
  moment: number;
}

/** What parts do to a body of the mechanism: those that touch it, those it holds, and the weight of these. */
export interface BodyPush {
  touching: Push;
  held: Push;
  weight: Push;
  /** Parts that touch the body or are held by it. */
  parts: readonly LoosePart[];
}

export const NO_PUSH: Readonly<Push> = { force: [0, 0], moment: 0 };

/** A force (N) that acts at a point of the world. */
export const forceAt = ([x, y]: Point2, force: Point2): Push => ({ force, moment: x * force[1] - y * force[0] });

/** Adds a push to another, or takes it away. */
export function addPush(sum: Push, { force: [x, y], moment }: Push, sign: 1 | -1 = 1): void {
  sum.force = [sum.force[0] + sign * x, sum.force[1] + sign * y];
  sum.moment += sign * moment;
}

/** Reads what the physics library found between colliders in its last step. */
export class ContactReader {
  private readonly normal = { x: 0, y: 0 };
  private readonly local = { x: 0, y: 0 };

  /** @param step length of a step in s */
  constructor(
    private readonly world: World,
    private readonly step: number,
  ) {}

  /** Sum of all contact impulses on a body in the last step, as a mean force. */
  on(faces: readonly { collider: Collider }[]): Push {
    const push = { ...NO_PUSH };
    for (const { collider: own } of faces) this.world.contactPairsWith(own, (other) => this.between(own, other, push));
    return push;
  }

  /**
   * Adds the contact impulses that a collider got from another one in the last step, as a mean force.
   * @returns whether the other one presses
   */
  between(own: Collider, other: Collider, push: Push): boolean {
    const { normal, local } = this;
    let presses = false;
    this.world.contactPair(own, other, (manifold, flipped) => {
      const sign = (flipped ? 1 : -1) / this.step;
      const solved = manifold.numSolverContacts();
      const count = manifold.numContacts();
      // Of two points of which one alone was solved, the farther one still holds what was found in a step before.
      const stale = solved === 1 && count === 2 ? Number(manifold.contactDist(0) < manifold.contactDist(1)) : -1;
      let read = false;
      let [x, y, c, s] = [0, 0, 1, 0];
      for (let i = solved === 0 ? -1 : count - 1; i >= 0; i--) {
        if (i === stale) continue;
        const along = manifold.contactImpulse(i);
        const across = manifold.contactTangentImpulse(i);
        if (along === 0 && across === 0) continue;
        if (!read) {
          manifold.normal(normal);
          ({ x, y } = own.translation());
          const angle = own.rotation();
          [c, s] = [Math.cos(angle), Math.sin(angle)];
        }
        read = presses = true;
        const found = flipped ? manifold.localContactPoint2(i, local) : manifold.localContactPoint1(i, local);
        if (!found) continue;
        const jx = sign * (along * normal.x - across * normal.y);
        const jy = sign * (along * normal.y + across * normal.x);
        const px = x + c * local.x - s * local.y;
        const py = y + s * local.x + c * local.y;
        addPush(push, forceAt([px, py], [jx, jy]));
      }
    });
    return presses;
  }
}
