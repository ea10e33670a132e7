import { bodyPoint, groundPoint, worldOf } from './draw';
import { dropIdleGround } from './edit-mechanism';
import { GROUND, planeOf, type Joint, type Mechanism } from './mechanism';
import type { Machine } from './schema';

/** A joint whose first end stands on a body of its own choice; guides and cams are carried by their path. */
export type CarriedJoint = Extract<Joint, { a: unknown }>;

/** Whether a joint has a carrier that can be chosen. */
export const hasCarrier = (joint: Joint): joint is CarriedJoint => 'a' in joint;

/**
 * Bodies that could carry a joint, the ground first: all of its plane but the one it carries. What goes from plane to
 * plane has ends of its own: none could.
 */
export function carriersOf(mechanism: Pick<Mechanism, 'bodies' | 'ground'>, joint: Joint): string[] {
  const { b } = joint;
  const own = planeOf(mechanism, b);
  if ('a' in joint && planeOf(mechanism, joint.a) !== own) return [];
  return [
    ...(b.body === GROUND ? [] : [GROUND]),
    ...mechanism.bodies.flatMap(({ id, plane }) => (id === b.body || plane !== own ? [] : [id])),
  ];
}

/**
 * Ties a joint to another carrier, or to the ground, where it is drawn: its place, its direction in the world and what
 * it reads at the drawn pose stay. Points of the ground that
 * nothing goes by any more are taken away.
 */
export function carryJoint(machine: Machine, joint: CarriedJoint, to: string): void {
  if (to === joint.a.body || to === joint.b.body) return;
  const { mechanism } = machine;
  const angleOf = (id: string) => mechanism.bodies.find((body) => body.id === id)?.pose.angle ?? 0;
  const at = worldOf(mechanism, joint.a);
  const change = angleOf(to) - angleOf(joint.a.body);
  joint.a = to === GROUND ? groundPoint(mechanism, at, planeOf(mechanism, joint.b)) : bodyPoint(mechanism, to, at);
  if (joint.kind === 'slide' || joint.kind === 'slot') joint.angle -= change;
  if (joint.kind === 'slide' || joint.kind === 'weld') joint.turn -= change;
  if (joint.kind === 'pin') joint.zero -= change;
  dropIdleGround(machine);
}
