import { loadContact } from '../contact';
import { readMachine, type Machine } from '../machine';
import { beltLine, cue, cuedAxis, move, sheetOf, stop, wait } from '../../test/cycles';
import { cycleMeasures, everyChannel, everySamples, explainCycleFinding, runCycle, tooCloseAt } from '.';

beforeAll(() => loadContact());

describe('axes on one line', () => {
  /** Two carriages 200 mm apart where both are at 0; the first follows up to 150 mm, the second stands. */
  function carriages(least: number, stops = false): Machine {
    const machine = sheetOf(
      [cue('go', move('a', 0.15, 1, 'straight')), cue('w', wait(1)), cue('e', stop, { after: ['w'] })],
      {},
      { axes: [cuedAxis('a', { name: 'Left' }), cuedAxis('b', { name: 'Right', colour: 1 })] },
    );
    machine.sequence.spacings = [{ id: 'd', name: 'Apart', a: 'a', b: 'b', apart: 0.2, least, stop: stops }];
    return machine;
  }

  test('the distance is that between the two, and where it is less than wanted is found', () => {
    const machine = carriages(0.08);
    const { record } = runCycle(machine);
    const [curve] = record.clearances;
    expect(curve!.least.clearance).toBeCloseTo(0.05, 6);
    // At constant speed 0.2 − 0.15 t = 0.08.
    expect(curve!.violated).toBeCloseTo(0.8, 6);
    const finding = record.findings.find(({ code }) => code === 'clearance')!;
    expect(explainCycleFinding(finding, machine)).toMatch(/^Apart: Left and Right come closer than wanted at 0\.8.s/);
    expect(tooCloseAt(machine.sequence, record.clearances, 0.7)).toEqual([]);
    expect(tooCloseAt(machine.sequence, record.clearances, 0.9)).toMatchObject([{ a: 'a', b: 'b' }]);
  });

  test('what stays apart is fine, and one that shall end the run does', () => {
    expect(runCycle(carriages(0.04)).record.findings.map(({ code }) => code)).not.toContain('clearance');
    const { record } = runCycle(carriages(0.08, true));
    expect(record.end).toBe('monitor');
    expect(record.duration).toBeCloseTo(0.8, 3);
  });

  test('only axes along a line, and two of them', () => {
    const machine = carriages(0.08);
    machine.axes[1] = { ...machine.axes[1]!, kind: 'rotary' };
    const read = readMachine(JSON.parse(JSON.stringify(machine)));
    expect(read.ok ? [] : read.problems.map(({ message }) => message)).toContain(
      'names a rotary axis: only what goes along a line keeps a distance',
    );
    machine.sequence.spacings![0]!.b = 'a';
    const same = readMachine(JSON.parse(JSON.stringify(machine)));
    expect(same.ok ? [] : same.problems.map(({ message }) => message)).toContain('must name another axis than a');
  });
});

describe('channels of everything', () => {
  const line = () => {
    const machine = sheetOf([], {}, { loose: beltLine(0.2, [0.1, 0.5]) });
    machine.sequence.cycle.most = 2;
    return machine;
  };

  test('loose parts have place and speed: on a belt they go at its speed', () => {
    const machine = line();
    const ran = runCycle(machine);
    const channels = everyChannel(machine, ran).filter(({ group }) => group === 'part');
    expect(channels.map(({ id }) => id)).toEqual([0, 1].flatMap((n) => ['x', 'y', 'angle', 'v'].map((q) => `part:${n}:${q}`))); // prettier-ignore
    const at = (time: number) => ran.run.times.findIndex((t) => t >= time);
    const speed = everySamples(machine, ran, 'part:0:v')!;
    const x = everySamples(machine, ran, 'part:0:x')!;
    expect(speed[at(1.5)]).toBeCloseTo(0.2, 3);
    expect(x[at(1.5)]! - x[at(1)]!).toBeCloseTo(0.1, 3);
    // Before it was released there is nothing to be said.
    expect(everySamples(machine, ran, 'part:1:x')![at(0.3)]).toBeNaN();
    expect(everySamples(machine, ran, 'part:7:x')).toBeUndefined();
  });

  test('a machine of parts alone has times, so that it is stepped through', () => {
    const { run, record } = runCycle(line());
    expect(run.axes).toEqual([]);
    expect(run.times.at(-1)).toBe(record.duration);
    expect(run.times[1]).toBeCloseTo(0.002, 12);
  });

  test('axes have all their channels', () => {
    const machine = sheetOf([cue('go', move('x', 0.2, 1)), cue('e', stop, { after: ['go'] })], {}, { axes: [cuedAxis('x', { name: 'Slide' })] }); // prettier-ignore
    const ran = runCycle(machine);
    expect(everyChannel(machine, ran)[0]).toEqual({ id: 'axis:x:position', group: 'axis', object: 'Slide', label: 'position', kind: 'length' }); // prettier-ignore
    expect(everySamples(machine, ran, 'axis:x:position')!.at(-1)).toBeCloseTo(0.2, 9);
    expect(cycleMeasures(machine, ran)).toEqual([
      { label: 'cycle', time: expect.closeTo(1, 9) },
      { label: 'whole run', time: expect.closeTo(1, 9) },
    ]);
  });
});
