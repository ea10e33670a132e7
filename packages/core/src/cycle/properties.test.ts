import fc from 'fast-check';
import { loadContact } from '../contact';
import type { Cue, Machine } from '../machine';
import { mechanismSamples, signalChannels } from '../run';
import { beltLine, cue, cuedAxis, move, onRail, rises, sensor, sheetOf, stop, wait } from '../../test/cycles';
import { runCycle, simulateCycle, type CycleRecord } from '.';

const g = 9.80665;
beforeAll(() => loadContact());
const timeOf = (record: CycleRecord, kind: string, subject: string, turn = 0) =>
  record.events.filter((e) => e.kind === kind && e.subject === subject)[turn]?.time;

describe('properties', () => {
  const line = (sensors: Machine['sequence']['sensors'], cues: Cue[], times: number[], speed = 0.3): Machine => {
    const machine = sheetOf(cues, { sensors }, { loose: beltLine(speed, times), axes: [cuedAxis('x')] });
    machine.sequence.cycle.most = 6;
    return machine;
  };
  const eye = sensor('eye', { kind: 'beam', body: 'ground', from: [0.4, 0.005], to: [0.4, 0.1], sees: [] });

  test('no event is lost when the step changes', () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: 0, max: 2, noNaN: true }), { minLength: 1, maxLength: 5 }),
        fc.constantFrom(0.0007, 0.001, 0.002, 0.005),
        (raw, step) => {
          // Far enough apart not to touch.
          const times = raw.sort((a, b) => a - b).map((t, i) => t + 0.3 * i);
          const changes = (h: number) =>
            simulateCycle(line([eye], [], times), { step: h }).record.signals[0]!.times.length;
          expect(changes(step)).toBe(1 + 2 * times.length);
        },
      ),
      { numRuns: 12 },
    );
  });

  test('event times converge as the step falls', () => {
    // A part pushed off at 1 m/s that slides on a still belt: v² = v₀² − 2 μ g s.
    const machine = line([eye], [], [0.1], 0);
    machine.loose.sources[0]!.velocity = [2.5, 0];
    const v0 = 2.5;
    const mu = 0.6 * g;
    const exact = 0.1 + (v0 - Math.sqrt(v0 * v0 - 2 * mu * 0.38)) / mu;
    const error = (step: number) => Math.abs(simulateCycle(machine, { step }).record.signals[0]!.times[1]! - exact);
    expect(error(0.0005)).toBeLessThan(2e-4);
    expect(error(0.0005)).toBeLessThan(error(0.008) + 1e-5);
  });

  test('the same seed gives the same bits, another seed another run', () => {
    const machine = line(
      [eye],
      [cue('a', move('x', 0.1, 0.2), { when: rises('eye') }), cue('b', move('x', 0, 0.2), { after: ['a'] })],
      [0.1, 0.7, 1.4],
    );
    machine.loose.sources[0]!.scatter = { time: 0.03, place: 0.002, angle: 0.1 };
    const run = (seed: number) => JSON.stringify(simulateCycle(machine, { seed, sensorDelay: 0.01 }).record.events);
    expect(run(5)).toBe(run(5));
    expect(run(5)).not.toBe(run(6));
  });

  test('moving a sensor shifts all that follows by way over speed', () => {
    const at = (x: number) => {
      const moved = sensor('eye', { kind: 'beam', body: 'ground', from: [x, 0.005], to: [x, 0.1], sees: [] });
      return simulateCycle(
        line(
          [moved],
          [cue('a', move('x', 0.1, 0.2), { when: rises('eye') }), cue('b', move('x', 0, 0.3), { after: ['a'] })],
          [0],
        ),
      ).record;
    };
    const [near, far] = [at(0.4), at(0.52)];
    for (const id of ['a', 'b'])
      expect(timeOf(far, 'acts', id)! - timeOf(near, 'acts', id)!).toBeCloseTo(0.12 / 0.3, 4);
  });

  test('torques of cued moves are those of the same moves by plan', () => {
    const machine = sheetOf(
      [cue('a', move('x', 0.3, 0.4, 'modifiedSine')), cue('b', stop, { after: ['a'] })],
      {},
      { axes: [cuedAxis('x')] },
    );
    const { run } = runCycle(machine);
    const axis = run.axes[0]!;
    // Common practice: peak force m Ca s / T².
    const { inertia } = machine.axes[0]!.load;
    expect(Math.max(...axis.channels.effort) / ((inertia * 5.528 * 0.3) / 0.16)).toBeCloseTo(1, 3);
  });

  test('signals are channels of the run', () => {
    const machine = sheetOf(
      [cue('a', wait(1)), cue('b', stop, { after: ['a'] })],
      { sensors: [sensor('s', { kind: 'button', presses: [{ at: 0.3, hold: 0.2 }] })] },
      { axes: [cuedAxis('x')] },
    );
    const { run } = runCycle(machine);
    expect(signalChannels(machine, run).map(({ id, object }) => [id, object])).toEqual([['signal:s', 's']]);
    const samples = mechanismSamples(machine, run, 'signal:s')!;
    run.times.forEach((time, k) => expect(samples[k]).toBe(time >= 0.3 && time < 0.5 ? 1 : 0));
  });

  test('switched forces and pushes come back as load', () => {
    const { run, record } = runCycle(
      sheetOf(
        [
          cue('w', wait(0.5)),
          cue('l', { do: 'load', axis: 'x', force: -40 }, { after: ['w'] }),
          cue('v', wait(0.5), { after: ['l'] }),
          cue('s', stop, { after: ['v'] }),
        ],
        {},
        { axes: [cuedAxis('x')] },
      ),
    );
    expect(record.duration).toBeCloseTo(1, 9);
    const effort = (time: number) => run.axes[0]!.channels.effort[run.times.findIndex((t) => t >= time)]!;
    expect(effort(0.4)).toBeCloseTo(0, 6);
    expect(effort(0.6)).toBeCloseTo(40, 6);
  });

  // Textbook: what slides on a level floor asks for μ m g; held still or free it asks for nothing.
  test.each([false, true])(
    'a part pushed along the floor comes back as load of the axis, turned round: %s',
    (reversed) => {
      const loose = beltLine(0.3, [0.01]);
      loose.belts = [];
      loose.materials.push({ id: 'steel', name: 'steel' });
      loose.pairs.push({ id: 'q', a: 'steel', b: 'card', friction: 0, restitution: 0 });
      loose.surfaces = [{ id: 'f', name: 'Floor', body: 'ground', material: 'rubber', line: [[-1, 0], [2, 0]], thickness: 0.05 }]; // prettier-ignore
      loose.sources[0]!.velocity = [0, 0];
      loose.solids = [{ body: 'b', material: 'steel', as: 'exact' }];
      const sign = reversed ? -1 : 1;
      const machine = sheetOf(
        [cue('go', move('x', sign * 0.5, 2, 'trapezoidal'), { delay: 0.2 }), cue('end', stop, { after: ['go'] })],
        {},
        { loose, axes: [cuedAxis('x', { joint: 'j', reversed })] },
      );
      const outline: [number, number][] = [[-0.02, -0.008], [0, -0.008], [0, 0.008], [-0.02, 0.008]]; // prettier-ignore
      onRail(machine, -0.1, 0.01, { kind: 'plate', outline, holes: [] }, -0.2, 0.1);
      const { run } = runCycle(machine);
      const times = run.times;
      // The mass of the plate does not count where it goes at constant speed.
      const effort = run.axes.find(({ axisId }) => axisId === 'x')!.channels.effort;
      const between = (from: number, to: number) => effort.filter((_, k) => times[k]! > from && times[k]! < to);
      const mean = (values: Float64Array) => values.reduce((sum, v) => sum + v, 0) / values.length;
      // The plate meets the box after 80 mm; then it moves at constant speed in the middle third.
      expect(mean(between(1.0, 1.4)) / (sign * 0.6 * 0.2 * g)).toBeCloseTo(1, 2);
      const pushed = mechanismSamples(machine, run, 'element:b.parts:force')!;
      expect(pushed.filter((_, k) => times[k]! < 0.25).every((force) => force === 0)).toBe(true);
    },
  );
});
