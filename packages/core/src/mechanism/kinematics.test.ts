import fc from 'fast-check';
import { angleOf, channelsOf, drive, fourBar, RAD } from '../../test/mechanisms';
import {
  addBar,
  addCam,
  addCoupling,
  addDisc,
  addGuide,
  addJoint,
  addPath,
  bodyPoint,
  groundPoint,
  newMachine,
} from '../machine';
import { simulate } from '../run';

const wrap = (angle: number) => Math.atan2(Math.sin(angle), Math.cos(angle)) / RAD;

describe('four-bar, ground 100, crank 40, coupler 120, rocker 80, crank at 40°', () => {
  // Norton, Design of Machinery, worked example; from memory, recomputed.
  test.each([
    ['open', false, 20.298, 57.325],
    ['crossed', true, -60.978, -98.005],
  ])('%s closure, and it is kept over a turn', (_name, crossed, theta3, theta4) => {
    const { machine, coupler, rocker } = fourBar([0.1, 0.04, 0.12, 0.08], 40 * RAD, { crossed });
    const run = simulate(machine);
    expect(run.mechanism!.findings).toEqual([]);
    expect(run.mechanism!.reached).toBe(run.times.length);
    const [three, four] = [angleOf(run, coupler), angleOf(run, rocker)];
    expect(wrap(three[0]!)).toBeCloseTo(theta3, 3);
    expect(wrap(four[0]!)).toBeCloseTo(theta4, 3);
    // After a full turn of the crank every link is back where it was.
    expect(wrap(three.at(-1)! - three[0]!)).toBeCloseTo(0, 6);
    expect(wrap(four.at(-1)! - four[0]!)).toBeCloseTo(0, 6);
  });

  test('velocities and accelerations are the derivatives of the angles', () => {
    const { machine, rocker } = fourBar([0.1, 0.04, 0.12, 0.08], 40 * RAD);
    machine.step = 1e-4;
    const { mechanism, times } = simulate(machine);
    const j = 3 * mechanism!.bodies.findIndex(({ id }) => id === rocker.id) + 2;
    const [q, v, a] = [mechanism!.q[j]!, mechanism!.v[j]!, mechanism!.a[j]!];
    for (let k = 10; k < times.length - 10; k += 97) {
      const h = times[k + 1]! - times[k - 1]!;
      expect((q[k + 1]! - q[k - 1]!) / h).toBeCloseTo(v[k]!, 4);
      expect((v[k + 1]! - v[k - 1]!) / h / 40).toBeCloseTo(a[k]! / 40, 4);
    }
  });

  test('the joint of coupler and rocker stays on both circles for any proportions that turn (Grashof)', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.02, max: 0.04, noNaN: true }),
        fc.double({ min: 0.08, max: 0.12, noNaN: true }),
        fc.double({ min: 0.08, max: 0.12, noNaN: true }),
        fc.boolean(),
        (crank, coupler, rocker, crossed) => {
          const { machine, pins } = fourBar([0.1, crank, coupler, rocker], 1, { crossed });
          machine.step = 0.02;
          // The shortest and the longest link together must be shorter than the other two.
          const lengths = [0.1, crank, coupler, rocker].sort((x, y) => x - y) as [number, number, number, number];
          fc.pre(lengths[0] + lengths[3] < lengths[1] + lengths[2] - 0.004);
          const run = simulate(machine);
          expect(run.mechanism!.reached).toBe(run.times.length);
          for (const value of channelsOf(run, pins[3]).position!) expect(Number.isFinite(value)).toBe(true);
        },
      ),
      { numRuns: 25 },
    );
  });
});

/** Offset slider-crank with the rail along x at a height. */
function sliderCrank(crank: number, rod: number, offset: number, theta: number) {
  const machine = newMachine('Slider-crank');
  machine.cycle = { given: 'time', time: 1 };
  const m = machine.mechanism;
  const a: [number, number] = [crank * Math.cos(theta), crank * Math.sin(theta)];
  const b: [number, number] = [a[0] + Math.sqrt(rod ** 2 - (a[1] - offset) ** 2), offset];
  const bar = addBar(m, [0, 0], a, 'Crank');
  // As in the source the rod's angle is measured at the slider.
  const rodBody = addBar(m, b, a, 'Rod');
  const block = addDisc(m, b, 0.01, 'Block');
  const pin = addJoint(m, 'pin', groundPoint(m, [0, 0]), bodyPoint(m, bar.id, [0, 0]));
  addJoint(m, 'pin', bodyPoint(m, bar.id, a), bodyPoint(m, rodBody.id, a));
  addJoint(m, 'pin', bodyPoint(m, rodBody.id, b), bodyPoint(m, block.id, b));
  const rail = addJoint(m, 'slide', groundPoint(m, [0, offset]), bodyPoint(m, block.id, b), { direction: 0 });
  if (pin.kind === 'pin') pin.zero = 0;
  if (rail.kind === 'slide') rail.zero = 0;
  drive(machine, pin, { kind: 'constant', value: 2 * Math.PI }, 'velocity', theta);
  return { machine, rodBody, rail };
}

test('offset slider-crank, crank 40, rod 120, offset −20, crank at 60° (Norton; from memory, recomputed)', () => {
  const { machine, rodBody, rail } = sliderCrank(0.04, 0.12, -0.02, 60 * RAD);
  const run = simulate(machine);
  expect(wrap(angleOf(run, rodBody)[0]!)).toBeCloseTo(152.913, 3);
  expect(channelsOf(run, rail).position![0]! * 1000).toBeCloseTo(126.838, 3);
});

test('in-line slider-crank over a turn: x = r cos φ + √(l² − r² sin² φ) with both derivatives (textbook)', () => {
  const { machine, rail } = sliderCrank(0.04, 0.12, 0, 30 * RAD);
  const run = simulate(machine);
  const { position, rate } = channelsOf(run, rail);
  const w = 2 * Math.PI;
  run.times.forEach((t, k) => {
    const phi = 30 * RAD + w * t;
    const root = Math.sqrt(0.12 ** 2 - (0.04 * Math.sin(phi)) ** 2);
    expect(position![k]!).toBeCloseTo(0.04 * Math.cos(phi) + root, 10);
    expect(rate![k]!).toBeCloseTo(w * (-0.04 * Math.sin(phi) - (0.04 ** 2 * Math.sin(phi) * Math.cos(phi)) / root), 8);
  });
});

/** Indexing wheel with a crank that turns at 1 rad/s. */
function indexer(slots: number) {
  const machine = newMachine('Dial');
  machine.cycle = { given: 'time', time: 2 * Math.PI };
  const m = machine.mechanism;
  const distance = 0.1;
  const radius = distance * Math.sin(Math.PI / slots);
  const crank = addBar(m, [0, 0], [-radius, 0], 'Crank');
  const wheel = addDisc(m, [distance, 0], 0.09, 'Wheel');
  const first = addJoint(m, 'pin', groundPoint(m, [0, 0]), bodyPoint(m, crank.id, [0, 0]));
  const second = addJoint(m, 'pin', groundPoint(m, [distance, 0]), bodyPoint(m, wheel.id, [distance, 0]));
  // The wheel stands with a slot pointing away from the pin by half a pitch.
  wheel.pose.angle = Math.PI / slots;
  if (second.kind === 'pin') second.zero = 0;
  addCoupling(m, { kind: 'indexer', first: first.id, second: second.id, pin: 'p2', slots });
  drive(machine, first, { kind: 'constant', value: 1 });
  machine.step = (2 * Math.PI) / 20_000;
  return { machine, second };
}

test.each([
  // Standard handbook table; from memory, recomputed.
  [4, 2.4142, 5.407, 1.0],
  [6, 1.0, 1.3496, 0.5774],
  [8, 0.6199, 0.6998, 0.4142],
])(
  'indexing wheel with %d slots: peak speed %d, peak acceleration %d, at entry %d',
  (slots, speed, acceleration, entry) => {
    const { machine, second } = indexer(slots);
    const run = simulate(machine);
    const { position, rate, change } = channelsOf(run, second);
    expect(Math.max(...rate!.map(Math.abs))).toBeCloseTo(speed, 4);
    expect(Math.max(...change!.map(Math.abs))).toBeCloseTo(acceleration, 3);
    expect(Math.abs(position!.at(-1)! - position![0]!)).toBeCloseTo((2 * Math.PI) / slots, 9);
    const moving = run.times.filter((_, k) => Math.abs(rate![k]!) > 1e-12);
    expect((moving.at(-1)! - moving[0]!) / (2 * Math.PI)).toBeCloseTo((slots - 2) / (2 * slots), 3);
    // The instant of entry stands twice: with the values before and after.
    const k = change!.findIndex((value) => value !== 0);
    expect(Math.abs(change![k]!)).toBeCloseTo(entry, 4);
    expect(run.times[k]).toBe(run.times[k - 1]);
  },
);

describe('guides and cams', () => {
  /** An eccentric disc as a cam: its outline is a circle about a place beside the pivot. */
  function eccentric(follower: Parameters<typeof addCam>[3]) {
    const machine = newMachine('Eccentric');
    machine.cycle = { given: 'time', time: 1 };
    const m = machine.mechanism;
    const [radius, e] = [0.03, 0.01];
    const cam = addDisc(m, [0, 0], radius, 'Eccentric');
    const start = radius + e + (follower.kind === 'roller' ? follower.radius : 0);
    const bar = addBar(m, [0, start], [0, start + 0.05], 'Follower');
    const pin = addJoint(m, 'pin', groundPoint(m, [0, 0]), bodyPoint(m, cam.id, [0, 0]));
    const rail = addJoint(m, 'slide', groundPoint(m, [0, 0]), bodyPoint(m, bar.id, [0, start]), {
      direction: Math.PI / 2,
    });
    if (rail.kind === 'slide') rail.zero = 0;
    const outline = addPath(m, cam.id, { kind: 'circle', centre: [0, e], radius });
    addCam(m, outline.id, bodyPoint(m, bar.id, [0, start]), follower);
    drive(machine, pin, { kind: 'constant', value: 2 * Math.PI });
    return { machine, rail, radius, e };
  }

  test('a flat face on an eccentric goes up and down harmonically: y = R + e cos φ (textbook)', () => {
    const { machine, rail, radius, e } = eccentric({ kind: 'flat', angle: -Math.PI / 2 });
    const run = simulate(machine);
    const { position, change } = channelsOf(run, rail);
    run.times.forEach((t, k) => {
      const phi = 2 * Math.PI * t;
      expect(position![k]!).toBeCloseTo(radius + e * Math.cos(phi), 9);
      expect(change![k]!).toBeCloseTo(-e * (2 * Math.PI) ** 2 * Math.cos(phi), 7);
    });
  });

  test.each([
    ['a tip', { kind: 'tip' as const }, 0],
    ['a roller', { kind: 'roller' as const, radius: 0.008 }, 0.008],
  ])(
    '%s on an eccentric moves as a slider-crank: y = e cos φ + √((R + r)² − e² sin² φ) (textbook)',
    (_name, follower, r) => {
      const { machine, rail, radius, e } = eccentric(follower);
      const run = simulate(machine);
      const { position, change } = channelsOf(run, rail);
      const w = 2 * Math.PI;
      const y = (phi: number) => e * Math.cos(phi) + Math.sqrt((radius + r) ** 2 - (e * Math.sin(phi)) ** 2);
      run.times.forEach((t, k) => {
        expect(position![k]!).toBeCloseTo(y(w * t), 9);
        const h = 1e-4;
        const second = (y(w * t + h) - 2 * y(w * t) + y(w * t - h)) / h ** 2;
        expect(change![k]!).toBeCloseTo(second * w * w, 4);
      });
    },
  );

  test('a point driven along a path runs its length; the speed along it is the rate of the axis', () => {
    const machine = newMachine('Led point');
    machine.cycle = { given: 'time', time: 2 };
    const m = machine.mechanism;
    const path = addPath(m, 'ground', {
      kind: 'chain',
      start: [0, 0],
      closed: false,
      pieces: [
        { kind: 'line', to: [0.2, 0] },
        { kind: 'transition', to: [0.3, 0.05] },
        { kind: 'line', to: [0.3, 0.2] },
      ],
    });
    const body = addDisc(m, [0, 0], 0.01, 'Tool');
    const guide = addGuide(m, path.id, bodyPoint(m, body.id, [0, 0]));
    // The tool keeps its direction: a slide within a slide would do; here a slot holds only one way, so it is geared.
    const carriage = addBar(m, [0, 0], [0.05, 0], 'Carriage');
    addJoint(m, 'slide', groundPoint(m, [0, 0]), bodyPoint(m, carriage.id, [0, 0]), { direction: 0 });
    addJoint(m, 'slide', bodyPoint(m, carriage.id, [0, 0]), bodyPoint(m, body.id, [0, 0]), { direction: Math.PI / 2 });
    drive(machine, guide, { kind: 'constant', value: 0.15 });
    const run = simulate(machine);
    expect(run.mechanism!.findings.filter(({ severity }) => severity === 'error')).toEqual([]);
    const { travelled } = channelsOf(run, guide);
    expect(travelled!.at(-1)!).toBeCloseTo(0.3, 9);
    const [vx, vy] = [run.mechanism!.v[0]!, run.mechanism!.v[1]!];
    run.times.forEach((_, k) => expect(Math.hypot(vx[k]!, vy[k]!)).toBeCloseTo(0.15, 9));
  });
});
