import fc from 'fast-check';
import { addBar, addCoupling, addDisc, addJoint, addPath, addPlate, addStop, bodyPoint, carriersOf, carryJoint, COUPLINGS, directionName, GROUND, groundPoint, hasCarrier, hasPosition, newAxis, newDrive, newMachine, positiveDirection, roundCentres, worldOf, type At, type Axis, type Joint, type Machine } from '.'; // prettier-ignore
import { compileMechanism } from '../mechanism';
import { prepareMechanism } from '../run';

const arc = (x: number, y: number, r: number, count: number): At[] =>
  Array.from({ length: count }, (_, i): At => [x + r * Math.cos((2 * Math.PI * i) / count), y + r * Math.sin((2 * Math.PI * i) / count)]); // prettier-ignore

test('centres of holes, discs and arcs of paths are places, in the frames of what carries them', () => {
  const { mechanism: m } = newMachine('Centres');
  const plate = addPlate(m, [[1, 1], [1.3, 1], [1.3, 1.2], [1, 1.2]], undefined, [arc(1.1, 1.1, 0.02, 24)]); // prettier-ignore
  const disc = addDisc(m, [2, 0], 0.1);
  const [start, via, to] = [
    [0, 0],
    [0.1, 0.1],
    [0.2, 0],
  ] as [number, number][];
  addPath(m, GROUND, { kind: 'chain', start: start!, closed: false, pieces: [{ kind: 'arc', via: via!, to: to! }] });
  const found = roundCentres(m);
  const near = (body: string, x: number, y: number) =>
    found.some((c) => c.body === body && Math.hypot(c.at[0] - x, c.at[1] - y) < 1e-9);
  expect(near(plate.id, 0.1, 0.1)).toBe(true);
  expect(near(disc.id, 0, 0)).toBe(true);
  expect(near(GROUND, 0.1, 0)).toBe(true);
  // The corners of a rectangle lie on a circle, too: its middle is found.
  expect(near(plate.id, 0.15, 0.1)).toBe(true);
});

describe('the carrier of a joint', () => {
  /** A slider on a bar that may lie as it likes, beside another bar. */
  function build(kind: 'pin' | 'slide' | 'weld' | 'slot' | 'cylinder', [first, second, direction]: [number, number, number]) {
    const machine: Machine = newMachine('Carrier');
    const m = machine.mechanism;
    const one = addBar(m, [0, 0], [Math.cos(first), Math.sin(first)]);
    const two = addBar(m, [0.2, 0], [0.2 + Math.cos(second), Math.sin(second)]);
    const slider = addBar(m, [0.3, 0.1], [0.5, 0.2]);
    const at: At = kind === 'cylinder' ? [0.1, -0.1] : [0.3, 0.1];
    const joint = addJoint(m, kind, bodyPoint(m, one.id, at), bodyPoint(m, slider.id, [0.3, 0.1]), { direction });
    return { machine, one, two, slider, joint };
  } // prettier-ignore

  const reads = (machine: Machine, joint: Joint) => {
    const model = compileMechanism(machine.mechanism);
    return model.joint(joint.id)!.coordinate?.value(model.start) ?? 0;
  };

  test('changes, and the joint stays where it is drawn, as it is directed, and reads what it read', () => {
    const angle = fc.double({ min: -3, max: 3, noNaN: true });
    fc.assert(
      fc.property(
        fc.constantFrom('pin', 'slide', 'weld', 'slot', 'cylinder'),
        fc.tuple(angle, angle, angle),
        fc.boolean(),
        (kind, angles, ground) => {
          const { machine, two, joint } = build(kind, angles);
          if (!hasCarrier(joint)) throw new Error();
          if (hasPosition(joint)) joint.zero += 0.01;
          const before = reads(machine, joint);
          const place = worldOf(machine.mechanism, joint.a);
          const pose = (id: string) => machine.mechanism.bodies.find((b) => b.id === id)?.pose.angle ?? 0;
          const direction = 'angle' in joint ? joint.angle + pose(joint.a.body) : 0;
          carryJoint(machine, joint, ground ? GROUND : two.id);
          expect(joint.a.body).toBe(ground ? GROUND : two.id);
          const after = worldOf(machine.mechanism, joint.a);
          expect(Math.hypot(after[0] - place[0], after[1] - place[1])).toBeLessThan(1e-12);
          if ('angle' in joint) expect(joint.angle + pose(joint.a.body)).toBeCloseTo(direction, 12);
          expect(Math.sin((reads(machine, joint) - before) / 2)).toBeCloseTo(0, 9);
          const prepared = prepareMechanism(machine);
          expect(prepared.findings.map(({ code }) => code)).not.toContain('apart');
        },
      ),
    );
  });

  test('is any body but the one it carries; points of the ground that are left over go', () => {
    const { machine, one, two, slider, joint } = build('pin', [0, 1, 0]);
    expect(carriersOf(machine.mechanism, joint)).toEqual([GROUND, one.id, two.id]);
    if (!hasCarrier(joint)) throw new Error();
    carryJoint(machine, joint, slider.id);
    expect(joint.a.body).toBe(one.id);
    carryJoint(machine, joint, GROUND);
    expect(machine.mechanism.ground).toHaveLength(1);
    carryJoint(machine, joint, two.id);
    expect(machine.mechanism.ground).toHaveLength(0);
  });
});

test('a stop stands about what is drawn and what has been seen, at round figures, and is called by its joint', () => {
  const { mechanism: m } = newMachine('Stops');
  const bar = addBar(m, [0, 0], [0.1, 0]);
  const slide = addJoint(m, 'slide', groundPoint(m, [0, 0]), bodyPoint(m, bar.id, [0, 0]), { name: 'Lift' });
  expect(addStop(m, slide, 0.0123, 0.02)).toMatchObject({ name: 'Stop of Lift', min: -0.02, max: 0.04, on: true });
  expect(addStop(m, slide, 0.0123, 0.02, [0, 0.3])).toMatchObject({ name: 'Stop of Lift 1', min: -0.02, max: 0.32 });
});

test('directions are called as they lie in the drawing: upright ones up and down', () => {
  const machine = newMachine('Directions');
  const m = machine.mechanism;
  const bar = addBar(m, [0, 0], [0.1, 0]);
  const slide = addJoint(m, 'slide', groundPoint(m, [0, 0]), bodyPoint(m, bar.id, [0, 0]), { direction: Math.PI / 2 });
  const axis = newAxis('linear', [], 1);
  const words = (change: (a: Axis) => void) => {
    const own = structuredClone(axis);
    change(own);
    return [positiveDirection(own, m), positiveDirection({ ...own, reversed: true }, m)];
  };
  expect(words(() => undefined)).toEqual(['to the right', 'to the left']);
  expect(words((a) => (a.load.slope = Math.PI / 2))).toEqual(['up', 'down']);
  expect(words((a) => (a.load.slope = -Math.PI / 2))).toEqual(['down', 'up']);
  expect(words((a) => (a.load.slope = 0.3))).toEqual(['up the slope', 'down the slope']);
  expect(words((a) => (a.joint = slide.id))).toEqual(['up', 'down']);
  expect(words((a) => (a.kind = 'rotary'))).toEqual(['anticlockwise', 'clockwise']);
  expect(directionName(-Math.PI / 4)).toBe('down to the right');
});

// Distance of the centres times sin(180°/slots): the pin enters its slot along it (textbook).
test('an indexing wheel gets a driving pin on its crank where there is none, so far out that it enters the slots smoothly', () => {
  const machine = newMachine('Wheel');
  const m = machine.mechanism;
  const [crank, wheel] = [addDisc(m, [0, 0], 0.05), addDisc(m, [0.15, 0.1], 0.1)];
  const pins = [addJoint(m, 'pin', groundPoint(m, [0, 0]), bodyPoint(m, crank.id, [0, 0])), addJoint(m, 'pin', groundPoint(m, [0.15, 0.1]), bodyPoint(m, wheel.id, [0.15, 0.1]))]; // prettier-ignore
  const begun = COUPLINGS.indexer.first({ machine, was: { joints: pins.map(({ id }) => id) } });
  if (typeof begun === 'string') throw new Error(begun);
  const made = addCoupling(m, begun);
  if (made.kind !== 'indexer') throw new Error('no wheel');
  const [x, y] = worldOf(m, { body: crank.id, point: made.pin });
  expect(Math.hypot(x, y)).toBeCloseTo(Math.hypot(0.15, 0.1) * Math.sin(Math.PI / 6), 9);
  expect(x).toBeLessThan(0);
  machine.axes.push(newDrive(machine, pins[0]!, 0, 0.1));
  expect(prepareMechanism(machine).findings.map(({ code }) => code)).not.toContain('indexer-radius');
  // A pin that is there stays as it is drawn.
  const points = crank.points.length;
  addCoupling(m, { ...begun, name: 'Other', pin: made.pin });
  expect(crank.points).toHaveLength(points);
});
