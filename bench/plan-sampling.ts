// Sampling a 20-segment plan at 10,000 points against a hand-written loop over one closed-form law.
import { planMotion, sampleMotion, type MotionPlan } from '@yoke/core';
import { median } from './median';

const POINTS = 10_000;
const SEGMENTS = 20;

const plan: MotionPlan = {
  start: 0,
  segments: Array.from({ length: SEGMENTS }, (_, i) => ({
    kind: 'move',
    id: `s${i}`,
    duration: 0.1,
    to: i % 2 === 0 ? 0.2 : 0,
    law: { id: 'cycloidal' },
  })),
};
const cycle = SEGMENTS * 0.1;
const motion = planMotion(plan, cycle);
const times = Float64Array.from({ length: POINTS }, (_, k) => (cycle * k) / (POINTS - 1));

/** The same arithmetic for one inclined sine over the whole cycle, written out. */
function byHand(): Float64Array[] {
  const [s, v, a, j] = [0, 1, 2, 3].map(() => new Float64Array(POINTS)) as [
    Float64Array,
    Float64Array,
    Float64Array,
    Float64Array,
  ];
  const w = 2 * Math.PI;
  for (let k = 0; k < POINTS; k++) {
    const tau = times[k]! / cycle;
    const sine = Math.sin(w * tau);
    const cosine = Math.cos(w * tau);
    s[k] = 0.2 * (tau - sine / w);
    v[k] = (0.2 / cycle) * (1 - cosine);
    a[k] = (0.2 / cycle ** 2) * w * sine;
    j[k] = (0.2 / cycle ** 3) * w * w * cosine;
  }
  return [s, v, a, j];
}

/** Prints the ratio; at most 3 is wanted. */
export function benchPlanSampling(): void {
  // Alternated, so that neither side alone meets a busy machine.
  const rounds = [0, 1, 2].map(() => ({ ours: median(() => sampleMotion(motion, times)), hand: median(byHand) }));
  const ours = Math.min(...rounds.map((round) => round.ours));
  const hand = Math.min(...rounds.map((round) => round.hand));
  console.log(
    `plan sampling, 20 segments, 10,000 points: ${ours.toFixed(3)} ms; one law in a hand-written loop: ${hand.toFixed(3)} ms; ratio ${(ours / hand).toFixed(2)} (wanted: at most 3)`,
  );
}
