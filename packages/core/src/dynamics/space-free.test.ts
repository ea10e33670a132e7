import { Solver } from 'odex';
import { addBar, addDisc, addJoint, addPlane, bodyPoint, groundPoint, turnOf, type Mechanism } from '../machine';
import { assemble, CarriedSystem, compileMechanism, distanceAt, Equations, mobilityAt, ratesOf } from '../mechanism';
import { blank, pointMass, solid } from '../../test/space';
import { compileEfforts, ForwardDynamics, kineticEnergy, type Leading } from './index';

const G = 9.80665;

/** Moves a mechanism by its forces, from given positions and velocities of its bodies' unknowns. */
function letGo(
  m: Mechanism,
  driven: string[],
  leading: Leading,
  begin: (q: Float64Array, v: Float64Array) => void = () => undefined,
) {
  const model = compileMechanism(m, driven.map((joint) => ({ axisId: joint, joint }))); // prettier-ignore
  const { q } = assemble(model);
  const rates = ratesOf(model);
  begin(q, rates);
  const forward = new ForwardDynamics(
    model,
    q,
    mobilityAt(model, q).rows,
    compileEfforts(model, { cycleTime: 1 }),
    leading,
  );
  forward.state.v.set(rates);
  return forward;
}
const undriven: Leading = () => undefined;

/** An independent integration of hand-derived equations. */
function integrated(f: (t: number, y: number[]) => number[], y0: number[], to: number): number[] {
  const solver = new Solver(y0.length);
  solver.absoluteTolerance = solver.relativeTolerance = 1e-12;
  return solver.solve(f, 0, y0, to).y;
}

/** A table turning about the upright axis with an arm on it that swings in an upright plane. */
function turret(): {
  m: Mechanism;
  turn: string;
  lift: string;
  numbers: { r: number; l: number; mass: number; J: number };
} {
  const m = blank();
  const numbers = { r: 0.15, l: 0.4, mass: 1.3, J: 0.05 };
  const { r, l, mass, J } = numbers;
  const top = addPlane(m, { name: 'Top', turn: turnOf('top') });
  const table = solid(addDisc(m, [0, 0], 0.3, 'Table', top.id), 5, [0.1, 0.1, J]);
  const turn = addJoint(m, 'pin', groundPoint(m, [0, 0], top.id), bodyPoint(m, table.id, [0, 0]));
  const upright = addPlane(m, { name: 'Upright', on: table.id, turn: turnOf('bottom') });
  const arm = pointMass(addBar(m, [r, 0], [r + l, 0], 'Arm', null, upright.id), mass, [l, 0]);
  const lift = addJoint(m, 'pin', groundPoint(m, [r, 0], upright.id), bodyPoint(m, arm.id, [r, 0]));
  return { m, turn: turn.id, lift: lift.id, numbers };
}

test('an arm that swings freely on a free table, against Lagrange’s equations integrated by another library', () => {
  const { m, numbers } = turret();
  const { r, l, mass, J } = numbers;
  // A point mass without inertia of its own: ψ and φ are the whole state.
  const forward = letGo(m, [], undriven, (_q, v) => {
    v[2] = 3;
    // The centre of mass of the table lies on its axis; the arm begins level, at rest on the table.
  });
  const energy = () =>
    kineticEnergy(forward.model, forward.state.q, forward.state.v) + mass * G * forward.model.tree.at[4]!;
  const before = energy();
  forward.advance(0.8);
  const f = (_t: number, [, phi, psi1, phi1]: number[]) => {
    const rho = r + l * Math.cos(phi!);
    const rho1 = -l * Math.sin(phi!) * phi1!;
    return [
      psi1!,
      phi1!,
      (-2 * mass * rho * rho1 * psi1!) / (J + mass * rho ** 2),
      (-mass * rho * l * Math.sin(phi!) * psi1! ** 2 - mass * G * l * Math.cos(phi!)) / (mass * l ** 2),
    ];
  };
  const [psi, phi] = integrated(f, [0, 0, 3, 0], 0.8);
  expect(forward.state.q[2]).toBeCloseTo(psi!, 6);
  expect(forward.state.q[5]).toBeCloseTo(phi!, 6);
  forward.model.tree.pose(forward.state.q);
  expect(energy()).toBeCloseTo(before, 7);
});

test('a pendulum under a carriage that is driven in two directions, against odex on equations derived by hand', () => {
  const m = blank();
  const [l, mass] = [0.5, 2];
  const [wx, wz, ax, az] = [4, 5.5, 0.12, 0.08];
  // A bridge slides along x in the front plane, a carriage across it in a plane seen from the right.
  const bridge = addDisc(m, [0, 0], 0.05, 'Bridge');
  const along = addJoint(m, 'slide', groundPoint(m, [0, 0]), bodyPoint(m, bridge.id, [0, 0]));
  const cross = addPlane(m, { on: bridge.id, turn: turnOf('right') });
  const carriage = addDisc(m, [0, 0], 0.04, 'Carriage', cross.id);
  const across = addJoint(m, 'slide', groundPoint(m, [0, 0], cross.id), bodyPoint(m, carriage.id, [0, 0]));
  // The load swings about x and about z of the world: two pins, a cross without mass between them.
  const cardan = pointMass(addDisc(m, [0, 0], 0.02, 'Cross', cross.id), 0);
  addJoint(m, 'pin', bodyPoint(m, carriage.id, [0, 0]), bodyPoint(m, cardan.id, [0, 0]));
  const swing = addPlane(m, { on: cardan.id, turn: turnOf('left') });
  const load = pointMass(addBar(m, [0, 0], [0, -l], 'Load', null, swing.id), mass, [l, 0]);
  addJoint(m, 'pin', groundPoint(m, [0, 0], swing.id), bodyPoint(m, load.id, [0, 0]));
  const forward = letGo(m, [along.id, across.id], (time, out) => {
    [wx, wz].forEach((w, i) => {
      const amplitude = i === 0 ? ax : az;
      out.position[i] = amplitude * (1 - Math.cos(w * time));
      out.rate[i] = amplitude * w * Math.sin(w * time);
      out.change[i] = amplitude * w * w * Math.cos(w * time);
    });
  });
  forward.advance(1.5);
  // In place of angles: the direction e of the load with its tension as a multiplier, e'' = −(a − g)/l + … so |e| = 1.
  const f = (t: number, y: number[]) => {
    const [ex, ey, ez, dx, dy, dz] = y as [number, number, number, number, number, number];
    // The plane seen from the right has its x towards −z.
    const a = [ax * wx * wx * Math.cos(wx * t), G, -az * wz * wz * Math.cos(wz * t)] as const;
    const along = -(a[0] * ex + a[1] * ey + a[2] * ez) / l;
    const square = dx * dx + dy * dy + dz * dz;
    const pull = -along - square;
    return [dx, dy, dz, -a[0] / l + pull * ex, -a[1] / l + pull * ey, -a[2] / l + pull * ez];
  };
  const y = integrated(f, [0, -1, 0, 0, 0, 0], 1.5);
  const { tree } = forward.model;
  tree.pose(forward.state.q);
  const point = tree.point({ body: load.id, point: 'p2' });
  const hung = tree.point({ body: load.id, point: 'p1' });
  const [from, to] = [new Float64Array(3), new Float64Array(3)];
  tree.placeOf(hung, from);
  tree.placeOf(point, to);
  for (let k = 0; k < 3; k++) expect((to[k]! - from[k]!) / l).toBeCloseTo(y[k]!, 6);
});

test('a conical pendulum keeps its angle at ω² = g / (l cos α) (textbook)', () => {
  const { m, numbers } = turret();
  const { r, l } = numbers;
  const alpha = 0.6;
  // At rest on its table when g = ω² (r + l sin α) / tan α, α from the plumb line.
  const w = Math.sqrt((G * Math.tan(alpha)) / (r + l * Math.sin(alpha)));
  const phi = alpha - Math.PI / 2;
  const forward = letGo(m, [], undriven, (q, v) => {
    q[5] = phi;
    q[3] = r + l * Math.cos(phi);
    q[4] = l * Math.sin(phi);
    v[2] = w;
  });
  forward.advance(2);
  expect(forward.state.q[5]).toBeCloseTo(phi, 7);
  expect(forward.state.q[2]).toBeCloseTo(2 * w, 6);
});

test('the symmetric system answers as the mass matrix filled out does', () => {
  const { m } = turret();
  const tip = solid(addDisc(m, [0.5, 0.1], 0.05, 'Tip', addPlane(m, { on: 'body2', at: [0.1, 0.02, 0.03], turn: [0.8, 0.1, 0.5, 0.33] }).id), 0.7, [0.01, 0.02, 0.025]); // prettier-ignore
  const other = solid(addDisc(m, [0.1, -0.1], 0.05, 'Other', tip.plane), 0.4, [0.003, 0.004, 0.006], [0.02, 0.01]);
  expect(other.plane).toBe(tip.plane);
  const model = compileMechanism(m);
  const q = model.start.map(
    (value, j) => value + (j < model.size ? 0.3 * Math.sin(3 * j + 1) : 0),
  ) as typeof model.start;
  const equations = new Equations(model);
  equations.jacobian(q);
  // M column by column: kinetic energy of pairs of unit rates.
  const size = model.size;
  const unit = (...js: number[]) => {
    const v = ratesOf(model);
    for (const j of js) v[j] = v[j]! + 1;
    return v;
  };
  const T = (...js: number[]) => kineticEnergy(model, q, unit(...js));
  const M = Array.from({ length: size }, (_, i) =>
    Array.from({ length: size }, (_, j) => (i === j ? 2 * T(i) : T(i, j) - T(i) - T(j))),
  );
  const rows = mobilityAt(model, model.start).rows;
  const system = new CarriedSystem(model, model.tree, rows);
  expect(system.factor(equations.values, q)).toBe(true);
  const f = Float64Array.from({ length: size }, (_, j) => Math.cos(2 * j));
  const [x, lambda] = [ratesOf(model), new Float64Array(model.rows)];
  system.solve(f, null, x, lambda);
  for (let i = 0; i < size; i++) {
    let left = 0;
    for (let j = 0; j < size; j++) left += M[i]![j]! * x[j]!;
    for (let k = 1; k < model.entryRows.length; k++)
      if (model.entryColumns[k] === i) left += equations.values[k]! * lambda[model.entryRows[k]!]!;
    expect(left).toBeCloseTo(f[i]!, 9);
  }
});

test('what stands between planes is as long in panels as it is in space', () => {
  const m = blank();
  const bar = addBar(m, [0, 0], [0.3, 0]);
  const far = addPlane(m, { at: [0, 0, 0.4] });
  const model = compileMechanism(m);
  const end = groundPoint(m, [0, 0], far.id);
  expect(distanceAt(compileMechanism(m), model.start, { body: bar.id, point: 'p2' }, end)).toBeCloseTo(0.5, 12);
  const near = groundPoint(m, [0.3, 0.2]);
  expect(distanceAt(compileMechanism(m), model.start, { body: bar.id, point: 'p2' }, near)).toBeCloseTo(0.2, 12);
});
