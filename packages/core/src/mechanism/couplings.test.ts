import { channelsOf, drive } from '../../test/mechanisms';
import {
  addBar,
  addCoupling,
  addDisc,
  addGuide,
  addJoint,
  bodyPoint,
  groundPoint,
  newMachine,
  shiftPath,
} from '../machine';
import { blendCorners } from '../geometry';
import { explainMechanismFinding, mechanismSamples, simulate } from '../run';

describe('couplings', () => {
  function twoWheels(coupling: 'outside' | 'inside' | 'belt' | 'crossed') {
    const machine = newMachine('Wheels');
    machine.cycle = { given: 'time', time: 1 };
    const m = machine.mechanism;
    const [one, two] = [addDisc(m, [0, 0], 0.02), addDisc(m, [0.1, 0], 0.04)];
    const first = addJoint(m, 'pin', groundPoint(m, [0, 0]), bodyPoint(m, one.id, [0, 0]));
    const second = addJoint(m, 'pin', groundPoint(m, [0.1, 0]), bodyPoint(m, two.id, [0.1, 0]));
    const both = { first: first.id, second: second.id, radius1: 0.02, radius2: 0.04 };
    if (coupling === 'belt' || coupling === 'crossed')
      addCoupling(m, { kind: 'belt', ...both, crossed: coupling === 'crossed' });
    else addCoupling(m, { kind: 'gear', ...both, inside: coupling === 'inside' });
    drive(machine, first, { kind: 'constant', value: 6 });
    return { machine, second };
  }

  test.each([
    ['outside', -3],
    ['inside', 3],
    ['belt', 3],
    ['crossed', -3],
  ] as const)('gears or belt, %s: the second turns at %d rad/s', (kind, expected) => {
    const { machine, second } = twoWheels(kind);
    const { rate } = channelsOf(simulate(machine), second);
    expect(rate!.every((value) => Math.abs(value - expected) < 1e-9)).toBe(true);
  });

  test('planetary gear with held ring: carrier speed = sun · z1/(z1 + z3) (Willis)', () => {
    const machine = newMachine('Planetary');
    machine.cycle = { given: 'time', time: 1 };
    const m = machine.mechanism;
    const [rs, rp] = [0.02, 0.015];
    const sun = addDisc(m, [0, 0], rs, 'Sun');
    const carrier = addBar(m, [0, 0], [rs + rp, 0], 'Carrier');
    const planet = addDisc(m, [rs + rp, 0], rp, 'Planet');
    const onGround = addJoint(m, 'pin', groundPoint(m, [0, 0]), bodyPoint(m, carrier.id, [0, 0]));
    const sunOnCarrier = addJoint(m, 'pin', bodyPoint(m, carrier.id, [0, 0]), bodyPoint(m, sun.id, [0, 0]));
    const planetPin = addJoint(m, 'pin', bodyPoint(m, carrier.id, [rs + rp, 0]), bodyPoint(m, planet.id, [rs + rp, 0]));
    const ring = rs + 2 * rp;
    addCoupling(m, {
      kind: 'gear',
      first: sunOnCarrier.id,
      second: planetPin.id,
      radius1: rs,
      radius2: rp,
      inside: false,
    });
    // Seen from the carrier the ring turns backwards: planet = ring · R/rp, and the ring stands.
    addCoupling(m, { kind: 'ratio', first: onGround.id, second: planetPin.id, ratio: -ring / rp });
    drive(machine, sunOnCarrier, { kind: 'constant', value: 1 });
    const run = simulate(machine);
    const turn = (body: { id: string }) =>
      run.mechanism!.v[3 * run.mechanism!.bodies.findIndex(({ id }) => id === body.id) + 2]![0]!;
    expect(turn(carrier) / turn(sun)).toBeCloseTo(rs / (rs + ring), 9);
  });

  // Rolling without slip: the tooth of the rack goes with the surface of the pinion, whichever side it lies on.
  test.each([
    [0.02, 0, 1],
    [0.02, Math.PI, -1],
    [-0.02, 0, -1],
    [-0.02, Math.PI, 1],
  ])('a pinion %p m above its rack that points along %p leads it by its side', (above, direction, sign) => {
    const machine = newMachine('Rack');
    machine.cycle = { given: 'time', time: 1 };
    const m = machine.mechanism;
    const wheel = addDisc(m, [0, above], 0.02);
    const bar = addBar(m, [0, 0], [0.1, 0]);
    const pin = addJoint(m, 'pin', groundPoint(m, [0, above]), bodyPoint(m, wheel.id, [0, above]));
    const rail = addJoint(m, 'slide', groundPoint(m, [0, 0]), bodyPoint(m, bar.id, [0, 0]), { direction });
    addCoupling(m, { kind: 'rack', first: pin.id, second: rail.id, radius: 0.02 });
    drive(machine, pin, { kind: 'constant', value: 1 });
    const run = simulate(machine);
    expect(channelsOf(run, rail).position!.at(-1)!).toBeCloseTo(sign * 0.02, 10);
    // In the world it goes as the surface does: to the right below an anticlockwise pinion.
    expect(Math.sign(mechanismSamples(machine, run, `body:${bar.id}:vx`)!.at(-1)!)).toBe(Math.sign(above));
  });

  test('a disc guided at its centre goes through line, transition and line as a bar does', () => {
    const led = (disc: boolean) => {
      const machine = newMachine('Guided');
      machine.cycle = { given: 'time', time: 1 };
      const m = machine.mechanism;
      const pieces = [
        { kind: 'line' as const, to: [0.1, 0] as [number, number] },
        { kind: 'transition' as const, to: [0.2, 0.1] as [number, number] },
        { kind: 'line' as const, to: [0.3, 0.1] as [number, number] },
      ];
      m.paths.push({
        id: 'p',
        name: 'Way',
        body: 'ground',
        plane: 'front',
        shape: { kind: 'chain', closed: false, start: [0, 0], pieces },
      });
      const body = disc ? addDisc(m, [0, 0], 0.02) : addBar(m, [0, 0], [0.05, 0]);
      const guide = addGuide(m, 'p', bodyPoint(m, body.id, [0, 0]));
      drive(machine, guide, { kind: 'constant', value: 0.28 });
      const run = simulate(machine);
      const [x, y] = ['x', 'y'].map((key) => mechanismSamples(machine, run, `point:${body.id}.${body.points[0]!.id}:${key}`)!); // prettier-ignore
      return { run, at: (k: number) => [x![k]!, y![k]!] };
    };
    const [disc, bar] = [led(true), led(false)];
    expect(disc.run.mechanism!.findings.filter(({ severity }) => severity === 'error')).toEqual([]);
    expect(disc.run.mechanism!.reached).toBe(disc.run.times.length);
    for (let k = 0; k < disc.run.times.length; k += 50)
      disc.at(k).forEach((value, i) => expect(value).toBeCloseTo(bar.at(k)[i]!, 6));
  });

  test('a bar led round a sharp corner is an impossible force, and said; rounded it is none', () => {
    const corner = (blend: number) => {
      const machine = newMachine('Corner');
      machine.cycle = { given: 'time', time: 1 };
      const m = machine.mechanism;
      const shape = { kind: 'chain' as const, closed: false, start: [0, 0] as [number, number], pieces: [
        { kind: 'line' as const, to: [0.2, 0] as [number, number] }, { kind: 'line' as const, to: [0.2, 0.2] as [number, number] },
      ] }; // prettier-ignore
      m.paths.push({
        id: 'p',
        name: 'Way',
        body: 'ground',
        plane: 'front',
        shape: blendCorners(shape, blend) as typeof shape,
      });
      const bar = addBar(m, [0.05, 0], [0.05, 0.1]);
      const guide = addGuide(m, 'p', bodyPoint(m, bar.id, [0.05, 0]));
      // The bar keeps its direction by a second guide of the same shape.
      m.paths.push({
        id: 'q',
        name: 'Other way',
        body: 'ground',
        plane: 'front',
        shape: shiftPath(m.paths[0]!.shape, [0, 0.1]),
      });
      addGuide(m, 'q', bodyPoint(m, bar.id, [0.05, 0.1]));
      drive(machine, guide, { kind: 'constant', value: 0.25 });
      return simulate(machine).mechanism!;
    };
    const sharp = corner(0).findings.find(({ code }) => code === 'corner');
    expect(sharp).toMatchObject({
      severity: 'error',
      angle: expect.closeTo(Math.PI / 2) as number,
      speed: expect.closeTo(0.25) as number,
    });
    expect(corner(0.04).findings.filter(({ code }) => code === 'corner')).toEqual([]);
  });

  test('gears whose radii do not fit the distance of their shafts are a finding', () => {
    const machine = newMachine('Gears');
    const m = machine.mechanism;
    const [one, two] = [addDisc(m, [0, 0], 0.02), addDisc(m, [0.06, 0], 0.04)];
    const pins = [one, two].map((disc, i) => addJoint(m, 'pin', groundPoint(m, [i * 0.06, 0]), bodyPoint(m, disc.id, [i * 0.06, 0]))); // prettier-ignore
    const gears = addCoupling(m, { kind: 'gear', first: pins[0]!.id, second: pins[1]!.id, radius1: 0.02, radius2: 0.04, inside: false }); // prettier-ignore
    drive(machine, pins[0]!, { kind: 'constant', value: 1 });
    const found = () => simulate(machine).mechanism!.findings.filter(({ code }) => code === 'gear-distance');
    expect(found()).toEqual([]);
    if (gears.kind === 'gear') gears.radius2 = 0.05;
    expect(found()).toMatchObject([{ id: gears.id, distance: 0.06, wanted: 0.07 }]);
    expect(explainMechanismFinding(found()[0]!, machine)).toMatch(/^Gears 1: the shafts are 60.mm apart, but the radii of the gears want 70.mm/); // prettier-ignore
  });

  test('rack and screw: travel by radius and by lead', () => {
    for (const kind of ['rack', 'screw'] as const) {
      const machine = newMachine(kind);
      machine.cycle = { given: 'time', time: 1 };
      const m = machine.mechanism;
      const wheel = addDisc(m, [0, 0.02], 0.02);
      const bar = addBar(m, [0, 0], [0.1, 0]);
      const pin = addJoint(m, 'pin', groundPoint(m, [0, 0.02]), bodyPoint(m, wheel.id, [0, 0.02]));
      const rail = addJoint(m, 'slide', groundPoint(m, [0, 0]), bodyPoint(m, bar.id, [0, 0]));
      const pair = { first: pin.id, second: rail.id };
      addCoupling(m, kind === 'rack' ? { kind, ...pair, radius: 0.02 } : { kind, ...pair, lead: 0.005 });
      drive(machine, pin, { kind: 'constant', value: 2 * Math.PI });
      const { position } = channelsOf(simulate(machine), rail);
      expect(position!.at(-1)!).toBeCloseTo(kind === 'rack' ? 2 * Math.PI * 0.02 : 0.005, 10);
    }
  });
});
