import { drive, RAD, weigh } from '../../test/mechanisms';
import { blendCorners, emptyCurvePoint, pathCorners, pathCurve, type PathShape } from '../geometry';
import {
  addBar,
  addJoint,
  addPath,
  bodyPoint,
  groundPoint,
  newMachine,
  type Axis,
  type Machine,
  type PathLead,
} from '../machine';
import { motionAt, MachineMotions, movingMachine } from '../motion';
import { keepMotions, leadLength, runLead, simulate, tracedPath, wholeWay } from './index';

const L1 = 0.3;
const L2 = 0.25;

/** A two-axis arm whose elbow is bent, with a tool point at its end; a rectangle in front of it. */
function arm(shape: PathShape): { machine: Machine; lead: PathLead; axes: [Axis, Axis] } {
  const machine = newMachine('Arm');
  machine.cycle = { given: 'time', time: 2 };
  const m = machine.mechanism;
  m.gravity.on = false;
  const elbow: [number, number] = [L1 * Math.cos(60 * RAD), L1 * Math.sin(60 * RAD)];
  const tool: [number, number] = [elbow[0] + L2 * Math.cos(-40 * RAD), elbow[1] + L2 * Math.sin(-40 * RAD)];
  const upper = weigh(addBar(m, [0, 0], elbow, 'Upper arm'), 2, [0.15, 0], 0.02);
  const lower = weigh(addBar(m, elbow, tool, 'Forearm'), 1, [0.1, 0], 0.01);
  const shoulder = addJoint(m, 'pin', groundPoint(m, [0, 0]), bodyPoint(m, upper.id, [0, 0]), { name: 'Shoulder' });
  const bend = addJoint(m, 'pin', bodyPoint(m, upper.id, elbow), bodyPoint(m, lower.id, elbow), { name: 'Elbow' });
  const axes = [
    drive(machine, shoulder, { kind: 'constant', value: 0 }),
    drive(machine, bend, { kind: 'constant', value: 0 }),
  ] as [Axis, Axis];
  axes[0].name = 'Shoulder axis';
  axes[1].name = 'Elbow axis';
  const path = addPath(m, 'ground', shape as never, 'Rectangle');
  const point = bodyPoint(m, lower.id, tool);
  const lead: PathLead = {
    id: 'lead1',
    name: 'Tool',
    path: path.id,
    point,
    axes: axes.map(({ id }) => id),
    blend: 0.02,
    law: { kind: 'speed', speed: 0.3, ramp: 0.2 },
    samples: 800,
    start: 0,
  };
  return { machine, lead, axes };
}
const rectangle: PathShape = {
  kind: 'chain',
  start: [0.28, 0.05],
  pieces: [
    { kind: 'line', to: [0.4, 0.05] },
    { kind: 'line', to: [0.4, 0.15] },
    { kind: 'line', to: [0.28, 0.15] },
  ],
  closed: true,
};

describe('blended corners', () => {
  test('a rectangle has four corners of a right angle; blended it has none and stays near', () => {
    const corners = pathCorners(rectangle);
    expect(corners.map(({ at }) => at)).toEqual([0.12, 0.22, 0.34, 0.44].map((x) => expect.closeTo(x, 12)));
    expect(corners.every(({ angle }) => Math.abs(angle - Math.PI / 2) < 1e-12)).toBe(true);
    const curve = pathCurve(blendCorners(rectangle, 0.02));
    expect(curve.length).toBeLessThan(0.44);
    expect(curve.length).toBeGreaterThan(0.44 - 4 * 0.02);
    const [p, q] = [emptyCurvePoint(), emptyCurvePoint()];
    for (let i = 0; i < 2000; i++) {
      curve.at((curve.length * i) / 2000, p);
      curve.at((curve.length * (i + 1)) / 2000, q);
      expect(Math.abs(Math.atan2(p.tx * q.ty - p.ty * q.tx, p.tx * q.tx + p.ty * q.ty))).toBeLessThan(0.05);
    }
  });
  test('a corner beside a spline is one too; where a smooth transition meets its neighbours there is none', () => {
    const [up, on] = [[0.2, 0.1], [0.3, 0]] as [number, number][]; // prettier-ignore
    const shape = { kind: 'chain', start: [0, 0], closed: false, pieces: [
      { kind: 'line', to: [0.1, 0] }, { kind: 'spline', through: [[0.1, 0.1], up!] }, { kind: 'transition', to: on! }, { kind: 'line', to: [0.4, 0] },
    ] } as const; // prettier-ignore
    const corners = pathCorners(shape);
    expect(corners).toHaveLength(1);
    expect(corners[0]!.at).toBeCloseTo(0.1, 12);
    // The spline begins upwards or so; the line came from the left.
    expect(corners[0]!.angle).toBeGreaterThan(0.5);
  });

  test('a corner between a line and an arc is blended too; short pieces are shared', () => {
    const shape: PathShape = {
      kind: 'chain',
      start: [0, 0],
      closed: false,
      pieces: [
        { kind: 'line', to: [0.1, 0] },
        { kind: 'arc', via: [0.15, 0.05], to: [0.1, 0.1] },
        { kind: 'line', to: [0.1, 0.11] },
      ],
    };
    // The arc leaves the line smoothly and meets the last piece at a right angle.
    expect(pathCorners(shape)).toHaveLength(1);
    expect(pathCorners(blendCorners(shape, 0.5))).toEqual([]);
    expect(() => pathCurve(blendCorners(shape, 0.5))).not.toThrow();
  });
});

describe('a tool led round a rounded rectangle by a two-axis arm', () => {
  const { machine, lead, axes } = arm(rectangle);
  const result = runLead(machine, lead);

  test('the motions of the axes are those of the arm by hand (law of cosines)', () => {
    expect(result.problems).toEqual([]);
    expect(result.required.map(({ axisId }) => axisId)).toEqual(axes.map(({ id }) => id));
    const curve = pathCurve(blendCorners(rectangle, lead.blend));
    const p = emptyCurvePoint();
    for (const k of [0, 200, 500, 799]) {
      const [time, shoulder] = result.required[0]!.rows[k]!;
      const bend = result.required[1]!.rows[k]![1]!;
      const i = result.samples!.times.findIndex((t) => t === time);
      curve.at(result.samples!.arc[i]!, p);
      const r = Math.hypot(p.x, p.y);
      const inner = Math.acos((r * r - L1 * L1 - L2 * L2) / (2 * L1 * L2));
      const base = Math.atan2(p.y, p.x) + Math.atan2(L2 * Math.sin(inner), L1 + L2 * Math.cos(inner));
      // The axis reads zero where the arm was drawn: at 60°.
      expect(shoulder).toBeCloseTo(base - 60 * RAD, 9);
      expect(Math.cos(bend - result.required[1]!.rows[0]![1]!)).toBeCloseTo(
        Math.cos(-inner + Math.acos(((0.28 + 0.02) ** 2 + 0.05 ** 2 - L1 * L1 - L2 * L2) / (2 * L1 * L2))),
        6,
      );
    }
  });
  test('at constant speed it is the curvature that sets the peak: κ v² at a blended corner', () => {
    const { peak, samples } = result;
    expect(peak!.cause).toBe('curvature');
    expect(peak!.value).toBeCloseTo(0.09 / peak!.radius, 6);
    expect(Math.max(...samples!.speed)).toBeCloseTo(0.3, 9);
    expect(samples!.arc.at(-1)).toBeCloseTo(result.length, 9);
  });
  test('kept as motions of the axes, a second run leads the tool along the same path and gives torques', () => {
    const second = structuredClone(machine);
    keepMotions(second, result);
    const run = simulate(second);
    expect(run.mechanism!.mode).toBe('led');
    expect(run.mechanism!.findings.filter(({ severity }) => severity === 'error')).toEqual([]);
    const { xs, ys } = (() => {
      const points = tracedPath(second, run, lead.point);
      return { xs: points.map(([x]) => x), ys: points.map(([, y]) => y) };
    })();
    // Blending cuts the corners: the path stays inside the rectangle, and touches its sides.
    expect(Math.min(...xs)).toBeCloseTo(0.28, 6);
    expect(Math.max(...xs)).toBeCloseTo(0.4, 6);
    expect(Math.max(...ys)).toBeCloseTo(0.15, 6);
    const torque = run.axes[0]!.channels.effort;
    expect(Math.max(...torque.map(Math.abs))).toBeGreaterThan(0.1);
    // Drive power equals the rate of kinetic energy: the energy of the drives closes.
    expect(Math.max(...run.mechanism!.energy.residual.map(Math.abs))).toBeLessThan(1e-4);
  });
});

describe('what the drawing of a led path must show', () => {
  const { machine, lead } = arm(rectangle);
  const result = runLead(machine, { ...lead, samples: 60 });
  const { times, total, arc, curvature } = result.samples!;

  test('the peak is that of the path itself, looked for at 200,000 places, however few samples were asked for', () => {
    const curve = pathCurve(blendCorners(rectangle, lead.blend));
    const p = emptyCurvePoint();
    let tightest = 0;
    for (let i = 0; i < 200_000; i++) {
      curve.at((curve.length * i) / 200_000, p);
      tightest = Math.max(tightest, Math.abs(p.curvature));
    }
    expect(result.peak!.value / (0.09 * tightest)).toBeCloseTo(1, 3);
    expect(Math.max(...curvature.map(Math.abs)) / tightest).toBeCloseTo(1, 3);
  });
  test('no sample lies off the line between its neighbours by more than a hundredth of the peak', () => {
    for (let k = 1; k + 1 < times.length; k++) {
      if (times[k]! - times[k - 1]! < 1e-6 || times[k + 1]! - times[k]! < 1e-6) continue;
      const share = (times[k]! - times[k - 1]!) / (times[k + 1]! - times[k - 1]!);
      const off = total[k]! - total[k - 1]! - share * (total[k + 1]! - total[k - 1]!);
      expect(Math.abs(off)).toBeLessThan(0.01 * result.peak!.value);
    }
    expect(times.length).toBeLessThan(1500);
    expect(arc.at(-1)).toBeCloseTo(result.length, 9);
  });
  test('from a line into an arc the acceleration across jumps to v²/r, and the axes’ tables have both sides', () => {
    const round: PathShape = {
      kind: 'chain',
      start: [0.28, 0.05],
      closed: false,
      pieces: [
        { kind: 'line', to: [0.38, 0.05] },
        { kind: 'arc', via: [0.43, 0.1], to: [0.38, 0.15] },
        { kind: 'line', to: [0.28, 0.15] },
      ],
    };
    const led = arm(round);
    const found = runLead(led.machine, { ...led.lead, blend: 0, law: { kind: 'speed', speed: 0.3, ramp: 0.05 } });
    expect(found.problems).toEqual([]);
    const { samples } = found;
    const into = samples!.times.findIndex((_, k) => samples!.normal[k + 1]! > 0.5);
    expect(samples!.normal[into]).toBeCloseTo(0, 9);
    expect(samples!.normal[into + 1]).toBeCloseTo(0.3 ** 2 / 0.05, 6);
    const knees = found.required[0]!.rows.filter(([time], i, all) => i > 0 && all[i - 1]![0] === time);
    expect(knees).toHaveLength(2);
    const axis = led.machine.axes.find(({ id }) => id === found.required[0]!.axisId)!;
    const second = structuredClone(led.machine);
    keepMotions(second, found);
    const run = simulate(second);
    expect(run.axes.flatMap(({ findings }) => findings.filter(({ severity }) => severity === 'error'))).toEqual([]);
    const { motion } = new MachineMotions(movingMachine(second)).of(axis.id);
    const time = Number(knees[0]![0]!.toPrecision(12));
    const jump = motionAt(motion, time, 'after').acceleration - motionAt(motion, time, 'before').acceleration;
    expect(Math.abs(jump)).toBeGreaterThan(0.5);
  });
});

test('a path partly out of reach: the stretch is named by its ends', () => {
  const { machine, lead } = arm({
    ...rectangle,
    pieces: [
      { kind: 'line', to: [0.6, 0.05] },
      { kind: 'line', to: [0.6, 0.15] },
      { kind: 'line', to: [0.28, 0.15] },
    ],
  } as PathShape);
  const result = runLead(machine, { ...lead, blend: 0 });
  expect(result.required).toEqual([]);
  const [{ from, to }] = result.unreachable as [{ from: number; to: number }];
  // Reach L1 + L2 = 0.55 m: along the lower side to x = √(0.55² − 0.05²), back in on the upper side likewise.
  expect(from).toBeCloseTo(Math.sqrt(0.55 ** 2 - 0.05 ** 2) - 0.28, 2);
  expect(to).toBeCloseTo(0.32 + 0.1 + (0.6 - Math.sqrt(0.55 ** 2 - 0.15 ** 2)), 2);
  expect(result.problems[0]).toMatch(/cannot follow the path from 26\d.* to 4\d\d/);
});

describe('laws along the path', () => {
  const at = (law: PathLead['law']) => {
    const { machine, lead } = arm(rectangle);
    return runLead(machine, { ...lead, law });
  };
  test('speed by a formula in arc length: time is the integral of ds/v', () => {
    const { samples, length, problems } = at({ kind: 'formula', text: '200 mm/s + 1/s * arc' });
    expect(problems).toEqual([]);
    // s' = 0.2 + s: s = 0.2 (eᵗ − 1), closed form.
    samples!.times.forEach((t, i) => {
      const s = 0.2 * (Math.exp(t) - 1);
      if (s < length) {
        expect(samples!.arc[i]).toBeCloseTo(s, 9);
        expect(samples!.tangential[i]).toBeCloseTo(0.2 + s, 7);
      }
    });
  });
  test('a formula that stops or gives no speed is refused', () => {
    expect(at({ kind: 'formula', text: '200 mm/s - 1/s * arc' }).problems[0]).toMatch(/not greater than zero at 200/);
    expect(at({ kind: 'formula', text: '200 mm' }).problems[0]).toMatch(/gives a length; a velocity is wanted/);
  });
  test('there and back: the sign of the speed is switched at the ends', () => {
    const { samples, length } = at({ kind: 'there-and-back', speed: 0.6, turn: 0.1 });
    expect(Math.max(...samples!.speed)).toBeCloseTo(0.6, 6);
    expect(Math.min(...samples!.speed)).toBeCloseTo(-0.6, 6);
    expect(Math.max(...samples!.arc)).toBeCloseTo(length, 9);
  });
  test('a plan over arc length, and the master’s other axes go on', () => {
    const plan = {
      start: 0,
      segments: [{ kind: 'move' as const, id: 'a', duration: 2, to: 0.4, law: { id: 'cycloidal' as const } }],
    };
    const { samples, peak } = at({ kind: 'plan', plan });
    expect(samples!.arc.at(-1)).toBeCloseTo(0.4, 9);
    expect(peak).not.toBeNull();
  });
  test('a plan begins where the tool starts; the whole way of a closed path is once round from there', () => {
    const { machine, lead } = arm(rectangle);
    const from = { ...lead, start: 0.05 };
    const to = wholeWay(machine, from)!;
    expect(to).toBeCloseTo(leadLength(machine, lead)! + 0.05, 12);
    const plan = { start: 0, segments: [{ kind: 'move' as const, id: 'a', duration: 2, to, law: { id: 'cycloidal' as const } }] }; // prettier-ignore
    const { samples } = runLead(machine, { ...from, law: { kind: 'plan', plan } });
    expect([samples!.arc[0], samples!.arc.at(-1)]).toEqual([0.05, expect.closeTo(to, 9)]);
    const open = { ...rectangle, closed: false } as typeof rectangle;
    const opened = arm(open);
    expect(wholeWay(opened.machine, { ...opened.lead, start: 0.05 })).toBe(leadLength(opened.machine, opened.lead));
  });
  test('a path without a course is a problem in words, and has no length', () => {
    const { machine, lead } = arm({ kind: 'chain', start: [0.1, 0.1], closed: false, pieces: [{ kind: 'line', to: [0.1, 0.1] }] }); // prettier-ignore
    expect(runLead(machine, lead).problems[0]).toMatch(/Piece 1 of the path has no length/);
    expect([leadLength(machine, lead), wholeWay(machine, lead)]).toEqual([null, null]);
  });
});

test('an arm with a freedom too many says so', () => {
  const { machine, lead, axes } = arm(rectangle);
  expect(runLead(machine, { ...lead, axes: [axes[0].id] }).problems.length).toBeGreaterThan(0);
  expect(runLead(machine, { ...lead, axes: [] }).problems[0]).toMatch(/Name the axes/);
  expect(runLead(machine, { ...lead, path: 'none' }).problems[0]).toMatch(/Choose the path/);
  expect(motionAt(new MachineMotions(movingMachine(machine)).of(axes[0].id).motion, 0).velocity).toBe(0);
});
