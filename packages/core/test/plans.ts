import type { LawId } from '../src/law';
import type { MotionPlan } from '../src/motion';

/**
 * A plan whose segments are called a, b, c …
 * @param segments how long each takes, s, and where it goes, m or rad; without a place it rests
 */
export function planOf(law: LawId, ...segments: [duration: number, to?: number][]): MotionPlan {
  return {
    start: 0,
    segments: segments.map(([duration, to], i) => {
      const id = String.fromCharCode(97 + i);
      return to === undefined ? { kind: 'dwell', id, duration } : { kind: 'move', id, duration, to, law: { id: law } };
    }),
  };
}
