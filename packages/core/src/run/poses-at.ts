import { framePoses, type Pose } from '../mechanism';
import { lastAtOrBefore } from '../numeric';
import type { Run } from './simulate';

/** Poses of all bodies at a time of the run, straight between samples; the last reached pose beyond them. */
export function posesAt({ mechanism, times }: Run, time: number): Pose[] {
  if (!mechanism || mechanism.bodies.length === 0) return [];
  if (mechanism.reached === 0) return framePoses(mechanism.bodies, mechanism.assembled);
  const last = mechanism.reached - 1;
  const k = Math.max(0, Math.min(last, lastAtOrBefore(times, time)));
  const next = Math.min(last, k + 1);
  const span = times[next]! - times[k]!;
  const share = span > 0 ? Math.max(0, Math.min(1, (time - times[k]!) / span)) : 0;
  const state = Array.from({ length: 3 * mechanism.bodies.length }, (_, j) => {
    const q = mechanism.q[j]!;
    return q[k]! + share * (q[next]! - q[k]!);
  });
  return framePoses(mechanism.bodies, state);
}
