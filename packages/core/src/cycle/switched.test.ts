import { loadContact } from '../contact';
import { addElement, bodyPoint, groundPoint, type Cue, type CueAction, type Machine } from '../machine';
import { beltLine, cue, cuedAxis, move, on, onRail, rises, sensor, sheetOf, stop, wait } from '../../test/cycles';
import { interpolate } from '../numeric';
import { canStretch, stretchCue } from '../sequence';
import { cycleTimes, runCycle, simulateCycle, type CycleRecord } from '.';

beforeAll(() => loadContact());

const OUTLINE: [number, number][] = [[-0.02, -0.01], [0.02, -0.01], [0.02, 0.01], [-0.02, 0.01]]; // prettier-ignore

/** A mass of 1 kg free on a level rail along x, at rest at x = 0. */
function massOnRail(cues: Cue[]): Machine {
  const machine = sheetOf([...cues, cue('end', stop, { after: [cues.at(-1)!.id] })]);
  onRail(machine, 0, 0, { kind: 'plate', outline: OUTLINE, holes: [] }, 0);
  return machine;
}
const turn = (element: string, to: 'on' | 'off', time?: number): CueAction => ({
  do: 'switch',
  element,
  to,
  ...(time === undefined ? {} : { time }),
});
function pushedBy(machine: Machine, value: number): string {
  const at = bodyPoint(machine.mechanism, 'b', [0, 0]);
  return addElement(machine.mechanism, { kind: 'force', at, angle: 0, turns: false, course: { kind: 'constant', value }, name: 'Push' }).id; // prettier-ignore
}
function springTo(machine: Machine, rate: number): string {
  const [a, b] = [groundPoint(machine.mechanism, [-0.1, 0]), bodyPoint(machine.mechanism, 'b', [0, 0])];
  return addElement(machine.mechanism, { kind: 'spring', a, b, rate, free: 0.15, name: 'Spring' }).id;
}
function positionOf(machine: Machine): (time: number) => number {
  const { run } = runCycle(machine);
  const joint = run.mechanism!.joints.find(({ id }) => id === 'j')!;
  return (time) => interpolate(Array.from(run.times), Array.from(joint.position!), time);
}

describe('elements that cues switch', () => {
  // Newton: ½ F t² / m while the force is on, at constant speed after that.
  test('a force that is switched off leaves the mass at the speed it had', () => {
    const machine = massOnRail([
      cue('push', wait(0.5)),
      cue('off', turn('element1', 'off'), { after: ['push'] }),
      cue('roll', wait(0.5), { after: ['off'] }),
    ]);
    expect(pushedBy(machine, 2)).toBe('element1');
    const x = positionOf(machine);
    expect(x(0.5)).toBeCloseTo(0.25, 6);
    expect(x(1)).toBeCloseTo(0.75, 6);
  });

  // Half a period of a mass on a spring: π √(m/k), from −a to a about the free length.
  test('a spring that begins off and is on for half its period puts the mass at the other side, at rest', () => {
    const half = Math.PI * Math.sqrt(1 / 100);
    const machine = massOnRail([
      cue('still', wait(0.2)),
      cue('on', turn('element1', 'on', half), { after: ['still'] }),
      cue('after', wait(0.3), { after: ['on'] }),
    ]);
    springTo(machine, 100);
    machine.mechanism.elements[0]!.on = false;
    const x = positionOf(machine);
    expect(x(0.2)).toBeCloseTo(0, 9);
    expect(x(0.2 + half / 2)).toBeCloseTo(0.05, 4);
    expect(x(0.2 + half)).toBeCloseTo(0.1, 6);
    expect(x(0.2 + half + 0.3)).toBeCloseTo(0.1, 4);
    const { record } = simulateCycle(machine);
    expect(record.switches).toEqual([
      { element: 'element1', first: false, times: [0, 0.2, expect.closeTo(0.2 + half, 9)] },
    ]);
  });

  test('a stop holds while it is on, and lets pass while it is off', () => {
    const passing = (to: 'on' | 'off') => {
      const machine = massOnRail([
        cue('push', wait(0.5)),
        cue('set', turn('element2', to), { after: ['push'] }),
        cue('roll', wait(1), { after: ['set'] }),
      ]);
      pushedBy(machine, 2);
      addElement(machine.mechanism, { kind: 'stop', joint: 'j', min: null, max: 0.5, restitution: 0, name: 'Gate' });
      machine.mechanism.elements[1]!.on = to === 'off';
      return positionOf(machine);
    };
    expect(passing('on')(1.5)).toBeCloseTo(0.5, 6);
    // Pushed on by 2 N all the time: ½ · 2 · 1.5².
    expect(passing('off')(1.5)).toBeCloseTo(2.25, 5);
  });

  test('what a drive gives steps by the force that is switched, at its time', () => {
    const machine = massOnRail([
      cue('go', move('x', 0.2, 1)),
      cue('w', wait(0.4)),
      cue('off', turn('element1', 'off'), { after: ['w'] }),
      cue('then', wait(1), { after: ['off'] }),
    ]);
    machine.axes.push(cuedAxis('x', { joint: 'j' }));
    pushedBy(machine, 5);
    const { run } = runCycle(machine);
    const effort = run.axes[0]!.channels.effort;
    const at = run.times.findIndex((time, k) => time === run.times[k + 1] && Math.abs(time - 0.4) < 1e-9);
    expect(at).toBeGreaterThan(0);
    expect(effort[at + 1]! - effort[at]!).toBeCloseTo(5, 6);
  });

  test('a mechanism that parts watch goes on from the end of the step in which it was switched', () => {
    const machine = massOnRail([
      cue('push', wait(0.5003)),
      cue('off', turn('element1', 'off'), { after: ['push'] }),
      cue('roll', wait(0.5), { after: ['off'] }),
    ]);
    pushedBy(machine, 2);
    machine.sequence.monitors = [{ id: 'm', name: 'Watch', a: 'b', b: 'ground', shapes: 'exact', least: 0, stop: false }]; // prettier-ignore
    const x = positionOf(machine);
    const v = 2 * 0.502;
    expect(x(1)).toBeCloseTo((v * 0.502) / 2 + v * (1 - 0.502), 5);
  });
});

describe('what runs for a time', () => {
  const led = (...cues: Cue[]) => sheetOf(cues, {}, { axes: [cuedAxis('x')] });

  test('a slide goes there and back by two cues, each at a constant speed for a time', () => {
    const run = (speed: number): CueAction => ({ do: 'speed', axis: 'x', speed, ramp: 0.2, time: 1 });
    const machine = led(cue('out', run(0.1)), cue('back', run(-0.1), { after: ['out'] }), cue('e', stop, { after: ['back'] })); // prettier-ignore
    const { run: found, record } = runCycle(machine);
    expect(record!.moves.map(({ from, to }) => [from, to])).toEqual([
      [0, 1],
      [1, 2],
    ]);
    const { position } = found.axes[0]!.channels;
    // Speed times the time less one ramp.
    expect(Math.max(...position)).toBeCloseTo(0.08, 9);
    expect(position.at(-1)).toBeCloseTo(0, 9);
  });

  test('one that is too short for its ramps says what speed it gets up to', () => {
    const machine = led(cue('go', { do: 'speed', axis: 'x', speed: 0.1, ramp: 0.4, time: 0.4 }), cue('e', stop, { after: ['go'] })); // prettier-ignore
    const { record } = simulateCycle(machine);
    expect(record.findings.find(({ code }) => code === 'slow')).toMatchObject({
      value: expect.closeTo(0.05) as number,
    });
  });

  test('a belt and a load are on for a time, and off again', () => {
    const machine = led(
      cue('belt', { do: 'belt', belt: 'belt', speed: 0.2, ramp: 0.1, time: 1 }),
      cue('push', { do: 'load', axis: 'x', force: 7, time: 0.3 }, { after: ['belt'] }),
      cue('w', wait(0.1), { after: ['push'] }),
      cue('e', stop, { after: ['w'] }),
    );
    machine.loose = { ...beltLine(0, []), sources: [] };
    machine.loose.belts[0]!.drive = { by: 'speed', speed: 0.2, running: false };
    const { record, found } = simulateCycle(machine);
    expect(record.belts[0]!.speeds.at(-1)).toBe(0);
    expect(record.belts[0]!.times.at(-1)).toBeCloseTo(1, 9);
    const pushes = found.pushes.find(({ axis }) => axis === 'x')!;
    const force = (time: number) => pushes.effort[pushes.times.findLastIndex((t) => t <= time)]!;
    expect([0.5, 1.1, 1.35].map(force)).toEqual([0, 7, 0]);
  });

  test('what takes a time of its own is stretched; a cylinder is not', () => {
    const { sequence } = led(
      cue('run', { do: 'speed', axis: 'x', speed: 0.1, ramp: 0.2 }),
      cue('halt', { do: 'speed', axis: 'x', speed: 0, ramp: 0.2 }),
      cue('out', { do: 'cylinder', axis: 'x', to: 'out' }),
    );
    const actionOf = (id: string) => stretchCue(sequence, id, 1.5).cues.find((c) => c.id === id)!.action;
    expect(actionOf('run')).toMatchObject({ time: 1.5, ramp: 0.2 });
    expect(actionOf('halt')).toMatchObject({ ramp: 1.5 });
    expect(actionOf('out')).toEqual({ do: 'cylinder', axis: 'x', to: 'out' });
    expect(sequence.cues.map(canStretch)).toEqual([true, true, false]);
  });
});

const starts = (record: CycleRecord, id: string) =>
  record.events.filter(({ kind, subject }) => kind === 'cue' && subject === id).map(({ time }) => time);

describe('a call while the row still runs', () => {
  const lift = (waits: boolean) => {
    const machine = sheetOf(
      [cue('up', move('x', 0.2, 1), { when: rises('s'), ...(waits && { waits }) }), cue('down', move('x', 0, 1), { after: ['up'] })], // prettier-ignore
      {},
      { axes: [cuedAxis('x')] },
    );
    machine.sequence.sensors.push(sensor('s', { kind: 'button', presses: [{ at: 0.1, hold: 0.1 }, { at: 1.5, hold: 0.1 }, { at: 1.8, hold: 0.1 }] })); // prettier-ignore
    machine.sequence.cycle.most = 6;
    return simulateCycle(machine).record;
  };

  test('waits for the end of the row, if wanted: one call is kept', () => {
    const record = lift(true);
    expect(starts(record, 'up')).toEqual([0.1, expect.closeTo(2.1, 9)]);
    expect(record.findings.map(({ code }) => code)).not.toContain('fight');
    // The call that was kept is what it started by.
    const again = record.events.filter(({ kind, subject }) => kind === 'cue' && subject === 'up')[1]!;
    expect(again.causes.map((c) => record.events[c]!).some(({ kind, time }) => kind === 'sensor' && time === 1.5)).toBe(true); // prettier-ignore
  });

  test('else it comes at once, and two cues want the axis', () => {
    const record = lift(false);
    expect(starts(record, 'up')[1]).toBeCloseTo(1.5, 9);
    expect(record.findings.map(({ code }) => code)).toContain('fight');
  });
});

describe('interlocks that stop what runs', () => {
  const guarded = (action: CueAction, stops: boolean, hold = 1) => {
    const machine = sheetOf(
      [cue('go', action), cue('w', wait(6)), cue('e', stop, { after: ['w'] })],
      {},
      { axes: [cuedAxis('x')] },
    );
    machine.sequence.sensors.push(sensor('door', { kind: 'button', presses: [{ at: 0.5, hold }] }));
    machine.sequence.emergency.ramp = 0.1;
    machine.sequence.interlocks.push({ id: 'l', name: 'Door', forbids: ['go'], during: on('door'), reason: 'The door is open.', ...(stops && { stops }) }); // prettier-ignore
    machine.sequence.cycle.most = 10;
    return runCycle(machine);
  };
  const at = ({ run }: ReturnType<typeof guarded>, time: number) => {
    const k = run.times.findLastIndex((t) => t <= time);
    const { position, velocity } = run.axes[0]!.channels;
    return { x: position[k]!, v: velocity[k]! };
  };

  test.each([
    ['to a place', { ...move('x', 0.4, 1) }],
    ['by a way', { ...move('x', 0.4, 1), given: 'by' }],
  ] as [string, CueAction][])(
    'a move %s rests while the interlock holds, and goes on to where it was to end',
    (_, action) => {
      const held = guarded(action, true);
      const still = at(held, 1);
      expect(still.v).toBe(0);
      expect(still.x).toBeGreaterThan(0.2);
      expect(still.x).toBeLessThan(0.4);
      expect(at(held, 1.499).x).toBe(still.x);
      expect(at(held, 5).x).toBeCloseTo(0.4, 9);
      expect(held.record!.events.map(({ kind }) => kind)).toEqual(expect.arrayContaining(['held', 'goes-on']));
      expect(held.record!.findings.find(({ code }) => code === 'held')).toMatchObject({ subjects: ['go', 'l'] });
      expect(at(guarded(action, false), 1).x).toBeCloseTo(0.4, 9);
    },
  );

  test('a drive that runs on after its cue has ended is stopped too, and goes on', () => {
    const held = guarded({ do: 'speed', axis: 'x', speed: 0.1, ramp: 0.1 }, true);
    expect(at(held, 1).v).toBe(0);
    expect(at(held, 2).v).toBeCloseTo(0.1, 9);
  });

  test('a drive that runs for a time runs for what is left of it', () => {
    const held = guarded({ do: 'speed', axis: 'x', speed: 0.1, ramp: 0, time: 1 }, true);
    expect(at(held, 1).v).toBe(0);
    expect(at(held, 1.7).v).toBeCloseTo(0.1, 9);
    expect(at(held, 2.2).v).toBe(0);
  });

  test('an action whose delay is over meanwhile begins when the interlock no longer holds', () => {
    const machine = sheetOf([cue('go', move('x', 0.1, 0.5), { delay: 0.7 }), cue('e', stop, { after: ['go'] })], {}, { axes: [cuedAxis('x')] }); // prettier-ignore
    machine.sequence.sensors.push(sensor('door', { kind: 'button', presses: [{ at: 0.5, hold: 1 }] }));
    machine.sequence.interlocks.push({ id: 'l', name: 'Door', forbids: ['go'], during: on('door'), reason: '', stops: true }); // prettier-ignore
    const { record } = simulateCycle(machine);
    expect(record.moves[0]!.from).toBeCloseTo(1.5, 9);
    expect(record.end).toBe('stop');
  });
});

describe('a run that ends after so many cycles', () => {
  const fed = (cycles: number, presses: number[]) => {
    const machine = sheetOf(
      [cue('out', move('x', 0.2, 0.5), { when: rises('s') }), cue('back', move('x', 0, 0.5), { after: ['out'] })],
      {},
      { axes: [cuedAxis('x')] },
    );
    machine.sequence.sensors.push(sensor('s', { kind: 'button', presses: presses.map((time) => ({ at: time, hold: 0.1 })) })); // prettier-ignore
    machine.sequence.cycle = { starts: null, cycles, most: 30 };
    return simulateCycle(machine).record;
  };

  test('ends with the last row where its first cue waits for a sensor', () => {
    const record = fed(1, [0.2]);
    expect(record.end).toBe('cycles');
    expect(record.duration).toBeCloseTo(1.2, 9);
    expect(record.cycles).toEqual([0.2, expect.closeTo(1.2, 9)]);
    expect(cycleTimes(record)).toEqual([expect.closeTo(1, 9)]);
    expect(record.findings.filter(({ severity }) => severity !== 'info')).toEqual([]);
  });

  test('the time of the last row is no time from start to start', () => {
    const record = fed(3, [0.2, 2.2, 4.2]);
    expect(record.duration).toBeCloseTo(5.2, 9);
    expect(cycleTimes(record)).toEqual([expect.closeTo(2, 9), expect.closeTo(2, 9)]);
  });

  test('a row that a sensor starts later belongs to the cycle', () => {
    const machine = sheetOf(
      [cue('out', move('x', 0.2, 0.5)), cue('later', move('y', 0.1, 0.5), { when: rises('s') })],
      {},
      { axes: [cuedAxis('x'), cuedAxis('y')] },
    );
    machine.sequence.sensors.push(sensor('s', { kind: 'button', presses: [{ at: 1, hold: 0.1 }] }));
    machine.sequence.cycle = { starts: null, cycles: 1, most: 30 };
    const { record } = simulateCycle(machine);
    expect(record.end).toBe('cycles');
    expect(record.duration).toBeCloseTo(1.5, 9);
  });
});
