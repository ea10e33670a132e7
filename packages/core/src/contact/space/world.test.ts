import fc from 'fast-check';
import { loadContact } from '..';
import { at, kindOf, lengthOf, pairOf, runWorld, slopeOf, spaceScene, turnedAboutZ } from '../../../test/space-scene';
import { still } from '../../../test/scene';
import { addBar, emptyMechanism, type Loose } from '../../machine';
import { turnedBy, turnedBack, axesOf, type Place3, type Point3 } from '../../geometry';

const g = 9.80665;
const degrees = (value: number) => (value * Math.PI) / 180;
/** On a slope: so far along it, and over it, m. */
const onSlope = (slope: number, over: number, z = 0): Place3 =>
  turnedAboutZ(at(over * Math.sin(slope), over * Math.cos(slope), z), -slope);
const wayOf = (a: Place3, b: Place3) => Math.hypot(a.x - b.x, a.y - b.y, a.z - b.z);

beforeAll(() => loadContact({ loose: { space: true } }));

describe('parts on slopes', () => {
  // Textbook: what rolls has a = g sin α / (1 + i²/r²): 5/7 of a ball, 2/3 of a full cylinder.
  test.each([
    ['ball', { kind: 'ball', radius: 0.02 }, 5 / 7, 15],
    ['ball', { kind: 'ball', radius: 0.02 }, 5 / 7, 30],
    ['disc', { kind: 'circle', radius: 0.02, depth: 0.03 }, 2 / 3, 15],
    ['disc', { kind: 'circle', radius: 0.02, depth: 0.03 }, 2 / 3, 25],
  ] as const)('a %s rolls down as its inertia has it', (_, shape, share, angle) => {
    const slope = degrees(angle);
    const world = spaceScene({ kinds: [kindOf(shape)], pairs: pairOf(0.6), surfaces: slopeOf(slope) });
    const part = world.release('s', 'part', onSlope(slope, 0.02), [0, 0, 0], 0);
    // Once it has settled.
    runWorld(world, 0.2);
    const speed = lengthOf(world.velocityOf(part));
    runWorld(world, 0.3);
    expect((lengthOf(world.velocityOf(part)) - speed) / (share * g * Math.sin(slope) * 0.3)).toBeCloseTo(1, 2);
    // It rolls: it turns by its speed over its radius.
    expect((lengthOf(world.turningOf(part)) * 0.02) / lengthOf(world.velocityOf(part))).toBeCloseTo(1, 2);
    world.free();
  });

  // Textbook: a ball rolls while μ ≥ 2/7 tan α, a cylinder while μ ≥ 1/3 tan α; below that a = g (sin α − μ cos α).
  test.each([
    [{ kind: 'ball', radius: 0.02 }, 2 / 7],
    [{ kind: 'circle', radius: 0.02, depth: 0.03 }, 1 / 3],
  ] as const)('%p slips below its limit, and rolls above it', (shape, limit) => {
    const slope = degrees(40);
    for (const share of [0.6, 1.3]) {
      const mu = share * limit * Math.tan(slope);
      const world = spaceScene({ kinds: [kindOf(shape)], pairs: pairOf(mu), surfaces: slopeOf(slope) });
      const part = world.release('s', 'part', onSlope(slope, 0.02), [0, 0, 0], 0);
      runWorld(world, 0.4);
      const speed = lengthOf(world.velocityOf(part));
      const slips = speed - 0.02 * lengthOf(world.turningOf(part));
      if (share < 1) {
        expect(speed / (g * (Math.sin(slope) - mu * Math.cos(slope)) * 0.4)).toBeCloseTo(1, 2);
        expect(slips).toBeGreaterThan(0.1);
      } else expect(Math.abs(slips) / speed).toBeLessThan(0.02);
      world.free();
    }
  });

  // Textbook: the friction cone; a = g (sin α − μ cos α) outside of it.
  test('a block stays within the friction cone and slides outside of it', () => {
    const slope = degrees(25);
    const block = kindOf({ kind: 'box', width: 0.06, height: 0.04, depth: 0.05 });
    for (const mu of [0.2, 0.6]) {
      const world = spaceScene({ kinds: [block], pairs: pairOf(mu), surfaces: slopeOf(slope) });
      const start = onSlope(slope, 0.02);
      const part = world.release('s', 'part', start, [0, 0, 0], 0);
      runWorld(world, 0.5);
      const way = wayOf(part.now, start);
      if (mu > Math.tan(slope)) expect(way).toBeLessThan(2e-4);
      else expect(way / (0.125 * g * (Math.sin(slope) - mu * Math.cos(slope)))).toBeCloseTo(1, 2);
      world.free();
    }
  });

  // Statics: on a rough slope a block tips over its lower edge where tan α > b/h.
  test('a tall block tips where the slope is steeper than b/h', () => {
    const tall = kindOf({ kind: 'box', width: 0.03, height: 0.09, depth: 0.05 });
    for (const share of [0.85, 1.15]) {
      const slope = Math.atan((share * 0.03) / 0.09);
      const world = spaceScene({ kinds: [tall], pairs: pairOf(2), surfaces: slopeOf(slope) });
      const part = world.release('s', 'part', onSlope(slope, 0.045), [0, 0, 0], 0);
      runWorld(world, 1);
      const up = turnedBy(part.now, [0, 1, 0]);
      const tilted = Math.acos(up[0] * Math.sin(slope) + up[1] * Math.cos(slope));
      if (share < 1) expect(tilted).toBeLessThan(degrees(1));
      else expect(tilted).toBeGreaterThan(degrees(60));
      world.free();
    }
  });
});

describe('flight and impact', () => {
  // Textbook: x = v t + g t²/2.
  test('a part flies its parabola in space', () => {
    const world = spaceScene({ kinds: [kindOf({ kind: 'ball', radius: 0.02 })] });
    const part = world.release('s', 'part', at(0, 1, 0), [1, 2, -0.5], 0.0004);
    runWorld(world, 0.3);
    const t = 0.3004;
    expect(part.now.x).toBeCloseTo(t, 5);
    expect(part.now.y).toBeCloseTo(1 + 2 * t - (g * t * t) / 2, 4);
    expect(part.now.z).toBeCloseTo(-0.5 * t, 5);
    world.free();
  });

  // Textbook: the rebound from h reaches e² h.
  test.each([0.5, 0.7, 0.9])('rebounds with e = %d', (e) => {
    const world = spaceScene({
      kinds: [kindOf({ kind: 'ball', radius: 0.02 })],
      pairs: pairOf(0.3, e),
      surfaces: slopeOf(0),
    });
    const part = world.release('s', 'part', at(0, 0.32, 0), [0, 0, 0], 0);
    let top = 0;
    let hit = false;
    runWorld(world, 0.9, 0.001, () => {
      const rises = part.now.y > part.before.y;
      if (rises) hit = true;
      if (hit && !rises && top === 0) top = part.before.y - 0.02;
    });
    expect(Math.abs(top / (e * e * 0.3) - 1)).toBeLessThan(0.04);
    world.free();
  });

  // Euler’s equations: torque-free, energy and the angular momentum in the world stay.
  test('a spinning box precesses free of torque', () => {
    const world = spaceScene(
      { kinds: [kindOf({ kind: 'box', width: 0.1, height: 0.06, depth: 0.03 })] },
      { gravity: false },
    );
    const part = world.release('s', 'part', at(0, 0, 0), [0, 0, 0], 0);
    world.spin(part, [8, 0.5, 3]);
    const { tensor } = part.made.mass;
    const about = () => {
      const w = turnedBack(axesOf(part.now), world.turningOf(part));
      const spin: Point3 = [tensor.xx * w[0], tensor.yy * w[1], tensor.zz * w[2]];
      return { energy: (spin[0] * w[0] + spin[1] * w[1] + spin[2] * w[2]) / 2, spin: turnedBy(part.now, spin), w };
    };
    const first = about();
    let least = Infinity;
    runWorld(world, 2, 0.001, () => (least = Math.min(least, about().w[2])));
    const last = about();
    expect(last.energy / first.energy).toBeCloseTo(1, 2);
    last.spin.forEach((own, k) => expect(Math.abs(own - first.spin[k]!)).toBeLessThan(2e-3 * lengthOf(first.spin)));
    // It does precess: about its middle axis turning is not stable.
    expect(least).toBeLessThan(0);
    world.free();
  });

  // Textbook: a central elastic impact of equal balls hands over the speed; momentum stays in any case.
  test('balls keep momentum, and energy where they are elastic', () => {
    const world = spaceScene(
      { kinds: [kindOf({ kind: 'ball', radius: 0.02 })], pairs: pairOf(0, 1) },
      { gravity: false },
    );
    const one = world.release('s', 'part', at(0, 0, 0), [1, 0.2, 0.1], 0);
    const other = world.release('s', 'part', at(0.1, 0, 0), [-0.5, 0.2, 0.1], 0);
    runWorld(world, 0.2);
    const [v, w] = [world.velocityOf(one), world.velocityOf(other)];
    [0.5, 0.4, 0.2].forEach((sum, k) => expect(v[k]! + w[k]!).toBeCloseTo(sum, 3));
    expect(lengthOf(v) ** 2 + lengthOf(w) ** 2).toBeCloseTo(1.05 + 0.3, 2);
    world.free();
  });
});

describe('what parts do to what carries them', () => {
  // Newton: friction on the carrier is the mass times the acceleration of its load, its weight beside.
  test('an axis-driven belt feels what it takes along', () => {
    const belts: Parameters<typeof spaceScene>[0]['belts'] = [
      {
        id: 'b',
        name: 'Belt',
        material: 'm',
        from: [-1, 0],
        to: [4, 0],
        thickness: 0.02,
        width: 0.3,
        drive: { by: 'axis', axis: 'x', radius: 1 },
      },
    ];
    const world = spaceScene({
      kinds: [kindOf({ kind: 'box', width: 0.06, height: 0.04, depth: 0.05 })],
      pairs: pairOf(0.3),
      belts,
    });
    const parts = [0, 0.2, 0.4].map((x) => world.release('s', 'part', at(x, 0.02, 0), [0, 0, 0], 0));
    const pushes: number[] = [];
    for (let k = 0; k < 1000; k++) {
      world.advance(still, () => Math.min(1, k / 300) * 0.5);
      pushes.push(world.pushOnBelt('b'));
    }
    // They are taken along at 0.5/0.3 m/s², within friction, then ride on.
    const mean = (from: number, to: number) => pushes.slice(from, to).reduce((sum, f) => sum + f, 0) / (to - from);
    expect(mean(100, 280)).toBeCloseTo(-3 * 0.5 * (0.5 / 0.3), 1);
    expect(Math.abs(mean(500, 1000))).toBeLessThan(0.02);
    expect(world.velocityOf(parts[0]!)[0]).toBeCloseTo(0.5, 3);
    world.free();
  });

  // Coulomb: whatever hits a block from the side, the belt below it rubs with μ m g at most.
  test.each([0, 0.3, 0.7])(
    'a blow from the side is not felt by the belt below beyond its friction, with a bounce of %d',
    (bounce) => {
      const mechanism = emptyMechanism();
      const ram = addBar(mechanism, [-0.2, 0.02], [-0.1, 0.02], 'Ram');
      ram.thickness = 0.1;
      if (ram.shape.kind === 'bar') ram.shape.width = 0.01;
      const belts: Loose['belts'] = [
        {
          id: 'b',
          name: 'Belt',
          material: 'm',
          from: [-2, 0],
          to: [4, 0],
          thickness: 0.02,
          width: 0.3,
          drive: { by: 'axis', axis: 'x', radius: 1 },
        },
      ];
      const [mu, mass] = [0.3, 0.7];
      const world = spaceScene(
        {
          kinds: [kindOf({ kind: 'box', width: 0.3, height: 0.04, depth: 0.2 }, { given: 'typed', mass })],
          pairs: pairOf(mu, bounce),
          belts,
          solids: [{ body: ram.id, material: 'm', as: 'hull' }],
        },
        { mechanism, step: 0.002 },
      );
      const part = world.release('s', 'part', at(0.1, 0.02, 0), [0, 0, 0], 0);
      let most = 0;
      let impulse = 0;
      for (let k = 0; k < 700; k++) {
        // At rest for a while, then at 0.8 m/s, then at rest again.
        const x = ram.pose.x + 0.8 * 0.002 * Math.max(0, Math.min(k, 500) - 100);
        world.advance(new Map([[ram.id, { ...ram.pose, x }]]), () => 0);
        most = Math.max(most, Math.abs(world.pushOnBelt('b')));
        impulse += 0.002 * (world.pushes()[0]!.push.touching.force[0] + world.pushOnBelt('b'));
      }
      expect(most).toBeLessThan(1.1 * mu * mass * g);
      // What both felt is what the part has lost of its momentum, which ends at rest.
      expect(Math.abs(impulse + mass * world.velocityOf(part)[0])).toBeLessThan(0.01);
      world.free();
    },
  );

  // Textbook: a block laid on a moving belt slides v²/(2 μ g) back before it rides.
  test('a part is taken up by a belt', () => {
    const belts: Parameters<typeof spaceScene>[0]['belts'] = [
      {
        id: 'b',
        name: 'Belt',
        material: 'm',
        from: [-1, 0],
        to: [4, 0],
        thickness: 0.02,
        width: 0.3,
        drive: { by: 'speed', speed: 0.8, running: true },
      },
    ];
    const world = spaceScene({
      kinds: [kindOf({ kind: 'box', width: 0.06, height: 0.04, depth: 0.05 })],
      pairs: pairOf(0.3),
      belts,
    });
    const part = world.release('s', 'part', at(0, 0.02, 0), [0, 0, 0], 0);
    for (let k = 0; k < 600; k++) world.advance(still, () => 0.8);
    const slip = 0.8 * 0.6 - part.now.x;
    expect(slip / (0.8 ** 2 / (2 * 0.3 * g))).toBeCloseTo(1, 1);
    world.free();
  });

  // Kinematics: on a curved belt a part goes round at the speed of the middle line.
  test('a curved belt carries a part round its bend, and rising ones up', () => {
    const belts: Parameters<typeof spaceScene>[0]['belts'] = [
      {
        id: 'b',
        name: 'Belt',
        material: 'm',
        plane: 'top',
        seen: 'above',
        from: [0.5, 0],
        to: [0, 0.5],
        turn: Math.PI / 2,
        thickness: 0.02,
        width: 0.3,
        rise: 0,
        drive: { by: 'speed', speed: 0.3, running: true },
      },
    ];
    const mechanism = withTop();
    const world = spaceScene(
      { kinds: [kindOf({ kind: 'box', width: 0.06, height: 0.04, depth: 0.05 })], pairs: pairOf(0.6), belts },
      { mechanism },
    );
    // The plane seen from above: its x is that of the world, its y goes to the back.
    const part = world.release('s', 'part', at(0.5, 0.0201, -0.02), [0, 0, -0.3], 0);
    for (let k = 0; k < 1500; k++) world.advance(still, () => 0.3);
    const [x, back] = [part.now.x, -part.now.z];
    expect(Math.hypot(x, back)).toBeCloseTo(0.5, 1);
    // 0.45 m on an arc of 0.5 m: a turn of 0.9 rad beyond where it was laid.
    expect(Math.atan2(back, x)).toBeCloseTo(0.04 + 0.9, 1);
    expect(lengthOf(world.velocityOf(part))).toBeCloseTo(0.3, 2);
    world.free();
  });

  // Statics: a spring gives way by (weight − preload) / rate.
  test.each([
    ['in the front plane', undefined, [1, 0, 0, 0]],
    ['in a plane seen from the right', 'side', [Math.SQRT1_2, 0, Math.SQRT1_2, 0]],
  ] as const)('a sprung platform %s sinks by the weight on it', (_, plane, turn) => {
    const mechanism = emptyMechanism();
    if (plane) mechanism.planes.push({ id: plane, name: 'Side', on: 'ground', at: [0, 0, 0], turn: [...turn] });
    const platforms: Parameters<typeof spaceScene>[0]['platforms'] = [
      {
        id: 'p',
        name: 'Platform',
        material: 'm',
        from: [-0.2, 0],
        to: [0.2, 0],
        thickness: 0.01,
        width: 0.3,
        angle: -Math.PI / 2,
        travel: 0.2,
        rate: 400,
        preload: 2,
        damping: 60,
        mass: 0.4,
        plane,
      },
    ];
    const world = spaceScene(
      {
        kinds: [kindOf({ kind: 'box', width: 0.1, height: 0.04, depth: 0.1 }, { given: 'typed', mass: 1.5 })],
        pairs: pairOf(0.5),
        platforms,
      },
      { mechanism },
    );
    world.release('s', 'part', at(0, 0.021, 0), [0, 0, 0], 0);
    runWorld(world, 4);
    expect(-world.platformShift('p')[1]).toBeCloseTo(((1.5 + 0.4) * g - 2) / 400, 3);
    world.free();
  });
});

describe('nothing goes through anything', () => {
  const shapes: Parameters<typeof kindOf>[0][] = [
    { kind: 'ball', radius: 0.01 },
    { kind: 'box', width: 0.04, height: 0.02, depth: 0.01 },
    { kind: 'cylinder', radius: 0.01, length: 0.03 },
    { kind: 'capsule', radius: 0.008, length: 0.04 },
    {
      kind: 'outline',
      points: [
        [0, 0],
        [0.05, 0],
        [0.05, 0.01],
        [0.01, 0.01],
        [0.01, 0.04],
        [0, 0.04],
      ],
      as: 'exact',
      tolerance: 0,
      depth: 0.01,
    },
    { kind: 'tray', width: 0.06, height: 0.02, depth: 0.04, wall: 0.003, floor: 0.003, along: 2, across: 1 },
  ];
  const turn = fc
    .tuple(...Array.from({ length: 4 }, () => fc.double({ min: -1, max: 1, noNaN: true })))
    .filter((q) => Math.hypot(...q) > 0.1);
  const speed = fc.double({ min: -10, max: 10, noNaN: true });
  const plate = {
    id: 's',
    name: 'Plate',
    colour: null,
    density: 7800,
    turn: [1, 0, 0, 0] as [number, number, number, number],
  };

  test('whatever is thrown at a thin wall, at a plate of triangles and at a tray at up to 10 m/s (property)', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...shapes),
        turn,
        fc.double({ min: 1, max: 10, noNaN: true }),
        speed,
        fc.constantFrom('wall', 'triangles'),
        (shape, q, fast, beside, kind) => {
          const mechanism = emptyMechanism();
          const wall = kind === 'wall';
          if (!wall)
            mechanism.shapes = {
              files: [],
              unassigned: [],
              ground: [{ ...plate, shape: { kind: 'box', x: 0.003, y: 20, z: 20 }, at: [0.0015, 0, 0] }],
            };
          const surfaces: Loose['surfaces'] = [
            {
              id: 'w',
              name: 'Wall',
              body: 'ground',
              material: 'm',
              line: [
                [0, -10],
                [0, 10],
              ],
              thickness: 0.003,
              width: 20,
            },
          ];
          const world = spaceScene(
            {
              kinds: [kindOf(shape)],
              pairs: pairOf(0.3, 0.2),
              surfaces: wall ? surfaces : [],
              solids: wall ? [] : [{ body: 'ground', material: 'm', as: 'exact' }],
            },
            { mechanism, gravity: false, step: 0.002 },
          );
          const size = Math.hypot(...q);
          const [qw, qx, qy, qz] = q.map((part) => part / size) as [number, number, number, number];
          const part = world.release(
            's',
            'part',
            { x: -0.2, y: 0, z: 0, qw, qx, qy, qz },
            [fast, 0.3 * beside, 0.2 * beside],
            0,
          );
          world.spin(part, [3 * beside, fast, beside]);
          runWorld(world, 0.4, 0.002);
          expect(part.now.x).toBeLessThan(0);
          world.free();
        },
      ),
      { numRuns: 150 },
    );
  });

  // Statics: what lies in a tray comes to rest in it.
  test('parts dropped into a tray stay in it, and the tray feels their weight', () => {
    const tray = kindOf(
      { kind: 'tray', width: 0.3, height: 0.08, depth: 0.2, wall: 0.004, floor: 0.004, along: 1, across: 1 },
      { given: 'typed', mass: 1 },
      'tray',
    );
    const belts: Loose['belts'] = [
      {
        id: 'b',
        name: 'Belt',
        material: 'm',
        from: [-1, 0],
        to: [1, 0],
        thickness: 0.02,
        width: 0.4,
        drive: { by: 'axis', axis: 'x', radius: 1 },
      },
    ];
    const world = spaceScene(
      {
        kinds: [kindOf({ kind: 'ball', radius: 0.012 }, { given: 'typed', mass: 0.02 }), tray],
        pairs: pairOf(0.4, 0.2),
        belts,
      },
      { step: 0.002 },
    );
    world.release('s', 'tray', at(0, 0.041, 0), [0, 0, 0], 0);
    const parts = Array.from({ length: 40 }, (_, i) =>
      world.release(
        's',
        'part',
        at(-0.1 + 0.05 * (i % 5), 0.2 + 0.03 * Math.floor(i / 10), -0.02 + 0.04 * (Math.floor(i / 5) % 2)),
        [0, 0, 0],
        0,
      ),
    );
    runWorld(world, 1.2, 0.002);
    for (const { now } of parts) {
      expect(Math.abs(now.x)).toBeLessThan(0.15);
      expect(Math.abs(now.z)).toBeLessThan(0.1);
      expect(now.y).toBeGreaterThan(0.004);
      expect(now.y).toBeLessThan(0.08);
    }
    expect(Math.abs(world.pushOnBelt('b'))).toBeLessThan(0.1);
    world.free();
  });
});

describe('fingers that hold by friction', () => {
  const gripper = (force: number, own: Partial<Loose['grippers'][number]> = {}): Loose['grippers'] => [
    {
      id: 'g',
      name: 'Fingers',
      body: 'ground',
      at: [0, 0],
      reach: 0.01,
      force: 1,
      kinds: [],
      fingers: { angle: 0, gap: 0.0504, height: 0.03, width: 0.03, force, speed: 0.2, material: 'm' },
      ...own,
    },
  ];
  /** A box of 0.5 kg between fingers that are open by a hair. */
  const held = (force: number, friction: number) => {
    const world = spaceScene({
      kinds: [kindOf({ kind: 'box', width: 0.05, height: 0.05, depth: 0.05 })],
      pairs: pairOf(friction),
      grippers: gripper(force),
    });
    const part = world.release('s', 'part', at(0, 0, 0), [0, 0, 0], 0);
    return { world, part };
  };

  // Statics: two fingers hold m g while 2 μ F > m g.
  test.each([
    [1.08, true],
    [0.92, false],
  ])('at %d of the limit 2 μ F = m g a part is held: %p', (share, stays) => {
    const mu = 0.4;
    const force = (share * 0.5 * g) / (2 * mu);
    const { world, part } = held(force, mu);
    world.grips.close('g');
    let slipped = 0;
    let lost = 0;
    runWorld(world, 1, 0.001, () => {
      slipped += world.grips.slips.length;
      lost += world.grips.lost.length;
    });
    expect(world.grips.holding('g') === part).toBe(stays);
    expect(lost > 0).toBe(!stays);
    expect(slipped).toBe(stays ? 0 : 1);
    world.free();
  });
});

function withTop() {
  const mechanism = emptyMechanism();
  mechanism.planes.push({
    id: 'top',
    name: 'Top',
    on: 'ground',
    at: [0, 0, 0],
    turn: [Math.SQRT1_2, -Math.SQRT1_2, 0, 0],
  });
  return mechanism;
}
