import fc from 'fast-check';
import { addBar, addJoint, bodyPoint, groundPoint, newMachine } from '../machine';
import { assemble, clustersOf, compileMechanism, Equations, mobilityAt, ratesOf } from './index';
import { directPart } from './direct';

const number = (most: number) => fc.double({ min: -most, max: most, noNaN: true });

/** A bar on a driven pin or slide of the ground; turned about, the ground hangs on the bar. */
function one(kind: 'pin' | 'slide', turnedAbout: boolean, direction: number, offset: number) {
  const { mechanism: m } = newMachine('One');
  const bar = addBar(m, [0.1, 0.2], [0.5, 0.35]);
  bar.mass = { given: 'typed', mass: 2, centre: [0.13, offset], inertia: 0.02 };
  const [ground, own] = [groundPoint(m, [0.1, 0.2]), bodyPoint(m, bar.id, [0.1, 0.2])];
  const joint = turnedAbout
    ? addJoint(m, kind, own, ground, { direction })
    : addJoint(m, kind, ground, own, { direction });
  const model = compileMechanism(m, [{ axisId: 'a', joint: joint.id }]);
  const { q } = assemble(model);
  const { rows } = mobilityAt(model, q);
  const [cluster] = clustersOf(model, rows);
  return { model, q, part: directPart(model, cluster!) };
}

// Against the equations of the joint, which it takes the place of.
test.each([
  ['pin', false],
  ['pin', true],
  ['slide', false],
] as const)('%s in closed form fulfils the equations of the joint (property), turned about: %s', (kind, about) => {
  fc.assert(
    fc.property(
      number(3),
      number(0.2),
      number(2),
      number(5),
      number(50),
      fc.array(number(100), { minLength: 3, maxLength: 3 }),
      (direction, offset, led, rate, change, force) => {
        const { model, q, part } = one(kind, about, direction, offset);
        const equations = new Equations(model);
        expect(part!.place(led, q)).toBe(true);
        equations.residual(q, [led]);
        expect(equations.largest(model.rows)).toBeLessThan(1e-13);
        const [v, a] = [ratesOf(model), ratesOf(model)];
        part!.velocities(q, rate, v);
        part!.accelerations(q, v, change, a);
        equations.jacobian(q);
        equations.accelerations(q, v);
        const lambda = new Float64Array(model.rows);
        part!.solveTransposed(q, Float64Array.from(force), lambda);
        for (let row = 0; row < model.rows; row++) {
          let [first, second] = [0, 0];
          for (let k = 1; k < model.entryRows.length; k++)
            if (model.entryRows[k] === row) {
              first += equations.values[k]! * v[model.entryColumns[k]!]!;
              second += equations.values[k]! * a[model.entryColumns[k]!]!;
            }
          const isDrive = row === model.drives[0]!.row;
          expect(first).toBeCloseTo(isDrive ? rate : 0, 12);
          expect(second).toBeCloseTo(equations.gamma[row]! + (isDrive ? change : 0), 11);
        }
        for (let j = 0; j < model.size; j++) {
          let sum = 0;
          for (let k = 1; k < model.entryRows.length; k++)
            if (model.entryColumns[k] === j) sum += equations.values[k]! * lambda[model.entryRows[k]!]!;
          expect(sum).toBeCloseTo(force[j]!, 10);
        }
      },
    ),
  );
});

test('what hangs on more than the frame of its plane, or is led to no number, has no closed form', () => {
  expect(one('slide', true, 0, 0).part).toBeNull();
  const { q, part } = one('pin', false, 0, 0);
  expect(part!.place(NaN, q)).toBe(false);
});
