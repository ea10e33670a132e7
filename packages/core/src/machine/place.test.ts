import { pathCurve, type Point3 } from '../geometry';
import { compileMechanism } from '../mechanism';
import { prepareMechanism } from '../run';
import {
  addPlane,
  addPlate,
  addSolid,
  bodyOfSolids,
  newDrive,
  newMachine,
  placeCircle,
  placeRim,
  placeForce,
  placeJoint,
  placePlane,
  placeSensor,
  placeSpring,
  readMachine,
  spaceOf,
  spotOn,
  standingOf,
  UNASSIGNED,
  type Element,
  type Joint,
  type Machine,
  type Mechanism,
  type Sensor,
} from './index';

/** A body of a box with its middle at a place. */
function boxAt(
  m: Mechanism,
  name: string,
  at: [number, number, number],
  size: [number, number, number] = [0.1, 0.06, 0.04],
): string {
  // prettier-ignore
  const [x, y, z] = size;
  const ref = addSolid(m, UNASSIGNED, { name, colour: null, shape: { kind: 'box', x, y, z }, at, turn: [1, 0, 0, 0], density: 7850 }); // prettier-ignore
  const corners = [-0.5, 0.5].flatMap((i) => [-0.5, 0.5].flatMap((j) => [-0.5, 0.5].map((k): Point3 => [at[0] + i * x, at[1] + j * y, at[2] + k * z]))); // prettier-ignore
  return bodyOfSolids(m, [ref], corners, name).id;
}
const none = () => [];
const made = <T>(thing: T | string): T => {
  if (typeof thing === 'string') throw new Error(thing);
  return thing;
};
const sound = (machine: Machine) => expect(readMachine(JSON.parse(JSON.stringify(machine))).ok).toBe(true);

test('a four-bar of pins placed by holes lies in one plane, though something rides on the crank by now', () => {
  const machine = newMachine('Four-bar');
  const m = machine.mechanism;
  const [crank, coupler, rocker] = [boxAt(m, 'Crank', [0.05, 0, 0]), boxAt(m, 'Coupler', [0.2, 0.05, 0.02]), boxAt(m, 'Rocker', [0.3, 0, 0])]; // prettier-ignore
  const pin = (body: string, to: string, at: Point3) => made(placeJoint(m, 'pin', body, to, { at, axis: [0, 0, -1] }, none)); // prettier-ignore
  pin(crank, 'ground', [0, 0, 0]);
  // A plane on the crank whose normal is alike would lead the coupler away from the rocker.
  addPlane(m, { name: 'On Crank', on: crank });
  pin(coupler, crank, [0.1, 0, 0.01]);
  pin(rocker, coupler, [0.3, 0.1, 0.01]);
  pin(rocker, 'ground', [0.3, 0, 0]);
  expect(new Set(m.bodies.map(({ plane }) => plane)).size).toBe(1);
  sound(machine);
  const prepared = prepareMechanism(machine);
  expect('mobility' in prepared && prepared.mobility?.modes.length).toBe(1);
});

test('points at one place and two heights are two: what hangs on the first is not moved by the second', () => {
  const m = newMachine('Heights').mechanism;
  const body = boxAt(m, 'Block', [0, 0, 0]);
  const first = spotOn(m, body, [0.02, 0.01, 0]);
  const second = spotOn(m, body, [0.02, 0.01, 0.015]);
  expect(second).not.toEqual(first);
  expect(spaceOf(m, first)[2]).toBeCloseTo(0, 12);
  expect(spaceOf(m, second)[2]).toBeCloseTo(0.015, 12);
  // The same place is the same point.
  expect(spotOn(m, body, [0.02, 0.01, 0.015])).toEqual(second);
});

test('a ball joint to the ground stands where it was pressed, in a plane of its own, and compiles', () => {
  const machine = newMachine('Ball');
  const m = machine.mechanism;
  const body = boxAt(m, 'Arm', [0, 0, 0]);
  const joint = made(placeJoint(m, 'ball', body, 'ground', { at: [0.05, 0, 0.02], axis: [0, 0, 1] }, none)) as Extract<Joint, { kind: 'ball' }>; // prettier-ignore
  for (const end of [joint.a, joint.b])
    [0.05, 0, 0.02].forEach((part, k) => expect(spaceOf(m, end)[k]).toBeCloseTo(part, 12));
  sound(machine);
  expect(() => compileMechanism(m)).not.toThrow();
});

test('a plane through a face lies in it and moves with what carries it', () => {
  const machine = newMachine('Plane');
  const m = machine.mechanism;
  const body = boxAt(m, 'Carriage', [0.3, 0.2, 0.1]);
  const plane = placePlane(m, body, { at: [0.35, 0.2, 0.1], axis: [1, 0, 0] });
  expect(plane.on).toBe(body);
  const frame = standingOf(m).plane(plane.id);
  [0.35, 0.2, 0.1].forEach((part, k) => expect(frame.at[k]).toBeCloseTo(part, 12));
  expect([frame.axes[2], frame.axes[5], frame.axes[8]].map((part) => Math.round(part!))).toEqual([1, 0, 0]);
  m.bodies[0]!.pose.x += 0.1;
  expect(standingOf(m).plane(plane.id).at[0]).toBeCloseTo(0.45, 12);
  sound(machine);
});

test('a spring between two faces is slack as it is drawn; a force goes into a flat face, and turns with the body', () => {
  const machine = newMachine('Loads');
  const m = machine.mechanism;
  const [a, b] = [boxAt(m, 'A', [0, 0, 0]), boxAt(m, 'B', [0.3, 0, 0])];
  const spring = made(placeSpring(m, { carrier: a, at: [0.05, 0, 0] }, { carrier: b, at: [0.25, 0, 0.02] })) as Extract<Element, { kind: 'spring' }>; // prettier-ignore
  expect(spring.free).toBeCloseTo(Math.hypot(0.2, 0.02), 12);
  expect(placeSpring(m, { carrier: a, at: [0, 0, 0] }, { carrier: a, at: [0.1, 0, 0] })).toMatch(/one body/);
  m.bodies[0]!.pose.angle = Math.PI / 2;
  const force = made(placeForce(m, a, { at: [0, 0.05, 0], axis: [0, 1, 0] }, true)) as Extract<Element, { kind: 'force' }>; // prettier-ignore
  // Into the face is down in the world: along its own axes, turned by a right angle, that is −x.
  [-1, 0, 0].forEach((part, k) => expect(force.along![k]).toBeCloseTo(part, 12));
  expect(force.turns).toBe(true);
  expect(placeForce(m, 'ground', { at: [0, 0, 0], axis: [0, 1, 0] }, true)).toMatch(/moves nothing/);
  sound(machine);
});

test('the rim of a hole becomes a path where it lies in the plane of its body, and else says why not', () => {
  const machine = newMachine('Path');
  const m = machine.mechanism;
  const body = boxAt(m, 'Cam', [0.1, 0.2, 0]);
  const path = placeCircle(m, body, { at: [0.12, 0.21, 0.5], axis: [0, 0, -1] }, 0.03);
  expect(path).toMatchObject({ body, shape: { kind: 'circle', radius: 0.03 } });
  const centre = typeof path !== 'string' && path.shape.kind === 'circle' ? path.shape.centre : [NaN, NaN];
  expect(centre[0]).toBeCloseTo(0.02, 12);
  expect(placeCircle(m, body, { at: [0, 0, 0], axis: [1, 0, 0] }, 0.03)).toMatch(/“Front”: place a plane here first/);
  sound(machine);
});

test('the rim of a flat face becomes a path of lines and arcs, in the frame of its body', () => {
  const machine = newMachine('Slot');
  const m = machine.mechanism;
  const body = boxAt(m, 'Cam', [0.1, 0.2, 0]);
  // A slot with round ends, as its triangles have it, 60 mm from middle to middle and 20 mm wide.
  const end = (x: number, from: number) => Array.from({ length: 13 }, (_, i): [number, number, number] => {
    const angle = from + (Math.PI * i) / 12;
    return [0.1 + x + 0.01 * Math.cos(angle), 0.2 + 0.01 * Math.sin(angle), 0.05];
  }); // prettier-ignore
  const rim = [...end(0.03, -Math.PI / 2), ...end(-0.03, Math.PI / 2)];
  const path = placeRim(m, body, [0, 0, 1], rim);
  if (typeof path === 'string' || path.shape.kind !== 'chain') throw new Error('a chain was to come');
  expect(path.shape.pieces.map(({ kind }) => kind).sort()).toEqual(['arc', 'arc', 'line', 'line']);
  const curve = pathCurve(path.shape);
  expect(curve.length).toBeCloseTo(2 * 0.06 + 2 * Math.PI * 0.01, 9);
  const round = Array.from({ length: 24 }, (_, i): [number, number, number] => [0.1 + 0.03 * Math.cos((Math.PI * i) / 12), 0.2 + 0.03 * Math.sin((Math.PI * i) / 12), 0]); // prettier-ignore
  const circle = placeRim(m, body, [0, 0, -1], round);
  expect(circle).toMatchObject({ shape: { kind: 'circle', radius: expect.closeTo(0.03, 9) as number } });
  const square = placeRim(m, body, [0, 0, 1], [[0, 0, 0], [0.1, 0, 0], [0.1, 0.1, 0], [0, 0.1, 0]]); // prettier-ignore
  expect(square).toMatchObject({ shape: { kind: 'chain', closed: true, pieces: [0, 1, 2, 3].map(() => ({ kind: 'line' })) } }); // prettier-ignore
  expect(placeRim(m, body, [1, 0, 0], rim)).toMatch(/not level with the plane “Front”: place a plane here first/);
  const ragged = Array.from({ length: 402 }, (_, i): [number, number, number] => [i % 2 ? 0.1 : 0.2, 0.001 * i, 0]);
  expect(placeRim(m, body, [0, 0, 1], ragged)).toMatch(/402 pieces, of 200 at most/);
  sound(machine);
});

test('sensors sit at faces of the front plane: a beam along a hole, a switch on a face; others say what they need', () => {
  const machine = newMachine('Sensors');
  const m = machine.mechanism;
  const body = addPlate(m, [[0, 0], [0.1, 0], [0.1, 0.1], [0, 0.1]], 'Plate').id; // prettier-ignore
  const beam = made(placeSensor(machine, 'ground', { at: [0.2, 0.3, 0], axis: [1, 0, 0] }, false, 0.05));
  expect(beam.sensing).toMatchObject({ kind: 'beam', body: 'ground', from: [expect.closeTo(0.15, 12), 0.3], to: [expect.closeTo(0.25, 12), 0.3] }); // prettier-ignore
  const own: Sensor = made(placeSensor(machine, body, { at: [0.1, 0.05, 0], axis: [1, 0, 0] }, true, 0.01));
  expect(own.sensing).toMatchObject({ kind: 'proximity', body });
  expect(placeSensor(machine, 'ground', { at: [0, 0, 0], axis: [0, 0, 1] }, true, 0.01)).toMatch(/does not lie in the plane/); // prettier-ignore
  sound(machine);
  const slide = made(placeJoint(m, 'slide', body, 'ground', { at: [0, 0, 0], axis: [1, 0, 0] }, none));
  machine.axes.push(newDrive(machine, slide, 0, 0.1));
  sound(machine);
});
