import fc from 'fast-check';
import type { ServoBlock } from '../machine';
import {
  blocksMotion,
  BlockError,
  gentlestProfile,
  motionAt,
  runBlocks,
  servoProfile,
  TimeTooShort,
  workProfile,
  type ServoLimits,
} from './index';

const limits = (
  velocity: number,
  acceleration: number,
  jerk: number | null,
  deceleration = acceleration,
): ServoLimits => ({ velocity, acceleration, deceleration, jerk });

/** Closed forms of a symmetric move (textbook; Biagiotti and Melchiorri, Trajectory Planning; recomputed). */
describe('time-optimal moves against closed forms, in every case', () => {
  test('triangle: T = 2√(D/a), v = √(D a)', () => {
    const p = servoProfile(0.1, limits(10, 4, null));
    expect(p.time).toBeCloseTo(2 * Math.sqrt(0.1 / 4), 12);
    expect(p.speed).toBeCloseTo(Math.sqrt(0.4), 12);
    expect(p.phases).toHaveLength(2);
    expect(p.bound).toBe('acceleration');
  });
  test('trapezoid: T = D/v + v/a', () => {
    const p = servoProfile(-0.5, limits(0.8, 4, null));
    expect(p.time).toBeCloseTo(0.5 / 0.8 + 0.8 / 4, 12);
    expect(p.phases).toHaveLength(3);
    expect(p.bound).toBe('velocity');
  });
  test('trapezoid with other braking: T = D/v + v/2a + v/2d', () => {
    expect(servoProfile(0.5, limits(0.8, 4, null, 2)).time).toBeCloseTo(0.5 / 0.8 + 0.8 / 8 + 0.8 / 4, 12);
  });
  test('seven phases: T = D/v + v/a + a/j', () => {
    const p = servoProfile(0.5, limits(0.8, 4, 50));
    expect(p.time).toBeCloseTo(0.5 / 0.8 + 0.8 / 4 + 4 / 50, 12);
    expect(p.phases).toHaveLength(7);
  });
  test('no run: v from D = v(v/a + a/j), six phases', () => {
    const p = servoProfile(0.2, limits(5, 4, 50));
    const v = (-(4 / 50) + Math.sqrt((4 / 50) ** 2 + (4 * 0.2) / 4)) / (2 / 4);
    expect(p.speed).toBeCloseTo(v, 12);
    expect(p.time).toBeCloseTo(2 * (v / 4 + 4 / 50), 12);
    expect(p.phases).toHaveLength(6);
  });
  test('acceleration not reached: T = 4·∛(D/2j), four phases', () => {
    const p = servoProfile(0.001, limits(5, 40, 50));
    expect(p.time).toBeCloseTo(4 * Math.cbrt(0.001 / (2 * 50)), 12);
    expect(p.phases).toHaveLength(4);
    expect(p.bound).toBe('jerk');
  });
  test('speed reached, acceleration not: T = D/v + 2√(v/j), five phases', () => {
    const p = servoProfile(0.5, limits(0.2, 40, 50));
    expect(p.time).toBeCloseTo(0.5 / 0.2 + 2 * Math.sqrt(0.2 / 50), 12);
    expect(p.phases).toHaveLength(5);
  });
  test('only the softer of two ramps reaches its limit', () => {
    const p = servoProfile(0.05, limits(5, 2, 50, 30));
    expect(p.up.peak).toBeCloseTo(2, 12);
    expect(p.down.peak).toBeLessThan(30);
    expect((p.speed / 2) * (p.up.time + p.down.time)).toBeCloseTo(0.05, 13);
  });
});

const positive = (min: number, max: number) =>
  fc.double({ min: Math.log(min), max: Math.log(max), noNaN: true }).map(Math.exp);
const anyLimits = fc.record({
  velocity: positive(0.01, 10),
  acceleration: positive(0.1, 100),
  deceleration: positive(0.1, 100),
  jerk: fc.oneof(fc.constant(null), positive(1, 10000)),
});

describe('properties of every optimal move', () => {
  test('arrives exactly, never over a limit, never slower than the bounds', () => {
    fc.assert(
      fc.property(anyLimits, positive(1e-4, 5), fc.boolean(), (l, way, back) => {
        const distance = back ? -way : way;
        const p = servoProfile(distance, l);
        let [x, v, t] = [0, 0, 0];
        for (const { time: h, acceleration: a, jerk: j } of p.phases) {
          for (const at of [a, a + j * h]) {
            const limit = at * distance > 0 ? l.acceleration : l.deceleration;
            expect(Math.abs(at)).toBeLessThanOrEqual(limit * (1 + 1e-9));
          }
          if (l.jerk !== null) expect(Math.abs(j)).toBeLessThanOrEqual(l.jerk * (1 + 1e-9));
          x += v * h + (a * h * h) / 2 + (j * h ** 3) / 6;
          v += a * h + (j * h * h) / 2;
          t += h;
          expect(Math.abs(v)).toBeLessThanOrEqual(l.velocity * (1 + 1e-9));
        }
        expect(Math.abs(x - distance)).toBeLessThan(1e-9 * way);
        expect(Math.abs(v)).toBeLessThan(1e-9 * p.speed);
        expect(t).toBeCloseTo(p.time, 9);
        // No move is quicker than at top speed throughout, or with the accelerations alone.
        const bound = Math.max(way / l.velocity, Math.sqrt(2 * way * (1 / l.acceleration + 1 / l.deceleration)));
        expect(p.time).toBeGreaterThanOrEqual(bound * (1 - 1e-9));
        if (l.jerk === null && p.bound === 'acceleration') expect(p.time).toBeCloseTo(bound, 9);
      }),
      { numRuns: 400 },
    );
  });
  test('the gentlest move takes the time wanted, with no more acceleration than the quickest', () => {
    fc.assert(
      fc.property(anyLimits, positive(1e-3, 5), positive(1.01, 8), (l, way, longer) => {
        const most = Math.min(l.acceleration, l.deceleration);
        const quickest = servoProfile(way, { ...l, acceleration: most, deceleration: most }).time;
        const p = gentlestProfile(way, quickest * longer, l);
        expect(Math.abs(p.time / (quickest * longer) - 1)).toBeLessThan(1e-6);
        expect(p.up.peak).toBeLessThanOrEqual(most);
        // A parabola is the least of all: 4D/T² (VDI 2143 part 1).
        expect(p.up.peak).toBeGreaterThanOrEqual(((4 * way) / (quickest * longer) ** 2) * (1 - 1e-6));
        expect(() => gentlestProfile(way, quickest * 0.98, l)).toThrow(TimeTooShort);
      }),
      { numRuns: 150 },
    );
  });
});

const none = { velocity: null, acceleration: null, deceleration: null, jerk: null };
const axis = { velocity: 1, acceleration: 5, jerk: null };
const travel = (id: string, value: number, more: object = {}): ServoBlock => ({
  id,
  kind: 'travel',
  given: 'by',
  value,
  time: null,
  ...none,
  ...more,
});

describe('block lists', () => {
  test('in order from home: travel, work with run-up and run-out, wait, oscillate, repeat, home', () => {
    const { stretches, results } = runBlocks(
      [
        travel('a', 0.2),
        { id: 'b', kind: 'work', length: 0.1, ...none, velocity: 0.5 },
        { id: 'c', kind: 'wait', time: 0.3 },
        { id: 'd', kind: 'oscillate', peakToPeak: 0.02, frequency: 5, cycles: 3, law: 'harmonic' },
        { id: 'e', kind: 'repeat', blocks: 2, times: 2 },
        { id: 'f', kind: 'home', ...none },
      ],
      0.05,
      axis,
    );
    expect(results.map(({ id, pass }) => `${id}${pass}`)).toEqual(['a1', 'b1', 'c1', 'd1', 'c2', 'd2', 'f1']);
    // Run-up and run-out at 0.5 m/s under 5 m/s²: v²/2a each.
    expect(results[1]).toMatchObject({
      runUp: expect.closeTo(0.025, 12),
      runOut: expect.closeTo(0.025, 12),
      start: 0.25,
      end: expect.closeTo(0.4, 12),
    });
    expect(results.at(-1)!.end).toBeCloseTo(0.05, 12);
    // A travel of 0.2 m reaches √(D a) = 1 m/s exactly; nothing is missing.
    expect(results[0]!.wanted).toBeNull();
    const motion = blocksMotion(stretches, 0.05, 4);
    for (const { to, end } of results) expect(motionAt(motion, to).position).toBeCloseTo(end, 10);
    const inWork = (results[1]!.from + results[1]!.to) / 2;
    expect(motionAt(motion, inWork).velocity).toBeCloseTo(0.5, 12);
    // A harmonic of 10 mm amplitude at 5 Hz: peak speed 2π f A (closed form).
    expect(results[3]!.speed).toBeCloseTo(2 * Math.PI * 5 * 0.01, 4);
  });
  test('a block too short for its speed says the speed it reaches', () => {
    const { results } = runBlocks([travel('a', 0.05)], 0, axis);
    expect(results[0]).toMatchObject({
      wanted: 1,
      speed: expect.closeTo(Math.sqrt(0.05 * 5), 12),
      bound: 'acceleration',
    });
  });
  test('errors name the block and say what to do', () => {
    expect(() => runBlocks([travel('a', 0.1)], 0, { ...axis, velocity: null })).toThrow(
      /Block 1 has no velocity: type one/,
    );
    expect(() => runBlocks([{ id: 'a', kind: 'repeat', blocks: 2, times: 2 }], 0, axis)).toThrow(
      /only 0 stand before it/,
    );
    expect(() => runBlocks([travel('a', 0.1, { time: 0.1 })], 0, axis)).toThrow(BlockError);
    expect(() => runBlocks([travel('a', 0.1, { time: 0.1 })], 0, axis)).toThrow(/allow 0.282843 s at best/);
  });
  test('given a wanted time: the lift of 300 mm in 0.4 s takes 7.5 m/s² as a parabola, 4D/T²', () => {
    const { results } = runBlocks([travel('a', 0.3, { time: 0.4, acceleration: 20, velocity: 5 })], 0, axis);
    expect(results[0]!.to).toBeCloseTo(0.4, 9);
    expect(gentlestProfile(0.3, 0.4, limits(5, 20, null)).up.peak).toBeCloseTo(7.5, 6);
  });
  test('work length is at its speed from end to end', () => {
    const { phases, runUp, speed } = workProfile(-0.2, limits(0.4, 2, 30));
    expect(phases.find(({ acceleration, jerk }) => acceleration === 0 && jerk === 0)!.time).toBeCloseTo(0.5, 12);
    expect(speed).toBe(0.4);
    expect(runUp).toBeCloseTo((0.4 / 2) * (0.4 / 2 + 2 / 30), 12);
  });
});
