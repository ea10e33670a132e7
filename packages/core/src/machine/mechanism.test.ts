import fc from 'fast-check';
import {
  addBar,
  addCam,
  addCoupling,
  addDisc,
  addElement,
  addGuide,
  addJoint,
  addPath,
  addPlate,
  applyVariant,
  bodiesOf,
  bodyPoint,
  describeProblems,
  groundPoint,
  localOf,
  machineText,
  moveBodies,
  newAxis,
  newMachine,
  newVariant,
  readMachine,
  readMachineText,
  shiftAxis,
  shiftPath,
  tiedPoints,
  worldOf,
  type Machine,
} from './index';

/** One of everything, so that every reference can be broken. */
function full(): Machine {
  const machine = newMachine('Full');
  const m = machine.mechanism;
  const crank = addBar(m, [0, 0], [0.1, 0], 'Crank');
  const wheel = addDisc(m, [0.3, 0], 0.05, 'Wheel');
  const slide = addPlate(m, [[0.5, 0], [0.6, 0], [0.6, 0.05]], 'Carriage'); // prettier-ignore
  const one = addJoint(m, 'pin', groundPoint(m, [0, 0]), bodyPoint(m, crank.id, [0, 0]), { name: 'One' });
  const two = addJoint(m, 'pin', groundPoint(m, [0.3, 0]), bodyPoint(m, wheel.id, [0.3, 0]), { name: 'Two' });
  const rail = addJoint(m, 'slide', groundPoint(m, [0.5, 0]), bodyPoint(m, slide.id, [0.5, 0]), { name: 'Rail' });
  addJoint(m, 'weld', groundPoint(m, [0.6, 0]), bodyPoint(m, slide.id, [0.6, 0]), { name: 'Weld' });
  const path = addPath(m, 'ground', {
    kind: 'chain',
    start: [0, 0.2],
    closed: false,
    pieces: [{ kind: 'line', to: [0.5, 0.2] }],
  });
  addGuide(m, path.id, bodyPoint(m, slide.id, [0.55, 0.02]), 'Guide');
  const outline = addPath(m, wheel.id, { kind: 'circle', centre: [0, 0], radius: 0.05 });
  addCam(m, outline.id, bodyPoint(m, crank.id, [0.1, 0]), { kind: 'roller', radius: 0.01 }, 'Cam');
  addCoupling(m, { kind: 'gear', first: one.id, second: two.id, radius1: 0.02, radius2: 0.04, inside: false });
  addCoupling(m, { kind: 'indexer', first: one.id, second: two.id, pin: 'p2', slots: 6 });
  addElement(m, { kind: 'spring', a: groundPoint(m, [0, 0]), b: { body: crank.id, point: 'p2' }, rate: 10, free: 0.1 });
  addElement(m, { kind: 'stop', joint: rail.id, min: 0, max: 1, restitution: 0.5 });
  addElement(m, {
    kind: 'force',
    at: { body: crank.id, point: 'p2' },
    turns: false,
    angle: 0,
    course: { kind: 'ramp', over: 'position', joint: rail.id, from: [0, 0], to: [1, 5] },
  });
  addElement(m, { kind: 'torque', body: wheel.id, course: { kind: 'table', over: 'time', joint: null, rows: [[0, 0], [1, 2]] } }); // prettier-ignore
  m.traces.push({ body: crank.id, point: 'p2' });
  const axis = newAxis('rotary', [], 2);
  axis.joint = one.id;
  machine.axes.push(axis);
  machine.variants.push(newVariant('v1', 'Plain'));
  return machine;
}

type Path = (string | number)[];
/** The document with one value changed. */
function broken(path: Path, value: unknown): unknown {
  const document = JSON.parse(machineText(full())) as Record<string | number, unknown>;
  let at: Record<string | number, unknown> = document;
  for (const key of path.slice(0, -1)) at = at[key] as Record<string | number, unknown>;
  at[path.at(-1)!] = value;
  return document;
}

test('one of everything is a valid document, and is read back as it was written', () => {
  const machine = full();
  const result = readMachineText(machineText(machine));
  expect(result).toEqual({ ok: true, machine });
});

test.each<[Path, unknown, string]>([
  [['mechanism', 'joints', 0, 'a', 'point'], 'g9', 'names the point “g9”, which “ground” does not have'],
  [['mechanism', 'joints', 0, 'b', 'body'], 'nobody', 'names the body “nobody”, which does not exist'],
  [['mechanism', 'joints', 0, 'b'], { body: 'ground', point: 'g2' }, '“One” joins a body to itself'],
  [['mechanism', 'joints', 4, 'path'], 'gone', 'names the path “gone”, which does not exist'],
  [['mechanism', 'joints', 5, 'path'], 'path1', 'must be closed to be the outline of a cam'],
  [['mechanism', 'paths', 1, 'body'], 'gone', 'names the body “gone”'],
  [['mechanism', 'bodies', 0, 'id'], 'ground', 'must not be “ground”'],
  [['mechanism', 'bodies', 1, 'id'], 'body1', 'must be unique; “body1” stands here twice'],
  [['mechanism', 'bodies', 0, 'points', 1, 'id'], 'p1', 'must be unique'],
  [['mechanism', 'couplings', 0, 'second'], 'joint3', 'must name a pin, but “Rail” is a slide'],
  [['mechanism', 'couplings', 0, 'second'], 'joint1', 'must name another joint than first'],
  [['mechanism', 'couplings', 0, 'first'], 'joint4', 'a weld has no position'],
  [['mechanism', 'couplings', 1, 'pin'], 'p7', 'names the point “p7”, which the crank does not have'],
  [['mechanism', 'couplings', 1, 'slots'], 2, 'couplings[1].slots must be at least 3'],
  [['mechanism', 'elements', 0, 'a', 'body'], 'gone', 'names the body “gone”'],
  [['mechanism', 'elements', 0, 'rate'], -1, 'rate must be at least 0'],
  [['mechanism', 'elements', 1, 'joint'], 'gone', 'names the joint “gone”, which does not exist'],
  [['mechanism', 'elements', 1, 'max'], -1, 'must be greater than min'],
  [
    ['mechanism', 'elements', 2, 'course', 'joint'],
    null,
    'names no joint, though the load goes by the position of one',
  ],
  [['mechanism', 'elements', 2, 'course', 'to'], [0, 1], 'must lie after from'],
  [['mechanism', 'elements', 3, 'body'], 'gone', 'names the body “gone”'],
  [['mechanism', 'elements', 3, 'course', 'rows'], [[1, 0], [0, 1]], 'must not lie before the row above it'], // prettier-ignore
  [['mechanism', 'traces', 0, 'point'], 'p9', 'names the point “p9”'],
  [['axes', 0, 'joint'], 'joint9', 'names the joint “joint9”, which does not exist or cannot move'],
  [['axes', 0, 'joint'], 'joint3', 'is the slide “Rail”, which slides, but the axis turns'],
  [['axes', 0, 'motion', 'source'], { kind: 'formula' }, 'axes[0].motion.source'],
  [['variants', 0, 'speed'], 0, 'speed must be at least 0.001'],
])('%j = %j is refused with its culprit', (path, value, words) => {
  const result = readMachine(broken(path, value));
  expect(result.ok ? '' : describeProblems(result.problems)).toContain(words);
});

test('two axes on one joint are refused', () => {
  const machine = full();
  const second = { ...newAxis('rotary', machine.axes, 2), joint: 'joint1' };
  machine.axes.push(second);
  const result = readMachine(machine);
  expect(result.ok ? '' : describeProblems(result.problems)).toContain('is driven by the axis “Table” already');
});

describe('drawing', () => {
  const place = fc.tuple(fc.double({ min: -1, max: 1, noNaN: true }), fc.double({ min: -1, max: 1, noNaN: true }));

  test('a bar lies where it was drawn, whatever its direction; its frame points along it', () => {
    fc.assert(
      fc.property(place, place, (from, to) => {
        fc.pre(Math.hypot(to[0] - from[0], to[1] - from[1]) > 1e-3);
        const { mechanism } = newMachine('Bar');
        const bar = addBar(mechanism, from, to);
        const [x, y] = worldOf(mechanism, { body: bar.id, point: 'p2' });
        expect(x).toBeCloseTo(to[0], 12);
        expect(y).toBeCloseTo(to[1], 12);
        expect(bar.points[1]!.at[1]).toBe(0);
        expect(localOf(bar, to)[0]).toBeCloseTo(bar.points[1]!.at[0], 12);
      }),
    );
  });

  test('a point that is there is found again and not made twice', () => {
    const { mechanism } = newMachine('Points');
    const bar = addBar(mechanism, [0, 0], [0.1, 0.1]);
    expect(bodyPoint(mechanism, bar.id, [0.1, 0.1]).point).toBe('p2');
    expect(bodyPoint(mechanism, bar.id, [0.05, 0.05]).point).toBe('p3');
    expect(bodyPoint(mechanism, bar.id, [0.05, 0.05]).point).toBe('p3');
    expect(groundPoint(mechanism, [1, 1])).toEqual(groundPoint(mechanism, [1, 1]));
    expect(mechanism.ground).toHaveLength(1);
  });

  test('points that are pinned together are found through a chain of pins, and move together', () => {
    const { mechanism: m } = newMachine('Chain');
    const bars = [0, 1, 2].map((i) => addBar(m, [0, 0], [0.1 * (i + 1), 0.1]));
    addJoint(m, 'pin', { body: bars[0]!.id, point: 'p1' }, { body: bars[1]!.id, point: 'p1' });
    addJoint(m, 'pin', { body: bars[1]!.id, point: 'p1' }, { body: bars[2]!.id, point: 'p1' });
    expect(tiedPoints(m, { body: bars[2]!.id, point: 'p1' })).toHaveLength(3);
    addJoint(m, 'pin', groundPoint(m, [0, 0]), { body: bars[0]!.id, point: 'p1' });
    moveBodies(m, new Set(bars.map(({ id }) => id)), [0.5, 0]);
    expect(m.ground[0]!.at).toEqual([0.5, 0]);
    expect(worldOf(m, { body: bars[1]!.id, point: 'p1' })).toEqual([0.5, 0]);
  });

  test('the bodies of a joint, through its path where it has one', () => {
    const { mechanism } = full();
    expect(bodiesOf(mechanism, mechanism.joints[0]!)).toEqual(['ground', 'body1']);
    expect(bodiesOf(mechanism, mechanism.joints[5]!)).toEqual(['body2', 'body1']);
  });

  test('paths of every shape are moved whole', () => {
    const chain = shiftPath({ kind: 'chain', start: [0, 0], closed: false, pieces: [{ kind: 'arc', via: [1, 1], to: [2, 0] }, { kind: 'spline', through: [[3, 1]] }] }, [1, 2]); // prettier-ignore
    expect(chain).toEqual({ kind: 'chain', start: [1, 2], closed: false, pieces: [{ kind: 'arc', via: [2, 3], to: [3, 2] }, { kind: 'spline', through: [[4, 3]] }] }); // prettier-ignore
    expect(shiftPath({ kind: 'circle', centre: [0, 0], radius: 1 }, [1, 2])).toMatchObject({ centre: [1, 2] });
    expect(shiftPath({ kind: 'loop', through: [[0, 0]] }, [1, 2])).toMatchObject({ through: [[1, 2]] });
  });

  test('an axis is shifted in phase whatever leads it', () => {
    const axis = newAxis('rotary', [], 2);
    shiftAxis(axis, 1);
    expect(axis.plan.start).toBe(1);
    axis.motion = {
      over: 'time',
      engage: null,
      level: 'position',
      source: { kind: 'harmonic', mean: 0, amplitude: 1, frequency: 1, phase: 0 },
      initial: { position: 0, velocity: 0 },
    };
    shiftAxis(axis, 1);
    expect(axis.motion.source).toMatchObject({ mean: 1 });
    axis.motion = {
      over: 'time',
      engage: null,
      level: 'velocity',
      source: { kind: 'constant', value: 3 },
      initial: { position: 0.5, velocity: 0 },
    };
    shiftAxis(axis, -1);
    expect(axis.motion.initial.position).toBe(-0.5);
  });
});

describe('variants', () => {
  test('a plain variant changes nothing but the name', () => {
    const machine = full();
    const same = applyVariant(machine, machine.variants[0]!);
    expect({ ...same, name: machine.name }).toEqual(machine);
    expect(readMachine(same).ok).toBe(true);
  });

  test('speed shortens every time, and scales values by their level', () => {
    const machine = full();
    machine.axes[0]!.motion = {
      over: 'time',
      engage: null,
      level: 'velocity',
      source: { kind: 'constant', value: 3 },
      initial: { position: 1, velocity: 2 },
    };
    const fast = applyVariant(machine, { ...newVariant('v', 'Fast'), speed: 4 });
    expect(fast.cycle).toEqual({ given: 'time', time: 0.5 });
    expect(fast.axes[0]!.motion).toMatchObject({
      level: 'velocity',
      source: { kind: 'constant', value: 12 },
      initial: { position: 1, velocity: 8 },
    });
    expect(fast.axes[0]!.plan.segments[0]!.duration).toBeCloseTo(machine.axes[0]!.plan.segments[0]!.duration / 4, 12);
    expect(fast.mechanism.elements[3]).toMatchObject({ course: { rows: [[0, 0], [0.25, 2]] } }); // prettier-ignore
  });

  test('switches: gravity, loads, friction, single elements, another spring', () => {
    const machine = full();
    const pin = machine.mechanism.joints[0]!;
    if (pin.kind === 'pin') pin.friction = { coulomb: 1, viscous: 2 };
    machine.axes[0]!.load.slope = 1;
    machine.axes[0]!.load.force = 9;
    const off = applyVariant(machine, { ...newVariant('v', 'Off'), gravity: false, loads: false, friction: false });
    expect(off.mechanism.gravity.on).toBe(false);
    expect(off.mechanism.elements.map(({ on }) => on)).toEqual([true, true, false, false]);
    expect(off.mechanism.joints[0]).toMatchObject({ friction: { coulomb: 0, viscous: 0 } });
    expect(off.axes[0]!.load).toMatchObject({ slope: 0, force: 0 });
    const other = applyVariant(machine, {
      ...newVariant('v', 'Other'),
      off: ['element2'],
      changes: [{ element: 'element1', rate: 77, free: null }],
    });
    expect(other.mechanism.elements.map(({ on }) => on)).toEqual([true, false, true, true]);
    expect(other.mechanism.elements[0]).toMatchObject({ rate: 77, free: 0.1 });
  });
});
