import { explainPlanFinding, type PlanFinding } from './index';

const say = (finding: PlanFinding, axis: 'linear' | 'rotary' = 'linear', system: 'metric' | 'inch' = 'metric') =>
  explainPlanFinding(finding, axis, system, () => 'segment 2 (rise)').replace(/\u00a0/g, ' ');

test('every finding says what, where and how much', () => {
  expect(say({ code: 'empty', severity: 'error' })).toContain('no segments yet');
  expect(say({ code: 'plan-too-long', severity: 'error', planTime: 2.2, cycleTime: 2 })).toBe(
    'The plan lasts 2.2 s, the cycle 2 s: the last 0.2 s are cut off.',
  );
  expect(say({ code: 'plan-short', severity: 'info', planTime: 1.5, cycleTime: 2 })).toContain('remaining 0.5 s');
  expect(say({ code: 'not-closed', severity: 'error', gap: -0.012, time: 2 })).toBe(
    'The plan does not close: it ends 12 mm below its start, at 2 s.',
  );
  expect(say({ code: 'advances', severity: 'info', advance: Math.PI / 3 }, 'rotary')).toContain('moves on by 60°');
  const travel: PlanFinding = { code: 'travel', severity: 'error', time: 0.5, position: 0.2, limit: 0.15, end: 'max' };
  expect(say(travel)).toBe('The axis goes to 200 mm at 0.5 s, beyond its upper end at 150 mm.');
});

test('a jump names its order, its size and both sides', () => {
  const jump = { code: 'jump', severity: 'warning', time: 0.4, before: 4, after: -4, segmentId: 's2' } as const;
  expect(say({ ...jump, order: 2, inside: true })).toBe(
    'The acceleration jumps by 8 m/s² at 0.4 s, inside segment 2 (rise) (from 4 m/s² to −4 m/s²).',
  );
  expect(say({ ...jump, order: 1, inside: false }, 'rotary')).toContain('The velocity jumps by 458.4 °/s');
});

test('a breach says what would mend it, in the units of the reader', () => {
  const breach = {
    code: 'limit',
    severity: 'error',
    quantity: 'velocity',
    time: 0.35,
    value: 0.5357,
    limit: 0.4,
    segmentId: 's1',
    duration: 0.7,
  } as const;
  expect(say({ ...breach, shortestTime: 0.9375 })).toBe(
    'segment 2 (rise) reaches 535.7 mm/s at 0.35 s; the velocity limit is 400 mm/s. It takes at least 0.9375 s instead of 0.7 s.',
  );
  expect(say({ ...breach, shortestTime: 0.9375 }, 'linear', 'inch')).toContain('21.09 in/s');
  expect(say({ ...breach, quantity: 'jerk', value: Infinity, shortestTime: null })).toContain(
    'No segment time keeps it under this law: take one without acceleration steps.',
  );
});
