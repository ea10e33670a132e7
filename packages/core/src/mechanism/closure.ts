import { GROUND, worldOf, type Mechanism, type Place } from '../machine';
import { bodiesOf } from '../machine';
import type { Pose } from './poses';

/**
 * The other closure of the loop at a pin that joins two bodies: both are mirrored across the line through
 * the pins that hold their far ends (circle intersection, the second root).
 * @param driven joints that axes lead: bodies that they tie are not turned, for what is driven stays
 * @returns new start poses by body, or a sentence that says why there is no other closure
 */
export function otherClosure(
  m: Mechanism,
  jointId: string,
  driven: readonly string[] = [],
): Map<string, Pose> | string {
  const joint = m.joints.find(({ id }) => id === jointId);
  if (joint?.kind !== 'pin') return 'Choose the pin between the two bodies whose loop shall close the other way.';
  const ends = [joint.a, joint.b].map(({ body }) => farEnd(m, body, jointId));
  const [first, second] = ends;
  if (joint.a.body === GROUND || joint.b.body === GROUND || !first || !second)
    return `${joint.name} is not the pin between two bodies that are both pinned at their other ends.`;
  const own = [joint.a.body, joint.b.body];
  const led = m.joints.find(
    (other) => driven.includes(other.id) && bodiesOf(m, other).some((body) => own.includes(body)),
  );
  if (led) return `${led.name} is driven and ties one of the two bodies, so they cannot be mirrored alone.`;
  const [ax, ay] = worldOf(m, first);
  const [bx, by] = worldOf(m, second);
  const along = 2 * Math.atan2(by - ay, bx - ax);
  if (Math.hypot(bx - ax, by - ay) < 1e-12) return 'The far ends lie in one place, so there is no other closure.';
  const pivot = worldOf(m, joint.a);
  const mirrored = mirror(pivot, [ax, ay], along);
  const poses = new Map<string, Pose>();
  for (const [place, end] of [
    [joint.a, [ax, ay]],
    [joint.b, [bx, by]],
  ] as const) {
    const body = m.bodies.find(({ id }) => id === place.body)!;
    // Not mirrored itself but turned about its far end, so that the pin comes to the mirrored place.
    const before = Math.atan2(pivot[1] - end[1], pivot[0] - end[0]);
    const after = Math.atan2(mirrored[1] - end[1], mirrored[0] - end[0]);
    const turn = Math.atan2(Math.sin(after - before), Math.cos(after - before));
    const [c, s] = [Math.cos(turn), Math.sin(turn)];
    const [dx, dy] = [body.pose.x - end[0], body.pose.y - end[1]];
    poses.set(body.id, { x: end[0] + c * dx - s * dy, y: end[1] + s * dx + c * dy, angle: body.pose.angle + turn });
  }
  return poses;
}

/** Another pin of a body, by which it hangs on something else. */
function farEnd(m: Mechanism, body: string, except: string): Place | null {
  for (const joint of m.joints) {
    if (joint.id === except || joint.kind !== 'pin' || !bodiesOf(m, joint).includes(body)) continue;
    return joint.a.body === body ? joint.a : joint.b;
  }
  return null;
}

function mirror(
  [x, y]: readonly [number, number],
  [ox, oy]: readonly [number, number],
  twice: number,
): [number, number] {
  const [dx, dy] = [x - ox, y - oy];
  const [c, s] = [Math.cos(twice), Math.sin(twice)];
  return [ox + c * dx + s * dy, oy + s * dx - c * dy];
}
