import { loadContact } from '../contact';
import { LAW_IDS, makeLaw } from '../law';
import { motionAt } from '../motion';
import { beltLine, cue, cuedAxis, move, onRail, sensor, sheetOf } from '../../test/cycles';
import { planCylinder, simulateCycle, type CycleRecord } from '.';

const g = 9.80665;
beforeAll(() => loadContact());
const timeOf = (record: CycleRecord, kind: string, subject: string, turn = 0) =>
  record.events.filter((e) => e.kind === kind && e.subject === subject)[turn]?.time;

describe('event times against closed forms', () => {
  // Closed form: the front of a part reaches the beam after way / speed.
  test.each([0.0005, 0.002, 0.004])('a part on a belt cuts a beam, step %d s', (step) => {
    const machine = sheetOf(
      [],
      { sensors: [sensor('eye', { kind: 'beam', body: 'ground', from: [0.5, 0.005], to: [0.5, 0.1], sees: [] })] },
      { loose: beltLine(0.3, [0.1234]) },
    );
    machine.sequence.cycle.most = 3;
    const { record } = simulateCycle(machine, { step });
    const front = 0.1234 + (0.5 - 0.02) / 0.3;
    const back = 0.1234 + (0.5 + 0.02) / 0.3;
    // The part settles on the belt first: 0.1 mm at most.
    expect(Math.abs(timeOf(record, 'sensor', 'eye', 0)! - front)).toBeLessThan(1e-4 / 0.3);
    expect(Math.abs(timeOf(record, 'sensor', 'eye', 1)! - back)).toBeLessThan(1e-4 / 0.3);
  });

  // Closed form: t = √(2 h / g).
  test('a part falls past a beam', () => {
    const loose = { ...beltLine(0.3, [0.25]), belts: [] };
    loose.sources[0]!.velocity = [0, 0];
    const machine = sheetOf(
      [],
      { sensors: [sensor('eye', { kind: 'beam', body: 'ground', from: [-0.1, -0.5], to: [0.1, -0.5], sees: [] })] },
      { loose },
    );
    machine.sequence.cycle.most = 1;
    const { record } = simulateCycle(machine);
    // The lower face of the box starts at y = 0.
    expect(timeOf(record, 'sensor', 'eye')).toBeCloseTo(0.25 + Math.sqrt(1 / g), 4);
    expect(timeOf(record, 'sensor', 'eye', 1)).toBeCloseTo(0.25 + Math.sqrt((2 * 0.52) / g), 4);
  });

  // The law itself says where the axis is when the sensor changes.
  test.each(LAW_IDS.filter((id) => id !== 'straight'))('an axis passes a threshold under %s', (law) => {
    const { record } = simulateCycle(
      sheetOf(
        [cue('go', move('x', 0.3, 0.8, law), { delay: 0.1 })],
        {
          sensors: [
            sensor('s', { kind: 'position', axis: 'x', quantity: 'position', side: 'above', value: 0.11 }),
            sensor('v', { kind: 'position', axis: 'x', quantity: 'speed', side: 'above', value: 0.2 }),
          ],
        },
        { axes: [cuedAxis('x')] },
      ),
    );
    const out = new Float64Array(4);
    const at = timeOf(record, 'sensor', 's')!;
    makeLaw(law).derivatives((at - 0.1) / 0.8, out, 0);
    expect(0.3 * out[0]!).toBeCloseTo(0.11, 9);
    const fast = timeOf(record, 'sensor', 'v')!;
    makeLaw(law).derivatives((fast - 0.1) / 0.8, out, 0);
    expect((0.3 * out[1]!) / 0.8).toBeCloseTo(0.2, 9);
  });

  // The law says where the acceleration, and with it the force m a, passes the value.
  test('a force passes a threshold', () => {
    const machine = sheetOf(
      [cue('go', move('x', 0.3, 0.6, 'cycloidal'), { delay: 0.1 })],
      { sensors: [sensor('f', { kind: 'force', axis: 'x', side: 'above', value: 12 })] },
      { axes: [cuedAxis('x')] },
    );
    const { record } = simulateCycle(machine);
    const out = new Float64Array(4);
    for (const turn of [0, 1]) {
      makeLaw('cycloidal').derivatives((timeOf(record, 'sensor', 'f', turn)! - 0.1) / 0.6, out, 0);
      expect((machine.axes[0]!.load.inertia * 0.3 * out[2]!) / 0.36).toBeCloseTo(12, 4);
    }
  });

  // A body led towards a face is near it when the way left is the distance; it goes off beyond the hysteresis.
  test('a body comes near a face', () => {
    const near = sensor(
      'n',
      { kind: 'proximity', body: 'ground', from: [0.2, -0.1], to: [0.2, 0.1], distance: 0.03, bodies: ['b'], parts: false, sees: [] }, // prettier-ignore
      { hysteresis: 0.01 },
    );
    const machine = sheetOf(
      [cue('go', move('x', 0.19, 0.5, 'harmonic')), cue('back', move('x', 0, 0.5, 'harmonic'), { after: ['go'] })],
      { sensors: [near] },
      { axes: [cuedAxis('x', { joint: 'j' })] },
    );
    onRail(machine, 0, 0, { kind: 'disc', centre: [0, 0], radius: 0.01 });
    const { record, found } = simulateCycle(machine);
    const at = (turn: number) => motionAt(found.motions.axes.get('x')!, timeOf(record, 'sensor', 'n', turn)!).position;
    expect(at(0)).toBeCloseTo(0.2 - 0.03 - 0.01, 5);
    expect(at(1)).toBeCloseTo(0.2 - 0.04 - 0.01, 5);
  });

  // Closed form of a throttled, cushioned cylinder: fill + v/a + (way − v²/2a − c)/v + 2c/(v + vₑ).
  test('a cylinder goes out in its time', () => {
    const way = { fill: 0.03, speed: 0.5, cushion: 0.02, endSpeed: 0.1 };
    const cylinder = { out: way, in: way, acceleration: 10 };
    const rest = { position: 0, velocity: 0, acceleration: 0, jerk: 0 };
    const stretches = planCylinder(cylinder, { min: 0, max: 0.2 }, 'out', rest, 1);
    const time = 0.03 + 0.05 + (0.2 - 0.0125 - 0.02) / 0.5 + 0.04 / 0.6;
    expect(stretches.at(-1)!.to).toBeCloseTo(1 + time, 12);
    const { found } = simulateCycle(
      sheetOf(
        [cue('out', { do: 'cylinder', axis: 'x', to: 'out' })],
        {},
        { axes: [cuedAxis('x', { cylinder, travel: { min: 0, max: 0.2 } })] },
      ),
    );
    expect(motionAt(found.motions.axes.get('x')!, found.motions.duration).position).toBeCloseTo(0.2, 12);
  });
});
