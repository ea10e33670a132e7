import { demo } from '../../test/demos';
import { fourBar } from '../../test/mechanisms';
import {
  addBar,
  addDisc,
  addElement,
  addJoint,
  addPlane,
  bodyPoint,
  groundPoint,
  newMachine,
  turnOf,
  type Mechanism,
} from '../machine';
import { assemble, compileMechanism, otherClosure, otherClosures, type OtherPose } from './index';

const RAD = Math.PI / 180;
function closures(m: Mechanism, joint: string, driven: string[]): OtherPose[] {
  const found = otherClosures(m, joint, driven);
  if (typeof found === 'string') throw new Error(found);
  return found;
}
/** The mechanism with bodies put at poses. */
function placed(m: Mechanism, { poses }: OtherPose): Mechanism {
  const other = structuredClone(m);
  for (const body of other.bodies) body.pose = poses.get(body.id) ?? body.pose;
  return other;
}

test('a four-bar with a driven crank closes in one other way: the crossed one (Norton), as mirrored by hand', () => {
  const { machine, pins, coupler, rocker } = fourBar([0.1, 0.04, 0.12, 0.08], 40 * RAD);
  const m = machine.mechanism;
  const mirrored = otherClosure(m, pins[2].id);
  if (typeof mirrored === 'string') throw new Error(mirrored);
  const found = closures(m, pins[2].id, [pins[0].id]);
  expect(found).toHaveLength(1);
  for (const id of [coupler.id, rocker.id]) {
    const turn = found[0]!.poses.get(id)!.angle - mirrored.get(id)!.angle;
    expect(Math.cos(turn)).toBeCloseTo(1, 12);
  }
  expect([...found[0]!.poses.keys()].sort()).toEqual([coupler.id, rocker.id].sort());
  // A driven crank is not mirrored with the coupler that it meets.
  expect(otherClosure(m, pins[1].id, [pins[0].id])).toMatch(/is driven and ties one of the two/);
  // The same from whichever pin of the loop it is asked for.
  expect(closures(m, pins[1].id, [pins[0].id])).toHaveLength(1);
});

/** A crank in a side view and a slide in the front plane, joined by a rod with ball ends. */
function spatialSlider() {
  const { mechanism: m } = newMachine('Slider');
  const [R, L, e, phi] = [0.08, 0.3, 0.05, 0.7];
  const side = addPlane(m, { name: 'Side', turn: turnOf('right') });
  const crank = addBar(m, [0, 0], [R, 0], 'Crank', null, side.id);
  crank.pose.angle = phi;
  const pin = addJoint(m, 'pin', groundPoint(m, [0, 0], side.id), { body: crank.id, point: 'p1' });
  const s = Math.sqrt(L ** 2 - (R * Math.sin(phi) - e) ** 2 - (R * Math.cos(phi)) ** 2);
  const slider = addDisc(m, [s, e], 0.02, 'Slider');
  const slide = addJoint(m, 'slide', groundPoint(m, [0, e]), { body: slider.id, point: 'p1' }, { direction: 0 });
  const rod = addJoint(m, 'rod', { body: crank.id, point: 'p2' }, { body: slider.id, point: 'p1' });
  return { m, pin, slider, slide, rod, s };
}

test('a ball-ended rod between two planes puts the slide on the other side (x = ±√(L² − …), by hand)', () => {
  const { m, pin, slider, slide, rod, s } = spatialSlider();
  expect(rod.kind === 'rod' && rod.length).toBeCloseTo(0.3, 12);
  const [other, ...more] = closures(m, rod.id, [pin.id]);
  expect(more).toEqual([]);
  expect(other!.poses.get(slider.id)!.x).toBeCloseTo(-s, 9);
  expect([...other!.poses.keys()]).toEqual([slider.id]);
  // A stop that keeps the slide on its side leaves nothing, and says so.
  addElement(m, { kind: 'stop', joint: slide.id, min: -0.1, max: null, restitution: 0 });
  expect(otherClosures(m, rod.id, [pin.id])).toMatch(/only beyond a stop/);
});

test('the plate of the rod lift hangs below its carriages, or stands above them', () => {
  const machine = demo('rod-lift');
  const m = machine.mechanism;
  const rod = m.joints.find(({ kind }) => kind === 'rod')!;
  const driven = machine.axes.flatMap(({ joint }) => joint ?? []);
  const found = closures(m, rod.id, driven);
  const plate = m.bodies.findIndex(({ name }) => name === 'Plate');
  const heightOf = (mechanism: Mechanism) => {
    const own = compileMechanism(mechanism);
    const { q, assembled } = assemble(own);
    expect(assembled).toBe(true);
    own.tree.pose(q);
    return own.tree.at[3 * plate + 1]!;
  };
  // The columns stand around the middle alike, and so do the ways to close: mirrored at the height of the joints of the
  // carriages (0.7 m), and three and three turned by 120° about the vertical.
  expect(heightOf(m)).toBeCloseTo(0.3, 9);
  expect(heightOf(placed(m, found[0]!))).toBeCloseTo(1.1, 9);
  const heights = found.map((other) => heightOf(placed(m, other)));
  for (const height of heights.slice(1, 4)) expect(height).toBeCloseTo(heights[1]!, 9);
});

test('what closes in one way alone is told', () => {
  const { mechanism: m } = newMachine('Pendulum');
  const bar = addBar(m, [0, 0], [0.2, 0]);
  const pin = addJoint(m, 'pin', groundPoint(m, [0, 0]), bodyPoint(m, bar.id, [0, 0]));
  const end = addJoint(m, 'slide', groundPoint(m, [0.5, 0]), bodyPoint(m, addDisc(m, [0.5, 0], 0.02).id, [0.5, 0]));
  expect(otherClosures(m, end.id, [pin.id, end.id])).toMatch(/No other way was found/);
});
