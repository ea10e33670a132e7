import { segmentName, unweighedOf, type Machine } from '../machine';
import { explainPlanFinding } from '../motion';
import { explainMechanismFinding, explainRunFinding, type Run } from '../run';
import { checkSheet, explainSheetFinding } from '../sequence';
import { explainCycleFinding } from './explain';
import type { CycleRecord } from './cycle-record';

/** Something found in a run, in words. */
export interface ToldFinding {
  severity: 'error' | 'warning' | 'info';
  /** What it is about: the cue sheet, the cycle, the run as a whole, the mechanism, or the motion of an axis. */
  about: 'sheet' | 'cycle' | 'run' | 'mechanism' | 'axis';
  code: string;
  /** Axis that it is about, or null. */
  axisId: string | null;
  /** Time in s, or null where it has none. */
  time: number | null;
  /** Whether the run is not that of the machine that is meant: what could not be made, went wrong or broke off. */
  breaks: boolean;
  text: string;
}

/** Axes whose motion could not be made as written, or whose numbers are none. */
const UNMADE = new Set(['formula', 'motion', 'engage', 'no-number', 'empty']);
/** Ends of a cycle that broke off: what would have come behind is missing. */
const BROKEN_OFF = new Set<CycleRecord['end']>(['waiting', 'monitor', 'stuck', 'endless', 'too-much']);

const timeOf = (finding: object): number | null =>
  'time' in finding && typeof finding.time === 'number' ? finding.time : null;

/** Makes findings of one kind told ones. */
const teller =
  (end: CycleRecord['end'] | null) =>
  <F extends { code: string; severity: ToldFinding['severity'] }>(
    about: ToldFinding['about'],
    explain: (finding: F) => string,
    axisId: string | null = null,
  ) =>
  (finding: F): ToldFinding => ({
    severity: finding.severity,
    about,
    code: finding.code,
    axisId,
    time: timeOf(finding),
    breaks:
      finding.severity === 'error' &&
      (about === 'mechanism' ||
        (about === 'axis' && UNMADE.has(finding.code)) ||
        (about === 'run' && finding.code === 'master') ||
        (about === 'cycle' && end !== null && BROKEN_OFF.has(end))),
    text: explain(finding),
  });

/** What can be said of a cue sheet before it runs, in words; it takes its time on large sheets. */
export function toldSheet(machine: Machine): ToldFinding[] {
  return checkSheet(machine).map(teller(null)('sheet', (f) => explainSheetFinding(f, machine)));
}

/** A body that goes by the mass of solids of which that is not known: whatever forces come out are not those of the machine. */
function unweighed(body: Machine['mechanism']['bodies'][number]): ToldFinding[] {
  const names = unweighedOf(body);
  if (names.length === 0) return [];
  const text = `The mass of “${body.name}” is not known: ${names.slice(0, 3).join(', ')}${names.length > 3 ? ` and ${names.length - 3} more` : ''} of its solids ${names.length === 1 ? 'has' : 'have'} an open skin. Say in Solids what ${names.length === 1 ? 'it counts' : 'they count'}, or type the mass of the body.`;
  return [{ severity: 'error', about: 'mechanism', code: 'unweighed', axisId: null, time: null, breaks: true, text }];
}

/** All that was found in a run, in words, in the order in which one thing follows from another. */
export function toldFindings(machine: Machine, run: Run, record: CycleRecord | null): ToldFinding[] {
  const tell = teller(record?.end ?? null);
  const axes = machine.axes.flatMap((axis) => {
    const own = run.axes.find(({ axisId }) => axisId === axis.id);
    const explain = (f: Parameters<typeof explainPlanFinding>[0]) =>
      `${axis.name}: ${explainPlanFinding(f, axis.kind, machine.units, (id) => segmentName(axis, id))}`;
    return (own?.findings ?? []).map(tell('axis', explain, axis.id));
  });
  return [
    ...axes,
    ...machine.mechanism.bodies.flatMap(unweighed),
    ...(run.mechanism?.findings ?? []).map(tell('mechanism', (f) => explainMechanismFinding(f, machine))),
    ...(record?.findings ?? []).map(tell('cycle', (f) => explainCycleFinding(f, machine))),
    ...run.findings.map(tell('run', (f) => explainRunFinding(f, machine.units))),
  ];
}

/**
 * What breaks a run for an axis, or for all of it: nothing may be ranked or delivered from it without asking.
 * A mechanism that broke off breaks the axes that drive it.
 */
export function brokenBy(
  findings: readonly ToldFinding[],
  axis?: { id: string; joint: string | null },
): ToldFinding | null {
  return (
    findings.find(
      ({ breaks, about, axisId }) =>
        breaks &&
        (axis === undefined ||
          axisId === axis.id ||
          (axisId === null && (about !== 'mechanism' || axis.joint !== null))),
    ) ?? null
  );
}

/**
 * Why the numbers of a run must not be relied on: all its errors.
 * @param axisId leaves out what is about the motions of other axes
 */
export function errorsOf(findings: readonly ToldFinding[], axisId?: string): ToldFinding[] {
  return findings.filter(
    (finding) =>
      finding.severity === 'error' && (axisId === undefined || finding.axisId === null || finding.axisId === axisId),
  );
}
