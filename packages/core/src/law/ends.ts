import { lawAt } from './library';
import type { MotionLaw } from './types';

const NAMES = ['position', 'velocity', 'acceleration', 'jerk'] as const;
const SMALL = 1e-6;

/** What a law does where it meets rest, at one end: the first derivative that is not zero there. */
function atEnd(law: MotionLaw, tau: 0 | 1): { order: 1 | 2 | 3 | 4; value: number } {
  const d = lawAt(law, tau);
  for (const order of [1, 2, 3] as const) if (Math.abs(d[order]!) > SMALL) return { order, value: d[order]! };
  return { order: 4, value: 0 };
}

/** Says in words how a law meets rest: “acceleration steps to 4.93 and from −4.93”, or “smooth up to the jerk”. */
export function describeEnds(law: MotionLaw): string {
  const [start, end] = [atEnd(law, 0), atEnd(law, 1)];
  const order = Math.min(start.order, end.order) as 1 | 2 | 3 | 4;
  if (order === 4) return 'no jerk at the ends: smooth against rest';
  const show = (value: number) => String(Number(value.toPrecision(4))).replace('-', '−');
  const values = [start, end].map((e) => (e.order === order ? e.value : 0));
  return `${NAMES[order]} steps at the ends: to ${show(values[0]!)}, from ${show(values[1]!)}`;
}
