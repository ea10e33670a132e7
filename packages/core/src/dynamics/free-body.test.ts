import { Solver } from 'odex';
import {
  addFreeBody,
  addJoint,
  carriersOf,
  describeProblems,
  newMachine,
  readMachine,
  spaceOf,
  standingOf,
} from '../machine';
import { assemble, compileMechanism, mobilityAt } from '../mechanism';
import { compileEfforts, ForwardDynamics } from './index';
import { turningMomentum } from './newton-euler';

const [X, Y, Z] = [0.002, 0.005, 0.0065];

/** A body free in space with three moments of inertia of its own, let go with turns about all axes. */
function letGo() {
  const machine = newMachine('Tumbling');
  const m = machine.mechanism;
  const body = addFreeBody(m, [0.1, 0.4], 'front');
  body.mass = { given: 'typed', mass: 2, centre: [0, 0], inertia: Z, height: 0, tensor: { xx: X, yy: Y, xy: 0, xz: 0, yz: 0 } }; // prettier-ignore
  const read = readMachine(machine);
  if (!read.ok) throw new Error(describeProblems(read.problems));
  const model = compileMechanism(m);
  const { q, assembled } = assemble(model);
  expect(assembled).toBe(true);
  return { machine, m, body, model, q, mobility: mobilityAt(model, q) };
}

test('a free body has six freedoms, stands where it was put, level, and is held by rods', () => {
  const { m, body, mobility } = letGo();
  expect(mobility).toMatchObject({ free: 6, remaining: 6, redundant: [] });
  const at = spaceOf(m, { body: body.id, point: 'p1' }, standingOf(m));
  [0.1, 0.4, 0].forEach((part, k) => expect(at[k]).toBeCloseTo(part, 12));
  expect([2, 5, 8].map((k) => standingOf(m).body(body.id).axes[k])).toEqual(
    [0, 1, 0].map((n) => expect.closeTo(n, 12)),
  );
  m.ground.push({ id: 'hook', plane: 'front', at: [0.1, 0.9] });
  const rod = addJoint(m, 'rod', { body: 'ground', point: 'hook' }, { body: body.id, point: 'p1' });
  expect(rod).toMatchObject({ length: expect.closeTo(0.5, 12) });
  // It goes from plane to plane: no other body carries an end of it.
  expect(carriersOf(m, rod)).toEqual([]);
  const model = compileMechanism(m);
  expect(mobilityAt(model, assemble(model).q).free).toBe(5);
});

test('it falls as all bodies do, and tumbles by Euler’s equations (odex)', () => {
  const { model, q, mobility } = letGo();
  const forward = new ForwardDynamics(model, q, mobility.rows, compileEfforts(model, { cycleTime: 1 }), () => undefined); // prettier-ignore
  const { v } = forward.state;
  // A turn mostly about the middle axis of inertia, which does not stay one; no angle comes near a right one.
  [v[0], v[1], v[2], v[5], v[8]] = [0.3, 1, 0.4, 0.3, 4];
  const { tree, space } = model;
  space!.move(forward.state.q, v, null);
  const axes = tree.axes.slice(18, 27);
  const w0 = [0, 1, 2].map((k) => [0, 1, 2].reduce((sum, i) => sum + axes[3 * i + k]! * space!.w[6 + i]!, 0));
  const momentum: [number, number, number] = [0, 0, 0];
  turningMomentum(tree, 2, space!.w, 6, momentum);
  const before = [...momentum];
  forward.advance(0.3);
  space!.move(forward.state.q, forward.state.v, null);
  const { at, axes: turned } = tree;
  expect(at[6]).toBeCloseTo(0.1 + 0.3 * 0.3, 8);
  expect(at[7]).toBeCloseTo(0.4 + 0.3 - (9.80665 / 2) * 0.09, 8);
  expect(at[8]).toBeCloseTo(0, 8);
  turningMomentum(tree, 2, space!.w, 6, momentum);
  momentum.forEach((part, k) => expect(part).toBeCloseTo(before[k]!, 8));
  // Euler: X ω₁' = (Y − Z) ω₂ ω₃ and so on, in the axes of the body.
  const solver = new Solver(3);
  solver.absoluteTolerance = solver.relativeTolerance = 1e-12;
  const euler = (_t: number, [a, b, c]: number[]) => [((Y - Z) * b! * c!) / X, ((Z - X) * c! * a!) / Y, ((X - Y) * a! * b!) / Z]; // prettier-ignore
  const wanted = solver.solve(euler, 0, w0, 0.3).y;
  [0, 1, 2].forEach((k) => {
    const own = [0, 1, 2].reduce((sum, i) => sum + turned[18 + 3 * i + k]! * space!.w[6 + i]!, 0);
    expect(own).toBeCloseTo(wanted[k]!, 7);
  });
});
