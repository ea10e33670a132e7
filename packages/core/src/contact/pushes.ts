import type { Collider, World } from '@dimforge/rapier2d-compat';
import type { Point2 } from '../geometry';

/** What parts did to a carrier in one step: mean force (N), and its moment (N·m) about the origin of the world. */
export interface Push {
  fx: number;
  fy: number;
  moment: number;
}

/** What parts do to a body of the mechanism: those that touch it, those it holds, and the weight of these. */
export interface BodyPush {
  touching: Push;
  held: Push;
  weight: Push;
  /** Parts that touch the body or are held by it, with their centres of mass in the world. */
  parts: readonly { mass: number; inertia: number; at: Point2 }[];
}

/** A force (N) that acts at a point of the world. */
export const forceAt = ([x, y]: Point2, [fx, fy]: Point2): Push => ({ fx, fy, moment: x * fy - y * fx });

/** Adds one push to another. */
export function addPush(sum: Push, { fx, fy, moment }: Push): void {
  sum.fx += fx;
  sum.fy += fy;
  sum.moment += moment;
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

  /**
   * Sum of all contact impulses on a body in the last step, as a mean force.
   * @param pressing told the handle of every collider that presses
   */
  on(colliders: readonly Collider[], pressing?: (collider: number) => void): Push {
    const push = { fx: 0, fy: 0, moment: 0 };
    const { world, normal, local } = this;
    for (const own of colliders) {
      const place = own.translation();
      const [c, s] = [Math.cos(own.rotation()), Math.sin(own.rotation())];
      world.contactPairsWith(own, (other) => {
        world.contactPair(own, other, (manifold, flipped) => {
          const sign = (flipped ? 1 : -1) / this.step;
          let read = false;
          for (let i = manifold.numContacts() - 1; i >= 0; i--) {
            const along = manifold.contactImpulse(i);
            const across = manifold.contactTangentImpulse(i);
            if (along === 0 && across === 0) continue;
            if (!read) {
              manifold.normal(normal);
              pressing?.(other.handle);
            }
            read = true;
            const found = flipped ? manifold.localContactPoint2(i, local) : manifold.localContactPoint1(i, local);
            if (!found) continue;
            const jx = sign * (along * normal.x - across * normal.y);
            const jy = sign * (along * normal.y + across * normal.x);
            const px = place.x + c * local.x - s * local.y;
            const py = place.y + s * local.x + c * local.y;
            push.fx += jx;
            push.fy += jy;
            push.moment += px * jy - py * jx;
          }
        });
      });
    }
    return push;
  }
}
