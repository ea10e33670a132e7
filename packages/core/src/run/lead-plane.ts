import { pathCurve } from '../geometry';
import { addGuide, cycleTime, freeId, newAxis, type Axis, type Machine, type MechanismPath, type PathLead } from '../machine'; // prettier-ignore
import { copyOf, leadPose } from '../mechanism';
import { MachineMotions, motionAt, movingMachine } from '../motion';
import { explainMechanismFinding } from './explain-mechanism';
import { rowsWithKnees } from './lead-grid';
import type { Following, LeadResult, UnreachableStretch } from './lead-result';
import { runMechanism } from './mechanism';
import { MechanismSystem, type AxisMotions } from './system';

/** Places along a path at which it is tried whether the arm gets there. */
const STATIONS = 240;
/** A length along a path, as it is told. */
export const showArc = (length: number): string => `${Number((length * 1000).toPrecision(4))} mm`;

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

/** A plan and motion by which an axis stands at a position throughout. */
export const standing = ({ motion }: Axis, position: number, time: number): Pick<Axis, 'plan' | 'motion'> => ({
  plan: { start: position, segments: [{ kind: 'dwell', id: 's1', duration: time }] },
  motion: byPlan(motion),
});

/** A motion that goes by the plan of its axis. */
export const byPlan = (motion: Axis['motion']): Axis['motion'] => ({
  ...motion,
  level: 'position',
  over: 'time',
  engage: null,
  source: { kind: 'plan' },
});

/** The machine whose axes that shall stand still do. */
function withStill(machine: Machine, still: LeadResult['still']): Machine {
  const T = cycleTime(machine);
  const axes = machine.axes.map((axis) => {
    const place = still.find(({ axisId }) => axisId === axis.id);
    return place ? { ...axis, ...standing(axis, place.position, T) } : axis;
  });
  return { ...machine, axes };
}

/** Finds the motions of axes that lead a tool point along a path of the mechanism: the point is held on it by a guide. */
export function followWithAxes(
  whole: Machine,
  lead: PathLead,
  shape: MechanismPath['shape'],
  { motion, times, axes }: Following,
  result: LeadResult,
): void {
  const machine = withStill(whole, result.still);
  const motions = new MachineMotions(movingMachine(machine));
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
        `The tool cannot follow the path from ${showArc(from)} to ${showArc(to)}: it lies out of reach of the arm. Move the path, or lengthen the arm.`,
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
