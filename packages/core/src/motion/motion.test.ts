import fc from 'fast-check';
import { LAW_IDS } from '../law';
import {
  checkPlan,
  motionAt,
  planMotion,
  proposeStep,
  sampleMotion,
  sampleTimes,
  type MotionPlan,
  type PlanContext,
  type PlanFinding,
} from './index';

const move = (id: string, duration: number, to: number, law: (typeof LAW_IDS)[number] = 'poly345') =>
  ({ kind: 'move', id, duration, to, law: { id: law } }) as const;
const dwell = (id: string, duration: number) => ({ kind: 'dwell', id, duration }) as const;

const plan: MotionPlan = {
  start: 0,
  segments: [move('a', 0.5, 0.2), dwell('b', 0.25), move('c', 0.5, 0, 'cycloidal'), dwell('d', 0.75)],
};
const free: PlanContext = {
  cycleTime: 2,
  limits: { velocity: null, acceleration: null, jerk: null },
  travel: { min: 0, max: 0.2 },
};
const find = <C extends PlanFinding['code']>(findings: PlanFinding[], code: C) =>
  findings.filter((finding): finding is Extract<PlanFinding, { code: C }> => finding.code === code);

describe('motion', () => {
  test('scales with stroke and time: v = h f′/T, a = h f″/T², j = h f‴/T³ (VDI 2143)', () => {
    const motion = planMotion(plan, 2);
    const middle = motionAt(motion, 0.25);
    expect(middle.position).toBeCloseTo(0.1, 14);
    expect(middle.velocity).toBeCloseTo((0.2 * 1.875) / 0.5, 13);
    expect(motionAt(motion, 0).jerk).toBeCloseTo((0.2 * 60) / 0.5 ** 3, 10);
  });

  test('speed factor k: velocity with k, acceleration with k², jerk with k³', () => {
    const slow = motionAt(planMotion(plan, 2), 0.1);
    const k = 10;
    const fastPlan = { ...plan, segments: plan.segments.map((s) => ({ ...s, duration: s.duration / k })) };
    const fast = motionAt(planMotion(fastPlan, 2 / k), 0.1 / k);
    expect(fast.velocity / slow.velocity).toBeCloseTo(k, 9);
    expect(fast.acceleration / slow.acceleration).toBeCloseTo(k ** 2, 7);
    expect(fast.jerk / slow.jerk).toBeCloseTo(k ** 3, 5);
  });

  test('rests where the plan is shorter than the cycle, and is cut where it is longer', () => {
    expect(motionAt(planMotion(plan, 3), 2.9)).toMatchObject({ position: 0, velocity: 0 });
    const cut = planMotion(plan, 0.6);
    expect(cut.edges.at(-1)).toBe(0.6);
    expect(motionAt(cut, 0.6).position).toBeCloseTo(0.2, 12);
  });

  test('samples agree with single instants, for every law', () => {
    for (const id of LAW_IDS) {
      const motion = planMotion({ start: 0.1, segments: [move('a', 0.7, 0.3, id), dwell('b', 0.3)] }, 1);
      const times = Float64Array.from({ length: 211 }, (_, k) => k / 210);
      const samples = sampleMotion(motion, times);
      times.forEach((time, k) => {
        const state = motionAt(motion, time);
        expect(samples.position[k]).toBe(state.position);
        expect(samples.acceleration[k]).toBe(state.acceleration);
      });
    }
  });

  test('a time that stands twice gives both sides of a step', () => {
    const motion = planMotion({ start: 0, segments: [move('a', 1, 1, 'quadratic'), dwell('b', 1)] }, 2);
    const times = sampleTimes([motion], 0.1);
    const { acceleration } = sampleMotion(motion, times);
    const at = times.indexOf(0.5);
    expect(times[at + 1]).toBe(0.5);
    expect([acceleration[at], acceleration[at + 1]]).toEqual([4, -4]);
    const end = times.indexOf(1);
    expect([acceleration[end], acceleration[end + 1]]).toEqual([-4, 0]);
  });

  test('steps of two motions that only rounding tells apart both have their two sides', () => {
    // 0.1 + 0.2 is a little more than 0.3; a step inside a move (half of 0.1 + 0.4) as well as at its end.
    const motions = [
      planMotion({ start: 0, segments: [dwell('a', 0.3), move('b', 0.7, 1, 'quadratic')] }, 1),
      planMotion({ start: 0, segments: [dwell('a', 0.1), move('b', 0.2, 1, 'quadratic'), dwell('c', 0.7)] }, 1),
      planMotion({ start: 0, segments: [dwell('a', 0.1), move('b', 0.4, 1, 'quadratic'), dwell('c', 0.5)] }, 1),
    ];
    const times = sampleTimes(motions, 0.05);
    const at = times.findIndex((time) => Math.abs(time - 0.3) < 1e-12);
    expect(times[at + 1]).toBe(times[at]);
    expect(times[at + 2]! - 0.3).toBeGreaterThan(1e-3);
    const sides = motions.map((motion) => Array.from(sampleMotion(motion, times).acceleration.slice(at, at + 2)));
    const [rise, quick, slow] = [4 / 0.49, 4 / 0.04, 4 / 0.16];
    [
      [0, rise],
      [-quick, 0],
      [slow, -slow],
    ].forEach((wanted, i) => {
      // prettier-ignore
      expect(sides[i]![0]).toBeCloseTo(wanted[0]!, 9);
      expect(sides[i]![1]).toBeCloseTo(wanted[1]!, 9);
      expect(motionAt(motions[i]!, times[at]!, 'before').acceleration).toBeCloseTo(wanted[0]!, 9);
    });
  });

  test('a move is cut into as many parts as wanted, however much else happens meanwhile', () => {
    const slow = planMotion({ start: 0, segments: [move('a', 1, 1), dwell('b', 1)] }, 2);
    const quick = planMotion({ start: 0, segments: [dwell('a', 0.5), move('b', 0.1, 1), dwell('c', 1.4)] }, 2);
    const happenings = Array.from({ length: 19 }, (_, i) => (i + 1) / 20);
    const times = sampleTimes([slow, quick], 0.5, happenings, 50);
    const widest = (from: number, to: number) =>
      Math.max(...times.map((time, k) => (time > from + 1e-9 && time <= to + 1e-9 ? time - times[k - 1]! : 0)));
    expect(widest(0, 0.5)).toBeLessThan(1 / 50 + 1e-9);
    expect(widest(0.5, 0.6)).toBeLessThan(0.1 / 50 + 1e-9);
    expect(widest(1, 2)).toBeCloseTo(0.5, 9);
    // Happenings cut a part short here and there; they do not get fifty parts each.
    expect(times.length).toBeLessThan(50 + 50 + 2 * happenings.length + 10);
  });

  test('the grid hits every knee, rises, and keeps to the step', () => {
    const duration = fc.double({ min: 0.01, max: 2, noNaN: true });
    fc.assert(
      fc.property(
        fc.array(duration, { minLength: 1, maxLength: 8 }),
        fc.double({ min: 0.001, max: 0.5, noNaN: true }),
        (durations, step) => {
          const segments = durations.map((d, i) => move(`s${i}`, d, (i + 1) % 3));
          const total = durations.reduce((sum, d) => sum + d, 0);
          const motion = planMotion({ start: 0, segments }, total);
          const times = sampleTimes([motion], step);
          for (let k = 1; k < times.length; k++) {
            expect(times[k]! - times[k - 1]!).toBeGreaterThanOrEqual(0);
            expect(times[k]! - times[k - 1]!).toBeLessThanOrEqual(step * (1 + 1e-6));
          }
          for (const { from } of motion.stretches) expect(times.includes(from)).toBe(true);
        },
      ),
    );
  });

  test('the proposed step gets finer with the shortest move', () => {
    const step = (short: number) =>
      proposeStep([planMotion({ start: 0, segments: [move('a', short, 1), move('b', 1, 0)] }, 1 + short)]);
    expect(step(0.01)).toBeCloseTo(0.01 / 50, 12);
    expect(step(0.5)).toBeCloseTo(1.5 / 1000, 12);
  });
});

describe('checks', () => {
  test('a plan that closes and keeps its limits has no findings', () => {
    expect(checkPlan(plan, free)).toEqual([]);
  });

  test('an open cycle says by how much', () => {
    const open = { ...plan, segments: plan.segments.toSpliced(2, 1, move('c', 0.5, 0.012)) };
    const [finding] = find(checkPlan(open, free), 'not-closed');
    expect(finding?.gap).toBeCloseTo(0.012, 12);
    expect(finding?.time).toBe(2);
  });

  test('what runs once need not come back, but begins and ends at rest', () => {
    const once = { ...free, oneOff: true };
    const open = { ...plan, segments: plan.segments.toSpliced(2, 1, move('c', 0.5, 0.012)) };
    expect(checkPlan(open, once)).toEqual([]);
    const moving = { start: 0, knee: { velocity: 0.1, acceleration: null }, segments: [move('a', 2, 0.2)] };
    expect(find(checkPlan(moving, once), 'jump')).toMatchObject([
      { order: 1, time: 0, before: 0, after: 0.1, severity: 'error' },
    ]);
    // Over the same cycle again and again its end would have to meet its start: at rest there too.
    const line = { start: 0, segments: [{ ...move('a', 2, 0.2), law: { id: 'straight' as const } }] };
    expect(find(checkPlan(line, { ...once, travel: null }), 'jump')).toMatchObject([
      { time: 0, before: 0, after: 0.1 },
      { time: 2, before: 0.1, after: 0 },
    ]);
    expect(find(checkPlan(line, { ...free, travel: null }), 'jump')).toEqual([]);
  });

  test('an axis without ends may advance instead', () => {
    const findings = checkPlan({ start: 0, segments: [move('a', 2, 0.36)] }, { ...free, travel: null });
    expect(findings).toEqual([{ code: 'advances', severity: 'info', advance: 0.36 }]);
  });

  test('jumps are named with order, place and size', () => {
    const harmonic = { start: 0, segments: [move('a', 1, 0.2, 'harmonic'), dwell('b', 1)] };
    const jumps = find(checkPlan(harmonic, { ...free, travel: null }), 'jump');
    expect(jumps.map(({ order, time }) => [order, time])).toEqual([
      [2, 0],
      [2, 1],
    ]);
    expect(jumps[1]!.after - jumps[1]!.before).toBeCloseTo((0.2 * Math.PI ** 2) / 2, 10);
    const straight = { start: 0, segments: [dwell('b', 1), move('a', 0.5, 0.2, 'straight'), dwell('c', 0.5)] };
    const steps = find(checkPlan(straight, { ...free, travel: null }), 'jump');
    expect(steps.map(({ order, time, after, before }) => [order, time, after - before])).toEqual([
      [1, 1, 0.4],
      [1, 1.5, -0.4],
    ]);
  });

  test('harmonic rise and return meet without a jump, as VDI 2143 has it for reversals', () => {
    const reversing = { start: 0, segments: [move('a', 1, 0.2, 'harmonic'), move('b', 1, 0, 'harmonic')] };
    expect(find(checkPlan(reversing, free), 'jump')).toEqual([]);
  });

  test('an acceleration step inside a law is reported inside its segment', () => {
    const jumps = find(
      checkPlan({ start: 0, segments: [move('a', 2, 0.2, 'quadratic')] }, { ...free, travel: null }),
      'jump',
    );
    expect(jumps.filter(({ inside }) => inside).map(({ time }) => time)).toEqual([1]);
  });

  test('the shortest time named for a breach just meets the limit', () => {
    const limit = fc.double({ min: 0.05, max: 0.7, noNaN: true });
    const quantity = fc.constantFrom('velocity' as const, 'acceleration' as const, 'jerk' as const);
    fc.assert(
      fc.property(limit, quantity, fc.constantFrom('poly345' as const, 'modifiedSine' as const), (share, what, law) => {
        const rise = { start: 0, segments: [move('a', 1, 0.2, law), dwell('b', 1)] };
        const unlimited = planMotion(rise, 2);
        const times = sampleTimes([unlimited], 1e-3);
        const peak = Math.max(...sampleMotion(unlimited, times)[what].map(Math.abs));
        const limits = { ...free.limits, [what]: peak * share };
        const [breach] = find(checkPlan(rise, { ...free, travel: null, limits }), 'limit');
        expect(breach!.value).toBeCloseTo(peak, 2);
        const longer = { start: 0, segments: [move('a', breach!.shortestTime!, 0.2, law)] };
        const context = { ...free, travel: null, limits, cycleTime: breach!.shortestTime! };
        expect(find(checkPlan(longer, context), 'limit')).toEqual([]);
        const shorter = { start: 0, segments: [move('a', breach!.shortestTime! * 0.999, 0.2, law)] };
        expect(find(checkPlan(shorter, context), 'limit')).toHaveLength(1);
      }),
      { numRuns: 40 },
    );
  });

  test('a jerk limit under a law with steps has no shortest time', () => {
    const limits = { ...free.limits, jerk: 100 };
    const [breach] = find(
      checkPlan({ start: 0, segments: [move('a', 2, 0.2, 'quadratic')] }, { ...free, limits }),
      'limit',
    );
    expect(breach).toMatchObject({ value: Infinity, shortestTime: null });
  });

  test('leaving the travel names time, position and end', () => {
    const findings = checkPlan(plan, { ...free, travel: { min: -0.1, max: 0.15 } });
    expect(find(findings, 'travel')).toEqual([
      { code: 'travel', severity: 'error', time: 0.5, position: 0.2, limit: 0.15, end: 'max' },
    ]);
  });

  test('plan and cycle of different length', () => {
    expect(find(checkPlan(plan, { ...free, cycleTime: 1.5 }), 'plan-too-long')).toHaveLength(1);
    expect(find(checkPlan(plan, { ...free, cycleTime: 2.5 }), 'plan-short')).toHaveLength(1);
  });
});
