import type { Mechanism } from './mechanism';
import type { Axis } from './schema';

/** Names of directions in the drawing, by eighths of a turn from the right on. */
const EIGHTHS = ['to the right', 'up to the right', 'up', 'up to the left', 'to the left', 'down to the left', 'down', 'down to the right']; // prettier-ignore

/** What a direction in the drawing is called, by its angle in rad: upright ones are up and down. */
export const directionName = (angle: number): string => EIGHTHS[((Math.round(angle / (Math.PI / 4)) % 8) + 8) % 8]!;

const UPRIGHT = Math.PI / 2;

/** In which direction an axis counts up, in words. */
export function positiveDirection(axis: Axis, { joints, bodies }: Pick<Mechanism, 'joints' | 'bodies'>): string {
  const { kind, reversed, load } = axis;
  const joint = joints.find(({ id }) => id === axis.joint);
  if (joint?.kind === 'slide' || joint?.kind === 'slot') {
    const base = bodies.find(({ id }) => id === joint.a.body)?.pose.angle ?? 0;
    return directionName(base + joint.angle + (reversed ? Math.PI : 0));
  }
  if (joint?.kind === 'cylinder') return reversed ? 'in' : 'out';
  if (joint?.kind === 'guide' || joint?.kind === 'cam') return reversed ? 'back along the path' : 'along the path';
  if (joint || kind === 'rotary') return reversed ? 'clockwise' : 'anticlockwise';
  const up = load.slope > 0 !== reversed;
  if (Math.abs(Math.abs(load.slope) - UPRIGHT) < 1e-3) return up ? 'up' : 'down';
  if (load.slope !== 0) return up ? 'up the slope' : 'down the slope';
  return reversed ? 'to the left' : 'to the right';
}
