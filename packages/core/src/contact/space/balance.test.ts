import { balanced, type BalancedBody, type Link } from './balance';

type Triple = [number, number, number];
const body = (
  force: [number, number, number],
  centre: [number, number, number] = [0, 0, 0],
  moment: [number, number, number] = [0, 0, 0],
): BalancedBody => ({ centre, force, moment, size: 0.05 });
const contact = (
  a: number,
  b: number,
  at: [number, number, number],
  normal: [number, number, number],
  presses: number,
  spread = 0.02,
): Link => ({
  a,
  b,
  at,
  contact: { normal, presses, moment: cross(at, normal.map((n) => n * presses) as [number, number, number]), spread },
});
const cross = (a: number[], b: number[]): [number, number, number] => [
  a[1]! * b[2]! - a[2]! * b[1]!,
  a[2]! * b[0]! - a[0]! * b[2]!,
  a[0]! * b[1]! - a[1]! * b[0]!,
];
// Where things press is taken to be known to some tenths of a millimetre alone, so that moments are met a little less well.
const near = (a: readonly number[], b: readonly number[], within = 3e-3) =>
  a.forEach((part, k) => expect(Math.abs(part - b[k]!)).toBeLessThan(within));

describe('friction from the motion of parts', () => {
  // Statics by hand.
  test('one contact rubs as much as its part does not move by pressing', () => {
    // A box of 5 N of weight on a plate that is accelerated along x: the plate pushes it with 2 N, at its foot.
    const [link] = balanced(
      [body([2, 5, 0], [0, 0.02, 0], [0, 0, 0.04 - 0.04])],
      [contact(0, -1, [-0.008, 0, 0], [0, 1, 0], 5)],
    );
    near(link!.force, [2, 5, 0]);
    // The moment of both about the middle of the part is none.
    near(link!.moment, [0, 0, -0.008 * 5]);
  });

  test('in a stack the lower contact rubs for both parts', () => {
    const parts = [body([2, 5, 0], [0, 0.02, 0]), body([1, 3, 0], [0, 0.06, 0])];
    // Where both press so that no moment is left: at 1·0.02/3 behind the middle above, and so on below.
    const above = -0.02 / 3;
    const below = -(3 * 0.02 + 1 * 0.02 + 3 * -above) / 8;
    const links = [contact(0, -1, [below, 0, 0], [0, 1, 0], 8), contact(1, 0, [above, 0.04, 0], [0, 1, 0], 3)];
    const [low, high] = balanced(parts, links);
    near(high!.force, [1, 3, 0]);
    near(low!.force, [3, 8, 0]);
  });

  test('a part between two fingers hangs on both alike, and more on the side that its middle is nearer to', () => {
    const fingers = [
      contact(0, -1, [-0.02, 0, 0], [1, 0, 0], 30, 0.004),
      contact(0, -1, [0.02, 0, 0], [-1, 0, 0], 30, 0.004),
    ];
    const [left, right] = balanced([body([0, 6, 0])], fingers);
    near(left!.force, [30, 3, 0]);
    near(right!.force, [-30, 3, 0]);
    const [near1, far] = balanced([body([0, 6, 0], [-0.01, 0, 0])], fingers);
    near(near1!.force, [30, 4.5, 0]);
    near(far!.force, [-30, 1.5, 0]);
  });

  test('spinning on a face is braked by a moment about its normal', () => {
    const [link] = balanced([body([0, 5, 0], [0, 0.02, 0], [0, -0.03, 0])], [contact(0, -1, [0, 0, 0], [0, 1, 0], 5)]);
    near(link!.force, [0, 5, 0]);
    near(link!.moment, [0, -0.03, 0]);
  });

  test('a grip takes what friction need not', () => {
    const grip: Link = { a: 0, b: -1, at: [0, 0.03, 0], contact: null };
    const [held, rubbed] = balanced(
      [body([1, 6, 2], [0, 0, 0], [0.1, 0, 0])],
      [grip, contact(0, -1, [0, -0.02, 0], [0, 1, 0], 1)],
    );
    near(held!.force, [1, 5, 2], 5e-3);
    near(
      [0, 1, 2].map((k) => held!.force[k]! + rubbed!.force[k]!),
      [1, 6, 2],
    );
    near(
      [0, 1, 2].map((k) => held!.moment[k]! + rubbed!.moment[k]!),
      [0.1, 0, 0],
    );
  });

  test('of a heap of hundred parts that rub anyhow the floor feels what it felt', () => {
    const middles = Array.from({ length: 100 }, (_, i): Triple => [i % 10, Math.floor(i / 10), 0]);
    // Each on the one below it, and leaning on its neighbour; what they do to each other is made up.
    const links = middles.flatMap(([x, y], i) => {
      const own = [
        contact(i, y === 0 ? -1 : i - 10, [x + 0.1 * Math.sin(i), y - 0.5, 0.1], [0, 1, 0], 3 * (10 - y), 0.4),
      ];
      if (x > 0) own.push(contact(i, i - 1, [x - 0.5, y, 0.2 * Math.cos(i)], [1, 0, 0], 0.3, 0.4));
      return own;
    });
    const felt = middles.map((): { force: Triple; moment: Triple } => ({ force: [0, 0, 0], moment: [0, 0, 0] }));
    const floor: Triple = [0, 0, 0];
    links.forEach(({ a, b, at, contact: c }, i) => {
      const { normal, presses } = c!;
      const across = [0.2 * Math.sin(3 * i), 0.1 * Math.sin(5 * i), 0.2 * Math.cos(7 * i)];
      const force = normal.map((n, k) => presses * (n + (1 - n) * across[k]!)) as Triple;
      for (const [j, sign] of [
        [a, 1],
        [b, -1],
      ] as const) {
        if (j < 0) force.forEach((part, k) => (floor[k]! += part));
        else {
          const moment = cross(
            at.map((part, k) => part - middles[j]![k]!),
            force,
          );
          for (const k of [0, 1, 2] as const) {
            felt[j]!.force[k] += sign * force[k];
            felt[j]!.moment[k] += sign * moment[k];
          }
        }
      }
    });
    const found = balanced(
      felt.map(({ force, moment }, i) => ({ centre: middles[i]!, force, moment, size: 0.5 })),
      links,
    );
    const sum: Triple = [0, 0, 0];
    links.forEach(({ b }, i) => b === -1 && found[i]!.force.forEach((part, k) => (sum[k]! += part)));
    near(sum, floor, 1e-2);
  });
});
