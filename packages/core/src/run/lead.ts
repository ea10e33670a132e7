import { FormulaError } from '../formula';
import { emptyCurvePoint, emptySpaceCurvePoint, pathCorners, pathCurve, PathError, spaceCorners } from '../geometry';
import { cycleTime, type Axis, type Machine, type PathLead } from '../machine';
import { formulaScope, MachineMotions, motionAt, sampleMotion, type Motion, movingMachine } from '../motion';
import { flatBends, leadTimes, spaceBends, type Bends } from './lead-grid';
import { leadMotion } from './lead-law';
import { followWithAxes, showArc, standing } from './lead-plane';
import type { LeadPeak, LeadResult, LeadSamples } from './lead-result';
import { followInSpace } from './lead-space';
import { leadShape, leadSpace } from './path-length';

/** What there is to be led along: how it bends, and where its places are. */
interface Way extends Bends {
  placeAt(s: number): [number, number, number];
  corners: readonly { at: number }[];
  name: string;
}

/** The way that a lead goes, corners blended; null where no path was chosen. */
function wayOf(machine: Machine, lead: PathLead): Way | null {
  const space = leadSpace(lead);
  if (space) {
    const p = emptySpaceCurvePoint();
    const placeAt = (s: number): [number, number, number] => {
      space.at(s, p);
      return [...p.at];
    };
    const corners = lead.blend > 0 ? [] : spaceCorners(lead.space!);
    return { ...spaceBends(space), placeAt, corners, name: lead.name };
  }
  const path = machine.mechanism.paths.find(({ id }) => id === lead.path);
  if (!path) return null;
  const shape = leadShape(machine, lead)!;
  const curve = pathCurve(shape);
  const p = emptyCurvePoint();
  const placeAt = (s: number): [number, number, number] => {
    curve.at(s, p);
    return [p.x, p.y, 0];
  };
  return { ...flatBends(curve), placeAt, corners: pathCorners(shape), name: path.name };
}

/** Leads the tool point along its path and finds the motions its axes must make, so that they can be kept. */
export function runLead(machine: Machine, lead: PathLead): LeadResult {
  const result: LeadResult = {
    samples: null,
    peak: null,
    length: 0,
    required: [],
    still: [],
    unreachable: [],
    problems: [],
    notes: [],
  };
  let way: Way | null;
  let motion: Motion;
  const T = cycleTime(machine);
  const motions = new MachineMotions(movingMachine(machine));
  try {
    way = wayOf(machine, lead);
    if (!way) {
      result.problems.push('Choose the path that the tool point follows: draw one in Build if there is none.');
      return result;
    }
    result.length = way.length;
    motion = leadMotion(lead, way, T, formulaScope(motions.machine, null, motions.constants));
  } catch (error) {
    if (!(error instanceof PathError) && !(error instanceof FormulaError)) throw error;
    result.problems.push(error.message);
    return result;
  }
  const { corners, closed, length, name } = way;
  if (corners.length > 0)
    result.notes.push(
      `The direction of “${name}” jumps at ${corners
        .slice(0, 4)
        .map(({ at }) => showArc(at))
        .join(
          ', ',
        )}${corners.length > 4 ? ` and ${corners.length - 4} more corners` : ''}: a sharp corner allows no speed but 0. Blend the corners, or let the tool stop there.`,
    );
  if (!closed) {
    const end = motionAt(motion, T, 'before').position;
    if (end > length * (1 + 1e-9))
      result.notes.push(
        `The law runs ${showArc(end - length)} beyond the end of the path; beyond it the path goes on straight.`,
      );
  }
  const times = leadTimes(way, motion, lead.samples);
  result.samples = alongPath(way, motion, times);
  result.peak = peakOf(result.samples, way);
  const axes = axesOfLead(machine, lead, result);
  if (!axes) return result;
  result.still = (lead.still ?? [])
    .filter((id) => machine.axes.some((axis) => axis.id === id))
    .map((axisId) => ({ axisId, position: motionAt(motions.of(axisId).motion, 0).position }));
  if (lead.space) followInSpace(machine, lead, { motion, motions, times, axes }, result);
  else followWithAxes(machine, lead, leadShape(machine, lead)!, { motion, motions, times, axes }, result);
  return result;
}

function alongPath(way: Way, motion: Motion, times: Float64Array): LeadSamples {
  const { position, velocity, acceleration } = sampleMotion(motion, times);
  const curvature = position.map((s) => way.curvatureAt(s));
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

function peakOf({ times, arc, tangential, normal, curvature, total }: LeadSamples, way: Way): LeadPeak | null {
  let k = 0;
  total.forEach((value, i) => {
    if (value > total[k]! * (1 + 1e-9)) k = i;
  });
  if (!(total[k]! > 0)) return null;
  return {
    time: times[k]!,
    arc: arc[k]!,
    value: total[k]!,
    cause: Math.abs(normal[k]!) > Math.abs(tangential[k]!) ? 'curvature' : 'law',
    radius: curvature[k] === 0 ? Infinity : 1 / Math.abs(curvature[k]!),
    place: way.placeAt(arc[k]!),
  };
}

/** The axes whose motions are wanted; null, with the reason told, where they cannot be found. */
function axesOfLead(machine: Machine, lead: PathLead, result: LeadResult): Axis[] | null {
  const axes = lead.axes.flatMap((id) => machine.axes.find((a) => a.id === id) ?? []);
  const untied = axes.filter(({ joint }) => joint === null);
  const body = machine.mechanism.bodies.find(({ id }) => id === lead.point.body);
  if (axes.length === 0)
    result.problems.push('Name the axes whose motions are wanted: those that drive the joints of the arm.');
  else if (untied.length > 0)
    result.problems.push(`“${untied[0]!.name}” drives no joint of the mechanism: tie it to one in Build.`);
  else if (!body?.points.some(({ id }) => id === lead.point.point))
    result.problems.push('Choose the tool point: a point of a body of the mechanism.');
  else return axes;
  return null;
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

/** Gives axes the motions that leading a tool point was found to ask of them, and lets those stand that shall. */
export function keepMotions(
  machine: Pick<Machine, 'axes' | 'cycle'>,
  { required, still }: Pick<LeadResult, 'required' | 'still'>,
): void {
  for (const { axisId, rows } of required) {
    const axis = machine.axes.find(({ id }) => id === axisId);
    if (axis) axis.motion = keepRequired(axis, rows);
  }
  for (const { axisId, position } of still) {
    const axis = machine.axes.find(({ id }) => id === axisId);
    if (axis) Object.assign(axis, standing(axis, position, cycleTime(machine)));
  }
}
