import { AXIS_KINDS } from '../quantity';
import type { Axis } from '../machine';
import { CHANNEL_IDS, channelSpec } from './channels';
import type { MechanismRun } from './mechanism-run';
import type { AxisRun } from './simulate';

// The one gate at the end of every computation: no value that is no finite number leaves it as if it were one.

const firstBad = (values: Float64Array, reached: number): number => {
  for (let k = 0; k < reached; k++) if (!Number.isFinite(values[k]!)) return k;
  return -1;
};

/**
 * Holds back channels of an axis with a value that is no finite number: they become unknown as a whole, and a finding
 * names the first of them and its time. Sums over the cycle that are none are told likewise.
 * @param reached samples that were computed; what lies behind them is unknown anyway
 */
export function gateAxis(run: AxisRun, axis: Axis, times: Float64Array, reached: number): AxisRun {
  let bad: { what: string; time?: number } | null = null;
  for (const id of CHANNEL_IDS) {
    const at = firstBad(run.channels[id], reached);
    if (at < 0) continue;
    bad ??= { what: channelSpec(id, axis.kind).label.toLowerCase(), time: times[at]! };
    run.channels[id].fill(NaN);
  }
  const { balance, ...energy } = run.energy;
  const sums = [
    ...Object.values(run.rms),
    ...Object.values(energy),
    ...Object.values(balance),
    ...Object.values(run.duty),
  ];
  if (!bad && sums.some((value) => typeof value === 'number' && !Number.isFinite(value)))
    bad = { what: `energy or RMS value (${AXIS_KINDS[axis.kind].effort}, speed)` };
  if (!bad) return run;
  return { ...run, findings: [{ code: 'no-number', severity: 'error', ...bad }, ...run.findings] };
}

/**
 * Whether no duty is known of a run of an axis: it was held back by the gate, or its mechanism did not get through the
 * cycle. Nothing may be ranked by it.
 */
export const isHeldBack = ({ findings, rms }: Pick<AxisRun, 'findings' | 'rms'>): boolean =>
  findings.some(({ code }) => code === 'no-number') || !Number.isFinite(rms.effort);

/**
 * Cuts the run of a mechanism off before the first value that is no finite number, and names it. What lies behind is
 * unknown, as behind any place where a run ends.
 */
export function gateMechanism(run: MechanismRun, times: Float64Array): void {
  const all: [string, Float64Array | null][] = [
    ...run.q.map((values): [string, Float64Array] => ['pose', values]),
    ...run.v.map((values): [string, Float64Array] => ['velocity', values]),
    ...run.a.map((values): [string, Float64Array] => ['acceleration', values]),
    ...run.joints.flatMap(({ position, rate, change, reaction, contact }): [string, Float64Array | null][] => [
      ['position of a joint', position],
      ['speed of a joint', rate],
      ['acceleration of a joint', change],
      ['reaction of a joint', reaction.force[0]],
      ['reaction of a joint', reaction.force[1]],
      ['reaction of a joint', reaction.moment],
      ['force of a cam', contact],
    ]),
    ...run.drives.map(({ effort }): [string, Float64Array] => ['effort of a drive', effort]),
    ...run.elements.flatMap(({ force, power }): [string, Float64Array][] => [
      ['force of a spring, damper or load', force],
      ['power of a spring, damper or load', power],
    ]),
    ['kinetic energy', run.energy.kinetic],
    ['potential energy', run.energy.potential],
  ];
  let what = '';
  let reached = run.reached;
  for (const [name, values] of all) {
    if (!values) continue;
    const at = firstBad(values, reached);
    if (at < 0) continue;
    reached = at;
    what = name;
  }
  if (reached === run.reached) return;
  run.findings.push({ code: 'no-number', severity: 'error', what, time: times[reached]! });
  run.reached = reached;
  for (const [, values] of all) values?.fill(NaN, reached);
}
