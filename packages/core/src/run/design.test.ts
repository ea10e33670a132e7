import { channelsOf, drive, fourBar, pendulum, RAD, weigh } from '../../test/mechanisms';
import { camOutline, polygonArea } from '../geometry';
import { makeLaw } from '../law';
import {
  addBar,
  addCam,
  addDisc,
  addElement,
  addJoint,
  addPlane,
  addPath,
  bodyPoint,
  copyBodies,
  deleteThings,
  goesWith,
  groundPoint,
  newMachine,
  readMachine,
  redrawPoint,
  setBarLength,
  unitOf,
  worldOf,
} from '../machine';
import { assemble, compileMechanism, dragTowards, framePoses, otherClosure, placeAt } from '../mechanism';
import {
  mechanismChannels,
  makeCylinder,
  mechanismSamples,
  simulate,
  strokeNeed,
  tracedPath,
  travelEnds,
} from './index';

describe('editing a drawing', () => {
  test('deleting a bar names what goes with it: its pins, its springs, the drive', () => {
    const { machine, crank, coupler, pins, axis } = fourBar([0.1, 0.04, 0.12, 0.08], 1);
    const spring = addElement(machine.mechanism, {
      kind: 'spring',
      a: groundPoint(machine.mechanism, [0, 0]),
      b: { body: coupler.id, point: 'p2' },
      rate: 10,
      free: 0.1,
    });
    expect([...goesWith(machine, [crank.id])].sort()).toEqual([crank.id, pins[0].id, pins[1].id, axis.id].sort());
    deleteThings(machine, [crank.id, coupler.id]);
    expect(machine.mechanism.elements.map(({ id }) => id)).not.toContain(spring.id);
    expect(machine.axes).toEqual([]);
    expect(machine.mechanism.ground).toHaveLength(1);
    expect(readMachine(machine).ok).toBe(true);
  });

  test('a whole unit is copied with its drive, half a turn behind', () => {
    const { machine, crank, rocker } = fourBar([0.1, 0.04, 0.12, 0.08], 1);
    addElement(machine.mechanism, { kind: 'torque', body: rocker.id, course: { kind: 'constant', value: 1 } });
    const unit = unitOf(machine.mechanism, crank.id);
    expect(unit.size).toBe(3);
    copyBodies(machine, unit, { shift: [0.3, 0], phase: -Math.PI });
    expect(readMachine(machine)).toMatchObject({ ok: true });
    expect(machine.mechanism.bodies).toHaveLength(6);
    expect(machine.mechanism.elements).toHaveLength(2);
    expect(machine.axes).toHaveLength(2);
    const run = simulate(machine);
    expect(run.mechanism!.findings).toEqual([]);
    const effort = run.axes.map((axis) => axis.channels.effort);
    // Half a turn later the copy does what the first did.
    const half = Math.round((run.times.length - 1) / 2);
    for (let k = 0; k < half; k += 37) expect(effort[1]![k + half]!).toBeCloseTo(effort[0]![k]!, 6);
  });

  test('redrawing a point takes along what is pinned to it, and the length is where it was drawn', () => {
    const { machine, crank, coupler } = fourBar([0.1, 0.04, 0.12, 0.08], 1);
    const m = machine.mechanism;
    redrawPoint(m, { body: crank.id, point: 'p2' }, [0.02, 0.05]);
    expect(worldOf(m, { body: crank.id, point: 'p2' })).toEqual([expect.closeTo(0.02, 12), expect.closeTo(0.05, 12)]);
    expect(worldOf(m, { body: coupler.id, point: 'p1' })).toEqual([expect.closeTo(0.02, 12), expect.closeTo(0.05, 12)]);
    expect(m.bodies[0]!.points[1]!.at[0]).toBeCloseTo(Math.hypot(0.02, 0.05), 12);
    setBarLength(m, crank.id, 0.045);
    expect(m.bodies[0]!.points[1]!.at).toEqual([expect.closeTo(0.045, 12), expect.closeTo(0, 12)]);
    expect(simulate(machine).mechanism!.findings).toEqual([]);
  });

  test('the other closure of a loop is the mirrored one (Norton’s crossed case), and it assembles', () => {
    const { machine, pins, coupler, rocker } = fourBar([0.1, 0.04, 0.12, 0.08], 40 * RAD);
    const poses = otherClosure(machine.mechanism, pins[2].id);
    if (typeof poses === 'string') throw new Error(poses);
    const degrees = (id: string) => Math.atan2(Math.sin(poses.get(id)!.angle), Math.cos(poses.get(id)!.angle)) / RAD;
    expect(degrees(coupler.id)).toBeCloseTo(-60.978, 3);
    expect(degrees(rocker.id)).toBeCloseTo(-98.005, 3);
    expect(otherClosure(machine.mechanism, pins[0].id)).toMatch(/not the pin between two bodies/);
  });
});

test('a body pulled by hand follows within its freedoms, and stops hold it', () => {
  const { machine, body, pin } = pendulum(0.5, 0.1);
  addElement(machine.mechanism, { kind: 'stop', joint: pin.id, min: -0.5, max: 1.4, restitution: 0 });
  const model = compileMechanism(machine.mechanism);
  const { q } = assemble(model);
  const grip = model.attach({ body: body.id, point: 'p2' });
  dragTowards(model, q, grip, [0.5, -0.2]);
  const [x, y] = placeAt(model, q, { body: body.id, point: 'p2' });
  expect(Math.hypot(x, y)).toBeCloseTo(0.5, 9);
  expect(Math.atan2(y, x)).toBeCloseTo(Math.atan2(-0.2, 0.5), 2);
  dragTowards(model, q, grip, [-0.5, 0.5]);
  dragTowards(model, q, grip, [0, 0.5]);
  expect(model.stops[0]!.coordinate.value(q)).toBeLessThanOrEqual(1.4 + 1e-9);
  expect(framePoses(model.bodies, q)[0]!.x).toBeCloseTo(0, 9);
});

test('a body pulled by hand stays at the end of the travel of its axis, whichever way that counts', () => {
  const { machine, body, pin } = pendulum(0.5, 0.1);
  const axis = drive(machine, pin, { kind: 'constant', value: 0 });
  axis.travel = { min: -0.3, max: 1.2 };
  const model = compileMechanism(machine.mechanism, [{ axisId: axis.id, joint: pin.id }]);
  const { q } = assemble(model);
  const grip = model.attach({ body: body.id, point: 'p2' });
  const angle = () => model.drives[0]!.coordinate.value(q);
  dragTowards(model, q, grip, [0, 0.5], travelEnds(machine, model));
  dragTowards(model, q, grip, [0.3, 0.45], travelEnds(machine, model));
  expect(angle()).toBeLessThanOrEqual(1.2 + 1e-9);
  expect(angle()).toBeGreaterThan(1.19);
  axis.reversed = true;
  expect(travelEnds(machine, model)).toMatchObject([{ min: -1.2, max: 0.3 }]);
  axis.travel = null;
  expect(travelEnds(machine, model)).toEqual([]);
});

describe('channels', () => {
  test('every channel that is offered is there, in SI and finite', () => {
    const { machine } = fourBar([0.3, 0.08, 0.28, 0.2], 1);
    const run = simulate(machine);
    const channels = mechanismChannels(machine, run.mechanism!);
    expect(channels.length).toBeGreaterThan(100);
    for (const { id } of channels) {
      const samples = mechanismSamples(machine, run, id);
      expect(samples?.length).toBe(run.times.length);
      expect(samples!.every(Number.isFinite)).toBe(true);
    }
  });

  test('the tip of a crank: circle, speed r ω, centripetal r ω², path 2π r (by hand)', () => {
    const { machine, crank } = fourBar([0.1, 0.04, 0.12, 0.08], 1);
    const run = simulate(machine);
    const of = (q: string) => mechanismSamples(machine, run, `point:${crank.id}.p2:${q}`)!;
    const w = 2 * Math.PI;
    of('v').forEach((v) => expect(v).toBeCloseTo(0.04 * w, 9));
    of('a').forEach((a) => expect(a).toBeCloseTo(0.04 * w * w, 8));
    expect(of('path').at(-1)!).toBeCloseTo(2 * Math.PI * 0.04, 5);
    for (const [x, y] of tracedPath(machine, run, { body: crank.id, point: 'p2' }))
      expect(Math.hypot(x, y)).toBeCloseTo(0.04, 12);
  });

  test('power of a drive is its torque times its speed, whichever way its positive direction points', () => {
    const { machine, axis } = fourBar([0.3, 0.08, 0.28, 0.2], 1);
    const power = () => mechanismSamples(machine, simulate(machine), `drive:${axis.id}:power`)!;
    const plain = power();
    axis.reversed = true;
    axis.motion = {
      ...axis.motion,
      source: { kind: 'constant', value: -2 * Math.PI },
      initial: { position: -1, velocity: 0 },
    };
    const turned = power();
    plain.forEach((value, k) => expect(turned[k]!).toBeCloseTo(value, 8));
  });
});

test('stroke finder: a lid on a hinge, by the law of cosines and the lever (by hand)', () => {
  const machine = newMachine('Lid');
  const m = machine.mechanism;
  const lid = weigh(addBar(m, [0, 0], [0.6, 0], 'Lid'), 8, [0.3, 0], 0.3);
  addJoint(m, 'pin', groundPoint(m, [0, 0]), bodyPoint(m, lid.id, [0, 0]));
  const foot = { body: 'ground', at: [0.2, -0.3] as [number, number] };
  const eye = { body: lid.id, at: [0.4, 0] as [number, number] };
  const pose = (angle: number) => [{ x: 0, y: 0, angle }];
  const need = strokeNeed(machine, [foot, eye], pose(0), pose(60 * RAD));
  if (typeof need === 'string') throw new Error(need);
  const distance = (angle: number) => Math.hypot(0.4 * Math.cos(angle) - 0.2, 0.4 * Math.sin(angle) + 0.3);
  expect(need.shortest).toBeCloseTo(distance(0), 9);
  expect(need.stroke).toBeCloseTo(distance(60 * RAD) - distance(0), 9);
  // Moment of the weight over the lever arm of the cylinder about the hinge, lid level.
  const [dx, dy] = [0.2, 0.3];
  const arm = (0.4 * dy) / Math.hypot(dx, dy);
  expect(need.forces[0]!).toBeCloseTo((8 * 9.80665 * 0.3) / arm, 6);
  expect(strokeNeed(machine, [foot, { body: 'ground', at: [1, 1] }], pose(0), pose(1))).toMatch(/on one body/);
  expect(strokeNeed(machine, [foot, { body: lid.id, at: [0, 0] }], pose(0), pose(1))).toMatch(/as far apart/);

  // The cylinder made of it takes the lid there and back, within its travel.
  const hinge = drive(machine, m.joints[0]!, { kind: 'constant', value: 0 });
  const made = makeCylinder(machine, [foot, eye], pose(0), need);
  expect(made.off).toEqual([hinge.name]);
  expect(readMachine(machine)).toMatchObject({ ok: true });
  const run = simulate(machine);
  expect(run.mechanism!.findings).toEqual([]);
  expect(run.axes[0]!.findings).toEqual([]);
  const lidAngle = channelsOf(run, m.joints[0]!).position!;
  expect(Math.min(...lidAngle)).toBeCloseTo(0, 9);
  expect(Math.max(...lidAngle)).toBeCloseTo(60 * RAD, 6);
  expect(machine.axes[0]!.travel).toEqual({ min: 0, max: need.stroke });
});

test('stroke finder in space: the foot stands in another plane, distance and lever by hand', () => {
  const machine = newMachine('Lid');
  const m = machine.mechanism;
  const lid = weigh(addBar(m, [0, 0], [0.6, 0], 'Lid'), 8, [0.3, 0], 0.3);
  addJoint(m, 'pin', groundPoint(m, [0, 0]), bodyPoint(m, lid.id, [0, 0]));
  const behind = addPlane(m, { name: 'Behind', at: [0, 0, -0.25] });
  // Two points of the same plane at one place and other heights are told apart by their names.
  const low = groundPoint(m, [0.2, -0.3], behind.id);
  groundPoint(m, [0.2, -0.3], behind.id, 0.1);
  const foot = { body: 'ground', at: [0.2, -0.3] as [number, number], plane: behind.id, point: low.point };
  const eye = { body: lid.id, at: [0.4, 0] as [number, number] };
  const pose = (angle: number) => [{ x: 0, y: 0, angle }];
  const need = strokeNeed(machine, [foot, eye], pose(0), pose(60 * RAD));
  if (typeof need === 'string') throw new Error(need);
  const distance = (angle: number) => Math.hypot(0.4 * Math.cos(angle) - 0.2, 0.4 * Math.sin(angle) + 0.3, 0.25);
  expect(need.shortest).toBeCloseTo(distance(0), 9);
  expect(need.stroke).toBeCloseTo(distance(60 * RAD) - distance(0), 9);
  // Lid level: dL/dφ = 0.4 · 0.3 / L.
  expect(need.forces[0]!).toBeCloseTo((8 * 9.80665 * 0.3 * distance(0)) / (0.4 * 0.3), 6);
  const made = makeCylinder(machine, [foot, eye], pose(0), need);
  expect(m.joints.find(({ id }) => id === made.joint)).toMatchObject({ kind: 'cylinder', a: low });
  expect(readMachine(machine)).toMatchObject({ ok: true });
  expect(simulate(machine).mechanism!.findings).toEqual([]);
  // Both ends on frames of planes that ride on other bodies move against each other.
  const own = addPlane(m, { name: 'On the lid', on: lid.id });
  const there = { body: 'ground', at: [0.4, 0] as [number, number], plane: own.id };
  expect(strokeNeed(machine, [foot, there], pose(0), pose(60 * RAD))).toMatchObject({
    stroke: expect.closeTo(need.stroke, 9),
  });
  expect(strokeNeed(machine, [eye, there], pose(0), pose(1))).toMatch(/on one body/);
});

describe('cams from a wanted motion', () => {
  const law = makeLaw('cycloidal', {});
  const rise = (lift: number) => (angle: number) => {
    const out = new Float64Array(4);
    const up = angle < Math.PI;
    law.derivatives(up ? angle / Math.PI : 2 - angle / Math.PI, out, 0);
    return { value: lift * out[0]!, slope: ((up ? 1 : -1) * lift * out[1]!) / Math.PI };
  };

  test('without lift the outline is the base circle less the roller', () => {
    const { outline, undercut, pressure } = camOutline({
      follower: { kind: 'slide', offset: 0, base: 0.04 },
      roller: 0.01,
      sense: 1,
      lift: () => ({ value: 0, slope: 0 }),
    });
    for (const [x, y] of outline) expect(Math.hypot(x, y)).toBeCloseTo(0.03, 6);
    expect(undercut).toEqual([]);
    expect(pressure.angle).toBeLessThan(1e-4);
    expect(polygonArea(outline).area / (Math.PI * 0.03 ** 2)).toBeCloseTo(1, 3);
  });

  test('a lever that rests runs on a circle through its roller’s centre; one that swings has a pressure angle', () => {
    const follower = { kind: 'lever' as const, pivot: [0.08, 0] as const, length: 0.07, base: 2.6 };
    const [x, y] = [0.08 + 0.07 * Math.cos(2.6), 0.07 * Math.sin(2.6)];
    const rest = camOutline({ follower, roller: 0.01, sense: 1, lift: () => ({ value: 0, slope: 0 }) });
    for (const p of rest.outline) expect(Math.hypot(p[0], p[1])).toBeCloseTo(Math.hypot(x, y) - 0.01, 6);
    // By hand: between the line to the cam's centre, along which the force acts, and the way square to the lever.
    const along = Math.atan2(y, x);
    const angle = Math.abs(Math.atan2(Math.sin(along - 2.6 - Math.PI / 2), Math.cos(along - 2.6 - Math.PI / 2)));
    expect(rest.pressure.angle).toBeCloseTo(Math.min(angle, Math.PI - angle), 3);
  });

  test('pressure angle of an in-line slide: tan α = s′/(base + s) (textbook)', () => {
    const lift = rise(0.012);
    const { pressure } = camOutline(
      { follower: { kind: 'slide', offset: 0, base: 0.04 }, roller: 0, sense: 1, lift },
      720,
    );
    let most = 0;
    for (let i = 0; i < 2000; i++) {
      const { value, slope } = lift((2 * Math.PI * i) / 2000);
      most = Math.max(most, Math.atan(Math.abs(slope) / (0.04 + value)));
    }
    expect(pressure.angle).toBeCloseTo(most, 3);
  });

  test('too large a roller on a steep cam undercuts, and says where', () => {
    const steep = (angle: number) => (angle < (2 * Math.PI) / 3 ? rise(0.02)(3 * angle) : { value: 0, slope: 0 });
    const wish = { follower: { kind: 'slide' as const, offset: 0, base: 0.02 }, sense: 1 as const, lift: steep };
    expect(camOutline({ ...wish, lift: rise(0.02), roller: 0.004 }).undercut).toEqual([]);
    expect(camOutline({ ...wish, roller: 0.019 }).undercut.length).toBeGreaterThan(0);
  });

  test.each([
    ['anticlockwise', 1],
    ['clockwise', -1],
  ] as const)('a cam made from a law gives its follower that law again, turning %s', (_name, sense) => {
    const lift = rise(0.012);
    const { outline } = camOutline(
      { follower: { kind: 'slide', offset: 0.005, base: 0.04 }, roller: 0.008, sense, lift },
      720,
    );
    const machine = newMachine('Cam');
    machine.cycle = { given: 'time', time: 1 };
    const m = machine.mechanism;
    const cam = addDisc(m, [0, 0], 0.03);
    const bar = addBar(m, [0.005, 0.04], [0.005, 0.1]);
    const pin = addJoint(m, 'pin', groundPoint(m, [0, 0]), bodyPoint(m, cam.id, [0, 0]));
    const rail = addJoint(m, 'slide', groundPoint(m, [0.005, 0]), bodyPoint(m, bar.id, [0.005, 0.04]), {
      direction: Math.PI / 2,
    });
    if (rail.kind === 'slide') rail.zero = 0.04;
    const path = addPath(m, cam.id, { kind: 'loop', through: outline });
    addCam(m, path.id, bodyPoint(m, bar.id, [0.005, 0.04]), { kind: 'roller', radius: 0.008 });
    drive(machine, pin, { kind: 'constant', value: sense * 2 * Math.PI });
    const run = simulate(machine);
    const { position } = channelsOf(run, rail);
    run.times.forEach((t, k) => expect(position![k]!).toBeCloseTo(lift(2 * Math.PI * t).value, 5));
  });
});
