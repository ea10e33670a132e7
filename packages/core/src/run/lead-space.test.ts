import { demo, peak } from '../../test/demos';
import { emptySpaceCurvePoint, length3, minus, spaceCurve, type SpacePath } from '../geometry';
import { cycleTime, describeProblems, readMachine, type Machine, type PathLead } from '../machine';
import { AxisPoses, keepMotions, runLead, simulate, wayInSpace } from './index';

const axisId = (machine: Machine, name: string) => machine.axes.find((axis) => axis.name === name)!.id;

/** A demo whose axes go by their own plans, with one of its points led along a path in space. */
function led(
  file: string,
  body: string,
  point: string,
  space: SpacePath,
  found: string[],
  still: string[],
): { machine: Machine; lead: PathLead } {
  const machine = demo(file);
  machine.sequence.cues = [];
  machine.sequence.interlocks = [];
  machine.sequence.cycle.starts = null;
  for (const axis of machine.axes)
    if (axis.motion.source.kind === 'cues') {
      axis.plan = { start: axis.home, segments: [{ kind: 'dwell', id: 's1', duration: cycleTime(machine) }] };
      axis.motion.source = { kind: 'plan' };
    }
  const id = machine.mechanism.bodies.find(({ name }) => name === body)!.id;
  const lead: PathLead = {
    id: 'lead1',
    name: 'Tool',
    path: 'none',
    space: structuredClone(space) as NonNullable<PathLead['space']>,
    point: { body: id, point },
    axes: found.map((name) => axisId(machine, name)),
    still: still.map((name) => axisId(machine, name)),
    blend: 0.02,
    law: { kind: 'speed', speed: 0.25, ramp: 0.2 },
    samples: 120,
    start: 0,
  };
  machine.leads = [lead];
  return { machine, lead };
}

/** Kept as motions, the machine leads its tool along the path: the farthest it is off, m. */
function farthestOff(machine: Machine, lead: PathLead): number {
  const result = runLead(machine, lead);
  expect(result.problems).toEqual([]);
  const second = { ...structuredClone(machine), step: 0.01 };
  keepMotions(second, result);
  const read = readMachine(JSON.parse(JSON.stringify(second)));
  expect(read.ok ? '' : describeProblems(read.problems)).toBe('');
  const run = simulate(second);
  expect(run.mechanism!.findings.filter(({ severity }) => severity === 'error')).toEqual([]);
  const curve = spaceCurve(lead.space!, lead.blend);
  const p = emptySpaceCurvePoint();
  const { samples } = result;
  let most = 0;
  wayInSpace(second.mechanism, run.mechanism!, lead.point, Infinity).forEach((at, k) => {
    // Quintic between the kept rows: looked at where the rows stand.
    const i = samples!.times.findIndex((time) => Math.abs(time - run.times[k]!) < 1e-12);
    if (i < 0) return;
    curve.at(samples!.arc[i]!, p);
    most = Math.max(most, length3(minus(p.at, at)));
  });
  return most;
}

describe('a gantry led along an arc in a tilted plane', () => {
  const start = [0.3, -0.42, 0.05] as const;
  const arc: SpacePath = {
    start: [...start],
    pieces: [
      { kind: 'line', to: [0.35, -0.42, 0.05] },
      { kind: 'arc', via: [0.4, -0.36, 0.08], to: [0.45, -0.34, 0.02] },
      { kind: 'spline', through: [[0.5, -0.35, -0.02], [0.55, -0.4, 0.01]] }, // prettier-ignore
    ],
    closed: false,
  };
  const { machine, lead } = led('plug-gantry', 'Head', 'p1', arc, ['Bridge', 'Carriage', 'Lift'], []);
  // The path begins where the head stands, so that it is within reach.
  const at = AxisPoses.of(machine);
  if (typeof at === 'string') throw new Error(at);
  const home = at.placeOf(lead.point, new Map(machine.axes.map(({ id, home: place }) => [id, place])))!;
  const shift = minus(home, start);
  const moved = (v: readonly number[]) => v.map((part, k) => part + shift[k]!) as [number, number, number];
  lead.space = {
    ...lead.space!,
    start: moved(lead.space!.start),
    pieces: lead.space!.pieces.map((piece) =>
      piece.kind === 'spline'
        ? { ...piece, through: piece.through.map(moved) }
        : piece.kind === 'arc'
          ? { ...piece, via: moved(piece.via), to: moved(piece.to) }
          : { ...piece, to: moved(piece.to) },
    ),
  };
  const result = runLead(machine, lead);

  test('each slide makes the component of the path that is its own, to the second derivative', () => {
    expect(result.problems).toEqual([]);
    const curve = spaceCurve(lead.space!, lead.blend);
    const p = emptySpaceCurvePoint();
    const { times, arc: lengths, speed, tangential } = result.samples!;
    // Bridge along x, lift up along y, carriage along −z or z (its rail’s direction).
    const [bridge, carriage, lift] = result.required.map(({ rows }) => rows);
    const sense = Math.sign(carriage!.at(-1)![1]! - carriage![0]![1]!) * Math.sign(lead.space!.pieces.at(-1)!.kind === 'spline' ? -0.04 : 1); // prettier-ignore
    for (const k of [0, 40, 77, 113]) {
      const time = bridge![k]![0]!;
      const i = times.findIndex((t) => t === time);
      curve.at(lengths[i]!, p);
      const [v, a] = [speed[i]!, tangential[i]!];
      [bridge!, lift!, carriage!].forEach((rows, j) => {
        const sign = j === 2 ? sense : 1;
        expect(rows[k]![1]! - rows[0]![1]!).toBeCloseTo(sign * (p.at[j]! - lead.space!.start[j]!), 9);
        expect(rows[k]![2]!).toBeCloseTo(sign * p.tangent[j]! * v, 9);
        expect(rows[k]![3]!).toBeCloseTo(sign * (p.tangent[j]! * a + p.bend[j]! * v * v), 7);
      });
    }
  });
  test('kept, the tool goes along the path', () => expect(farthestOff(machine, lead)).toBeLessThan(1e-7));

  test('an axis that does not move the tool, and one more than needed, are told', () => {
    const more = { ...lead, axes: [...lead.axes, axisId(machine, 'Head')] };
    expect(runLead(machine, more).problems[0]).toMatch(/“Head” does not move the tool point/);
    // A finger is carried by head and gantry alike: four axes for three directions.
    const finger = machine.mechanism.bodies.find(({ name }) => name === 'Left finger')!;
    const tip = { ...more, point: { body: finger.id, point: finger.points.at(-1)!.id } };
    expect(runLead(machine, tip).problems[0]).toMatch(/one axis more than the path needs.*Say which stand still/);
  });
  test('what is out of reach is told with the place, and gives no motions', () => {
    const few = { ...lead, axes: [axisId(machine, 'Bridge'), axisId(machine, 'Lift')] };
    const { problems, required } = runLead(machine, few);
    expect(problems[0]).toMatch(/From \S+ mm on .*cannot move the tool that way.*let more axes take part/);
    expect(required).toEqual([]);
  });
});

describe('an arm of three turns led along a polyline with blends', () => {
  const { machine, lead } = led('hedge-arm', 'Stick', 'p2', { start: [0, 0, 0], pieces: [{ kind: 'line', to: [1, 0, 0] }], closed: false }, ['Turntable', 'Shoulder', 'Elbow'], ['Wrist']); // prettier-ignore
  const poses = AxisPoses.of(machine);
  if (typeof poses === 'string') throw new Error(poses);
  const home = poses.placeOf(lead.point, poses.drawnPlaces)!;
  const by = (x: number, y: number, z: number) => [home[0] + x, home[1] + y, home[2] + z] as [number, number, number];
  lead.space = {
    start: home,
    pieces: [
      { kind: 'line', to: by(-0.05, 0.1, 0.1) },
      { kind: 'line', to: by(-0.1, 0.05, 0.2) },
      { kind: 'line', to: by(-0.05, 0, 0.15) },
    ],
    closed: true,
  };

  test('the turntable looks at the tool; shoulder and elbow are those of the plane arm (law of cosines)', () => {
    const result = runLead(machine, lead);
    expect(result.problems).toEqual([]);
    const curve = spaceCurve(lead.space!, lead.blend);
    const p = emptySpaceCurvePoint();
    const { times, arc } = result.samples!;
    const [table, , elbow] = result.required.map(({ rows }) => rows);
    const boom = machine.mechanism.bodies.find(({ name }) => name === 'Boom')!.points.at(-1)!.at[0];
    const stick = machine.mechanism.bodies.find(({ name }) => name === 'Stick')!.points.at(-1)!.at[0];
    // The stick lies beside the plane of the arm, by its level.
    const level = (name: string) => machine.mechanism.bodies.find((body) => body.name === name)!.level;
    const bend = (at: readonly number[], shoulder: readonly number[]) => {
      const r = length3(minus(at as [number, number, number], shoulder as [number, number, number]));
      const flat = r * r - (level('Stick') - level('Boom')) ** 2;
      return Math.acos((flat - boom ** 2 - stick ** 2) / (2 * boom * stick));
    };
    const table0 = poses.placeOf({ body: machine.mechanism.bodies.find(({ name }) => name === 'Turntable')!.id, point: 'p1' }, poses.drawnPlaces)!; // prettier-ignore
    // The shoulder stands beside the turntable's own axis, and swings with it.
    const boomId = machine.mechanism.bodies.find(({ name }) => name === 'Boom')!.id;
    const [sx, sy, sz] = poses.placeOf({ body: boomId, point: 'p1' }, poses.drawnPlaces)!;
    const turn0 = Math.atan2(table0[2] - sz, sx - table0[0]);
    const beside = Math.hypot(sx - table0[0], sz - table0[2]);
    const shoulderAt = (swung: number) => {
      const angle = turn0 + swung;
      return [table0[0] + beside * Math.cos(angle), sy, table0[2] - beside * Math.sin(angle)];
    };
    // Blended, the closed path begins a little behind its drawn start.
    curve.at(0, p);
    const first = [...p.at];
    const turn = (at: readonly number[]) => {
      const [x, z] = [at[0]! - table0[0], at[2]! - table0[2]];
      return Math.atan2(-z, x) + Math.asin(level('Stick') / Math.hypot(x, z));
    };
    const turned = turn(first) - turn(home);
    for (const k of [0, 30, 61, 100]) {
      const time = table![k]![0]!;
      curve.at(arc[times.findIndex((t) => t === time)]!, p);
      const swung = turn(p.at) - turn(first);
      expect(table![k]![1]! - table![0]![1]!).toBeCloseTo(swung, 8);
      expect(Math.abs(elbow![k]![1]! - elbow![0]![1]!)).toBeCloseTo(Math.abs(bend(p.at, shoulderAt(swung + turned)) - bend(first, shoulderAt(turned))), 8); // prettier-ignore
    }
  });
  test('kept, the tool goes along the path and the wrist stands', () => {
    expect(farthestOff(machine, lead)).toBeLessThan(1e-7);
    const second = { ...structuredClone(machine), step: 0.02 };
    keepMotions(second, runLead(machine, lead));
    const wrist = simulate(second).axes.find(({ axisId: id }) => id === axisId(machine, 'Wrist'))!;
    expect(peak(wrist.channels.velocity)).toBe(0);
  });
});

test('a plate on rods is led up and across by its columns', () => {
  const { machine, lead } = led('rod-lift', 'Plate', 'p7', { start: [0, 0, 0], pieces: [{ kind: 'line', to: [1, 0, 0] }], closed: false }, ['Column 1', 'Column 2', 'Column 3'], []); // prettier-ignore
  const poses = AxisPoses.of(machine);
  if (typeof poses === 'string') throw new Error(poses);
  const [x, y, z] = poses.placeOf(lead.point, poses.drawnPlaces)!;
  lead.space = { start: [x, y, z], pieces: [{ kind: 'spline', through: [[x + 0.04, y + 0.03, z + 0.02], [x, y + 0.05, z - 0.04]] }], closed: true }; // prettier-ignore
  expect(farthestOff(machine, lead)).toBeLessThan(1e-7);
});
