import { emptySpaceCurvePoint, type SpaceCurve, type SpaceCurvePoint } from '../geometry';
import type { Axis, Machine, PathLead } from '../machine';
import { Reach } from '../mechanism';
import { motionAt } from '../motion';
import { analyseRank, dense } from '../numeric';
import { formatQuantity } from '../quantity';
import { explainMechanismFinding } from './explain-mechanism';
import { rowsWithKnees } from './lead-grid';
import { showArc } from './lead-plane';
import type { Following, LeadResult } from './lead-result';
import { leadSpace } from './path-length';
import { MechanismSystem } from './system';

/** Farther off the path than this, as a share of the typical length, the tool does not follow it. */
const OFF = 1e-7;

/**
 * Finds the motions of axes that lead a tool point along a path in space. Axes that are neither found nor still go by
 * their own motions. Positions by {@link Reach} from sample to sample, velocities and accelerations by its slopes.
 */
export function followInSpace(machine: Machine, lead: PathLead, following: Following, result: LeadResult): void {
  const { motion, motions, times, axes } = following;
  const curve = leadSpace(lead)!;
  const system = new MechanismSystem(machine, motions);
  const { model, mobility } = system;
  const errors = system.findings.filter(({ severity }) => severity === 'error');
  if (errors.length > 0 || !model || !mobility) {
    result.problems.push(...errors.map((finding) => explainMechanismFinding(finding, machine)));
    return;
  }
  const { remaining } = mobility;
  if (remaining > 0) {
    result.problems.push(
      `${remaining === 1 ? 'One freedom is' : `${remaining} freedoms are`} left that no axis leads: where the tool goes does not follow from the axes alone. Drive the rest.`,
    );
    return;
  }
  const { drives, scale, tree } = model;
  const found = axes.map(({ id }) => drives.findIndex(({ axisId }) => axisId === id));
  const still = new Set(lead.still ?? []);
  const point = tree.point(lead.point);
  const others = drives.map(({ axisId }, i) => {
    const sign = system.signs[i]!;
    const { motion: own } = motions.of(axisId);
    return (time: number, side: 'before' | 'after') => {
      const { position, velocity, acceleration } = motionAt(own, still.has(axisId) ? 0 : time, side);
      return still.has(axisId) ? [sign * position, 0, 0] : [sign * position, sign * velocity, sign * acceleration];
    };
  });
  const reach = new Reach(model, system.assembled, mobility.rows, found);
  const [rates, changes] = [new Float64Array(drives.length), new Float64Array(drives.length)];
  const wanted = Float64Array.from(reach.positions);
  const outcome = { position: empty(axes, times), rate: empty(axes, times), change: empty(axes, times) };
  const p = emptySpaceCurvePoint();
  for (let k = 0; k < times.length; k++) {
    const time = times[k]!;
    const side = k === times.length - 1 ? 'before' : 'after';
    const { position, velocity, acceleration } = motionAt(motion, time, side);
    curve.at(position, p);
    others.forEach((read, i) => {
      [wanted[i], rates[i], changes[i]] = found.includes(i) ? [reach.positions[i]!, 0, 0] : (read(time, side) as [number, number, number]); // prettier-ignore
    });
    const led = reach.lead(wanted);
    const { gap } = led === 1 ? reach.to(point, p.at) : { gap: Infinity };
    if (gap > OFF * scale) {
      result.unreachable = [{ from: position, to: curve.length }];
      result.problems.push(outOfReach(machine, curve, position, gap));
      return;
    }
    if (k === 0 && !decided(reach, point, axes, machine, still, result)) return;
    const forward = { velocity: along(p, velocity), acceleration: accelerated(p, velocity, acceleration) };
    if (!reach.follow(point, forward.velocity, forward.acceleration, rates, changes)) {
      result.unreachable = [{ from: position, to: curve.length }];
      result.problems.push(
        rankOf(reach.slopes(point)) === axes.length
          ? `From ${showArc(position)} on the tool cannot follow the path: the axes that take part cannot move the tool that way. Move the path, or let more axes take part.`
          : `${showArc(position)} along the path the mechanism stands in a dead position: there its axes cannot give the tool the wanted velocity. Lead the path around it, or choose other axes.`,
      );
      return;
    }
    found.forEach((drive, i) => {
      const sign = system.signs[drive]!;
      outcome.position[i]![k] = sign * reach.positions[drive]!;
      outcome.rate[i]![k] = sign * rates[drive]!;
      outcome.change[i]![k] = sign * changes[drive]!;
    });
  }
  result.required = axes.map(({ id }, i) => ({
    axisId: id,
    rows: rowsWithKnees(times, {
      position: outcome.position[i]!,
      rate: outcome.rate[i]!,
      change: outcome.change[i]!,
    }),
  }));
}

const empty = (axes: readonly Axis[], times: Float64Array) => axes.map(() => new Float64Array(times.length));
const along = ({ tangent }: SpaceCurvePoint, v: number): [number, number, number] => [tangent[0] * v, tangent[1] * v, tangent[2] * v]; // prettier-ignore
const accelerated = ({ tangent, bend }: SpaceCurvePoint, v: number, a: number): [number, number, number] =>
  [0, 1, 2].map((k) => tangent[k]! * a + bend[k]! * v * v) as [number, number, number];

function outOfReach(machine: Machine, curve: SpaceCurve, position: number, gap: number): string {
  const p = emptySpaceCurvePoint();
  curve.at(position, p);
  const place = p.at.map((part) => formatQuantity(part, 'length', machine.units, 4)).join(', ');
  const off = Number.isFinite(gap) ? `stays ${formatQuantity(gap, 'length', machine.units, 3)} off it` : 'gets stuck';
  return `From ${showArc(position)} on the tool cannot follow the path: at ${place} it ${off}. Move the path within reach, or let more axes take part.`;
}

/** In how many directions axes move a point. */
function rankOf(slopes: readonly (readonly number[])[]): number {
  const matrix = dense(3, slopes.length);
  slopes.forEach((slope, k) => {
    const most = Math.max(1e-12, Math.hypot(...slope));
    slope.forEach((part, row) => (matrix.data[row * slopes.length + k] = part / most));
  });
  return analyseRank(matrix, 1e-7).rank;
}

/** Whether the place of the tool says where each of the axes stands; told where it does not. */
function decided(
  reach: Reach,
  point: Parameters<Reach['slopes']>[0],
  axes: readonly Axis[],
  machine: Machine,
  still: ReadonlySet<string>,
  result: LeadResult,
): boolean {
  const slopes = reach.slopes(point);
  const idle = axes.filter((_, k) => Math.hypot(...slopes[k]!) < 1e-9);
  const more = axes.length - rankOf(slopes);
  if (more <= 0) return true;
  const names = axes.map(({ name }) => `“${name}”`).join(', ');
  const free = machine.axes.filter((axis) => still.has(axis.id)).length;
  result.problems.push(
    idle.length > 0
      ? `${idle.map(({ name }) => `“${name}”`).join(' and ')} does not move the tool point: let it stand still, or go on as it does.`
      : `${names} are ${more === 1 ? 'one axis' : `${more} axes`} more than the path needs, so the tool can go along it in many ways. Say which stand still${free > 0 ? ' as well' : ''}.`,
  );
  return false;
}
