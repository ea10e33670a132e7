import fc from 'fast-check';
import { loadContact } from '../contact';
import { LAW_IDS, makeLaw } from '../law';
import type { Cue, Machine } from '../machine';
import { motionAt } from '../motion';
import { mechanismSamples, signalChannels } from '../run';
import { beltLine, cue, cuedAxis, move, on, onRail, rises, sensor, sheetOf, stop, wait } from '../../test/cycles';
import { axisTimes, chainOf, planCylinder, runCycle, simulateCycle, type CycleRecord } from '.';

const g = 9.80665;
beforeAll(() => loadContact());

const timeOf = (record: CycleRecord, kind: string, subject: string, turn = 0) =>
  record.events.filter((e) => e.kind === kind && e.subject === subject)[turn]?.time;
const codes = (record: CycleRecord) => record.findings.map(({ code }) => code);

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
