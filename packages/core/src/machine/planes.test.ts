import { addBar, addDisc, addJoint, addPlane, addSquarePlane, bodyPoint, carriersOfPlane, carryPlane, copyBodies, deleteThings, describeProblems, groundPoint, moveToPlane, newDrive, newMachine, planeFrame, readMachine, ridersOf, seePlaneFrom, spaceOf, standingOf, turnOf, unitOf, viewOfPlane, VIEWS, type Machine, type View } from '.'; // prettier-ignore
import { axisOf, cross, dot } from '../geometry';

const close = (is: readonly number[], was: readonly number[]) =>
  is.forEach((part, k) => expect(part).toBeCloseTo(was[k]!, 12));

/** A bridge that slides along, a lift on it that goes up in a plane seen from the right, and a head on that. */
function tower() {
  const machine = newMachine('Tower');
  const m = machine.mechanism;
  const bridge = addDisc(m, [0, 0], 0.05, 'Bridge');
  const rail = addJoint(m, 'slide', groundPoint(m, [0, 0]), bodyPoint(m, bridge.id, [0, 0]), { name: 'Rail' });
  const side = addPlane(m, { name: 'Side', on: bridge.id, at: [0.1, 0, 0.2], turn: turnOf('right') });
  const lift = addBar(m, [0, 0], [0, 0.3], 'Lift', null, side.id);
  const up = addJoint(m, 'slide', groundPoint(m, [0, 0], side.id), bodyPoint(m, lift.id, [0, 0]), { name: 'Up', direction: Math.PI / 2 }); // prettier-ignore
  const top = addPlane(m, { name: 'Top', on: lift.id, turn: turnOf('top') });
  const head = addDisc(m, [0.02, 0], 0.03, 'Head', top.id);
  const turn = addJoint(m, 'pin', groundPoint(m, [0.02, 0], top.id), bodyPoint(m, head.id, [0.02, 0]), {
    name: 'Turn',
  });
  return { machine, m, bridge, lift, head, side, top, rail, up, turn };
}
const refusal = (machine: Machine) => {
  const read = readMachine(JSON.parse(JSON.stringify(machine)));
  return read.ok ? '' : describeProblems(read.problems);
};

test.each(Object.keys(VIEWS) as View[])('the view %s is right-handed, and square', (view) => {
  const { axes } = VIEWS[view];
  const [x, y, z] = [axisOf(axes, 0), axisOf(axes, 1), axisOf(axes, 2)];
  cross(x, y).forEach((part, k) => expect(part).toBeCloseTo(z[k]!, 15));
  expect([dot(x, x), dot(y, y), dot(x, y)]).toEqual([1, 1, 0]);
});

test('planes on bodies stand where their carriers are drawn', () => {
  const { machine, m, head } = tower();
  expect(refusal(machine)).toBe('');
  // The plane seen from the right has its x towards −z: the lift’s point at (0, 0), with the head’s plane square on it.
  const at = spaceOf(m, { body: head.id, point: head.points[0]!.id });
  // The bar’s frame points up; its top view has x up and y away from the plane’s normal.
  expect(at.map((part) => Math.round(part * 1e9) / 1e9)).toEqual([0.1, 0.02, 0.2]);
  const { axes } = planeFrame(m, 'plane2');
  const [x, y, z] = [axisOf(axes, 0), axisOf(axes, 1), axisOf(axes, 2)];
  cross(x, y).forEach((part, k) => expect(part).toBeCloseTo(z[k]!, 12));
});

test.each<[string, (parts: ReturnType<typeof tower>) => void, string]>([
  ['a plane on what hangs on it', ({ side, head }) => (side.on = head.id), 'puts “Side” on “Head”, which itself hangs on it'], // prettier-ignore
  ['a plane on a body drawn in it', ({ side, lift }) => (side.on = lift.id), 'puts “Side” on “Lift”, which is drawn in it'], // prettier-ignore
  ['a plane on nothing', ({ top }) => (top.on = 'gone'), 'names the body “gone”, which does not exist'],
  ['a body in no plane', ({ head }) => (head.plane = 'gone'), 'names the plane “gone”, which does not exist'],
  ['a front plane that is moved', ({ m }) => (m.planes[0]!.at[0] = 1), 'must be the plane of the world'],
  ['a pin across planes', ({ turn, m, bridge }) => (turn.b = bodyPoint(m, bridge.id, [0, 0])), '“Turn” ties a point of the plane “Top” to one of “Front”: a pin stays within one plane; take a ball joint, rod or cylinder'], // prettier-ignore
  ['a ball joint within a plane', ({ m, bridge }) => addJoint(m, 'ball', groundPoint(m, [0, 0]), bodyPoint(m, bridge.id, [0.01, 0])), 'there a pin does the same'], // prettier-ignore
  ['a quaternion of no rotation', ({ top }) => (top.turn = [0.2, 0, 0, 0]), 'must be a unit quaternion'],
  ['a force that points nowhere', ({ m, head }) => m.elements.push({ kind: 'force', id: 'f', name: 'Push', on: true, at: { body: head.id, point: 'p1' }, angle: 0, turns: false, along: [0, 0, 0], course: { kind: 'constant', value: 1 } }), 'points nowhere'], // prettier-ignore
  ['a sensor of parts on a carried body', ({ machine, head }) => machine.loose.grippers.push({ id: 'g', name: 'Hand', body: head.id, at: [0, 0], reach: 0.01, force: 5, kinds: [] }), 'names “Head”, which moves in the plane “Top”: loose parts, what handles them and sensors lie in the plane “Front”'], // prettier-ignore
  ['a tensor that no body can have', ({ head }) => (head.mass = { given: 'typed', mass: 1, centre: [0, 0], inertia: 0.5, tensor: { xx: 0.1, yy: 0.1, xy: 0, xz: 0, yz: 0 } }), 'cannot be that of any body: with xx 0.1, yy 0.1 and zz 0.5'], // prettier-ignore
  ['products that no body can have', ({ head }) => (head.mass = { given: 'typed', mass: 1, centre: [0, 0], inertia: 0.1, tensor: { xx: 0.1, yy: 0.1, xy: 0.09, xz: 0, yz: 0 } }), 'cannot be that of any body'], // prettier-ignore
])('%s is refused with its culprit', (_what, change, words) => {
  const parts = tower();
  change(parts);
  expect(refusal(parts.machine)).toContain(words);
});

test('what rides on a body goes with it, and everything tied to the planes that go', () => {
  const { machine, m, bridge, head, lift } = tower();
  machine.axes.push(newDrive(machine, m.joints[2]!, 0, 0.1));
  expect([...ridersOf(m, [bridge.id])]).toEqual([lift.id, head.id]);
  expect(unitOf(m, bridge.id)).toEqual(new Set([bridge.id, lift.id, head.id]));
  deleteThings(machine, [lift.id]);
  expect(m.planes.map(({ name }) => name)).toEqual(['Front', 'Side']);
  expect(m.bodies.map(({ name }) => name)).toEqual(['Bridge']);
  expect(m.joints.map(({ name }) => name)).toEqual(['Rail']);
  expect(machine.axes).toEqual([]);
  expect(refusal(machine)).toBe('');
});

test('a copy takes along the planes that ride on it, with all that is in them', () => {
  const { machine, m, bridge } = tower();
  copyBodies(machine, new Set([bridge.id]), { shift: [0.5, 0.1], phase: 0 });
  expect(m.planes.map(({ name, on }) => [name, on])).toEqual([['Front', 'ground'], ['Side', bridge.id], ['Top', 'body2'], ['Side 1', 'body4'], ['Top 1', 'body5']]); // prettier-ignore
  expect(refusal(machine)).toBe('');
  const [was, is] = [spaceOf(m, { body: 'body3', point: 'p1' }), spaceOf(m, { body: 'body6', point: 'p1' })];
  [0.5, 0.1, 0].forEach((part, k) => expect(is[k]! - was[k]!).toBeCloseTo(part, 12));
  expect(m.joints).toHaveLength(6);
});

test('a plane that gets another carrier keeps its place in space; what hangs on it is not offered', () => {
  const { machine, m, side, top, bridge, lift, head } = tower();
  expect(carriersOfPlane(m, side)).toEqual(['ground', bridge.id]);
  expect(carriersOfPlane(m, top)).toEqual(['ground', bridge.id, lift.id]);
  lift.pose.angle = 0.4;
  for (const to of [bridge.id, 'ground', lift.id]) {
    const before = spaceOf(m, { body: head.id, point: 'p1' });
    const axes = planeFrame(m, top.id).axes;
    carryPlane(m, top, to);
    expect(top.on).toBe(to);
    close(spaceOf(m, { body: head.id, point: 'p1' }), before);
    close(planeFrame(m, top.id).axes, axes);
  }
  expect(refusal(machine)).toBe('');
});

test.each(Object.keys(VIEWS) as View[])('a plane on a body drawn askew is seen from the %s of the machine', (view) => {
  const { mechanism: m } = newMachine('Askew');
  const bar = addBar(m, [0, 0], [0.1, -0.17]);
  const plane = addPlane(m, { on: bar.id });
  expect(viewOfPlane(m, plane)).toBeNull();
  seePlaneFrom(m, plane, view);
  expect(viewOfPlane(m, plane)).toBe(view);
  close(planeFrame(m, plane.id).axes, VIEWS[view].axes);
  const onGround = addPlane(m, { turn: turnOf(view) });
  expect(viewOfPlane(m, onGround)).toBe(view);
});

test('a plane square to another one has its x along the line and its y along the normal', () => {
  const { machine, m, side, lift } = tower();
  const plane = addSquarePlane(m, side, [0, 0.1], [0.2, 0.1], lift.id);
  const [base, own] = [planeFrame(m, side.id), planeFrame(m, plane.id)];
  close(axisOf(own.axes, 0), axisOf(base.axes, 0));
  close(axisOf(own.axes, 1), axisOf(base.axes, 2));
  close(cross(axisOf(own.axes, 0), axisOf(own.axes, 1)), axisOf(own.axes, 2));
  close(
    own.at,
    standingOf(m)
      .plane(side.id)
      .at.map((part, k) => part + 0.1 * axisOf(base.axes, 1)[k]!),
  );
  expect(plane.on).toBe(lift.id);
  expect(refusal(machine)).toBe('');
});

test('a body moves to a plane that lies alike and keeps its place; else it is said why not', () => {
  const { m, head, lift, top, bridge, side } = tower();
  expect(moveToPlane(m, head.id, 'front')).toBe('“Head” is tied within its plane by “Turn”: take that off first, or move all of the unit.'); // prettier-ignore
  m.joints.pop();
  expect(moveToPlane(m, head.id, side.id)).toMatch(/^“Head” would have to be turned over/);
  m.joints.pop();
  expect(moveToPlane(m, lift.id, top.id)).toBe('“Top” rides on “Lift”: choose a plane that does not.');
  const level = addPlane(m, { name: 'Level', on: bridge.id, at: [0.3, 0.1, 0.2], turn: turnOf('right') });
  const before = spaceOf(m, { body: lift.id, point: 'p2' });
  expect(moveToPlane(m, lift.id, level.id)).toBeNull();
  expect(lift.plane).toBe(level.id);
  close(spaceOf(m, { body: lift.id, point: 'p2' }), before);
});
