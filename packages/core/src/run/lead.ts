import { FormulaError } from '../formula';
import { emptyCurvePoint, pathCorners, pathCurve, PathError, type Curve } from '../geometry';
import {
  addGuide,
  cycleTime,
  freeId,
  newAxis,
  type Axis,
  type Machine,
  type MechanismPath,
  type PathLead,
} from '../machine';
import { copyOf, leadPose } from '../mechanism';
import { formulaScope, MachineMotions, motionAt, sampleMotion, type Motion, movingMachine } from '../motion';
import { explainMechanismFinding } from './explain-mechanism';
import { leadTimes, rowsWithKnees } from './lead-grid';
import { leadMotion } from './lead-law';
import { runMechanism } from './mechanism';
import { leadShape } from './path-length';
import { MechanismSystem, type AxisMotions } from './system';

/** What a tool point does along its path, sample by sample. SI units. */
export interface LeadSamples {
  times: Float64Array;
  /** Length along the path, speed, acceleration along it. */
  arc: Float64Array;
  speed: Float64Array;
  tangential: Float64Array;
  /** Acceleration across the path, towards its centre of curvature: κ v². */
  normal: Float64Array;
  curvature: Float64Array;
  /** Size of the whole acceleration. */
  total: Float64Array;
}

/** Where the acceleration of the tool point is greatest, and whether the law or the curvature makes it so. */
export interface LeadPeak {
  time: number;
  arc: number;
  value: number;
  cause: 'law' | 'curvature';
  /** Radius of the path there, m; infinite where it is straight. */
  radius: number;
  x: number;
  y: number;
}

/** The motion an axis must make, as rows of time, position, velocity and acceleration. */
export interface RequiredMotion {
  axisId: string;
  rows: number[][];
}

/** A stretch of the path that the mechanism cannot follow, by arc length in m. */
export interface UnreachableStretch {
  from: number;
  to: number;
}

/** What leading a tool point along a path gives. */
export interface LeadResult {
  samples: LeadSamples | null;
  peak: LeadPeak | null;
  length: number;
  required: RequiredMotion[];
  unreachable: UnreachableStretch[];
  /** What stands in the way or is worth knowing, in words. */
  problems: string[];
  notes: string[];
}

const STATIONS = 240;

/** Leads the tool point along its path and finds the motions its axes must make, so that they can be kept. */
export function runLead(machine: Machine, lead: PathLead): LeadResult {
  const result: LeadResult = {
    samples: null,
    peak: null,
    length: 0,
    required: [],
    unreachable: [],
    problems: [],
    notes: [],
  };
  const path = machine.mechanism.paths.find(({ id }) => id === lead.path);
  if (!path) {
    result.problems.push('Choose the path that the tool point follows: draw one in Build if there is none.');
    return result;
  }
  let shape: MechanismPath['shape'];
  let curve: Curve;
  let motion: Motion;
  const T = cycleTime(machine);
  const motions = new MachineMotions(movingMachine(machine));
  try {
    shape = leadShape(machine, lead)!;
    curve = pathCurve(shape);
    result.length = curve.length;
    motion = leadMotion(lead, curve, T, formulaScope(motions.machine, null, motions.constants));
  } catch (error) {
    if (!(error instanceof PathError) && !(error instanceof FormulaError)) throw error;
    result.problems.push(error.message);
    return result;
  }
  const corners = pathCorners(shape);
  if (corners.length > 0)
    result.notes.push(
      `The direction of “${path.name}” jumps at ${corners
        .slice(0, 4)
        .map(({ at }) => show(at))
        .join(
          ', ',
        )}${corners.length > 4 ? ` and ${corners.length - 4} more corners` : ''}: a sharp corner allows no speed but 0. Blend the corners, or let the tool stop there.`,
    );
  if (!curve.closed) {
    const end = motionAt(motion, T, 'before').position;
    if (end > curve.length * (1 + 1e-9))
      result.notes.push(
        `The law runs ${show(end - curve.length)} beyond the end of the path; beyond it the path goes on straight.`,
      );
  }
  const times = leadTimes(curve, motion, lead.samples);
  result.samples = alongPath(curve, motion, times);
  result.peak = peakOf(result.samples, curve);
  followWithAxes(machine, lead, shape, motion, motions, times, result);
  return result;
}

const show = (length: number) => `${Number((length * 1000).toPrecision(4))} mm`;

function alongPath(curve: Curve, motion: Motion, times: Float64Array): LeadSamples {
  const { position, velocity, acceleration } = sampleMotion(motion, times);
  const p = emptyCurvePoint();
  const curvature = position.map((s) => {
    curve.at(s, p);
    return p.curvature;
  });
  const normal = curvature.map((k, i) => k * velocity[i]! ** 2);
  return {
    times,
    arc: position,
    speed: velocity,
    tangential: acceleration,
    normal,
    curvature,
    total: normal.map((n, i) => Math.hypot(n, acceleration[i]!)),
  };
}

function peakOf({ times, arc, tangential, normal, curvature, total }: LeadSamples, curve: Curve): LeadPeak | null {
  let k = 0;
  total.forEach((value, i) => {
    if (value > total[k]! * (1 + 1e-9)) k = i;
  });
  if (!(total[k]! > 0)) return null;
  const p = emptyCurvePoint();
  curve.at(arc[k]!, p);
  return {
    time: times[k]!,
    arc: arc[k]!,
    value: total[k]!,
    cause: Math.abs(normal[k]!) > Math.abs(tangential[k]!) ? 'curvature' : 'law',
    radius: curvature[k] === 0 ? Infinity : 1 / Math.abs(curvature[k]!),
    x: p.x,
    y: p.y,
  };
}

/** The machine with the tool point held on the path and led along it, the axes to be found let go. */
function ledMachine(machine: Machine, lead: PathLead, shape: MechanismPath['shape']): { machine: Machine; axis: Axis } {
  const mechanism = JSON.parse(JSON.stringify(machine.mechanism)) as Machine['mechanism'];
  const path = mechanism.paths.find(({ id }) => id === lead.path)!;
  path.shape = shape;
  const guide = addGuide(mechanism, lead.path, lead.point, freeName(lead.name, mechanism.joints));
  const axis = newAxis('linear', machine.axes, 1);
  axis.name = freeName(`${lead.name} along its path`, machine.axes);
  axis.joint = guide.id;
  axis.travel = null;
  const axes = machine.axes.map((a) => (lead.axes.includes(a.id) ? { ...a, joint: null } : a));
  return { machine: { ...machine, mechanism, axes: [...axes, axis] }, axis };
}

const freeName = (wanted: string, taken: readonly { name: string }[]) =>
  taken.some(({ name }) => name === wanted) ? freeId(`${wanted} `, taken.map(({ name }) => name)) : wanted; // prettier-ignore

function followWithAxes(
  machine: Machine,
  lead: PathLead,
  shape: MechanismPath['shape'],
  motion: Motion,
  motions: MachineMotions,
  times: Float64Array,
  result: LeadResult,
): void {
  const axes = lead.axes.flatMap((id) => machine.axes.find((a) => a.id === id) ?? []);
  const untied = axes.filter(({ joint }) => joint === null);
  if (axes.length === 0) {
    result.problems.push('Name the axes whose motions are wanted: those that drive the joints of the arm.');
    return;
  }
  if (untied.length > 0) {
    result.problems.push(`“${untied[0]!.name}” drives no joint of the mechanism: tie it to one in Build.`);
    return;
  }
  const body = machine.mechanism.bodies.find(({ id }) => id === lead.point.body);
  if (!body?.points.some(({ id }) => id === lead.point.point)) {
    result.problems.push('Choose the tool point: a point of a body of the mechanism.');
    return;
  }
  const led = ledMachine(machine, lead, shape);
  const system = new MechanismSystem(led.machine, motions);
  const errors = system.findings.filter(({ severity }) => severity === 'error');
  if (errors.length > 0 || !system.model) {
    result.problems.push(...errors.map((finding) => explainMechanismFinding(finding, led.machine)));
    return;
  }
  const { remaining } = system.mobility!;
  if (remaining > 0) {
    result.problems.push(
      `With the tool point on its path ${remaining} ${remaining === 1 ? 'freedom is' : 'freedoms are'} left: the path sets the motion of two axes of an arm, others must be led by themselves (take them off the list).`,
    );
    return;
  }
  const byAxis = new Map(
    led.machine.axes.map((a) => [
      a.id,
      { motion: a.id === led.axis.id ? motion : motions.of(a.id).motion, reversed: a.reversed },
    ]),
  );
  const run = runMechanism(system, byAxis, times);
  if (run.reached < times.length) {
    result.unreachable = unreachableStretches(led.machine, system, led.axis.id, byAxis, result);
    for (const { from, to } of result.unreachable)
      result.problems.push(
        `The tool cannot follow the path from ${show(from)} to ${show(to)}: it lies out of reach of the arm. Move the path, or lengthen the arm.`,
      );
    if (result.unreachable.length === 0)
      result.problems.push(
        ...run.findings
          .filter(({ severity }) => severity === 'error')
          .map((finding) => explainMechanismFinding(finding, led.machine)),
      );
    return;
  }
  result.required = axes.map((axis) => {
    const joint = run.joints.find(({ id }) => id === axis.joint)!;
    const sign = axis.reversed ? -1 : 1;
    const signed = (values: Float64Array) => values.map((value) => sign * value);
    const [position, rate, change] = [signed(joint.position!), signed(joint.rate!), signed(joint.change!)];
    return { axisId: axis.id, rows: rowsWithKnees(times, { position, rate, change }) };
  });
}

/**
 * Stretches of the path that the arm cannot follow: led from the start forwards until it sticks and, on a closed path,
 * backwards from the start as well.
 */
function unreachableStretches(
  machine: Machine,
  system: MechanismSystem,
  axisId: string,
  motions: AxisMotions,
  { length, samples }: LeadResult,
): UnreachableStretch[] {
  const { model, mobility, signs } = system;
  if (!model || !mobility) return [];
  const start = samples!.arc[0]!;
  const others = model.drives.map((drive, i) => signs[i]! * motionAt(motions.get(drive.axisId)!.motion, 0).position);
  const lead = model.drives.findIndex((drive) => drive.axisId === axisId);
  const target = (arc: number) => others.map((value, i) => (i === lead ? arc : value));
  const furthest = (sense: 1 | -1): number => {
    const q = copyOf(system.assembled);
    // A hair beside the start, where a corner may stand.
    if (leadPose(model, q, mobility.rows, target(start + sense * 1e-7 * length)) < 1) return 0;
    for (let i = 1; i <= STATIONS; i++) {
      const share = leadPose(model, q, mobility.rows, target(start + (sense * length * i) / STATIONS));
      if (share < 1) return ((i - 1 + share) / STATIONS) * length;
    }
    return length;
  };
  const forward = furthest(1);
  if (forward >= length) return [];
  const path = machine.mechanism.paths.find(({ id }) =>
    machine.mechanism.joints.some((joint) => joint.kind === 'guide' && joint.path === id),
  );
  const closed = path !== undefined && pathCurve(path.shape).closed;
  const backward = closed ? furthest(-1) : 0;
  return [{ from: start + forward, to: closed ? start + length - backward : length }];
}

/** An axis that makes a motion it was found to need: its rows are kept as points with velocity and acceleration. */
function keepRequired(axis: Axis, rows: readonly (readonly number[])[]): Axis['motion'] {
  return {
    ...axis.motion,
    level: 'position',
    over: 'time',
    engage: null,
    source: {
      kind: 'points',
      rows: rows.map((row) => row.map((value) => Number(value.toPrecision(12)))),
      way: 'quintic',
      ends: 'free',
      tolerance: 0,
    },
  };
}

/** Gives axes the motions that leading a tool point was found to ask of them. */
export function keepMotions(machine: Pick<Machine, 'axes'>, required: readonly RequiredMotion[]): void {
  for (const { axisId, rows } of required) {
    const axis = machine.axes.find(({ id }) => id === axisId);
    if (axis) axis.motion = keepRequired(axis, rows);
  }
}
