import { angleOf, drive, fourBar, pendulum, weigh } from '../../test/mechanisms';
import {
  addBar,
  addJoint,
  addElement,
  addPath,
  addGuide,
  bodyPoint,
  groundPoint,
  newMachine,
  worldOf,
  type Machine,
} from '../machine';
import { explainMechanismFinding, prepareMechanism, simulate } from '../run';

const say = (machine: Machine) => simulate(machine).mechanism!.findings.map((f) => explainMechanismFinding(f, machine));

describe('mobility', () => {
  test('a two-link arm on ground has two freedoms; one drive takes one away (Grübler–Kutzbach)', () => {
    const machine = newMachine('Arm');
    const m = machine.mechanism;
    const upper = addBar(m, [0, 0], [0.3, 0], 'Upper arm');
    const lower = addBar(m, [0.3, 0], [0.5, 0.1], 'Forearm');
    const shoulder = addJoint(m, 'pin', groundPoint(m, [0, 0]), bodyPoint(m, upper.id, [0, 0]));
    addJoint(m, 'pin', bodyPoint(m, upper.id, [0.3, 0]), bodyPoint(m, lower.id, [0.3, 0]));
    const of = () => {
      const prepared = prepareMechanism(machine);
      if (!('mobility' in prepared)) throw new Error('not prepared');
      return prepared.mobility;
    };
    expect(of()).toMatchObject({ count: 2, free: 2, remaining: 2, redundant: [] });
    drive(machine, shoulder, { kind: 'constant', value: 1 });
    expect(of()).toMatchObject({ count: 2, free: 2, drives: 1, remaining: 1 });
    expect(of().modes[0]!.bodies).toEqual([lower.id]);
  });

  test('a parallelogram with a third link has a count of 0 and moves all the same; the twin links are named', () => {
    const machine = newMachine('Parallelogram');
    const m = machine.mechanism;
    const table = addBar(m, [0, 0.1], [0.4, 0.1], 'Table');
    for (const [i, x] of [0, 0.2, 0.4].entries()) {
      const link = addBar(m, [x, 0], [x, 0.1], `Link ${i + 1}`);
      addJoint(m, 'pin', groundPoint(m, [x, 0]), bodyPoint(m, link.id, [x, 0]), { name: `Foot ${i + 1}` });
      addJoint(m, 'pin', bodyPoint(m, link.id, [x, 0.1]), bodyPoint(m, table.id, [x, 0.1]), { name: `Head ${i + 1}` });
    }
    drive(machine, m.joints[0]!, { kind: 'harmonic', mean: 0, amplitude: 0.5, frequency: 1, phase: 0 }, 'position');
    const run = simulate(machine);
    expect(run.mechanism!.mobility).toMatchObject({ count: 0, free: 1, remaining: 0 });
    expect(run.mechanism!.mobility!.redundant).toHaveLength(1);
    expect(run.mechanism!.reached).toBe(run.times.length);
    expect(Math.max(...angleOf(run, table).map(Math.abs))).toBeLessThan(1e-9);
    expect(say(machine)[0]).toMatch(/say the same thing/);
  });
});

describe('a broken mechanism says what to do', () => {
  test('nothing holds a body to the ground', () => {
    const machine = newMachine('Loose');
    addBar(machine.mechanism, [0, 0], [1, 0], 'Stray');
    expect(say(machine)).toContainEqual(expect.stringMatching(/Stray.*not tied to the ground.*pin/));
  });

  test('a loop that cannot close', () => {
    const { machine, coupler, rocker } = fourBar([0.1, 0.04, 0.12, 0.08], 1);
    coupler.points[1]!.at = [0.01, 0];
    rocker.points[1]!.at = [0.01, 0];
    expect(say(machine)).toContainEqual(
      expect.stringMatching(/^The mechanism cannot be assembled: C stays 19.83.mm apart/),
    );
  });

  test('two drives on one freedom', () => {
    const { machine, pins } = fourBar([0.1, 0.04, 0.12, 0.08], 1);
    drive(machine, pins[3], { kind: 'constant', value: 1 }).name = 'Second';
    expect(say(machine)).toContainEqual(expect.stringMatching(/Second.*ask for the same freedom/));
  });

  test('a crank that cannot turn round: the run is kept up to there', () => {
    // Not a Grashof linkage: the crank is stuck where coupler and rocker are in line.
    const { machine } = fourBar([0.1, 0.08, 0.05, 0.06], 1);
    const run = simulate(machine);
    expect(run.mechanism!.reached).toBeGreaterThan(10);
    expect(run.mechanism!.reached).toBeLessThan(run.times.length);
    const last = run.mechanism!.findings.at(-1)!;
    expect(last).toMatchObject({ code: 'unreachable' });
    // In line: cos φ = (r2² + d² − (r3 + r4)²)/(2 r2 d)
    const stuck = Math.acos((0.08 ** 2 + 0.1 ** 2 - 0.11 ** 2) / (2 * 0.08 * 0.1));
    if (last.code === 'unreachable') expect(last.position).toBeCloseTo(stuck, 3);
    expect(Number.isNaN(run.axes[0]!.channels.effort.at(-1)!)).toBe(true);
    // What was not run has no RMS: no zeros are made up for it.
    expect(run.axes[0]!.rms.effort).toBeNaN();
    expect(say(machine)).toContainEqual(expect.stringMatching(/cannot go past .*°/));
  });

  test('a start position out of reach', () => {
    const { machine, axis } = fourBar([0.1, 0.08, 0.05, 0.06], 1);
    axis.motion.initial.position = 2.5;
    expect(say(machine)).toContainEqual(expect.stringMatching(/shall begin at .* reaches only/));
  });

  test('a body without mass that forces shall move', () => {
    const { machine, body } = pendulum(0.3, 1);
    weigh(body, 0, [0, 0], 0);
    expect(say(machine)).toContainEqual(expect.stringMatching(/Bob has no mass/));
  });

  test('past a stop, and past the end of a path', () => {
    const { machine, pins } = fourBar([0.1, 0.04, 0.12, 0.08], 1);
    addElement(machine.mechanism, {
      kind: 'stop',
      joint: pins[3].id,
      min: -0.05,
      max: 0.05,
      restitution: 0.3,
      name: 'Buffer',
    });
    expect(say(machine)).toContainEqual(expect.stringMatching(/Buffer/));
    const led = newMachine('Led');
    const m = led.mechanism;
    const path = addPath(m, 'ground', {
      kind: 'chain',
      start: [0, 0],
      closed: false,
      pieces: [{ kind: 'line', to: [0.1, 0] }],
    });
    const body = addBar(m, [0, 0], [0.1, 0]);
    const guide = addGuide(m, path.id, bodyPoint(m, body.id, [0, 0]));
    addGuide(m, path.id, bodyPoint(m, body.id, [0.05, 0]));
    drive(led, guide, { kind: 'constant', value: 0.2 });
    expect(say(led)).toContainEqual(expect.stringMatching(/runs off the end of Path 1/));
  });

  test('a path that cannot be made', () => {
    const machine = newMachine('Path');
    const m = machine.mechanism;
    const path = addPath(m, 'ground', {
      kind: 'chain',
      start: [0, 0],
      closed: false,
      pieces: [{ kind: 'line', to: [0, 0] }],
    });
    const body = addBar(m, [0, 0], [0.1, 0]);
    addGuide(m, path.id, bodyPoint(m, body.id, [0, 0]));
    expect(say(machine)).toEqual([expect.stringMatching(/Path 1: .*no length/)]);
  });
});

test('a six-bar of two loops (Watt): both loops close at every pose, and the torque balances by virtual work', () => {
  const { machine, rocker } = fourBar([0.3, 0.08, 0.28, 0.2], 1);
  const m = machine.mechanism;
  // A second loop hangs on the middle of the rocker: connecting rod and second rocker.
  const middle = worldOf(
    m,
    bodyPoint(m, rocker.id, [
      (0.3 + worldOf(m, { body: rocker.id, point: 'p2' })[0]) / 2,
      worldOf(m, { body: rocker.id, point: 'p2' })[1] / 2,
    ]),
  );
  const top: [number, number] = [middle[0] + 0.2, middle[1] + 0.05];
  const rod = addBar(m, middle, top, 'Rod');
  const last = addBar(m, [0.5, 0], top, 'Second rocker');
  addJoint(m, 'pin', bodyPoint(m, rocker.id, middle), bodyPoint(m, rod.id, middle));
  addJoint(m, 'pin', bodyPoint(m, rod.id, top), bodyPoint(m, last.id, top));
  addJoint(m, 'pin', groundPoint(m, [0.5, 0]), bodyPoint(m, last.id, [0.5, 0]));
  const run = simulate(machine);
  expect(run.mechanism!.mobility).toMatchObject({ count: 1, free: 1, remaining: 0 });
  expect(run.mechanism!.reached).toBe(run.times.length);
  // Loop closure by hand: the distance between the rods' ends stays what it was drawn.
  const length = Math.hypot(top[0] - middle[0], top[1] - middle[1]);
  const pose = (body: { id: string }, k: number, local: [number, number]) => {
    const i = run.mechanism!.bodies.findIndex(({ id }) => id === body.id);
    const { centre } = run.mechanism!.bodies[i]!;
    const [x, y, angle] = [0, 1, 2].map((j) => run.mechanism!.q[3 * i + j]![k]!) as [number, number, number];
    const [lx, ly] = [local[0] - centre[0], local[1] - centre[1]];
    return [x + Math.cos(angle) * lx - Math.sin(angle) * ly, y + Math.sin(angle) * lx + Math.cos(angle) * ly] as const;
  };
  const onRocker = m.bodies.find(({ id }) => id === rocker.id)!.points[2]!.at;
  for (let k = 0; k < run.times.length; k += 50) {
    const [x1, y1] = pose(rocker, k, onRocker);
    const [x2, y2] = pose(last, k, last.points[1]!.at);
    expect(Math.hypot(x2 - x1, y2 - y1)).toBeCloseTo(length, 10);
  }
  const { energy } = run.mechanism!;
  expect(Math.max(...energy.residual.map(Math.abs))).toBeLessThan(1e-9 * Math.max(...energy.drives.map(Math.abs)));
});
