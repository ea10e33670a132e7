import { AXIS_KINDS, formatQuantity, type AxisKind, type QuantityKind, type UnitSystem } from '../quantity';
import type { PlanFinding } from './checks';

const NAMES = ['position', 'velocity', 'acceleration', 'jerk'] as const;

/**
 * Says a finding in one sentence: what, where, how much, and what would mend it.
 * @param segmentName what the interface calls the segment the finding names
 */
export function explainPlanFinding(
  finding: PlanFinding,
  axis: AxisKind,
  system: UnitSystem,
  segmentName: (id: string) => string,
): string {
  const kinds = AXIS_KINDS[axis];
  const show = (value: number, kind: QuantityKind) => formatQuantity(value, kind, system);
  const time = (value: number) => show(value, 'time');
  switch (finding.code) {
    case 'empty':
      return 'The plan has no segments yet: add a rise, a dwell and a return.';
    case 'plan-too-long':
      return `The plan lasts ${time(finding.planTime)}, the cycle ${time(finding.cycleTime)}: the last ${time(finding.planTime - finding.cycleTime)} are cut off.`;
    case 'plan-short':
      return `The plan lasts ${time(finding.planTime)} of the ${time(finding.cycleTime)} cycle; the axis rests for the remaining ${time(finding.cycleTime - finding.planTime)}.`;
    case 'not-closed':
      return `The plan does not close: it ends ${show(Math.abs(finding.gap), kinds.position)} ${finding.gap > 0 ? 'above' : 'below'} its start, at ${time(finding.time)}.`;
    case 'advances':
      return `The axis has no ends and moves on by ${show(finding.advance, kinds.position)} every cycle.`;
    case 'jump': {
      const name = NAMES[finding.order];
      const size = show(Math.abs(finding.after - finding.before), kinds[name]);
      const place = finding.inside
        ? `inside ${segmentName(finding.segmentId)}`
        : `where ${segmentName(finding.segmentId)} begins`;
      return `The ${name} jumps by ${size} at ${time(finding.time)}, ${place} (from ${show(finding.before, kinds[name])} to ${show(finding.after, kinds[name])}).`;
    }
    case 'limit': {
      const kind = kinds[finding.quantity];
      const what = `${segmentName(finding.segmentId)} reaches ${show(finding.value, kind)} at ${time(finding.time)}; the ${finding.quantity} limit is ${show(finding.limit, kind)}.`;
      return finding.shortestTime === null
        ? `${what} No segment time keeps it under this law: take one without ${finding.quantity === 'jerk' ? 'acceleration' : 'velocity'} steps.`
        : `${what} It takes at least ${time(finding.shortestTime)} instead of ${time(finding.duration)}.`;
    }
    case 'over-limit': {
      const kind = kinds[finding.quantity];
      return `The motion reaches ${show(finding.value, kind)} at ${time(finding.time)}; the ${finding.quantity} limit is ${show(finding.limit, kind)}.`;
    }
    case 'seam': {
      const kind = kinds[finding.quantity];
      return `From cycle to cycle the ${finding.quantity} jumps from ${show(finding.before, kind)} to ${show(finding.after, kind)}: the cycle does not hold whole periods of the motion, or it was begun at another speed.`;
    }
    case 'formula':
      return `${finding.where === 'load' ? 'Formula of the load' : 'Formula'}: ${finding.text}`;
    case 'motion':
      return finding.text;
    case 'engage': {
      if (!finding.jump) return finding.text;
      const { position, velocity } = finding.jump;
      return `${finding.text} The jump would be ${show(position, kinds.position)} and ${show(velocity, kinds.velocity)}.`;
    }
    case 'no-number': {
      const where = finding.time === undefined ? 'over the cycle' : `at ${time(finding.time)}`;
      return `The ${finding.what} is no finite number ${where}, so it is not drawn, not ranked and not written. Look for numbers of the axis that are far too large or too small for the motion there.`;
    }
    case 'break': {
      const name = NAMES[finding.order];
      const size = show(Math.abs(finding.after - finding.before), kinds[name]);
      return `The ${name} jumps by ${size} at ${time(finding.time)} (from ${show(finding.before, kinds[name])} to ${show(finding.after, kinds[name])}).`;
    }
    case 'home':
      return `The motion begins at ${show(finding.start, kinds.position)}, the home position is ${show(finding.home, kinds.position)}: the axis must be driven there first.`;
    case 'travel':
      return `The axis goes to ${show(finding.position, kinds.position)} at ${time(finding.time)}, beyond its ${finding.end === 'min' ? 'lower' : 'upper'} end at ${show(finding.limit, kinds.position)}.`;
  }
}
