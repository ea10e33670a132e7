import { addBar, addCoupling, addDisc, addJoint, addPlane, bodyPoint, groundPoint, turnOf } from '../machine';
import { blank, leadTo, pointMass, solid } from '../../test/space';

const G = 9.80665;

test('an arm on a turntable: Lagrange’s equations of a point mass, derived by hand', () => {
  const m = blank();
  const [r, l, mass, J] = [0.2, 0.35, 1.7, 0.04];
  const top = addPlane(m, { name: 'Top', turn: turnOf('top') });
  const table = solid(addDisc(m, [0, 0], 0.3, 'Table', top.id), 5, [0.1, 0.1, J]);
  const turn = addJoint(m, 'pin', groundPoint(m, [0, 0], top.id), bodyPoint(m, table.id, [0, 0]));
  // On the table a plane that stands upright along its x: its y is the normal of the table.
  const upright = addPlane(m, { name: 'Upright', on: table.id, at: [0, 0, 0], turn: turnOf('bottom') });
  const arm = pointMass(addBar(m, [r, 0], [r + l, 0], 'Arm', null, upright.id), mass, [l, 0]);
  const lift = addJoint(m, 'pin', groundPoint(m, [r, 0], upright.id), bodyPoint(m, arm.id, [r, 0]));
  const [psi1, psi2] = [2.3, -4.1];
  for (const phi of [-0.7, 0.3, 1.1]) {
    const [phi1, phi2] = [-1.9, 6.5];
    const pose = leadTo(m, { [turn.id]: [0.8, psi1, psi2], [lift.id]: [phi, phi1, phi2] });
    const rho = r + l * Math.cos(phi);
    const rho1 = -l * Math.sin(phi) * phi1;
    expect(pose.drive(0)).toBeCloseTo((J + mass * rho ** 2) * psi2 + 2 * mass * rho * rho1 * psi1, 10);
    expect(pose.drive(1)).toBeCloseTo(
      mass * l ** 2 * phi2 + mass * rho * l * Math.sin(phi) * psi1 ** 2 + mass * G * l * Math.cos(phi),
      10,
    );
  }
});

test('a slider-crank in space with a ball-ended rod: closed form of the slide, torque by virtual work', () => {
  const m = blank();
  const [R, L, e, mass] = [0.08, 0.3, 0.05, 2.4];
  const side = addPlane(m, { name: 'Side', turn: turnOf('right') });
  const crank = pointMass(addBar(m, [0, 0], [R, 0], 'Crank', null, side.id), 0);
  const pin = addJoint(m, 'pin', groundPoint(m, [0, 0], side.id), bodyPoint(m, crank.id, [0, 0]));
  const slider = pointMass(addDisc(m, [Math.sqrt(L ** 2 - e ** 2 - R ** 2), e], 0.02, 'Slider'), mass);
  addJoint(m, 'slide', groundPoint(m, [0, e]), { body: slider.id, point: 'p1' }, { direction: 0 });
  const rod = addJoint(m, 'rod', bodyPoint(m, crank.id, [R, 0]), { body: slider.id, point: 'p1' });
  expect(rod.kind === 'rod' && rod.length).toBeCloseTo(L, 14);
  const s = (phi: number) => Math.sqrt(L ** 2 - (R * Math.sin(phi) - e) ** 2 - (R * Math.cos(phi)) ** 2);
  // L² − R² − e² + 2 R e sin φ under the root: derivatives by hand.
  const s1 = (phi: number) => (R * e * Math.cos(phi)) / s(phi);
  const s2 = (phi: number) => -(R * e * Math.sin(phi)) / s(phi) - s1(phi) ** 2 / s(phi);
  for (const phi of [0.4, 2, 4, 5.9]) {
    const [w, al] = [12, -35];
    const pose = leadTo(m, { [pin.id]: [phi, w, al] });
    const { q, v, a } = pose.kinematics.state;
    const base = 3;
    expect(q[base]).toBeCloseTo(s(phi), 12);
    expect(v[base]).toBeCloseTo(s1(phi) * w, 10);
    const change = s2(phi) * w ** 2 + s1(phi) * al;
    expect(a[base]).toBeCloseTo(change, 8);
    expect(pose.drive(0)).toBeCloseTo(mass * change * s1(phi), 8);
  }
});

test('a bevel pair: shafts in two planes, torque by the ratio, and what turns the frame comes on top', () => {
  const m = blank();
  const side = addPlane(m, { name: 'Side', turn: turnOf('right') });
  const wheel = solid(addDisc(m, [0, 0], 0.04, 'Wheel', side.id), 0.5, [0.001, 0.001, 0.002]);
  const pinion = solid(addDisc(m, [0, 0], 0.02, 'Pinion'), 0.1, [0.0001, 0.0001, 0.0002]);
  const one = addJoint(m, 'pin', groundPoint(m, [0, 0]), bodyPoint(m, pinion.id, [0, 0]));
  const two = addJoint(m, 'pin', groundPoint(m, [0, 0], side.id), bodyPoint(m, wheel.id, [0, 0]));
  addCoupling(m, { kind: 'gear', first: one.id, second: two.id, radius1: 0.02, radius2: 0.04, inside: false });
  const pose = leadTo(m, { [one.id]: [0, 10, 60] });
  expect(pose.kinematics.state.v[2]).toBeCloseTo(-5, 12);
  expect(pose.drive(0)).toBeCloseTo(0.0002 * 60 + (0.002 * 60) / 4, 12);
});

test('a universal joint closed by a ball: the angle of the driven shaft over a whole turn and more', () => {
  const m = blank();
  const beta = 0.5;
  // The driving shaft turns about x; its fork holds the cross about an axis square to that, the cross the other fork.
  const side = addPlane(m, { name: 'Driving', turn: turnOf('right') });
  const first = solid(addDisc(m, [0, 0], 0.05, 'Driving fork', side.id), 1, [0.01, 0.01, 0.02]);
  const drive = addJoint(m, 'pin', groundPoint(m, [0, 0], side.id), bodyPoint(m, first.id, [0, 0]));
  const crossPlane = addPlane(m, { on: first.id, turn: turnOf('top') });
  const cross = solid(addDisc(m, [0, 0], 0.03, 'Cross', crossPlane.id), 0, [0, 0, 0]);
  addJoint(m, 'pin', groundPoint(m, [0, 0], crossPlane.id), bodyPoint(m, cross.id, [0, 0]));
  const forkPlane = addPlane(m, { on: cross.id, turn: turnOf('right') });
  const fork = solid(addBar(m, [0, 0], [0, 0.2], 'Driven fork', null, forkPlane.id), 1, [0.01, 0.01, 0.02]);
  addJoint(m, 'pin', groundPoint(m, [0, 0], forkPlane.id), bodyPoint(m, fork.id, [0, 0]));
  // As drawn its shaft lies in line with the driving one, towards −x; held out of line by β.
  fork.pose.angle = 0.4;
  addJoint(m, 'ball', groundPoint(m, [-0.2 * Math.cos(beta), 0.2 * Math.sin(beta)]), { body: fork.id, point: 'p2' });
  const u = [-Math.cos(beta), Math.sin(beta), 0] as const;
  const w = 5;
  for (const theta of [0.1, 1.4, 1.6, 3.3, 4.7, 6.2, 9.5, -7]) {
    const { kinematics, model } = leadTo(m, { [drive.id]: [theta, w, 0] });
    const { q, v } = kinematics.state;
    const { tree, space } = model;
    space!.move(q, v, null);
    const axis = [2, 5, 8].map((k) => tree.axes[9 * 2 + k]!);
    // The pin of the driven fork is square to its shaft and to the pin of the driving fork (0, cos θ, sin θ).
    const f = [-Math.sin(theta) * Math.sin(beta), -Math.sin(theta) * Math.cos(beta), Math.cos(theta) * Math.cos(beta)];
    const size = Math.hypot(...f) * Math.sign(f.reduce((sum, part, k) => sum + part * axis[k]!, 0));
    f.forEach((part, k) => expect(axis[k]).toBeCloseTo(part / size, 9));
    // ω₂/ω₁ = cos β / (1 − sin² β cos² θ) (textbook; from memory, derived anew).
    const turn = u.reduce((sum, part, k) => sum + part * space!.w[6 + k]!, 0);
    const ratio = Math.cos(beta) / (1 - Math.sin(beta) ** 2 * Math.cos(theta) ** 2);
    expect(Math.abs(turn)).toBeCloseTo(ratio * w, 8);
  }
});
