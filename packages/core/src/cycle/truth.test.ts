import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import {
  addBar,
  addElement,
  addJoint,
  bodyPoint,
  groundPoint,
  loadContact,
  mechanismSamples,
  newMachine,
  readMachineText,
  runMachine,
  type Element,
  type Machine,
} from '..';
import { beltLine, cue, cuedAxis, move, sensor, stop } from '../../test/cycles';
import { weigh } from '../../test/mechanisms';

// One mechanism for one cycle: what parts do is felt by every joint, drive and free body, and two places that show
// one force show one number.

const g = 9.80665;
beforeAll(() => loadContact());

const inDemo = join(__dirname, '../../../../demo');
const demos = readdirSync(inDemo).filter((file) => file.endsWith('.yoke.json'));

/** A hand of 1 kg on a level rail, which an axis moves or nothing does. */
function handOnRail(driven: boolean, direction = 0): Machine {
  const machine = newMachine('Hand');
  machine.cycle = { given: 'time', time: 1 };
  const m = machine.mechanism;
  const hand = weigh(addBar(m, [0, 0], [0.1, 0], 'Hand'), 1, [0, 0], 0.01);
  const rail = addJoint(m, 'slide', groundPoint(m, [0, 0]), bodyPoint(m, hand.id, [0, 0]), { direction });
  if (driven) machine.axes.push(cuedAxis('x', { joint: rail.id, load: { ...cuedAxis('x').load, inertia: 0 } }));
  return machine;
}

/** Gives a machine a box of some mass that its hand takes at once, `aside` from the hand's place. */
function withHeldBox(machine: Machine, mass: number, aside: number): Machine {
  const loose = beltLine(0, [0]);
  loose.belts = [];
  loose.kinds[0]!.mass = { given: 'typed', mass };
  Object.assign(loose.sources[0]!, { at: [aside, 0], velocity: [0, 0], release: { how: 'cue' } });
  loose.grippers = [
    { id: 'grip', name: 'Grip', body: machine.mechanism.bodies[0]!.id, at: [0, 0], reach: 1, force: 1e4, kinds: [] },
  ];
  machine.loose = loose;
  machine.sequence.cues = [
    cue('out', { do: 'release', source: 'in' }),
    cue('take', { do: 'take', gripper: 'grip' }, { after: ['out'] }),
  ];
  machine.sequence.cycle.most = 1;
  return machine;
}

const late = (machine: Machine, run: Awaited<ReturnType<typeof runMachine>>['run'], id: string) => {
  const samples = mechanismSamples(machine, run, id)!;
  return samples[run.times.findIndex((time) => time > 0.9 * run.cycleTime)]!;
};

describe('what is held is felt by the joints', () => {
  // Statics: (1 + 5) g on the rail, and the moment of the box where it is held aside.
  test('a part of 5 kg in a hand of 1 kg loads its rail with 58.8 N, and with its moment', async () => {
    const machine = withHeldBox(handOnRail(true), 5, 0.03);
    const { run } = await runMachine(machine);
    expect(late(machine, run, 'joint:joint1:fy')).toBeCloseTo(6 * g, 3);
    expect(late(machine, run, 'joint:joint1:moment')).toBeCloseTo(5 * g * 0.03, 3);
  });

  test('on a lift it counts in the drive, in what holds it at rest, and in the energies', async () => {
    const machine = withHeldBox(handOnRail(true, Math.PI / 2), 5, 0);
    machine.sequence.cues.push(cue('up', move('x', 0.5, 0.6), { after: ['take'] }));
    const { run } = await runMachine(machine);
    const [axis] = run.axes;
    const law = (k: number) => 6 * (axis!.channels.acceleration[k]! + g);
    // Newton: what is lifted is lifted together, on the mean of a contact step.
    run.times.forEach((time, k) => {
      if (time > 0.1 && time < 0.5) expect(Math.abs(axis!.channels.effort[k]! - law(k))).toBeLessThan(0.01 * 6 * g);
    });
    expect(axis!.mechanismHolding / (6 * g)).toBeCloseTo(1, 4);
    const { residual, drives } = run.mechanism!.energy;
    const most = drives.reduce((sum, value) => Math.max(sum, Math.abs(value)), 0);
    expect(residual.reduce((sum, value) => Math.max(sum, Math.abs(value)), 0) / most).toBeLessThan(1e-9);
  });
});

describe('a mechanism with freedoms left, in a cycle', () => {
  const pushed = (course: Extract<Element, { kind: 'force' }>['course']): Machine => {
    const machine = handOnRail(false);
    const at = bodyPoint(machine.mechanism, machine.mechanism.bodies[0]!.id, [0, 0]);
    addElement(machine.mechanism, { kind: 'force', name: 'Push', at, angle: 0, turns: false, course });
    return machine;
  };
  const withEye = (machine: Machine, at: number): Machine => {
    const { id } = machine.mechanism.bodies[0]!;
    machine.sequence.sensors = [
      sensor('eye', { kind: 'proximity', body: 'ground', from: [at, -0.5], to: [at, 0.5], distance: 0, bodies: [id], parts: false, sees: [] }), // prettier-ignore
    ];
    machine.sequence.cycle.most = 1;
    return machine;
  };

  // s = F t²/2m: the end of the bar, at 0.1 m, passes 0.35 m after √(2·0.25/2) = 0.5 s.
  test('a slide pushed by a formula reaches its sensor when the run passes the place', async () => {
    const machine = withEye(pushed({ kind: 'formula', text: '2 N' }), 0.35);
    const { run, record } = await runMachine(machine);
    const seen = record!.events.find(({ kind, subject }) => kind === 'sensor' && subject === 'eye')!;
    const half = machine.mechanism.bodies[0]!.shape.kind === 'bar' ? machine.mechanism.bodies[0]!.shape.width / 2 : 0;
    expect(seen.time).toBeCloseTo(Math.sqrt(0.25 - half), 4);
    const x = mechanismSamples(machine, run, `body:${machine.mechanism.bodies[0]!.id}:vx`)!;
    run.times.forEach((time, k) => expect(x[k]).toBeCloseTo(2 * time, 6));
  });

  // Loads over the cycle go by the cycle of the document, again and again: the impulse of a ramp from 0 to 2 N is T/2 · 2 N.
  test('a ramp over the cycle goes by the cycle of the document, however long it is run', async () => {
    const machine = withEye(pushed({ kind: 'ramp', over: 'cycle', joint: null, from: [0, 0], to: [1, 2] }), 9);
    machine.cycle = { given: 'time', time: 0.25 };
    machine.sequence.cues = [cue('end', stop, { delay: 1 })];
    const { run, record } = await runMachine(machine);
    expect(record!.end).toBe('stop');
    const v = mechanismSamples(machine, run, `body:${machine.mechanism.bodies[0]!.id}:vx`)!;
    expect(v.at(-1)).toBeCloseTo(1, 6);
    const force = mechanismSamples(machine, run, `element:${machine.mechanism.elements[0]!.id}:force`)!;
    const at = (time: number) => force[run.times.findIndex((t) => t > time)]!;
    expect(at(0.125)).toBeCloseTo(at(0.625), 2);
  });

  // Newton: with the box in its grip the hand is 6 kg.
  test.each([0.5, 5, 20])('a force moves the hand and the box of %p kg that it holds together', async (mass) => {
    const machine = withHeldBox(pushed({ kind: 'constant', value: 12 }), mass, 0);
    machine.mechanism.gravity.on = false;
    const { run } = await runMachine(machine);
    const v = mechanismSamples(machine, run, `body:${machine.mechanism.bodies[0]!.id}:vx`)!;
    expect((v.at(-1)! * (1 + mass)) / 12).toBeCloseTo(1, 1.4);
  });

  // Statics: a pan on a spring sinks by (m + M) g / k under the box that lies on it.
  test.each([0.3, 3])(
    'a box of %p kg on a sprung pan of 1 kg: it sinks to where spring and weight agree',
    async (mass) => {
      const machine = newMachine('Pan');
      const m = machine.mechanism;
      const pan = weigh(addBar(m, [-0.1, 0], [0.1, 0], 'Pan'), 1, [0.1, 0], 0.01);
      const middle = bodyPoint(m, pan.id, [0, 0]);
      const rail = addJoint(m, 'slide', groundPoint(m, [0, 0]), middle, { direction: Math.PI / 2 });
      if (rail.kind === 'slide') rail.friction.viscous = 40 * (1 + mass);
      addElement(m, { kind: 'spring', a: groundPoint(m, [0, -0.2]), b: middle, rate: 2000, free: 0.2, name: 'Spring' });
      const loose = beltLine(0, [0]);
      loose.belts = [];
      loose.kinds[0]!.mass = { given: 'typed', mass };
      Object.assign(loose.sources[0]!, { at: [0, 0.03], velocity: [0, 0], release: { how: 'times', times: [0] } });
      loose.surfaces = [{ id: 'top', name: 'Top', body: pan.id, material: 'rubber', line: [[0, 0], [0.2, 0]], thickness: 0.01 }]; // prettier-ignore
      machine.loose = loose;
      machine.sequence.cycle.most = 2;
      const { run } = await runMachine(machine);
      const y = mechanismSamples(machine, run, `body:${pan.id}:y`)!;
      expect(y.at(-1)! / ((-(1 + mass) * g) / 2000)).toBeCloseTo(1, 2);
      expect(late(machine, run, `element:${pan.id}.parts:force`) / (mass * g)).toBeCloseTo(1, 2);
    },
  );

  test('what is too stiff to follow is a finding of the cycle too, and ends it', async () => {
    const machine = withEye(pushed({ kind: 'constant', value: 1 }), 0.35);
    const at = bodyPoint(machine.mechanism, machine.mechanism.bodies[0]!.id, [0, 0]);
    const a = groundPoint(machine.mechanism, [-0.2, 0]);
    addElement(machine.mechanism, { kind: 'spring', a, b: at, rate: 1e15, free: 0.1, name: 'Spring' });
    const { run, record } = await runMachine(machine);
    expect(record!.end).toBe('stuck');
    expect(run.mechanism!.findings.map(({ code }) => code)).toContain('stiff');
  });
});

test.each(demos)('%s: an axis without load of its own gives what its mechanism asks, in every sample', async (file) => {
  const read = readMachineText(readFileSync(join(inDemo, file), 'utf8'));
  if (!read.ok) throw new Error('unreadable');
  const { machine } = read;
  for (const axis of machine.axes)
    axis.load = { ...axis.load, inertia: 0, coulomb: 0, viscous: 0, force: 0, imbalance: 0, forceTable: null, formula: null }; // prettier-ignore
  const { run } = await runMachine(machine);
  for (const { axisId, effort } of run.mechanism?.drives ?? []) {
    if (machine.sequence.cues.some(({ action }) => action.do === 'load' && action.axis === axisId)) continue;
    const own = run.axes.find((axis) => axis.axisId === axisId)!.channels.effort;
    const most = effort.reduce((sum, value) => Math.max(sum, Math.abs(value)), 1e-9);
    expect(Math.max(...own.map((value, k) => Math.abs(value - effort[k]!))) / most).toBeLessThan(1e-6);
  }
});
