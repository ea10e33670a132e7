import fc from 'fast-check';
import { beltAlong, boxKind } from '../../test/loose';
import { scene, still } from '../../test/scene';
import type { Loose } from '../machine';
import { engine, loadContact } from './engine';
import { areNear, boxAt, boxRound, boxRoundBoth, newBody, type Box } from './loose-part';
import { ContactReader } from './pushes';
import { Toucher } from './touching';

beforeAll(() => loadContact());

const near = fc.double({ min: -1, max: 1, noNaN: true });
const place = fc.record({ x: near, y: near, angle: fc.double({ min: -4, max: 4, noNaN: true }) });
const corners = fc.array(fc.tuple(near, near), { minLength: 1, maxLength: 6 });
const sides = ({ x, y, w, h }: Box) => [x - w, x + w, y - h, y + h] as const;

describe('boxes round what may touch', () => {
  test('hold every corner at every pose (property)', () => {
    fc.assert(
      fc.property(corners, place, fc.constantFrom(0, 0.1), (own, pose, radius) => {
        const box = boxAt(boxRound([{ corners: own, radius }]), pose);
        const [left, right, low, high] = sides(box);
        const [c, s] = [Math.cos(pose.angle), Math.sin(pose.angle)];
        for (const [x, y] of own) {
          const [wx, wy] = [pose.x + c * x - s * y, pose.y + s * x + c * y];
          expect(wx - radius).toBeGreaterThanOrEqual(left - 1e-12);
          expect(wx + radius).toBeLessThanOrEqual(right + 1e-12);
          expect(wy - radius).toBeGreaterThanOrEqual(low - 1e-12);
          expect(wy + radius).toBeLessThanOrEqual(high + 1e-12);
        }
      }),
    );
  });

  test('of two are round both; near means within the distance on both sides (property)', () => {
    fc.assert(
      fc.property(corners, corners, fc.double({ min: 0.001, max: 1, noNaN: true }), (one, two, within) => {
        const [a, b] = [one, two].map((own) => boxRound([{ corners: own, radius: 0 }])) as [Box, Box];
        const [l, r, d, u] = sides(boxRoundBoth(a, b));
        expect([l, r, d, u].map((v) => Math.round(v * 1e9) + 0)).toEqual(
          [
            Math.min(a.x - a.w, b.x - b.w),
            Math.max(a.x + a.w, b.x + b.w),
            Math.min(a.y - a.h, b.y - b.h),
            Math.max(a.y + a.h, b.y + b.h),
          ].map((v) => Math.round(v * 1e9) + 0),
        );
        const gap = (from: number, to: number, other: number, end: number) => Math.max(other - to, from - end);
        const [al, ar, ad, au] = sides(a);
        const [bl, br, bd, bu] = sides(b);
        const apart = Math.max(gap(al, ar, bl, br), gap(ad, au, bd, bu));
        fc.pre(Math.abs(apart - within) > 1e-9);
        expect(areNear(a, b, within)).toBe(apart < within);
      }),
    );
  });
});

describe('what parts do to a belt and to a body', () => {
  const materials: Loose['pairs'] = [{ id: 'p', a: 'm', b: 'n', friction: 0.5, restitution: 0.1 }];
  const belt = beltAlong('m', -0.5, 1, { by: 'speed', speed: 0.4, running: true });

  test('is what changes their momentum, however they lie and tumble (property)', () => {
    fc.assert(
      fc.property(
        fc.array(fc.record({ x: fc.double({ min: -0.3, max: 0.3, noNaN: true }), y: fc.double({ min: 0.02, max: 0.2, noNaN: true }), angle: fc.double({ min: -2, max: 2, noNaN: true }) }), { minLength: 1, maxLength: 5 }), // prettier-ignore
        fc.constantFrom(0, 0.4, -2),
        (poses, speed) => {
          const box = boxKind({ material: 'n' }, 0.05, 0.03, 0.4);
          const { world } = scene({ kinds: [box], pairs: materials, belts: [belt] });
          const w = world(0.002);
          for (const pose of poses) if (!w.blocked('box', pose)) w.release('s', 'box', pose, [0, 0], 0);
          let most = 0;
          let worst = 0;
          for (let k = 0; k < 250; k++) {
            const before = w.parts.map((part) => w.velocityOf(part)[0]);
            w.advance(still, () => speed);
            // Newton: nothing but the belt changes the momentum of all parts along it; among themselves they cancel out.
            const force = w.parts.reduce(
              (sum, part, i) => sum + (0.4 * (w.velocityOf(part)[0] - before[i]!)) / 0.002,
              0,
            );
            most = Math.max(most, Math.abs(force));
            worst = Math.max(worst, Math.abs(w.pushOnBelt('belt') + force));
          }
          w.free();
          if (speed !== 0) expect(most).toBeGreaterThan(0);
          // The library reckons in single precision.
          expect(worst).toBeLessThan(1e-3 * most + 1e-3);
        },
      ),
      { numRuns: 12 },
    );
  });

  test('at rest it is known still, and asked for again as soon as something stirs', () => {
    const { world } = scene({ kinds: [boxKind({ material: 'n' }, 0.05, 0.03, 0.4)], pairs: materials, belts: [belt] }); // prettier-ignore
    const w = world(0.002);
    w.release('s', 'box', { x: 0, y: 0.015, angle: 0 }, [0, 0], 0);
    for (let k = 0; k < 2500; k++) w.advance(still, () => 0);
    const rests = w.pushOnBelt('belt');
    const asked = jest.spyOn(ContactReader.prototype, 'between');
    w.advance(still, () => 0);
    expect(w.pushOnBelt('belt')).toBe(rests);
    w.advance(still, () => 0);
    expect(w.pushOnBelt('belt')).toBe(rests);
    expect(asked).not.toHaveBeenCalled();
    w.advance(still, () => 0.4);
    // It is dragged along: μ m g holds the belt back (Coulomb).
    expect(w.pushOnBelt('belt') / (0.5 * 0.4 * 9.80665)).toBeCloseTo(-1, 1);
    expect(asked).toHaveBeenCalled();
    asked.mockRestore();
  });

  test('what is awake does not rest though it goes nowhere: only a pose that was kept is one of a sleeper', () => {
    const RAPIER = engine();
    const world = new RAPIER.World({ x: 0, y: 0 });
    const pose = { x: 0.1, y: 0.2, angle: 0.3 };
    const toucher = new Toucher(newBody(world.createRigidBody(RAPIER.RigidBodyDesc.dynamic())), pose);
    toucher.moveTo(pose);
    expect(toucher).toMatchObject({ rests: true, way: 0 });
    toucher.moveTo({ ...pose });
    expect(toucher).toMatchObject({ rests: false, way: 0 });
    toucher.moveTo({ ...pose, x: 0.4 });
    expect(toucher.rests).toBe(false);
    expect(toucher.way).toBeCloseTo(0.3, 12);
    world.free();
  });
});
