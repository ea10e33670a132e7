import type { Cue, Machine } from '../machine';
import { motionAt } from '../motion';
import { cue, cuedAxis, move, on, rises, sensor, sheetOf, stop, wait } from '../../test/cycles';
import { axisTimes, chainOf, runCycle, simulateCycle, type CycleRecord } from '.';

const timeOf = (record: CycleRecord, kind: string, subject: string, turn = 0) =>
  record.events.filter((e) => e.kind === kind && e.subject === subject)[turn]?.time;
const codes = (record: CycleRecord) => record.findings.map(({ code }) => code);

describe('what follows what', () => {
  const row = (...cues: Cue[]): Machine => sheetOf(cues, {}, { axes: [cuedAxis('x'), cuedAxis('y', { colour: 1 })] });

  test('a row of cues runs one after the other, with delays', () => {
    const { record } = simulateCycle(
      row(
        cue('a', move('x', 0.1, 0.5)),
        cue('b', move('y', 0.1, 0.3), { after: ['a'], delay: 0.05 }),
        cue('c', move('x', 0, 0.4), { after: ['b'] }),
        cue('d', stop, { after: ['c'] }),
      ),
    );
    expect(record.moves.map(({ cue: id, from, to }) => [id, from, to])).toEqual([
      ['a', 0, 0.5],
      ['b', 0.55, expect.closeTo(0.85, 12)],
      ['c', expect.closeTo(0.85, 12), expect.closeTo(1.25, 12)],
    ]);
    expect(record.end).toBe('stop');
    expect(record.duration).toBeCloseTo(1.25, 12);
    const chain = chainOf(record)!;
    expect(chain.links.map(({ subject, what }) => [subject, what])).toEqual([
      ['a', 'action'],
      ['b', 'delay'],
      ['b', 'action'],
      ['c', 'action'],
    ]);
    expect(chain.links.reduce((sum, { start, end }) => sum + end - start, 0)).toBeCloseTo(1.25, 12);
  });

  test('parallel branches join when the slower has ended, and the faster has slack', () => {
    const { record } = simulateCycle(
      row(
        cue('a', wait(0.1)),
        cue('b', move('x', 0.1, 0.5), { after: ['a'] }),
        cue('c', move('y', 0.1, 0.3), { after: ['a'] }),
        cue('d', wait(0.2), { after: ['b', 'c'] }),
        cue('e', stop, { after: ['d'] }),
      ),
    );
    expect(timeOf(record, 'cue', 'd')).toBeCloseTo(0.6, 12);
    const chain = chainOf(record)!;
    const link = chain.links.find(({ subject, what }) => subject === 'b' && what === 'action')!;
    // From there on the other branch decides: 0.5 s − 0.3 s.
    expect(link.gain).toBeCloseTo(0.2, 12);
    expect(chain.links.find(({ subject }) => subject === 'd')!.gain).toBeCloseTo(0.2, 12);
    expect(chain.links.find(({ subject }) => subject === 'a')!.gain).toBeCloseTo(0.1, 12);
    const c = record.events.find((e) => e.kind === 'ended' && e.subject === 'c')!;
    expect(chain.slack.get(c.index)).toBeCloseTo(0.2, 12);
    expect(axisTimes(record.moves, 0, record.duration)).toEqual([
      { axis: 'x', moving: expect.closeTo(0.5), waiting: expect.closeTo(0.3), overlapping: expect.closeTo(0.3) },
      { axis: 'y', moving: expect.closeTo(0.3), waiting: expect.closeTo(0.5), overlapping: expect.closeTo(0.3) },
    ]);
  });

  test('a loop with alternatives repeats as often as it is told', () => {
    const { record } = simulateCycle(
      row(
        cue('start', wait(0.1)),
        cue('place', wait(0.2), { after: ['start', 'again'], join: 'any' }),
        cue('again', wait(0.05), { after: ['place'], choice: 'next', times: 11, priority: 1 }),
        cue('out', stop, { after: ['place'], choice: 'next' }),
      ),
    );
    expect(record.events.filter((e) => e.kind === 'ended' && e.subject === 'place')).toHaveLength(12);
    expect(record.duration).toBeCloseTo(0.1 + 12 * 0.2 + 11 * 0.05, 9);
    expect(codes(record)).not.toContain('race');
  });

  test('alternatives that could both go are named as a race', () => {
    const { record } = simulateCycle(
      row(
        cue('a', wait(0.1)),
        cue('b', wait(1), { after: ['a'], choice: 'k' }),
        cue('c', wait(2), { after: ['a'], choice: 'k' }),
      ),
    );
    expect(record.findings.find(({ code }) => code === 'race')?.subjects).toEqual(['b', 'c']);
    expect(timeOf(record, 'cue', 'c')).toBeUndefined();
  });

  test('two cues that fight over an axis are named; a higher priority takes it over', () => {
    const fight = (priority: number) =>
      simulateCycle(
        row(
          cue('a', wait(0.1)),
          cue('b', move('x', 0.2, 1), { after: ['a'] }),
          cue('c', wait(0.4), { after: ['a'] }),
          cue('d', move('x', -0.1, 0.5), { after: ['c'], priority }),
        ),
      );
    const equal = fight(0);
    expect(equal.record.findings.find(({ code }) => code === 'fight')?.subjects).toEqual(['d', 'b', 'x']);
    // It waits until the axis is free.
    expect(equal.record.moves.find((m) => m.cue === 'd')).toMatchObject({
      from: expect.closeTo(1.1) as number,
      to: expect.closeTo(1.6) as number,
    });
    const over = fight(1);
    expect(codes(over.record)).toContain('taken-over');
    const x = over.found.motions.axes.get('x')!;
    const before = motionAt(x, 0.5, 'before');
    const after = motionAt(x, 0.5);
    // Taken over in motion: position, speed and acceleration go on without a jump.
    expect(after.position).toBeCloseTo(before.position, 9);
    expect(after.velocity).toBeCloseTo(before.velocity, 9);
    expect(after.acceleration).toBeCloseTo(before.acceleration, 6);
    expect(motionAt(x, over.found.motions.duration).position).toBeCloseTo(-0.1, 9);
  });

  // A property of every takeover: what the limits say is kept, whatever the axis was doing.
  test.each([0.1, 0.35, 0.5, 0.8])('a move that takes over at %p s keeps speed and acceleration of the axis', (at) => {
    const limits = { velocity: 0.6, acceleration: 2.5, jerk: null };
    const machine = row(
      cue('b', move('x', 0.2, 1)),
      cue('c', wait(at)),
      cue('d', move('x', -0.1, null), { after: ['c'], priority: 1 }),
      cue('e', stop, { after: ['d'] }),
    );
    machine.axes[0]!.limits = limits;
    const { run, record } = runCycle(machine);
    expect(codes(record)).toContain('taken-over');
    const { velocity, acceleration } = run.axes[0]!.channels;
    const most = (values: Float64Array) => values.reduce((sum, value) => Math.max(sum, Math.abs(value)), 0);
    expect(most(acceleration)).toBeLessThanOrEqual(limits.acceleration * 1.001);
    expect(most(velocity)).toBeLessThanOrEqual(limits.velocity * 1.001);
    expect(run.axes[0]!.findings.filter(({ severity }) => severity === 'error')).toEqual([]);
  });

  test('a cylinder that meets its end at speed is as meant; one called back on its way goes on without a jump', () => {
    const cylinder = {
      acceleration: 10,
      out: { fill: 0.02, speed: 0.5, cushion: 0.01, endSpeed: 0.084 },
      in: { fill: 0.02, speed: 0.5, cushion: 0.01, endSpeed: 0 },
    };
    const out = cue('out', { do: 'cylinder', axis: 'x', to: 'out' });
    const machine = row(out, cue('e', stop, { after: ['out'] }));
    Object.assign(machine.axes[0]!, { cylinder, travel: { min: 0, max: 0.2 } });
    const errors = () => runCycle(machine).run.axes[0]!.findings.filter(({ severity }) => severity === 'error');
    expect(errors()).toEqual([]);
    machine.sequence.cues = [
      out,
      cue('w', wait(0.15)),
      cue('back', { do: 'cylinder', axis: 'x', to: 'in' }, { after: ['w'], priority: 1 }),
      cue('e', stop, { after: ['back'] }),
    ];
    expect(errors()).toEqual([]);
    const { run } = runCycle(machine);
    const { position } = run.axes[0]!.channels;
    expect(Math.max(...position)).toBeLessThan(0.1);
    expect(position.at(-1)).toBeCloseTo(0, 9);
  });

  test('a speed that jumps between two motions is found', () => {
    const machine = row(
      cue('v', { do: 'speed', axis: 'x', speed: 0.084, ramp: 0 }),
      cue('w', wait(1)),
      cue('e', stop, { after: ['w'] }),
    );
    machine.sequence.cues.splice(2, 0, cue('u', { do: 'speed', axis: 'x', speed: -0.084, ramp: 0 }, { after: ['w'] }));
    machine.sequence.cues[3]!.delay = 0.5;
    machine.sequence.cues[3]!.after = ['u'];
    const turned = runCycle(machine).run.axes[0]!.findings.find(({ code }) => code === 'break');
    expect(turned).toMatchObject({ severity: 'error', order: 1 });
    expect((turned as { before: number }).before).toBeCloseTo(0.084, 9);
    expect((turned as { after: number }).after).toBeCloseTo(-0.084, 9);
  });

  test('interlocks hold cues back and say why', () => {
    const machine = row(cue('a', move('x', 0.2, 1)), cue('b', move('y', 0.1, 0.5)));
    machine.sequence.cues[1]!.when = { op: 'time', at: 0.2 };
    machine.sequence.interlocks.push({
      id: 'l',
      name: 'Clear',
      forbids: ['b'],
      during: { op: 'running', cue: 'a' },
      reason: 'The slide is in the way.',
    });
    const { record } = simulateCycle(machine);
    expect(record.events.find(({ kind }) => kind === 'blocked')).toMatchObject({
      subject: 'b',
      other: 'l',
      text: 'The slide is in the way.',
      time: 0.2,
    });
    expect(timeOf(record, 'cue', 'b')).toBeCloseTo(1, 9);
  });

  test('a cue after itself through others is a deadlock, and the circle is named', () => {
    const { record } = simulateCycle(
      row(cue('a', wait(0.1)), cue('b', wait(0.1), { after: ['a', 'c'] }), cue('c', wait(0.1), { after: ['b'] })),
    );
    expect(record.end).toBe('waiting');
    expect(record.waiting?.circle.sort()).toEqual(['b', 'c']);
    expect(codes(record)).toContain('deadlock');
  });

  test('a cue that waits too long: another one starts instead', () => {
    const machine = row(
      cue('a', wait(0.1)),
      cue('b', wait(0.1), { after: ['a'], when: on('s'), timeOut: { of: 'wait', time: 0.5, then: 'cue', cue: 'c' } }),
      cue('c', { do: 'alarm', text: 'Nothing came' }),
      cue('d', stop, { after: ['c'] }),
    );
    machine.sequence.sensors.push(sensor('s', { kind: 'button', presses: [{ at: 3, hold: 1 }] }));
    const { record } = simulateCycle(machine);
    expect(timeOf(record, 'alarm', 'c')).toBeCloseTo(0.6, 9);
    expect(record.end).toBe('stop');
    expect(record.duration).toBeCloseTo(0.6, 9);
  });

  test('the emergency stop brakes everything in its time', () => {
    const machine = row(cue('a', move('x', 0.4, 1)));
    machine.sequence.sensors.push(sensor('red', { kind: 'button', presses: [{ at: 0.4, hold: 1 }] }));
    machine.sequence.emergency = { when: on('red'), ramp: 0.2 };
    const { record, found } = simulateCycle(machine);
    expect(record.end).toBe('emergency');
    expect(record.duration).toBeCloseTo(0.6, 9);
    const x = found.motions.axes.get('x')!;
    const then = motionAt(x, 0.4, 'before');
    // Evenly braked: half the speed times the ramp.
    expect(motionAt(x, 0.6).position).toBeCloseTo(then.position + then.velocity * 0.1, 9);
    expect(motionAt(x, 0.6).velocity).toBeCloseTo(0, 9);
  });

  test('engaging follows the other axis without a jump, leaving brakes', () => {
    const machine = row(
      cue('run', { do: 'speed', axis: 'x', speed: 0.2, ramp: 0.1 }),
      cue('join', { do: 'engage', axis: 'y', to: 'x', ratio: 2, over: 0.2 }, { after: ['run'], delay: 0.1 }),
      cue('hold', wait(0.5), { after: ['join'] }),
      cue('off', { do: 'leave', axis: 'y', over: 0.25 }, { after: ['hold'] }),
      cue('end', stop, { after: ['off'] }),
    );
    machine.axes.forEach((axis) => (axis.travel = null));
    const { record, found } = simulateCycle(machine);
    expect(record.end).toBe('stop');
    const y = found.motions.axes.get('y')!;
    expect(motionAt(y, 0.5).velocity).toBeCloseTo(0.4, 9);
    for (const edge of y.edges.slice(1, -1)) {
      expect(motionAt(y, edge).position).toBeCloseTo(motionAt(y, edge, 'before').position, 9);
      expect(motionAt(y, edge).velocity).toBeCloseTo(motionAt(y, edge, 'before').velocity, 6);
    }
    expect(motionAt(y, record.duration).velocity).toBeCloseTo(0, 9);
  });

  test('counts, timers and cue sensors', () => {
    const machine = row(
      cue('a', wait(0.1), { after: ['a2'], join: 'any' }),
      cue('a2', wait(0.1), { after: ['a', 'first'], join: 'any' }),
      cue('first', wait(0.1)),
      cue('e', stop, { when: on('late') }),
    );
    machine.sequence.sensors.push(
      sensor('three', { kind: 'count', of: { what: 'cue', cue: 'a' }, value: 3 }),
      sensor('late', { kind: 'timer', of: 'three', how: 'on', time: 0.35 }),
      sensor('said', { kind: 'cue', cue: 'first', time: 0.05 }),
    );
    const { record } = simulateCycle(machine);
    // a ends at 0.3, 0.5, 0.7.
    expect(timeOf(record, 'sensor', 'three')).toBeCloseTo(0.7, 9);
    expect(record.duration).toBeCloseTo(1.05, 9);
    expect(timeOf(record, 'sensor', 'said')).toBeCloseTo(0.1, 9);
    expect(timeOf(record, 'sensor', 'said', 1)).toBeCloseTo(0.15, 9);
  });

  test('a controller sees inputs at its scans, and pulses between them get lost', () => {
    const machine = row(cue('a', wait(0.1), { when: rises('s') }));
    machine.sequence.controller = { scan: 0.01, inputDelay: 0.002, outputDelay: 0.003 };
    machine.sequence.sensors.push(
      sensor('s', { kind: 'button', presses: [{ at: 0.1021, hold: 0.5 }] }),
      sensor('p', { kind: 'button', presses: [{ at: 0.2021, hold: 0.001 }] }),
    );
    const { record } = simulateCycle(machine);
    // 0.1021 + 0.002 → seen at the scan at 0.11; the output comes 3 ms later.
    expect(timeOf(record, 'cue', 'a')).toBeCloseTo(0.11, 9);
    expect(timeOf(record, 'acts', 'a')).toBeCloseTo(0.113, 9);
    expect(record.findings.find(({ code }) => code === 'pulse')?.subjects).toEqual(['p']);
  });

  test('cues that start each other without time are found endless', () => {
    const { record } = simulateCycle(
      row(
        cue('a', wait(0)),
        cue('b', wait(0), { after: ['a', 'c'], join: 'any' }),
        cue('c', wait(0), { after: ['b'] }),
      ),
    );
    expect(record.end).toBe('endless');
    expect(record.findings.find(({ code }) => code === 'endless')?.subjects.sort()).toEqual(['b', 'c']);
  });
});
