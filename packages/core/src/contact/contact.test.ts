import { beltAlong, boxKind } from '../../test/loose';
import fc from 'fast-check';
import { emptyMechanism, type Loose } from '../machine';
import { scene, still } from '../../test/scene';
import { everydayDensity, everydayPair, loadContact, LooseWorld, partMass, partPieces } from '.';

const g = 9.80665;
const no = () => 0;

beforeAll(() => loadContact());
const ball = (radius = 0.02): Loose['kinds'][number] => ({
  id: 'ball',
  name: 'Ball',
  colour: 0,
  material: 'n',
  shape: { kind: 'circle', radius },
  mass: { given: 'ball', density: 1000 },
});
const box = boxKind({ material: 'n' }, 0.06, 0.04, 0.5);
const pair = (friction: number, restitution: number): Loose['pairs'] => [
  { id: 'p', a: 'm', b: 'n', friction, restitution },
];
/** A ramp through the origin that falls to the right. */
const ramp = (slope: number): Loose['surfaces'] => [
  {
    id: 'r',
    name: 'Ramp',
    body: 'ground',
    material: 'm',
    line: [
      [-1 * Math.cos(slope), 1 * Math.sin(slope)],
      [5 * Math.cos(slope), -5 * Math.sin(slope)],
    ],
    thickness: 0.05,
  },
];
const floor = ramp(0);
const run = (world: LooseWorld, time: number, h: number, each?: () => void) => {
  for (let k = 0; k < Math.round(time / h); k++) {
    world.advance(still, no);
    each?.();
  }
};

describe('parts on slopes', () => {
  // Textbook: a solid ball that rolls has a = (5/7) g sin α.
  test.each([10, 20, 30])('a ball rolls down %d° with 5/7 g sin α', (degrees) => {
    const slope = (degrees * Math.PI) / 180;
    const { world } = scene({ kinds: [ball()], pairs: pair(0.5, 0), surfaces: ramp(slope) });
    const w = world();
    const start = { x: 0.02 * Math.sin(slope), y: 0.02 * Math.cos(slope), angle: 0 };
    const part = w.release('s', 'ball', start, [0, 0], 0);
    run(w, 0.5, 0.001);
    const way = Math.hypot(part.now.x - start.x, part.now.y - start.y);
    expect(way / ((5 / 14) * g * Math.sin(slope) * 0.25)).toBeCloseTo(1, 2);
    // It rolls: turned by way over radius, clockwise.
    expect((-part.now.angle * 0.02) / way).toBeCloseTo(1, 2);
  });

  // Textbook: it rolls while μ ≥ (2/7) tan α; below it slides too, with a = g (sin α − μ cos α).
  test('a ball slips below 2/7 tan α', () => {
    const slope = (40 * Math.PI) / 180;
    const mu = 0.5 * (2 / 7) * Math.tan(slope);
    const { world } = scene({ kinds: [ball()], pairs: pair(mu, 0), surfaces: ramp(slope) });
    const w = world();
    const part = w.release('s', 'ball', { x: 0.02 * Math.sin(slope), y: 0.02 * Math.cos(slope), angle: 0 }, [0, 0], 0);
    run(w, 0.4, 0.001);
    const [vx, vy] = w.velocityOf(part);
    expect(Math.hypot(vx, vy) / (g * (Math.sin(slope) - mu * Math.cos(slope)) * 0.4)).toBeCloseTo(1, 2);
  });

  // Textbook: a = g (sin α − μ cos α).
  test('a block slides, or stays where friction holds it', () => {
    const slope = (25 * Math.PI) / 180;
    const start = { x: 0.02 * Math.sin(slope), y: 0.02 * Math.cos(slope), angle: -slope };
    for (const mu of [0.1, 0.3]) {
      const { world } = scene({ kinds: [box], pairs: pair(mu, 0), surfaces: ramp(slope) });
      const w = world();
      const part = w.release('s', 'box', start, [0, 0], 0);
      run(w, 0.5, 0.001);
      const way = Math.hypot(part.now.x - start.x, part.now.y - start.y);
      expect(way / (0.125 * g * (Math.sin(slope) - mu * Math.cos(slope)))).toBeCloseTo(1, 2);
    }
    const { world } = scene({ kinds: [box], pairs: pair(0.6, 0), surfaces: ramp(slope) });
    const w = world();
    const part = w.release('s', 'box', start, [0, 0], 0);
    run(w, 1, 0.001);
    expect(Math.hypot(part.now.x - start.x, part.now.y - start.y)).toBeLessThan(2e-4);
  });
});

describe('impacts', () => {
  // Textbook: dropped from h with restitution e the n-th rebound reaches e^(2n) h.
  test.each([0.5, 0.7, 0.9])('rebounds with e = %d', (e) => {
    const { world } = scene({ kinds: [ball()], pairs: pair(0.3, e), surfaces: floor });
    const w = world();
    const drop = 0.3;
    const part = w.release('s', 'ball', { x: 0, y: 0.02 + drop, angle: 0 }, [0, 0], 0);
    const peaks: number[] = [];
    let rising = false;
    let top = 0;
    run(w, 1.4, 0.001, () => {
      const up = part.now.y > part.before.y;
      if (up) top = Math.max(top, part.now.y - 0.02);
      if (rising && !up) {
        peaks.push(top);
        top = 0;
      }
      rising = up;
    });
    expect(peaks.length).toBeGreaterThan(1);
    expect(peaks[0]! / (e ** 2 * drop)).toBeCloseTo(1, 1);
    expect(Math.abs(peaks[0]! / (e ** 2 * drop) - 1)).toBeLessThan(0.03);
    expect(Math.abs(peaks[1]! / (e ** 4 * drop) - 1)).toBeLessThan(0.06);
  });

  test('two balls keep momentum, and energy where they are elastic', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.2, max: 2, noNaN: true }),
        fc.double({ min: -1, max: 0.1, noNaN: true }),
        fc.constantFrom(0, 0.5, 1),
        (v1, v2, e) => {
          const kinds = [ball(0.02), { ...ball(0.03), id: 'big', name: 'Big' }];
          const { world } = scene({ kinds, pairs: [{ id: 'p', a: 'n', b: 'n', friction: 0, restitution: e }] }, false);
          const w = world();
          const a = w.release('s', 'ball', { x: 0, y: 0, angle: 0 }, [v1, 0], 0);
          const b = w.release('s', 'big', { x: 0.1, y: 0, angle: 0 }, [v2, 0], 0);
          const [m1, m2] = [a.mass.mass, b.mass.mass];
          run(w, 0.6, 0.001);
          const [u1, u2] = [w.velocityOf(a)[0], w.velocityOf(b)[0]];
          expect(Math.abs(m1 * u1 + m2 * u2 - m1 * v1 - m2 * v2)).toBeLessThan(1e-5 * (m1 + m2));
          // Newton's law of impact: they part with e times the speed at which they met.
          if (v1 - v2 > 0.2) expect(Math.abs((u2 - u1) / (v1 - v2) - e)).toBeLessThan(0.02);
          const energy = (p: number, q: number) => (m1 * p * p + m2 * q * q) / 2;
          expect(energy(u1, u2)).toBeLessThanOrEqual(energy(v1, v2) * 1.001);
          w.free();
        },
      ),
      { numRuns: 25 },
    );
  });
});

describe('free flight', () => {
  // Closed form: parabola. Exact to the single precision of the library.
  test('a thrown part follows the parabola at every step', () => {
    const { world } = scene({ kinds: [ball()] });
    const w = world(0.002);
    const part = w.release('s', 'ball', { x: 0, y: 0, angle: 0 }, [1.5, 2], 0);
    for (let k = 1; k <= 300; k++) {
      w.advance(still, no);
      const t = k * 0.002;
      expect(part.now.x).toBeCloseTo(1.5 * t, 4);
      expect(part.now.y).toBeCloseTo(2 * t - (g * t * t) / 2, 4);
    }
  });

  test('a part released within a step has fallen since', () => {
    const { world } = scene({ kinds: [ball()] });
    const w = world(0.002);
    const part = w.release('s', 'ball', { x: 0, y: 0, angle: 0 }, [0.3, 0], 0.0013);
    run(w, 0.2, 0.002);
    const t = 0.2 + 0.0013;
    expect(part.now.x).toBeCloseTo(0.3 * t, 5);
    expect(part.now.y).toBeCloseTo((-g * t * t) / 2, 5);
  });
});

describe('belts, platforms, grippers', () => {
  const belt = beltAlong('m', -1, 3, { by: 'speed', speed: 0.4, running: true }, 'b');

  test('a belt speeds a part up with μ g, then carries it', () => {
    const { world } = scene({ kinds: [box], pairs: pair(0.4, 0), belts: [belt] });
    const w = world();
    const part = w.release('s', 'box', { x: 0, y: 0.02, angle: 0 }, [0, 0], 0);
    let held = 0;
    for (let k = 0; k < 1000; k++) {
      w.advance(still, () => 0.4);
      if (k === 50) held = w.pushOnBelt('b');
    }
    // Closed form: v²/(2 μ g) is lost against the belt; while it slips friction μ m g holds the belt back.
    expect(part.now.x).toBeCloseTo(0.4 - 0.16 / (2 * 0.4 * g), 3);
    expect(held / (-0.4 * 0.5 * g)).toBeCloseTo(1, 2);
    expect(w.pushOnBelt('b')).toBeCloseTo(0, 2);
  });

  test('a sleeping part wakes when the belt starts', () => {
    const { world } = scene({ kinds: [box], pairs: pair(0.4, 0), belts: [belt] });
    const w = world(0.002);
    const part = w.release('s', 'box', { x: 0, y: 0.02, angle: 0 }, [0, 0], 0);
    for (let k = 0; k < 2500; k++) w.advance(still, no);
    expect(Math.abs(part.now.x)).toBeLessThan(1e-4);
    for (let k = 0; k < 500; k++) w.advance(still, () => 0.4);
    expect(part.now.x).toBeCloseTo(0.4 - 0.16 / (2 * 0.4 * g), 2);
  });

  test('a platform sinks until its spring carries the part', () => {
    const { world } = scene({
      kinds: [box],
      platforms: [
        {
          id: 'p',
          name: 'Exit',
          material: 'm',
          from: [-0.1, 0],
          to: [0.1, 0],
          thickness: 0.01,
          angle: -Math.PI / 2,
          travel: 0.05,
          rate: 300,
          preload: 4,
          damping: 20,
          mass: 0.2,
        },
      ],
    });
    const w = world();
    w.release('s', 'box', { x: 0, y: 0.02, angle: 0 }, [0, 0], 0);
    run(w, 2, 0.001);
    // Static: rate · sink = weight of part and platform − preload.
    expect(-w.platformShift('p')[1]).toBeCloseTo((0.7 * g - 4) / 300, 3);
  });

  function gripped(force: number) {
    const mechanism = emptyMechanism();
    mechanism.bodies.push({
      id: 'hand',
      name: 'Hand',
      plane: 'front',
      level: 0,
      thickness: 0.01,
      pose: { x: 0, y: 0.3, angle: 0 },
      points: [{ id: 'p', at: [0, 0] }],
      shape: { kind: 'disc', centre: [0, 0], radius: 0.01 },
      mass: { given: 'typed', mass: 1, centre: [0, 0], inertia: 1 },
    });
    const { loose } = scene({
      kinds: [box],
      grippers: [{ id: 'g', name: 'Gripper', body: 'hand', at: [0, -0.28], reach: 0.01, force, kinds: [] }],
    });
    const w = new LooseWorld(loose, mechanism, 0.001, new Map([['hand', { x: 0, y: 0.3, angle: 0 }]]));
    return { w, part: w.release('s', 'box', { x: 0, y: 0, angle: 0 }, [0, 0], 0) };
  }

  test('a gripper carries its part, and the weight comes back to the body', () => {
    const { w, part } = gripped(20);
    expect(w.grips.close('g')).toBe(part);
    for (let k = 1; k <= 1000; k++) {
      const t = Math.min(0.8, k * 0.001);
      const rise = (0.2 * (1 - Math.cos((Math.PI * t) / 0.8))) / 2;
      w.advance(new Map([['hand', { x: rise, y: 0.3 + rise, angle: 0 }]]), no);
    }
    expect(part.now.x).toBeCloseTo(0.2, 3);
    expect(part.now.y).toBeCloseTo(0.2, 3);
    const push = [...w.pushes()].find(({ body }) => body === 'hand')!.push.held;
    expect(push.force[1] / (-0.5 * g)).toBeCloseTo(1, 2);
    expect(push.moment / (-0.2 * 0.5 * g)).toBeCloseTo(1, 2);
    expect(w.grips.open('g')).toBe(part);
    for (let k = 0; k < 200; k++) w.advance(still, no);
    expect(part.now.y).toBeCloseTo(0.2 - (g * 0.04) / 2, 2);
  });

  test('a part that asks for more than the gripper holds is lost', () => {
    const { w } = gripped(4.5);
    w.grips.close('g');
    w.advance(still, no);
    w.advance(still, no);
    // Its weight alone is 4.9 N; the first step still carries the start of the flight.
    expect(w.grips.lost).toEqual([{ gripper: 'g', part: 0, force: expect.closeTo(0.5 * g, 1) as number }]);
    expect(w.grips.holding('g')).toBeNull();
  });
});

describe('shapes and materials', () => {
  const notch: [number, number][] = [
    [0, 0],
    [0.1, 0],
    [0.1, 0.1],
    [0.05, 0.02],
    [0, 0.1],
  ];
  const kind = (as: 'hull' | 'exact' | 'simplified') => ({
    shape: { kind: 'outline' as const, points: notch, as, tolerance: 0.001 },
  });
  const area = (pieces: ReturnType<typeof partPieces>) =>
    pieces.reduce(
      (sum, { corners }) =>
        sum +
        Math.abs(
          corners.reduce(
            (a, [x, y], i) => a + x * corners[(i + 1) % corners.length]![1] - y * corners[(i + 1) % corners.length]![0],
            0,
          ),
        ) /
          2,
      0,
    );

  test('hull, exact pieces and mass of an outline', () => {
    expect(area(partPieces(kind('hull')))).toBeCloseTo(0.01, 9);
    expect(partPieces(kind('exact')).length).toBeGreaterThan(1);
    expect(area(partPieces(kind('exact')))).toBeCloseTo(0.006, 9);
    // Closed form: shoelace area of the drawing times thickness and density.
    expect(partMass({ ...kind('hull'), mass: { given: 'shape', thickness: 0.01, density: 1000 } }).mass).toBeCloseTo(
      0.06,
      9,
    );
  });

  test('what says no density has that of its material, whatever it changes to', () => {
    const mass = { given: 'shape', thickness: 0.01 } as const;
    const of = (density: number) =>
      partMass({ ...kind('hull'), mass, material: 'peat' }, [{ id: 'peat', name: 'peat', density }]).mass;
    expect(of(400)).toBeCloseTo(0.006 * 0.01 * 400, 12);
    expect(of(800)).toBeCloseTo(2 * of(400), 12);
    expect(everydayDensity('Steel')).toBe(7850);
    expect(everydayDensity('velvet')).toBeNull();
  });

  test('a full ball has 2/5 m r²', () => {
    const { mass, inertia } = partMass(ball(0.02));
    expect(mass).toBeCloseTo((4 / 3) * Math.PI * 8e-6 * 1000, 9);
    expect(inertia).toBeCloseTo(0.4 * mass * 4e-4, 12);
  });

  test('each pair of materials has its own friction', () => {
    const slope = (20 * Math.PI) / 180;
    const other = { ...box, id: 'third', name: 'Third', material: 'k' };
    const { world } = scene({
      materials: [
        { id: 'm', name: 'one' },
        { id: 'n', name: 'other' },
        { id: 'k', name: 'third' },
      ],
      kinds: [box, other],
      pairs: [...pair(0.1, 0), { id: 'q', a: 'k', b: 'm', friction: 0.2, restitution: 0 }],
      surfaces: ramp(slope),
    });
    const w = world();
    const at = (x: number) => ({
      x: x * Math.cos(slope) + 0.02 * Math.sin(slope),
      y: -x * Math.sin(slope) + 0.02 * Math.cos(slope),
      angle: -slope,
    });
    const one = w.release('s', 'box', at(0), [0, 0], 0);
    const two = w.release('s', 'third', at(-0.5), [0, 0], 0);
    run(w, 0.4, 0.001);
    const speed = (p: typeof one) => Math.hypot(...w.velocityOf(p));
    expect(speed(one) / (0.4 * g * (Math.sin(slope) - 0.1 * Math.cos(slope)))).toBeCloseTo(1, 2);
    expect(speed(two) / (0.4 * g * (Math.sin(slope) - 0.2 * Math.cos(slope)))).toBeCloseTo(1, 2);
  });

  test('everyday pairs are found in either order', () => {
    expect(everydayPair('Cardboard', 'rubber')).toMatchObject({ friction: 0.6 });
    expect(everydayPair('velvet', 'steel')).toBeNull();
  });

  test('the same steps give the same bits', () => {
    const once = () => {
      const { world } = scene({ kinds: [box, ball()], pairs: pair(0.3, 0.4), surfaces: floor });
      const w = world(0.002);
      for (let i = 0; i < 12; i++)
        w.release('s', i % 2 ? 'box' : 'ball', { x: 0.01 * i, y: 0.1 + 0.07 * i, angle: i }, [0, 0], 0);
      run(w, 2, 0.002);
      return w.parts.map(({ now }) => now);
    };
    expect(once()).toEqual(once());
  });
});
