import { framePoses, type Pose } from '../mechanism';
import { hermitePiece, lastAtOrBefore } from '../numeric';
import type { MechanismRun } from './mechanism-run';

/** What of a run says where its bodies stand. */
export interface PosedRun {
  times: Float64Array;
  mechanism: Pick<MechanismRun, 'bodies' | 'q' | 'v' | 'a' | 'reached' | 'assembled'> | null;
}

/** Poses of all bodies at a time of the run, straight between samples; the last reached pose beyond them. */
export function posesAt({ mechanism, times }: PosedRun, time: number): Pose[] {
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

/**
 * Poses of all bodies at a time of the run, between samples by their velocities and accelerations there too (Hermite, of
 * degree 5): what turns does not cut across its arc.
 */
export function smoothPosesAt(run: PosedRun, time: number): Pose[] {
  const { mechanism, times } = run;
  if (!mechanism || mechanism.bodies.length === 0 || mechanism.reached < 2) return posesAt(run, time);
  const k = Math.max(0, Math.min(mechanism.reached - 2, lastAtOrBefore(times, time)));
  const x = Float64Array.of(times[k]!, times[k + 1]!);
  const span = x[1]! - x[0]!;
  if (!(span > 0) || time >= x[1]!) return posesAt(run, time);
  const share = Math.max(0, (time - x[0]!) / span);
  const { q, v, a } = mechanism;
  const state = Array.from({ length: 3 * mechanism.bodies.length }, (_, j) => {
    const values = [k, k + 1].flatMap((at) => [q[j]![at]!, v[j]![at]!, a[j]![at]!]);
    // Where a motion steps there may be no acceleration.
    if (!values.every(Number.isFinite)) return values[0]! + share * (values[3]! - values[0]!);
    return hermitePiece({ degree: 5, x, values: Float64Array.from(values) }, 0).reduceRight((sum, c) => sum * share + c, 0); // prettier-ignore
  });
  return framePoses(mechanism.bodies, state);
}
