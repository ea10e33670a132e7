import fc from 'fast-check';
import { aboutZ, plus, quaternionOf, rotationOf, timesRotation, turned, type Point3 } from '../geometry';
import { ownMesh } from '../solid';
import {
  addSolid,
  allSolids,
  assignSolids,
  bodyOfSolids,
  changesOf,
  deleteThings,
  dropSolids,
  emptyMechanism,
  massOfSolids,
  newMachine,
  ownSolid,
  placeJoint,
  replaceFile,
  solidFrame,
  solidMassOf,
  solidsOn,
  stillUsedBy,
  takeFile,
  turnSolid,
  turnToPlane,
  addPlane,
  UNASSIGNED,
  readMachine,
  copyBodies,
  type BodySolid,
  type Mechanism,
  type OwnShape,
  type SolidRef,
  type TakenFile,
} from './index';

const part = fc.double({ min: -1, max: 1, noNaN: true });
const turns = fc
  .tuple(part, part, part, part)
  .filter((q) => Math.hypot(...q) > 0.1)
  .map((q) => quaternionOf(rotationOf(q)));
const solid = (
  shape: OwnShape,
  at: [number, number, number],
  more: Partial<BodySolid> = {},
): Omit<BodySolid, 'id'> => ({
  name: 'Solid',
  colour: null,
  shape,
  at,
  turn: [1, 0, 0, 0],
  density: 1000,
  ...more,
});
const box = (x: number, y: number, z: number): OwnShape => ({ kind: 'box', x, y, z });

/** Corners of solids in the world, as a page knows them from their meshes. */
function cornersOf(m: Mechanism, refs: readonly SolidRef[]): Point3[] {
  return refs.flatMap((ref) => {
    const own = solidsOn(m, ref.carrier).find(({ id }) => id === ref.id)!;
    const { at, axes } = solidFrame(m, ref, own);
    const { points } = ownMesh(ownSolid(own.shape as OwnShape), 1e-3);
    return Array.from({ length: points.length / 3 }, (_, i): Point3 => {
      const p = turned(axes, [points[3 * i]!, points[3 * i + 1]!, points[3 * i + 2]!]);
      return [p[0] + at[0], p[1] + at[1], p[2] + at[2]];
    });
  });
}
const bodyCorners = (m: Mechanism) => (body: string) =>
  cornersOf(m, solidsOn(m, body).map(({ id }) => ({ carrier: body, id }))); // prettier-ignore

test('two boxes weigh what one twice as long does, however they are turned (property)', () => {
  fc.assert(
    fc.property(turns, fc.tuple(part, part, part), (turn, at) => {
      const r = rotationOf(turn);
      const off = (x: number): [number, number, number] => {
        const way = turned(r, [x, 0, 0]);
        return [at[0] + way[0], at[1] + way[1], at[2] + way[2]];
      };
      const halves = [-0.1, 0.1].map((x): BodySolid => ({ id: 's', ...solid(box(0.2, 0.06, 0.02), off(x), { turn }) }));
      const whole = massOfSolids([{ id: 's', ...solid(box(0.4, 0.06, 0.02), at, { turn }) }]);
      const both = massOfSolids(halves);
      expect(both.mass).toBeCloseTo(0.4 * 0.06 * 0.02 * 1000, 12);
      both.centre.forEach((own, k) => expect(own).toBeCloseTo(at[k]!, 12));
      for (const key of ['xx', 'yy', 'zz', 'xy', 'xz', 'yz'] as const)
        expect(both.tensor[key]).toBeCloseTo(whole.tensor[key], 12);
    }),
  );
});

test('an upright cylinder on a body: the closed form about its axis and across it (textbook)', () => {
  const m = emptyMechanism();
  const ref = addSolid(m, UNASSIGNED, solid({ kind: 'cylinder', radius: 0.1, length: 0.3 }, [1, 2, 0.5]));
  const body = bodyOfSolids(m, [ref], cornersOf(m, [ref]), 'Drum');
  const { mass, centre, height, tensor, inertia } = solidMassOf(body);
  expect(mass).toBeCloseTo(Math.PI * 0.01 * 0.3 * 1000, 9);
  expect(body.pose.x + centre[0]).toBeCloseTo(1, 3);
  expect(body.level + height).toBeCloseTo(0.5, 12);
  expect(inertia).toBeCloseTo((mass * 0.01) / 2, 12);
  expect(tensor.xx).toBeCloseTo(mass * (0.01 / 4 + 0.09 / 12), 12);
});

test('solids stay where they are, whatever they are given to (property)', () => {
  fc.assert(
    fc.property(turns, turns, fc.tuple(part, part, part), part, (turn, planeTurn, at, angle) => {
      const m = emptyMechanism();
      const ref = addSolid(m, UNASSIGNED, solid(box(0.2, 0.1, 0.05), at, { turn }));
      const before = solidFrame(m, ref, solidsOn(m, UNASSIGNED)[0]!);
      const body = bodyOfSolids(m, [ref], cornersOf(m, [ref]));
      const stands = () => {
        const [own] = allSolids(m);
        return solidFrame(m, { carrier: own!.carrier }, own!.solid);
      };
      const same = () => {
        stands().at.forEach((own, k) => expect(own).toBeCloseTo(before.at[k]!, 9));
        stands().axes.forEach((own, k) => expect(own).toBeCloseTo(before.axes[k]!, 9));
      };
      same();
      const plane = addPlane(m, { at: [0.3, -0.2, 0.1], turn: planeTurn });
      expect(turnToPlane(m, body.id, plane.id, bodyCorners(m)(body.id))).toBeNull();
      same();
      // What is given back goes where the body took it.
      m.bodies[0]!.pose.angle += angle;
      const moved = stands();
      assignSolids(m, [{ carrier: body.id, id: m.bodies[0]!.solids![0]!.id }], 'ground');
      expect(m.bodies[0]!.solids).toBeUndefined();
      stands().at.forEach((own, k) => expect(own).toBeCloseTo(moved.at[k]!, 9));
    }),
  );
});

test('joints placed by faces make a gantry: slide, slide square to it, lift, head', () => {
  const m = emptyMechanism();
  const make = (name: string, shape: OwnShape, at: [number, number, number]) => {
    const ref = addSolid(m, UNASSIGNED, solid(shape, at));
    return bodyOfSolids(m, [ref], cornersOf(m, [ref]), name).id;
  };
  const bridge = make('Bridge', box(0.1, 0.1, 1), [0, 1, 0]);
  const carriage = make('Carriage', box(0.12, 0.2, 0.1), [0, 0.9, 0.2]);
  const lift = make('Lift', box(0.04, 0.5, 0.04), [0, 0.7, 0.25]);
  const head = make('Head', { kind: 'cylinder', radius: 0.04, length: 0.05 }, [0, 0.4, 0.25]);
  const at = (y: number, z: number): Point3 => [0, y, z];
  const joints = [
    placeJoint(m, 'slide', bridge, 'ground', { at: at(1, 0), axis: [1, 0, 0] }, bodyCorners(m)),
    placeJoint(m, 'slide', carriage, bridge, { at: at(1, 0.2), axis: [0, 0, 1] }, bodyCorners(m)),
    placeJoint(m, 'slide', lift, carriage, { at: at(0.7, 0.25), axis: [0, -1, 0] }, bodyCorners(m)),
    placeJoint(m, 'pin', head, lift, { at: at(0.4, 0.25), axis: [0, 1, 0] }, bodyCorners(m)),
  ];
  expect(joints.filter((joint) => typeof joint === 'string')).toEqual([]);
  const machine = { ...newMachine('Gantry'), mechanism: m };
  expect(readMachine(JSON.parse(JSON.stringify(machine))).ok).toBe(true);
  expect(m.planes.map(({ on }) => on)).toEqual(['ground', bridge, lift]);
  expect(m.bodies.map(({ plane }) => plane)).toEqual([
    m.planes[0]!.id,
    m.planes[1]!.id,
    m.planes[1]!.id,
    m.planes[2]!.id,
  ]);
  // The head stands where it was drawn, and its axis is the line that was clicked.
  const frame = solidFrame(m, { carrier: head }, solidsOn(m, head)[0]!);
  [0, 0.4, 0.25].forEach((own, k) => expect(frame.at[k]).toBeCloseTo(own, 12));
  // What is held in its plane is not turned out of it: that is said, by name.
  expect(placeJoint(m, 'pin', bridge, 'ground', { at: at(0, 0), axis: [1, 0, 0] }, bodyCorners(m))).toMatch(
    /“Bridge” is held in its plane already by “Slide 1”/,
  );
  expect(placeJoint(m, 'ball', lift, carriage, { at: at(0, 0), axis: [1, 0, 0] }, bodyCorners(m))).toMatch(/one plane/);
});

const file = (solids: [string, string][]): TakenFile => ({
  name: 'head.step',
  hash: 'a'.repeat(64),
  solids: solids.map(([key, digest]) => ({
    key,
    name: key.split(' / ').at(-1)!,
    colour: '#808080',
    digest,
    holds: { volume: 1e-3, centre: [0, 0, 0], tensor: { xx: 1, yy: 1, zz: 1, xy: 0, xz: 0, yz: 0 } },
    problem: null,
  })),
});

test('a newer file: what keeps its name keeps its body, what is new, gone or changed is told before', () => {
  const machine = newMachine('Head');
  const m = machine.mechanism;
  const taken = takeFile(m, file([['a / plate', '1'], ['a / bolt', '1'], ['a / cover', '1']])); // prettier-ignore
  const refs = m.shapes!.unassigned.slice(0, 2).map(({ id }) => ({ carrier: UNASSIGNED, id }));
  const body = bodyOfSolids(m, refs, [[0, 0, 0], [1, 0, 0], [1, 1, 1]], 'Plate'); // prettier-ignore
  body.solids![0]!.density = 2700;
  const newer = { ...file([['a / plate', '2'], ['a / bolt', '1'], ['a / nut', '1']]), hash: 'b'.repeat(64) }; // prettier-ignore
  expect(changesOf(m, taken.id, newer)).toEqual({
    changed: [{ name: 'plate', carrier: 'Plate' }],
    same: 1,
    fresh: ['nut'],
    gone: [{ name: 'cover', carrier: 'unassigned' }],
  });
  replaceFile(m, taken.id, newer);
  expect(m.bodies[0]!.solids!.map(({ name, density, shape }) => [name, density, shape.kind === 'file' && shape.digest])).toEqual([['plate', 2700, '2'], ['bolt', 7850, '1']]); // prettier-ignore
  expect(m.shapes!.unassigned.map(({ name }) => name)).toEqual(['nut']);
  expect(m.shapes!.files).toEqual([{ id: taken.id, name: 'head.step', hash: 'b'.repeat(64) }]);
  // A body that goes leaves its solids; the last solid takes its file along.
  deleteThings(machine, [body.id]);
  expect(m.shapes!.unassigned.map(({ name }) => name).sort()).toEqual(['bolt', 'nut', 'plate']);
  dropSolids(m, m.shapes!.unassigned.map(({ id }) => ({ carrier: UNASSIGNED, id }))); // prettier-ignore
  expect(m.shapes).toBeUndefined();
});

test('a copy in a mirror weighs the same, its tensor turned round; a mirror of that is the original', () => {
  const machine = newMachine('Mirror');
  const m = machine.mechanism;
  const turn = quaternionOf(timesRotation(aboutZ(0.4), rotationOf([0.9, 0.3, 0.2, 0.1])));
  const ref = addSolid(m, UNASSIGNED, solid({ kind: 'plate', outline: [[0, 0], [0.2, 0], [0, 0.1]], holes: [], thickness: 0.02 }, [0.1, 0.2, 0.3], { turn })); // prettier-ignore
  const body = bodyOfSolids(m, [ref], cornersOf(m, [ref]), 'Wedge');
  const first = solidMassOf(body);
  copyBodies(machine, new Set([body.id]), { shift: [1, 0], phase: 0, mirror: 0 });
  const copy = m.bodies[1]!;
  const second = solidMassOf(copy);
  expect(copy.solids![0]!.mirrored).toBe(true);
  expect(second.mass).toBeCloseTo(first.mass, 12);
  expect(second.tensor.xx).toBeCloseTo(first.tensor.xx, 12);
  expect(second.tensor.xy).toBeCloseTo(-first.tensor.xy, 12);
  expect(second.tensor.yz).toBeCloseTo(first.tensor.yz, 12);
  expect(second.height).toBeCloseTo(first.height, 12);
  copyBodies(machine, new Set([copy.id]), { shift: [1, 0], phase: 0, mirror: 0 });
  expect(m.bodies[2]!.solids![0]!.mirrored).toBeUndefined();
  m.bodies[2]!.solids![0]!.turn.forEach((own, k) => expect(own).toBeCloseTo(body.solids![0]!.turn[k]!, 12));
});

test('a solid that cannot be, or a file that is not there, is named', () => {
  const machine = newMachine('Wrong');
  addSolid(machine.mechanism, 'ground', solid({ kind: 'tube', outer: 0.01, inner: 0.02, length: 0.1 }, [0, 0, 0]));
  const read = readMachine(JSON.parse(JSON.stringify(machine)));
  expect(read.ok || read.problems.map(({ message }) => message).join()).toMatch(/Make the hole of a tube smaller/);
  takeFile(machine.mechanism, file([['plate', '1']]));
  machine.mechanism.shapes!.files = [];
  const again = readMachine(JSON.parse(JSON.stringify(machine)));
  expect(again.ok || again.problems.map(({ message }) => message).join()).toMatch(
    /names the file “file1”.*import it anew/,
  );
});

test('a body that goes is watched no more, and no pair that touches by design is left of it', () => {
  const machine = newMachine('Watched');
  const m = machine.mechanism;
  const ids = ['A', 'B', 'C'].map((name, i) => {
    const ref = addSolid(m, UNASSIGNED, solid(box(0.1, 0.1, 0.1), [i, 0, 0]));
    return bodyOfSolids(m, [ref], cornersOf(m, [ref]), name).id;
  });
  const [a, b, c] = ids as [string, string, string];
  const watch = (id: string, one: string[], other: string[]) => ({
    id,
    name: id,
    a: one,
    b: other,
    least: 0,
    stop: true,
  });
  machine.clearances = { watches: [watch('w1', [a, b], [c]), watch('w2', [a], ['ground'])], byDesign: [[a, b], [b, 'ground']] }; // prettier-ignore
  expect(stillUsedBy(machine, [a])).toEqual([]);
  deleteThings(machine, [a]);
  expect(machine.clearances).toEqual({ watches: [watch('w1', [b], [c])], byDesign: [[b, 'ground']] });
  expect(readMachine(JSON.parse(JSON.stringify(machine))).ok).toBe(true);
});

test('a solid that is turned keeps the place about which it turns, and comes back after four quarters', () => {
  const solid: Pick<BodySolid, 'at' | 'turn'> = { at: [0.4, -0.1, 0.2], turn: quaternionOf(rotationOf([0.8, 0.2, -0.5, 0.1])) }; // prettier-ignore
  const before = structuredClone(solid);
  const middle = [0.7, 0.2, -0.3] as const;
  const placeOf = (own: readonly [number, number, number]) => plus(solid.at, turned(rotationOf(solid.turn), own));
  const there = placeOf(middle);
  const beside = placeOf([0, 0, 0]);
  for (const axis of [0, 1, 2] as const) {
    turnSolid(solid, axis, Math.PI / 2, middle);
    placeOf(middle).forEach((part, k) => expect(part).toBeCloseTo(there[k]!, 12));
    for (let i = 0; i < 3; i++) turnSolid(solid, axis, Math.PI / 2, middle);
    solid.at.forEach((part, k) => expect(part).toBeCloseTo(before.at[k]!, 12));
  }
  // About y by a quarter: what lay along z from there lies along x now.
  turnSolid(solid, 1, Math.PI / 2, middle);
  const now = placeOf([0, 0, 0]);
  expect(now[0] - there[0]).toBeCloseTo(beside[2] - there[2], 12);
  expect(now[2] - there[2]).toBeCloseTo(there[0] - beside[0], 12);
  expect(now[1]).toBeCloseTo(beside[1], 12);
});
