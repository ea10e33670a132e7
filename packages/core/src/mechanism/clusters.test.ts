import fc from 'fast-check';
import { drive, fourBar } from '../../test/mechanisms';
import { addBar, addJoint, bodyPoint, groundPoint, type Machine } from '../machine';
import { assemble, clustersOf, compileMechanism, Kinematics, linkedUnknowns, mobilityAt } from './index';

/** A four-bar, and beside it slides that nothing ties to it or to each other, each with an axis. */
function beside(slides: number): Machine {
  const { machine } = fourBar([0.1, 0.04, 0.12, 0.08], 1);
  const m = machine.mechanism;
  for (let i = 0; i < slides; i++) {
    const at: [number, number] = [0.5 + 0.3 * i, 0.2];
    const bar = addBar(m, at, [at[0] + 0.1, at[1]]);
    const joint = addJoint(m, 'slide', groundPoint(m, at), bodyPoint(m, bar.id, at), { direction: 0.4 * i });
    drive(machine, joint, { kind: 'constant', value: 0.1 });
  }
  return machine;
}
function led(machine: Machine) {
  const driven = machine.axes.map(({ id, joint }) => ({ axisId: id, joint: joint! }));
  const model = compileMechanism(machine.mechanism, driven);
  const { q, assembled } = assemble(model);
  expect(assembled).toBe(true);
  const { rows } = mobilityAt(model, q);
  return { model, q, rows, kinematics: () => new Kinematics(model, q, rows) };
}
const start = ({ model, q }: ReturnType<typeof led>) => model.drives.map(({ coordinate }) => coordinate.value(q));

describe('parts that do not hang together', () => {
  test('each has as many rows as unknowns, and all of them make up the mechanism', () => {
    const { model, rows } = led(beside(3));
    const clusters = clustersOf(model, rows);
    expect(clusters.map(({ columns }) => columns.length).sort((a, b) => a - b)).toEqual([3, 3, 3, 9]);
    expect(clusters.every((cluster) => cluster.rows.length === cluster.columns.length)).toBe(true);
    const sorted = (of: 'columns' | 'rows' | 'drives') => clusters.flatMap((c) => c[of]).sort((a, b) => a - b);
    expect(sorted('columns')).toEqual(Array.from({ length: model.size }, (_, j) => j));
    expect(sorted('rows')).toEqual([...rows].sort((a, b) => a - b));
    expect(sorted('drives')).toEqual([0, 1, 2, 3]);
    // What a drive leads is the cluster that it stands in.
    linkedUnknowns(model).forEach((columns, drive) =>
      expect(columns).toEqual(clusters.find(({ drives }) => drives.includes(drive))!.columns),
    );
  });

  test('a coupling makes one of two; where freedoms are left, all is one', () => {
    const machine = beside(2);
    const [, first, second] = machine.axes.map(({ joint }) => joint!) as [string, string, string];
    machine.mechanism.couplings.push({ kind: 'ratio', id: 'c', name: 'Tied', first, second, ratio: 2 });
    machine.axes.pop();
    const { model, rows } = led(machine);
    expect(clustersOf(model, rows).map(({ columns }) => columns.length).sort((a, b) => a - b)).toEqual([6, 9]); // prettier-ignore
    expect(clustersOf(model, rows.slice(1))).toHaveLength(1);
  });

  test('moved together they come to where each comes to alone (property)', () => {
    const all = led(beside(2));
    const [from] = [start(all)];
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.integer({ min: 0, max: 2 }), fc.double({ min: -0.05, max: 0.05, noNaN: true })), { minLength: 1, maxLength: 8 }), // prettier-ignore
        (moves) => {
          const kinematics = all.kinematics();
          const at = [...from];
          expect(kinematics.moveTo(at)).toBe(1);
          for (const [drive, way] of moves) {
            at[drive] = at[drive]! + way;
            const before = Float64Array.from(kinematics.state.q);
            expect(kinematics.moveTo(at)).toBe(1);
            // What is not led stays where it is, to the last bit.
            linkedUnknowns(all.model).forEach((columns, other) => {
              if (other !== drive) for (const j of columns) expect(kinematics.state.q[j]).toBe(before[j]);
            });
          }
          const once = all.kinematics();
          expect(once.moveTo(at)).toBe(1);
          for (let j = 0; j < all.model.size; j++) expect(kinematics.state.q[j]).toBeCloseTo(once.state.q[j]!, 10);
        },
      ),
      { numRuns: 40 },
    );
  });

  test('velocities and accelerations are those of the whole, at rest and in motion', () => {
    const all = led(beside(1));
    const kinematics = all.kinematics();
    const at = start(all);
    expect(kinematics.moveTo([at[0]! + 0.3, at[1]! + 0.05])).toBe(1);
    expect(kinematics.derive([3, 0], [10, 0])).toBe(true);
    const { q, v, a } = kinematics.state;
    const slide = linkedUnknowns(all.model)[1]!;
    for (const j of slide) expect([v[j], a[j]].map((value) => value === 0)).toEqual([true, true]);
    // Against differences of poses a little before and after.
    const h = 1e-5;
    const pose = (t: number) => {
      const moved = all.kinematics();
      expect(moved.moveTo([at[0]! + 0.3 + 3 * t + 5 * t * t, at[1]! + 0.05])).toBe(1);
      return moved.state.q;
    };
    const [before, after] = [pose(-h), pose(h)];
    for (const j of linkedUnknowns(all.model)[0]!) {
      expect((after[j]! - before[j]!) / (2 * h)).toBeCloseTo(v[j]!, 6);
      expect((after[j]! - 2 * q[j]! + before[j]!) / h ** 2 / 100).toBeCloseTo(a[j]! / 100, 2);
    }
    // A drive at rest that begins to move takes its part along.
    expect(kinematics.derive([0, 2], [0, 0])).toBe(true);
    expect(slide.some((j) => Math.abs(v[j]!) > 1)).toBe(true);
    for (const j of linkedUnknowns(all.model)[0]!) expect(v[j]).toBeCloseTo(0, 12);
  });
});

describe('following in even steps', () => {
  test('comes to the same poses as going there at once, through starts, stops and turns (property)', () => {
    const all = led(beside(2));
    const from = start(all);
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.double({ min: -20, max: 20, noNaN: true }), fc.double({ min: -1, max: 1, noNaN: true }), fc.integer({ min: 1, max: 30 })), { minLength: 1, maxLength: 6 }), // prettier-ignore
        (stretches) => {
          const following = all.kinematics();
          const at = [...from];
          for (const [turning, sliding, steps] of stretches)
            for (let k = 0; k < steps; k++) {
              at[0] = at[0]! + turning * 0.004;
              at[1] = at[1]! + sliding * 0.004;
              expect(following.follow(at)).toBe(1);
            }
          const once = all.kinematics();
          expect(once.moveTo(at)).toBe(1);
          for (let j = 0; j < all.model.size; j++) {
            // Full turns of the crank are counted on while it is followed, and gone at once by the same way.
            expect(following.state.q[j]).toBeCloseTo(once.state.q[j]!, 8);
          }
        },
      ),
      { numRuns: 30 },
    );
  });

  test('says how far it got where a drive cannot be followed', () => {
    // A rocker as crank: it cannot go round (Grashof).
    const { machine } = fourBar([0.1, 0.08, 0.12, 0.04], 1);
    const all = led(machine);
    const kinematics = all.kinematics();
    const [from] = start(all) as [number];
    let share = 1;
    for (let k = 1; share === 1 && k < 2000; k++) share = kinematics.follow([from + k * 0.01]);
    expect(share).toBeLessThan(1);
    // The pose it stayed at still closes.
    kinematics.equations.residual(kinematics.state.q, null);
    expect(kinematics.equations.largest(all.model.tiedRows)).toBeLessThan(1e-9);
  });
});
