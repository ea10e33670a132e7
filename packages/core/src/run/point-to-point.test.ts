import { peak } from '../../test/demos';
import { bareGantry, markedPose as mark } from '../../test/gantry';
import { describeProblems, readMachine, type Machine } from '../machine';
import { dragInSpace } from '../mechanism';
import { AxisPoses, keepAsPlans, likelyTool, planTransfer, simulate, travelEnds, wayInSpace, type TransferWish } from './index'; // prettier-ignore

const idOf = (machine: Machine, name: string) => machine.axes.find((axis) => axis.name === name)!.id;
const namesOf = (machine: Machine, ids: readonly string[]) => ids.map((id) => machine.axes.find((axis) => axis.id === id)!.name); // prettier-ignore

const posesOf = (machine: Machine): AxisPoses => {
  const poses = AxisPoses.of(machine);
  if (typeof poses === 'string') throw new Error(poses);
  return poses;
};
const plain = { clear: 0, overlap: 0, law: { id: 'modifiedSine' }, time: null, back: false, stay: 0, steps: {} } as const; // prettier-ignore

const machine = bareGantry();
const pick = mark(machine, 'Pick', { Bridge: 0.1, Carriage: -0.1, Lift: -0.2 });
const place = mark(machine, 'Place', { Bridge: 0.6, Carriage: 0.05, Lift: -0.18, Head: Math.PI / 2 });
const wish: TransferWish = { from: pick, to: place, ...plain };

describe('from one marked pose to another', () => {
  test('the lift raises first and lowers last, bridge, carriage and head go between', () => {
    const { moves, problem, there } = planTransfer(machine, { ...wish, clear: 0.08 });
    expect(problem).toBeNull();
    const steps = [1, 2, 3].map((step) => namesOf(machine, moves.filter((m) => m.step === step).map(({ axis }) => axis)).sort()); // prettier-ignore
    expect(steps).toEqual([['Lift'], ['Bridge', 'Carriage', 'Head'], ['Lift']]);
    // 80 mm over the higher of both places, so that the lift stands while the others go.
    const lift = moves.filter(({ axis }) => axis === idOf(machine, 'Lift'));
    expect(lift.map(({ to }) => Number(to.toFixed(9)))).toEqual([-0.1, -0.18]);
    expect(Math.max(...moves.map(({ start, time }) => start + time))).toBeCloseTo(there, 12);
  });

  test('without a clear height what goes up goes first, and what goes down goes last', () => {
    const low = mark(machine, 'Low', { Bridge: 0.4, Lift: -0.22 });
    const high = mark(machine, 'High', { Bridge: 0.1, Lift: -0.05 });
    const up = planTransfer(machine, { ...wish, from: low, to: high });
    expect(
      namesOf(
        machine,
        up.moves.map(({ axis }) => axis),
      ),
    ).toEqual(['Lift', 'Bridge']);
    const down = planTransfer(machine, { ...wish, from: high, to: low });
    expect(
      namesOf(
        machine,
        down.moves.map(({ axis }) => axis),
      ),
    ).toEqual(['Bridge', 'Lift']);
  });

  test('times keep the limits of the axes: modified sine, C_v 1.76 and C_a 5.53 (VDI 2143)', () => {
    const { moves } = planTransfer(machine, wish);
    const bridge = moves.find(({ axis }) => axis === idOf(machine, 'Bridge'))!;
    const { limits } = machine.axes.find(({ name }) => name === 'Bridge')!;
    expect((1.7596 * 0.5) / bridge.time).toBeLessThanOrEqual(limits.velocity!);
    expect((5.528 * 0.5) / bridge.time ** 2).toBeLessThanOrEqual(limits.acceleration!);
    // And one of all axes of the step is at a limit, to half a thousandth.
    const used = moves
      .filter(({ step }) => step === bridge.step)
      .map(({ axis, from, to, time }) => {
        const own = machine.axes.find(({ id }) => id === axis)!.limits;
        const d = Math.abs(to - from);
        return Math.max((1.7596 * d) / time / own.velocity!, (5.528 * d) / time ** 2 / own.acceleration!, (69.47 * d) / time ** 3 / own.jerk!); // prettier-ignore
      });
    expect(Math.max(...used)).toBeGreaterThan(0.995);
    expect(Math.max(...used)).toBeLessThanOrEqual(1.0005);
  });

  test('steps overlap by their share, a wished time scales all of it, and the way back is its mirror image', () => {
    const apart = planTransfer(machine, { ...wish, clear: 0.08 });
    const over = planTransfer(machine, { ...wish, clear: 0.08, overlap: 0.4 });
    expect(over.there).toBeLessThan(apart.there);
    const timed = planTransfer(machine, { ...wish, clear: 0.08, overlap: 0.4, time: 3, back: true, stay: 0.5 });
    expect(timed.there).toBeCloseTo(3, 12);
    expect(timed.time).toBeCloseTo(6.5, 12);
    for (const move of timed.moves.filter(({ back }) => !back)) {
      const mirrored = timed.moves.find(({ key, back }) => back && key === move.key)!;
      expect(mirrored.start).toBeCloseTo(6.5 - move.start - move.time, 12);
      expect([mirrored.from, mirrored.to]).toEqual([move.to, move.from]);
    }
  });

  test('a wished time that no axis can keep is told with the axis, and a way without return too', () => {
    expect(planTransfer(machine, { ...wish, back: true }).notes).toEqual([]);
    const { notes } = planTransfer(machine, { ...wish, time: 0.2 });
    expect(notes[0]).toMatch(/“\w+” breaks its limits: .* for a move that needs .*more time/);
    expect(notes[1]).toMatch(/ends where it does not begin/);
    expect(planTransfer({ ...machine, oneOff: true }, wish).notes).toEqual([]);
  });

  test('moves put into other steps by hand go there, and none is asked to go on before it has arrived', () => {
    const lift = idOf(machine, 'Lift');
    const bridge = idOf(machine, 'Bridge');
    const asked = planTransfer(machine, { ...wish, clear: 0.08, steps: { [`${bridge} across`]: 1 } });
    expect(asked.moves.find(({ axis }) => axis === bridge)!.step).toBe(1);
    const wrong = planTransfer(machine, { ...wish, clear: 0.08, steps: { [`${lift} lower`]: 1 } });
    expect(wrong.problem).toMatch(/“Lift” would have to go on before it has arrived/);
  });

  test('what cannot be raised so far says which axis is at its end', () => {
    const { problem, moves } = planTransfer(machine, { ...wish, clear: 0.5 });
    expect(problem).toMatch(
      /Raised over “Pick” so that it clears both by 500\smm: .*“Lift” stands at an end of its travel/,
    );
    expect(moves).toEqual([]);
    expect(planTransfer(machine, { ...wish, to: { ...pick, id: 'other' } }).problem).toMatch(/The two poses are one/);
  });

  test('a place for the tool by numbers: axes find it and the head keeps its direction', () => {
    const poses = posesOf(machine);
    const home = new Map(machine.axes.map(({ id, home: at }) => [id, at]));
    const [x, y, z] = poses.placeOf(pick.tool!, home)!;
    const found = poses.reach(home, pick.tool!, [x + 0.2, y - 0.1, z + 0.03]);
    expect(found).toMatchObject({ problem: null, kept: true });
    expect(found.places.get(idOf(machine, 'Bridge'))! - home.get(idOf(machine, 'Bridge'))!).toBeCloseTo(0.2, 9);
    expect(found.places.get(idOf(machine, 'Lift'))! - home.get(idOf(machine, 'Lift'))!).toBeCloseTo(-0.1, 9);
    expect(found.places.get(idOf(machine, 'Head'))).toBeCloseTo(home.get(idOf(machine, 'Head'))!, 9);
    // The point of a finger: bridge and carriage go along, so that the head need not turn.
    const finger = machine.mechanism.bodies.find(({ name }) => name === 'Left finger')!;
    const tip = { body: finger.id, point: finger.points[0]!.id };
    const there = poses.placeOf(tip, home)!;
    const grasp = poses.reach(home, tip, [there[0] + 0.05, there[1], there[2] + 0.02]);
    expect(grasp).toMatchObject({ problem: null, kept: true });
    const far = poses.reach(home, pick.tool!, [x + 2, y, z]);
    expect(far.problem).toMatch(/stays .*\smm away from there: “Bridge” stands at an end of its travel/);
  });

  test('dragged by hand, what comes to the end of its travel stays there and the rest goes on', () => {
    const poses = posesOf(machine);
    const { model } = poses;
    const { q } = poses.stateAt(new Map(machine.axes.map(({ id, home }) => [id, home])));
    const point = model.tree.point(pick.tool!);
    model.tree.pose(q);
    const [x, y, z] = model.tree.spotOf(point);
    const pull = (to: [number, number, number]) => dragInSpace(model, q, point, to, [[1, 0, 0], [0, 1, 0], [0, 0, 1]], travelEnds(machine, model)); // prettier-ignore
    // A hand moves step by step.
    for (let i = 0; i < 4; i++) pull([x! + 3, y! - 0.06, z!]);
    const places = poses.placesIn(q);
    const bridge = machine.axes.find(({ name }) => name === 'Bridge')!;
    expect(places.get(bridge.id)).toBeLessThanOrEqual(bridge.travel!.max + 1e-9);
    expect(places.get(bridge.id)).toBeGreaterThan(bridge.travel!.max - 0.01);
    expect(model.tree.spotOf(point)[1]).toBeCloseTo(y! - 0.06, 3);
  });

  test('the tool that is looked at is what the most others carry', () => {
    const tool = likelyTool(machine)!;
    expect(machine.mechanism.bodies.find(({ id }) => id === tool.body)!.name).toMatch(/finger$/);
  });
});

describe('written down', () => {
  const transfer = planTransfer(machine, { ...wish, clear: 0.08, overlap: 0.3, back: true, stay: 0.2 });
  /** Where the head is in a run at the marked poses: distances from them, m. */
  const wayOf = (own: Machine, run: ReturnType<typeof simulate>) =>
    wayInSpace(own.mechanism, run.mechanism!, pick.tool!, Infinity);

  test('as plans: the tool begins at the one pose, stands at the other and comes back, the rest stands', () => {
    const own = structuredClone(machine);
    own.cycle = { given: 'time', time: 0.5 };
    const { axes, cycle } = keepAsPlans(own, transfer, 'stand');
    expect(axes.sort()).toEqual(['Bridge', 'Carriage', 'Head', 'Lift']);
    expect(cycle).toBeCloseTo(transfer.time, 8);
    const read = readMachine(JSON.parse(JSON.stringify(own)));
    expect(read.ok ? '' : describeProblems(read.problems)).toBe('');
    const run = simulate(own);
    expect(run.mechanism!.findings.filter(({ severity }) => severity === 'error')).toEqual([]);
    const way = wayOf(own, run);
    const at = (time: number) => way[run.times.findIndex((t) => t >= time - 1e-9)]!;
    const poses = posesOf(own);
    const [begin, end] = transfer.stations.flatMap((places, i, all) => (i === 0 || i === all.length - 1 ? [poses.placeOf(pick.tool!, places)!] : [])); // prettier-ignore
    const apart = (a: readonly number[], b: readonly number[]) => Math.hypot(...a.map((part, k) => part - b[k]!));
    expect(apart(at(0), begin!)).toBeLessThan(1e-9);
    expect(apart(at(transfer.there + 0.1), end!)).toBeLessThan(1e-9);
    expect(apart(way.at(-1)!, begin!)).toBeLessThan(1e-7);
    const finger = run.axes.find(({ axisId }) => axisId === idOf(own, 'Left finger'))!;
    expect(peak(finger.channels.velocity)).toBe(0);
  });
});
