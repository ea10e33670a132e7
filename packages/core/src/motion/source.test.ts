import fc from 'fast-check';
import { checkMotion, MachineMotions, motionAt, type MotionSource } from './index';

const plan = {
  start: 0,
  segments: [
    { kind: 'move' as const, id: 'a', duration: 0.4, to: 2, law: { id: 'cycloidal' as const } },
    { kind: 'dwell' as const, id: 'b', duration: 0.3 },
    { kind: 'move' as const, id: 'c', duration: 0.3, to: 0, law: { id: 'trapezoidal' as const } },
  ],
};
const initial = { position: 0.5, velocity: -0.2 };
const of = (level: MotionSource['level'], source: MotionSource['source'], T = 1) =>
  new MachineMotions({
    cycleTime: T,
    master: { kind: 'rotary', wrap: 2 * Math.PI, start: 0, course: { kind: 'cycle' } },
    constants: [],
    axes: [
      {
        id: 'a',
        name: 'A',
        kind: 'linear',
        home: 0,
        limits: { velocity: null, acceleration: null, jerk: null },
        plan,
        motion: { level, over: 'time', source, initial, engage: null },
      },
    ],
  }).of('a').motion;

describe('levels below position are integrated', () => {
  test('a plan in velocity: distance is the area under it – strokes times time by the symmetry of the laws', () => {
    const motion = of('velocity', { kind: 'plan' });
    // Rise to 2 over 0.4 s, dwell 0.3 s, back over 0.3 s: 0.4 + 0.6 + 0.3.
    expect(motionAt(motion, 1, 'before').position).toBeCloseTo(0.5 + 1.3, 12);
    expect(motionAt(motion, 0.55).velocity).toBeCloseTo(2, 12);
    expect(motionAt(motion, 0.55).acceleration).toBeCloseTo(0, 12);
  });

  test('a plan in acceleration: twice the area', () => {
    const motion = of('acceleration', { kind: 'plan' });
    expect(motionAt(motion, 1, 'before').velocity).toBeCloseTo(-0.2 + 1.3, 12);
    const position = (t: number) => motionAt(motion, t).position;
    expect((position(0.5 + 1e-4) - position(0.5 - 1e-4)) / 2e-4).toBeCloseTo(motionAt(motion, 0.5).velocity, 7);
  });

  test('constant at each level: rest, uniform motion, uniform acceleration', () => {
    expect(motionAt(of('position', { kind: 'constant', value: 3 }), 0.7)).toMatchObject({ position: 3, velocity: 0 });
    expect(motionAt(of('velocity', { kind: 'constant', value: 3 }), 0.7).position).toBeCloseTo(0.5 + 2.1, 12);
    expect(motionAt(of('acceleration', { kind: 'constant', value: 3 }), 0.7).position).toBeCloseTo(
      0.5 - 0.14 + 1.5 * 0.49,
      12,
    );
  });

  test('harmonic at any level: each derivative is the slope of the one before', () => {
    fc.assert(
      fc.property(
        fc.constantFrom('position' as const, 'velocity' as const, 'acceleration' as const),
        fc.double({ min: 0.5, max: 4, noNaN: true }),
        fc.double({ min: -3, max: 3, noNaN: true }),
        fc.double({ min: 0.05, max: 0.95, noNaN: true }),
        (level, frequency, phase, t) => {
          const motion = of(level, { kind: 'harmonic', mean: 0.3, amplitude: 1.2, frequency, phase });
          const h = 1e-6;
          const [a, b] = [motionAt(motion, t - h), motionAt(motion, t + h)];
          const here = motionAt(motion, t);
          expect((b.position - a.position) / (2 * h)).toBeCloseTo(here.velocity, 4);
          expect((b.velocity - a.velocity) / (2 * h) / 100).toBeCloseTo(here.acceleration / 100, 4);
          expect((b.acceleration - a.acceleration) / (2 * h) / 1e4).toBeCloseTo(here.jerk / 1e4, 4);
          const start = motionAt(motion, 0);
          if (level !== 'position') expect(start.position).toBeCloseTo(0.5, 12);
          if (level === 'acceleration') expect(start.velocity).toBeCloseTo(-0.2, 12);
        },
      ),
    );
  });
});

describe('what is said about such motions', () => {
  const context = { cycleTime: 1, limits: { velocity: 5, acceleration: null, jerk: null }, travel: null };
  test('a turning shaft moves on every cycle; that is no error', () => {
    expect(checkMotion(of('velocity', { kind: 'constant', value: 2 }), context)).toEqual([
      expect.objectContaining({ code: 'advances', severity: 'info' }),
    ]);
  });
  test('limits and ends are found with their place', () => {
    const motion = of('position', { kind: 'harmonic', mean: 0, amplitude: 1, frequency: 1, phase: 0 });
    const findings = checkMotion(motion, { ...context, travel: { min: -0.9, max: 2 } });
    expect(findings.map(({ code }) => code)).toEqual(['over-limit', 'travel']);
    expect(findings[0]).toMatchObject({ quantity: 'velocity', limit: 5 });
    if (findings[1]!.code === 'travel') expect(findings[1].time).toBeCloseTo(0.75, 3);
  });
  test('a cycle that holds no whole number of periods jumps at its seam', () => {
    const motion = of('position', { kind: 'harmonic', mean: 0, amplitude: 0.1, frequency: 1.25, phase: 0 });
    expect(checkMotion(motion, context).map(({ code }) => code)).toContain('seam');
  });
});
