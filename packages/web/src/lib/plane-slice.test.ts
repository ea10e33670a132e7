import {
  addBar,
  addDisc,
  addElement,
  addJoint,
  addPlane,
  bodyPoint,
  groundPoint,
  newMachine,
  spaceOf,
  standingOf,
  turnOf,
} from '@yoke/core';
import { beside, fromFront, intoPlane, sliceOf } from './plane-slice';

/** A bridge that slides along, and an arm that turns in a plane on it, seen from the right. */
function twoPlanes() {
  const { mechanism: m } = newMachine('Two planes');
  const bridge = addBar(m, [0, 0], [0.2, 0], 'Bridge');
  addJoint(m, 'slide', groundPoint(m, [0, 0]), bodyPoint(m, bridge.id, [0, 0]));
  const side = addPlane(m, { on: bridge.id, at: [0.1, 0, 0.05], turn: turnOf('right') });
  const arm = addBar(m, [0, 0], [0.3, 0], 'Arm', null, side.id);
  addJoint(m, 'pin', groundPoint(m, [0, 0], side.id), bodyPoint(m, arm.id, [0, 0]));
  addElement(m, {
    kind: 'spring',
    a: { body: bridge.id, point: 'p2' },
    b: { body: arm.id, point: 'p2' },
    rate: 10,
    free: 0,
  });
  return { m, bridge, arm, side };
}

test('a plane has what is drawn in it, and nothing that stands between two', () => {
  const { m, bridge, arm, side } = twoPlanes();
  const [front, other] = [sliceOf(m, 'front'), sliceOf(m, side.id)];
  expect(front.mechanism.bodies).toEqual([bridge]);
  expect(other.mechanism.bodies).toEqual([arm]);
  expect(other.bodies).toEqual([1]);
  expect(other.mechanism.joints.map(({ kind }) => kind)).toEqual(['pin']);
  expect(other.mechanism.ground).toHaveLength(1);
  expect([...front.mechanism.elements, ...other.mechanism.elements]).toEqual([]);
});

test('a machine with the front plane alone is its own slice', () => {
  const { mechanism: m } = newMachine('Flat');
  addDisc(m, [0, 0], 0.1);
  expect(sliceOf(m, 'front').mechanism).toBe(m);
  expect(beside(m, [], 'front')).toEqual([]);
});

test('the rest of the machine lies where it looks to be from the front, as its carriers stand', () => {
  const { m, arm: { id } } = twoPlanes(); // prettier-ignore
  const poses = [
    { x: 0.4, y: 0.1, angle: 0 },
    { x: 0, y: 0, angle: Math.PI / 6 },
  ];
  const { pick, beside: behind } = fromFront(m);
  expect(pick(poses)).toEqual([poses[0]]);
  const arm = behind(poses).find((own) => own.id === id);
  // Seen from the right the arm reaches towards −z and up: from the front only its height is seen.
  const [from, to] = arm!.points as [[number, number], [number, number]];
  expect([from[0], from[1]]).toEqual([expect.closeTo(0.5, 12), expect.closeTo(0.1, 12)]);
  expect([to[0], to[1]]).toEqual([expect.closeTo(0.5, 12), expect.closeTo(0.1 + 0.15, 12)]);
});

test('a body seen from its edge is as thick as it is, wherever it stands', () => {
  const { m, arm } = twoPlanes();
  arm.thickness = 0.04;
  const seen = beside(m, m.bodies.map(({ pose }) => pose), 'front').find(({ id }) => id === arm.id); // prettier-ignore
  const xs = [...seen!.silhouette.matchAll(/[ML](-?[\d.e-]+) /g)].map(([, x]) => Number(x));
  expect(Math.max(...xs) - Math.min(...xs)).toBeCloseTo(0.04, 12);
  expect((Math.max(...xs) + Math.min(...xs)) / 2).toBeCloseTo(0.1, 12);
});

test('a rod is seen as a line between its ends, from whatever plane', () => {
  const { m, bridge, arm, side } = twoPlanes();
  const ends = [bodyPoint(m, bridge.id, [0.02, 0.03]), { body: arm.id, point: arm.points.at(-1)!.id }] as const;
  const rod = addJoint(m, 'rod', ...ends);
  const poses = m.bodies.map(({ pose }) => pose);
  for (const plane of ['front', side.id]) {
    const seen = beside(m, poses, plane).find(({ id }) => id === rod.id)!;
    expect(seen.points).toHaveLength(2);
    const frame = standingOf(m, poses).plane(plane);
    ends.forEach((end, k) => {
      const at = intoPlane(frame, spaceOf(m, end, standingOf(m, poses)));
      expect(seen.points[k]).toEqual(at.map((part) => expect.closeTo(part, 12)));
    });
    expect(seen.silhouette).toMatch(/^M\S+ \S[^\sL]*L\S+ \S+$/);
  }
});
