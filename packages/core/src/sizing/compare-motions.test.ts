import { planOf } from '../../test/plans';
import { lawCharacteristics, makeLaw, type LawId } from '../law';
import { newAxis, newMachine, type Axis, type Machine } from '../machine';
import { compareMotions, motionOptions } from './index';

/** The same lift of 300 mm in 0.4 s written down in four ways, on a mass without friction or losses. */
function fourWays(): { machine: Machine; axis: Axis } {
  const machine = newMachine('Lift');
  machine.cycle = { given: 'time', time: 1 };
  const axis = newAxis('linear', [], 1);
  axis.limits = { velocity: 5, acceleration: 30, jerk: null };
  axis.travel = { min: 0, max: 0.4 };
  axis.load = { ...axis.load, inertia: 10 };
  axis.transmission = { kind: 'belt', radius: 0.05, inertia: 0, efficiency: 1, backEfficiency: 1, friction: 0 };
  axis.plan = planOf('poly345', [0.4, 0.3], [0.2], [0.4, 0]);
  const none = { velocity: null, acceleration: null, deceleration: null, jerk: null };
  const way = (id: string, name: string, source: Axis['motion']['source']) => ({
    id,
    name,
    plan: axis.plan,
    motion: { ...axis.motion, source },
  });
  const travel = (id: string, value: number) => ({
    kind: 'travel' as const,
    id,
    given: 'by' as const,
    value,
    time: 0.4,
    ...none,
  });
  axis.alternatives = [
    way('servo', 'Servo move', {
      kind: 'moves',
      blocks: [travel('b1', 0.3), { kind: 'wait', id: 'b2', time: 0.2 }, travel('b3', -0.3)],
    }),
    way('formula', 'Formula', {
      kind: 'formula',
      text: '300 mm * (rise(t, 0 s, 0.4 s, modifiedSine) - rise(t, 0.6 s, 1 s, modifiedSine))',
    }),
    way('table', 'Table', {
      kind: 'points',
      rows: Array.from({ length: 51 }, (_, k) => k / 50).map((t) => [
        t,
        t <= 0.4 ? rise(t / 0.4) : t < 0.6 ? 0.3 : rise((1 - t) / 0.4),
      ]),
      way: 'quintic',
      ends: 'rest',
      tolerance: 0,
    }),
  ];
  machine.axes = [axis];
  return { machine, axis };
}
const rise = (tau: number) => {
  const out = new Float64Array(4);
  makeLaw('cycloidal').derivatives(Math.max(0, Math.min(1, tau)), out, 0);
  return 0.3 * out[0]!;
};

test('plan, servo move, formula and table on this machine: torques are m r Ca s/T² of what each is', async () => {
  const { machine, axis } = fourWays();
  const compared = await compareMotions(machine, axis.id, motionOptions(axis, []));
  expect(compared.map(({ name, faults }) => `${name} ${faults}`)).toEqual([
    'As it is 0',
    'Servo move 0',
    'Formula 0',
    'Table 0',
  ]);
  const unit = (10 * 0.05 * 0.3) / 0.16;
  const laws: (LawId | number)[] = ['poly345', 4, 'modifiedSine'];
  laws.forEach((law, i) => {
    const ca = typeof law === 'number' ? law : lawCharacteristics(makeLaw(law)).ca;
    expect(compared[i]!.peaks.torque / (unit * ca)).toBeCloseTo(1, 3);
  });
  // The table was read off an inclined sine; its spline comes close.
  expect(compared[3]!.peaks.torque / (unit * 2 * Math.PI)).toBeCloseTo(1, 1);
  // The parabola has the least peak, the 3-4-5 of the smooth ones a higher one than the modified sine.
  expect(compared[1]!.jerky).toBe(true);
  expect(compared[2]!.jerky).toBe(false);
});

test('a plan under other laws stands beside it; what is no plan has no other laws', async () => {
  const { machine, axis } = fourWays();
  const options = motionOptions(axis, ['modifiedTrapezoid', 'harmonic']);
  expect(options.map(({ id }) => id)).toEqual([
    'now',
    'servo',
    'formula',
    'table',
    'law modifiedTrapezoid',
    'law harmonic',
  ]);
  const compared = await compareMotions(machine, axis.id, options.slice(4));
  const [best] = compared.sort((a, b) => a.peaks.torque - b.peaks.torque);
  expect(best!.name).toBe('Modified trapezoid');
  expect(
    motionOptions({ ...axis, motion: axis.alternatives[0]!.motion }, ['harmonic']).map(({ id }) => id),
  ).not.toContain('law harmonic');
});

test('at a constant speed nothing jumps from cycle to cycle; run once it begins and ends with a jump', async () => {
  const { machine, axis } = fourWays();
  axis.travel = null;
  axis.motion = { ...axis.motion, source: { kind: 'plan' } };
  axis.plan = planOf('straight', [1, 0.3]);
  const option = { id: 'on', name: 'On and on', plan: axis.plan, motion: axis.motion };
  const jerky = async (oneOff: boolean) => (await compareMotions({ ...machine, oneOff }, axis.id, [option]))[0]!.jerky;
  expect(await jerky(false)).toBe(false);
  expect(await jerky(true)).toBe(true);
});
