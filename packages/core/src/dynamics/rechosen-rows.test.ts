import { addBar, addDisc, addJoint, addPlane, bodyPoint, groundPoint, turnOf } from '../machine';
import { compileEfforts, ForwardDynamics } from './index';
import { blank, leadTo, solid } from '../../test/space';
import { assemble, compileMechanism, Kinematics, mobilityAt } from '../mechanism';

const [d, r, l, s] = [0.1, 0.04, 0.12, 0.08];

/**
 * A four-bar in the front plane whose coupler meets the rocker in a ball, on a disc that turns about a line in the front
 * plane: of the three equations of the ball the one along the front plane's normal says nothing new, and seen from the
 * disc it goes round with every turn of that.
 */
function spun() {
  const m = blank();
  const theta = 0.7;
  const A: [number, number] = [r * Math.cos(theta), r * Math.sin(theta)];
  // The open four-bar by circles (law of cosines).
  const [dx, dy] = [d - A[0], -A[1]];
  const e = Math.hypot(dx, dy);
  const along = (l ** 2 - s ** 2 + e ** 2) / (2 * e);
  const up = Math.sqrt(l ** 2 - along ** 2);
  const B: [number, number] = [A[0] + (along * dx - up * dy) / e, A[1] + (along * dy + up * dx) / e];
  const crank = solid(addBar(m, [0, 0], A, 'Crank'), 0.2, [1e-4, 1e-4, 1e-4]);
  const coupler = solid(addBar(m, A, B, 'Coupler'), 0.3, [1e-4, 1e-4, 2e-4]);
  const rocker = solid(addBar(m, [d, 0], B, 'Rocker'), 0.25, [1e-4, 1e-4, 1e-4]);
  const pin = addJoint(m, 'pin', groundPoint(m, [0, 0]), bodyPoint(m, crank.id, [0, 0]));
  addJoint(m, 'pin', bodyPoint(m, crank.id, A), bodyPoint(m, coupler.id, A));
  addJoint(m, 'pin', groundPoint(m, [d, 0]), bodyPoint(m, rocker.id, [d, 0]));
  const side = addPlane(m, { name: 'Across', on: rocker.id, at: [s, 0, 0], turn: turnOf('right') });
  const disc = solid(addDisc(m, [0, 0], 0.01, 'Disc', side.id), 0.01, [1e-6, 1e-6, 2e-6]);
  const spin = addJoint(m, 'pin', groundPoint(m, [0, 0], side.id), bodyPoint(m, disc.id, [0, 0]));
  addJoint(m, 'ball', bodyPoint(m, coupler.id, B), { body: disc.id, point: 'p1' });
  return { m, pin, spin, rocker };
}
/** Angle of the rocker for an angle of the crank (Freudenstein; the open branch). */
function rockerAt(theta: number): number {
  const A = [r * Math.cos(theta), r * Math.sin(theta)] as const;
  const [dx, dy] = [d - A[0], -A[1]];
  const e = Math.hypot(dx, dy);
  const along = (l ** 2 - s ** 2 + e ** 2) / (2 * e);
  const up = Math.sqrt(l ** 2 - along ** 2);
  return Math.atan2(A[1] + (along * dy + up * dx) / e, A[0] + (along * dx - up * dy) / e - d);
}

test('equations of a ball that become dependent on the way are chosen anew: a disc turns three times round in a loop', () => {
  const { m, pin, spin } = spun();
  const model = compileMechanism(m, [pin, spin].map(({ id }) => ({ axisId: id, joint: id }))); // prettier-ignore
  const { q, assembled } = assemble(model);
  expect(assembled).toBe(true);
  const kinematics = new Kinematics(model, q, mobilityAt(model, q).rows);
  const [theta, turned] = model.drives.map(({ coordinate }) => coordinate.value(q)) as [number, number];
  const start = kinematics.state.q[8]! - rockerAt(0.7);
  for (let k = 1; k <= 240; k++) {
    const way = (k * 6 * Math.PI) / 240;
    expect(kinematics.moveTo([theta + way / 3, turned + way])).toBe(1);
    expect(kinematics.derive([1, 3], [0, 0])).toBe(true);
    const off = kinematics.state.q[8]! - start - rockerAt(0.7 + way / 3);
    expect(Math.cos(off)).toBeCloseTo(1, 12);
    expect(Math.abs(kinematics.state.v[8]!)).toBeLessThan(3);
  }
});

test('torque and speeds do not depend on which equations were chosen', () => {
  const { m, pin, spin } = spun();
  // A disc alike all round: how far it is turned about its line tells nothing to the crank.
  const at = (turned: number) => leadTo(m, { [pin.id]: [0.4, 10, 30], [spin.id]: [turned, 0, 0] }).drive(0);
  const first = at(0);
  for (const turned of [0.7, Math.PI / 2, 2.4, Math.PI]) expect(at(turned)).toBeCloseTo(first, 9);
});

test('let go, such a loop falls as it does with the disc at rest: what turns across the plane is borne by the bearings', () => {
  const fall = (speed: number) => {
    const { m, spin } = spun();
    const model = compileMechanism(m, [{ axisId: 'spin', joint: spin.id }]);
    const { q } = assemble(model);
    const begin = model.drives[0]!.coordinate.value(q);
    const { rows } = mobilityAt(model, q);
    const efforts = compileEfforts(model, { cycleTime: 1 });
    const forward = new ForwardDynamics(model, q, rows, efforts, (time, out) => {
      out.position[0] = begin + speed * time;
      out.rate[0] = speed;
      out.change[0] = 0;
    });
    forward.advance(0.6);
    return forward;
  };
  const [still, turning] = [fall(0), fall(40)];
  // Several turns of the disc, and a swing of the bars that is no small one.
  expect(Math.abs(still.state.q[2]! - 0.7)).toBeGreaterThan(0.3);
  for (const j of [0, 1, 2, 3, 4, 5, 6, 7, 8]) {
    expect(turning.state.q[j]!).toBeCloseTo(still.state.q[j]!, 6);
    expect(turning.state.v[j]!).toBeCloseTo(still.state.v[j]!, 5);
  }
});
