import fc from 'fast-check';
import { makeLaw, lawAt } from '../law';
import {
  checkAxisMotion,
  kneeStates,
  MachineMotions,
  motionAt,
  planMotion,
  type Master,
  type Motion,
  type MotionPlan,
  type MotionSource,
  type MovingAxis,
} from './index';

const plain: MovingAxis = {
  id: 'a',
  name: 'Lift',
  kind: 'linear',
  home: 0,
  limits: { velocity: null, acceleration: null, jerk: null },
  plan: { start: 0, segments: [] },
  motion: {
    level: 'position',
    over: 'time',
    source: { kind: 'plan' },
    initial: { position: 0, velocity: 0 },
    engage: null,
  },
};
const turning: Master = { kind: 'rotary', wrap: 2 * Math.PI, start: 0, course: { kind: 'cycle' } };
const axis = (motion: Partial<MotionSource>, more: Partial<MovingAxis> = {}): MovingAxis => ({
  ...plain,
  ...more,
  motion: { ...plain.motion, ...motion },
});
const machine = (
  axes: MovingAxis[],
  master = turning,
  cycleTime = 2,
  constants: { name: string; text: string }[] = [],
) => new MachineMotions({ cycleTime, master, axes, constants });
const formula = (text: string, more: Partial<MotionSource> = {}) =>
  axis({ source: { kind: 'formula', text }, ...more });

/** Derivatives by five-point differences of the order below, away from edges: what a motion says must hang together. */
function hangsTogether(motion: Motion, digits = 4): void {
  const h = motion.duration * 1e-5;
  for (let k = 1; k < 60; k++) {
    const t = (motion.duration * (k + 0.37)) / 61;
    if (motion.edges.some((edge) => Math.abs(edge - t) < 3 * h)) continue;
    const s = [-2, -1, 1, 2].map((i) => motionAt(motion, t + i * h));
    for (const [low, high] of [
      ['position', 'velocity'],
      ['velocity', 'acceleration'],
      ['acceleration', 'jerk'],
    ] as const) {
      const slope = (s[0]![low] - 8 * s[1]![low] + 8 * s[2]![low] - s[3]![low]) / (12 * h);
      const value = motionAt(motion, t)[high];
      expect(Math.abs(slope - value)).toBeLessThan(10 ** -digits * Math.max(1, Math.abs(value)));
    }
  }
}

describe('knees in motion', () => {
  const move = (id: string, duration: number, to: number, more: object = {}) => ({
    kind: 'move' as const,
    id,
    duration,
    to,
    law: { id: 'poly345' as const },
    ...more,
  });
  test('a curve next to a straight line takes over its speed, whatever its law (VDI 2143: rest to constant speed)', () => {
    for (const law of ['poly345', 'modifiedSine', 'cycloidal', 'jerkLimited'] as const) {
      const plan: MotionPlan = {
        start: 0,
        segments: [
          move('a', 0.4, 0.1, { law: { id: law } }),
          move('b', 1, 0.7, { law: { id: 'straight' } }),
          move('c', 0.4, 0.8, { law: { id: law } }),
          { kind: 'dwell', id: 'd', duration: 0.2 },
        ],
      };
      const motion = planMotion(plan, 2);
      for (const t of [0.4, 1.4]) {
        expect(motionAt(motion, t, 'before').velocity).toBeCloseTo(0.6, 10);
        expect(motionAt(motion, t).velocity).toBeCloseTo(0.6, 10);
        expect(motionAt(motion, t, 'before').acceleration).toBeCloseTo(0, 8);
      }
      hangsTogether(motion, 3);
    }
  });
  test('given values are met: position, velocity and acceleration', () => {
    const plan: MotionPlan = {
      start: 0,
      segments: [move('a', 0.5, 0.2, { knee: { velocity: -0.3, acceleration: 4 } }), move('b', 0.5, 0)],
    };
    const state = motionAt(planMotion(plan, 1), 0.5, 'before');
    expect([state.position, state.velocity, state.acceleration]).toEqual([
      expect.closeTo(0.2, 12),
      expect.closeTo(-0.3, 10),
      expect.closeTo(4, 9),
    ]);
  });
  test('free knees join to the fourth derivative: jerk goes on smoothly (property)', () => {
    const free = { velocity: null, acceleration: null };
    fc.assert(
      fc.property(
        fc.array(
          fc.record({
            duration: fc.double({ min: 0.2, max: 1, noNaN: true }),
            to: fc.double({ min: -1, max: 1, noNaN: true }),
          }),
          { minLength: 3, maxLength: 6 },
        ),
        (list) => {
          const plan: MotionPlan = {
            start: 0,
            segments: list.map(({ duration, to }, i) =>
              move(`s${i}`, duration, i === list.length - 1 ? 0 : to, { knee: free }),
            ),
            knee: free,
          };
          const T = list.reduce((sum, { duration }) => sum + duration, 0);
          const motion = planMotion(plan, T);
          for (const { time } of kneeStates(plan).slice(1, -1)) {
            const [before, after] = [motionAt(motion, time, 'before'), motionAt(motion, time)];
            expect(Math.abs(after.jerk - before.jerk)).toBeLessThan(1e-6 * Math.max(100, Math.abs(before.jerk)));
          }
          // The plan closes: its two ends are one knee.
          const [end, start] = [motionAt(motion, T, 'before'), motionAt(motion, 0)];
          expect(end.velocity).toBeCloseTo(start.velocity, 6);
          expect(Math.abs(end.jerk - start.jerk)).toBeLessThan(1e-6 * Math.max(100, Math.abs(end.jerk)));
        },
      ),
      { numRuns: 40 },
    );
  });
});

describe('formulas lead axes', () => {
  test('position: derivatives hang together, pieces are found', () => {
    const { motion, problems } = machine([
      formula('60 mm * rise(t, 0.2 s, 0.7 s, modifiedSine) - 60 mm * rise(t, 1.0 s, 1.8 s) + 2 mm * sin(3 * master)'),
    ]).of('a');
    expect(problems).toEqual([]);
    for (const edge of [0.2, 0.7, 1, 1.8])
      expect(Math.min(...motion.edges.map((e) => Math.abs(e - edge)))).toBeLessThan(1e-12);
    hangsTogether(motion, 3);
  });
  test('velocity and acceleration are integrated exactly: a sine gives its closed form', () => {
    const v = machine([
      formula('50 mm/s * sin(2 pi t / T)', { level: 'velocity', initial: { position: 0.01, velocity: 0 } }),
    ]).of('a').motion;
    for (const t of [0.3, 1.1, 1.9])
      expect(motionAt(v, t).position).toBeCloseTo(0.01 + (0.05 / Math.PI) * (1 - Math.cos(Math.PI * t)), 12);
    const a = machine([formula('200 mm/s^2 * cos(pi t / (1 s))', { level: 'acceleration' })]).of('a').motion;
    expect(motionAt(a, 1.3).velocity).toBeCloseTo((0.2 / Math.PI) * Math.sin(Math.PI * 1.3), 12);
    expect(motionAt(a, 1.3).position).toBeCloseTo((0.2 / Math.PI ** 2) * (1 - Math.cos(Math.PI * 1.3)), 12);
  });
  test('a velocity formula must give a velocity; the message says what it gives', () => {
    const { problems, motion } = machine([formula('50 mm * t / T', { level: 'velocity' })]).of('a');
    expect(problems[0]).toMatchObject({ code: 'formula', text: 'The formula gives a length; a velocity is wanted.' });
    expect(motionAt(motion, 1).velocity).toBe(0);
  });
  test('other axes: it follows with all derivatives; axes that wait for each other are named', () => {
    const lift = formula('100 mm * rise(t, 0 s, 1 s, cycloidal)');
    const other = { ...formula('0.5 * position("Lift") + gap'), id: 'b', name: 'Gripper' };
    const motions = machine([lift, other], turning, 2, [{ name: 'gap', text: '3 mm' }]);
    const law = lawAt(makeLaw('cycloidal'), 0.3);
    const state = motionAt(motions.of('b').motion, 0.3);
    expect([state.position, state.velocity, state.acceleration, state.jerk]).toEqual(
      [0.003 + 0.05 * law[0]!, 0.05 * law[1]!, 0.05 * law[2]!, 0.05 * law[3]!].map((x) => expect.closeTo(x, 9)),
    );
    const round = machine([formula('position("Gripper")'), other], turning, 2, [{ name: 'gap', text: '3 mm' }]);
    expect(round.of('a').problems[0]).toMatchObject({ text: expect.stringMatching(/goes along with “Gripper”/) });
    expect(round.of('b').problems[0]).toMatchObject({
      text: expect.stringMatching(/wait for each other: “Lift” → “Gripper” → “Lift”/),
    });
  });
  test('what gives no number is said with its place in time', () => {
    expect(machine([formula('1 mm * sqrt(1 - t / (1 s))')]).of('a').problems[0]).toMatchObject({
      text: expect.stringMatching(/velocity .* infinite at t = 1:/),
    });
  });
});

describe('the master and its followers', () => {
  test('a ramped master stops exactly at its position', () => {
    const master: Master = {
      kind: 'rotary',
      wrap: 2 * Math.PI,
      start: 0,
      course: { kind: 'ramp', speed: 8, up: 0.3, down: 0.4, stop: 4 * Math.PI, law: 'poly345' },
    };
    const motions = machine([plain], master);
    expect(motions.masterProblem).toBeNull();
    const end = motionAt(motions.master, 2, 'before');
    expect(end.position).toBeCloseTo(4 * Math.PI, 10);
    expect(end.velocity).toBeCloseTo(0, 10);
    expect(motionAt(motions.master, 0.3).velocity).toBeCloseTo(8, 10);
    expect(motionAt(motions.master, 0.3).position).toBeCloseTo(8 * 0.15, 10);
  });
  test('a stop that the ramps run past, or that the cycle does not reach, is refused in words', () => {
    const course = { kind: 'ramp', speed: 8, up: 0.3, down: 0.4, stop: 1, law: 'poly345' } as const;
    expect(machine([plain], { ...turning, course }).masterProblem).toMatch(/two ramps alone/);
    expect(machine([plain], { ...turning, course: { ...course, stop: 40 } }).masterProblem).toMatch(
      /reaches its stop after/,
    );
  });
  test('following by ratio carries all derivatives', () => {
    const motions = machine([
      formula('100 mm * rise(t, 0 s, 2 s)'),
      { ...axis({ source: { kind: 'follow', axis: 'a', ratio: -2, offset: 0.5 } }), id: 'b', name: 'B' },
    ]);
    const [a, b] = ['a', 'b'].map((id) => motionAt(motions.of(id).motion, 0.7)) as [
      ReturnType<typeof motionAt>,
      ReturnType<typeof motionAt>,
    ];
    expect(b.position).toBeCloseTo(0.5 - 2 * a.position, 12);
    expect(b.jerk).toBeCloseTo(-2 * a.jerk, 9);
  });
  test('a plan over a master that ramps: derivatives by the chain rule hang together', () => {
    const master: Master = {
      ...turning,
      course: { kind: 'ramp', speed: 5, up: 0.5, down: 0.5, stop: 2 * Math.PI, law: 'cycloidal' },
    };
    const plan: MotionPlan = {
      start: 0,
      segments: [
        { kind: 'move', id: 'a', duration: Math.PI, to: 0.2, law: { id: 'poly4567' } },
        { kind: 'move', id: 'b', duration: Math.PI, to: 0, law: { id: 'poly345' } },
      ],
    };
    const motion = machine([axis({ over: 'master' }, { plan })], master).of('a').motion;
    hangsTogether(motion, 3);
    expect(motionAt(motion, 2, 'before').position).toBeCloseTo(0, 10);
  });
  test('a plan over the master goes round with every wrap, and on where it does not close', () => {
    const plan: MotionPlan = {
      start: 0,
      segments: [
        { kind: 'move', id: 'a', duration: Math.PI, to: 0.2, law: { id: 'cycloidal' } },
        { kind: 'dwell', id: 'b', duration: Math.PI },
      ],
    };
    const motion = machine([axis({ over: 'master' }, { plan })], {
      ...turning,
      course: { kind: 'speed', speed: 4 * Math.PI },
    }).of('a').motion;
    // Two turns a second: after 0.6 s one wrap and a fifth.
    expect(motionAt(motion, 0.6).position).toBeCloseTo(0.2 + 0.2 * lawAt(makeLaw('cycloidal'), 0.4)[0]!, 9);
  });

  test('a plan longer than a wrap is cut off, and says so', () => {
    const plan: MotionPlan = { start: 0, segments: [{ kind: 'dwell', id: 'a', duration: 7 }] };
    expect(machine([axis({ over: 'master' }, { plan })]).of('a').problems[0]).toMatchObject({
      text: expect.stringMatching(/longer than one wrap/),
    });
  });

  const engage = { at: Math.PI / 2, leave: null, waits: 0, lead: { how: 'refuse' as const }, restsAt: null };
  const sine = '40 mm * sin(master)';
  test('engaging where it would jump is refused, with the jump computed beforehand', () => {
    const { problems, motion, jump } = machine([formula(sine, { over: 'master', engage })]).of('a');
    // At 90° the sine stands at 40 mm with no speed.
    expect(jump).toMatchObject({
      position: expect.closeTo(0.04, 12),
      velocity: expect.closeTo(0, 9),
      time: expect.closeTo(0.5, 9),
    });
    expect(problems[0]).toMatchObject({ code: 'engage', jump: { position: expect.closeTo(0.04, 12) } });
    expect(motionAt(motion, 1).position).toBe(0);
  });
  test('bridged by a lead-in it goes on without a jump to the second derivative, and out again (property)', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.1, max: 2, noNaN: true }),
        fc.double({ min: 0.3, max: 1.5, noNaN: true }),
        (at, over) => {
          const { motion, problems } = machine([
            formula(sine, {
              over: 'master',
              engage: { ...engage, at, lead: { how: 'bridge', over }, leave: 4.2, restsAt: 0 },
            }),
          ]).of('a');
          expect(problems).toEqual([]);
          for (const place of [at, at + over, 4.2, 4.2 + over]) {
            const t = place / Math.PI;
            const [before, after] = [motionAt(motion, t - 1e-9), motionAt(motion, t + 1e-9)];
            expect(after.position).toBeCloseTo(before.position, 7);
            expect(after.velocity).toBeCloseTo(before.velocity, 6);
            expect(Math.abs(after.acceleration - before.acceleration)).toBeLessThan(1e-5);
          }
          const inside = at + over + 0.1;
          if (inside < 4.2) expect(motionAt(motion, inside / Math.PI).position).toBeCloseTo(0.04 * Math.sin(inside), 9);
          expect(motionAt(motion, 2, 'before').position).toBeCloseTo(0, 9);
        },
      ),
      { numRuns: 40 },
    );
  });
  test('where nothing would jump, it engages without a lead-in', () => {
    const { problems, motion } = machine([
      formula('40 mm * rise(master, 90 deg, 180 deg)', { over: 'master', engage }),
    ]).of('a');
    expect(problems).toEqual([]);
    expect(motionAt(motion, 0.75).position).toBeCloseTo(0.02, 9);
  });
});

describe('continuity up to the order that is wanted', () => {
  const codes = (law: 'harmonic' | 'poly345' | 'poly4567', smooth: 'velocity' | 'acceleration' | 'jerk') => {
    const plan: MotionPlan = {
      start: 0,
      segments: [
        { kind: 'move', id: 'a', duration: 0.7, to: 0.2, law: { id: law } },
        { kind: 'dwell', id: 'b', duration: 0.3 },
        { kind: 'move', id: 'c', duration: 0.7, to: 0, law: { id: law } },
        { kind: 'dwell', id: 'd', duration: 0.3 },
      ],
    };
    const own = axis({}, { plan });
    const made = machine([own]).of('a');
    return checkAxisMotion(own, made, { cycleTime: 2, limits: own.limits, travel: null, smooth }).map(
      (finding) => finding.code,
    );
  };
  test('steps of the acceleration (harmonic) and of the jerk (3-4-5) are findings only where they are not wanted', () => {
    expect(codes('harmonic', 'velocity')).toEqual([]);
    expect(codes('harmonic', 'acceleration')).toContain('jump');
    expect(codes('poly345', 'acceleration')).toEqual([]);
    expect(codes('poly345', 'jerk')).toEqual(['break']);
    expect(codes('poly4567', 'jerk')).toEqual([]);
  });
});
