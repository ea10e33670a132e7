import {
  allChannels,
  allMechanismChannels,
  camTable,
  camTableCsv,
  channelsCsv,
  cycleTime,
  dutyOf,
  explainBudget,
  explainCandidate,
  explainMechanismFinding,
  explainPlanFinding,
  explainRunFinding,
  explainCycleFinding,
  checkSheet,
  explainSheetFinding,
  eventsCsv,
  findLaw,
  hasCycle,
  loadContact,
  runCycle,
  lawCsv,
  LAW_IDS,
  lawsCsv,
  makeTrajectory,
  plcXml,
  rankMotors,
  rankingCsv,
  rankingJson,
  segmentName,
  simulate,
  structuredText,
  trajectoryCsv,
  trajectoryJson,
  TrajectoryError,
  type Axis,
  type LawId,
  type CycleRecord,
  type Machine,
  type Run,
  type PointForm,
} from '@yoke/core';
import { openCatalogue, openMachine, Refusal } from './files';

/** CSV of the characteristic values of all laws. */
export const laws = lawsCsv;

/** CSV of one law over evenly spaced points. */
export function law(id: string, points: number): string {
  if (!findLaw(id)) throw new Refusal(`there is no law “${id}”; known are ${LAW_IDS.join(', ')}.`);
  return lawCsv(id as LawId, points);
}

/** Settings of a command that runs a machine. */
export interface RunSettings {
  /** Whether a run beyond the budget is made all the same. */
  anyway?: boolean;
}

/**
 * The run of a machine: through its cues where it has any.
 * @throws Refusal where it would take more than a run takes without being asked for
 */
async function runOf(
  file: string,
  machine: Machine,
  { anyway = false }: RunSettings = {},
): Promise<{ run: Run; record: CycleRecord | null }> {
  const beyond = anyway ? null : explainBudget(machine);
  if (beyond !== null) throw new Refusal(`${file}: ${beyond} Add --anyway to run it all the same.`);
  if (!hasCycle(machine)) return { run: simulate(machine), record: null };
  await loadContact();
  return runCycle(machine);
}

/** Refuses a run that holds values which are no finite numbers: nothing is written or ranked of it. */
function refuseHeldBack(file: string, machine: Machine, run: Run, only?: string): void {
  for (const axis of machine.axes) {
    const finding = run.axes
      .find(({ axisId }) => axisId === axis.id && (only === undefined || axisId === only))
      ?.findings.find(({ code }) => code === 'no-number');
    if (finding)
      throw new Refusal(
        `${file}: ${axis.name}: ${explainPlanFinding(finding, axis.kind, machine.units, (id) => segmentName(axis, id))}`,
      );
  }
  const found = run.mechanism?.findings.find(({ code }) => code === 'no-number');
  if (found) throw new Refusal(`${file}: ${explainMechanismFinding(found, machine)}`);
}

/** Says that a machine is fine; otherwise refuses with the first errors found. */
export async function check(file: string, settings: RunSettings = {}): Promise<string> {
  const machine = openMachine(file);
  const { run, record } = await runOf(file, machine, settings);
  const errors = [
    ...checkSheet(machine)
      .filter(({ severity }) => severity === 'error')
      .map((f) => explainSheetFinding(f, machine)),
    ...(record?.findings ?? [])
      .filter(({ severity }) => severity === 'error')
      .map((f) => explainCycleFinding(f, machine)),
    ...run.findings.filter(({ severity }) => severity === 'error').map((f) => explainRunFinding(f, machine.units)),
    ...(run.mechanism?.findings ?? [])
      .filter(({ severity }) => severity === 'error')
      .map((finding) => explainMechanismFinding(finding, machine)),
    ...machine.axes.flatMap((axis, i) =>
      run.axes[i]!.findings.filter(({ severity }) => severity === 'error').map(
        (f) => `${axis.name}: ${explainPlanFinding(f, axis.kind, machine.units, (id) => segmentName(axis, id))}`,
      ),
    ),
  ];
  if (errors.length > 0) throw new Refusal(`${file}: ${errors.join(' ')}`);
  const axes = machine.axes.length === 1 ? '1 axis' : `${machine.axes.length} axes`;
  const bodies = machine.mechanism.bodies.length;
  return `${file}: ${machine.name}, ${bodies > 0 ? `${bodies} bodies, ` : ''}${axes}, no errors\n`;
}

/** CSV of all channels of one cycle. */
export async function simulateFile(file: string, settings: RunSettings = {}): Promise<string> {
  const machine = openMachine(file);
  if (machine.axes.length === 0 && machine.mechanism.bodies.length === 0)
    throw new Refusal(`${file}: the machine has no axes and no mechanism yet, so nothing runs.`);
  const { run } = await runOf(file, machine, settings);
  refuseHeldBack(file, machine, run);
  if (run.mechanism?.mode === 'none') {
    const [first] = run.mechanism.findings.filter(({ severity }) => severity === 'error');
    throw new Refusal(`${file}: ${first ? explainMechanismFinding(first, machine) : 'the mechanism does not run.'}`);
  }
  return channelsCsv(machine, run, allChannels(run), allMechanismChannels(machine, run));
}

/** CSV of everything that happened in the simulated cycle, with its cause. */
export async function events(file: string, settings: RunSettings = {}): Promise<string> {
  const machine = openMachine(file);
  const { record } = await runOf(file, machine, settings);
  if (!record) throw new Refusal(`${file}: the machine has no cues and no loose parts, so nothing happens in it.`);
  return eventsCsv(record, machine);
}

/** Ranking of a catalogue for one axis. */
export async function size(
  file: string,
  options: { axis?: string; catalogue?: string; json?: boolean } & RunSettings,
): Promise<string> {
  const machine = openMachine(file);
  const axis = pickAxis(file, machine, options.axis);
  const { run } = await runOf(file, machine, options);
  refuseHeldBack(file, machine, run, axis.id);
  const axisRun = run.axes.find(({ axisId }) => axisId === axis.id)!;
  const ranking = rankMotors(openCatalogue(options.catalogue), dutyOf(axis, axisRun, run.times), axis.sizing);
  if (!options.json) return rankingCsv(ranking, machine.units);
  return `${JSON.stringify(
    rankingJson(ranking, (c) => explainCandidate(c, machine.units)),
    null,
    2,
  )}\n`;
}

/** Ways in which the motion of an axis can be written. */
export const EXPORTS = ['csv', 'json', 'st', 'xml', 'cam'] as const;

/** The motion of one axis for a controller. */
export function exportMotion(
  file: string,
  options: { axis?: string; as: (typeof EXPORTS)[number]; form: PointForm; points: number },
): string {
  const machine = openMachine(file);
  const axis = pickAxis(file, machine, options.axis);
  try {
    if (options.as === 'cam') return camTableCsv(machine, axis, camTable(machine, axis, options.points - 1));
    const step = cycleTime(machine) / (options.points - 1);
    const trajectory = makeTrajectory(machine, axis, options.form, { by: 'step', step });
    if (options.as === 'csv') return trajectoryCsv(trajectory);
    if (options.as === 'json') return trajectoryJson(trajectory);
    return options.as === 'st' ? structuredText(trajectory) : plcXml(trajectory, new Date().toISOString());
  } catch (error) {
    if (error instanceof TrajectoryError) throw new Refusal(`${file}: ${error.message}`);
    throw error;
  }
}

function pickAxis(file: string, machine: Machine, name: string | undefined): Axis {
  const names = machine.axes.map((axis) => axis.name).join(', ');
  if (machine.axes.length === 0) throw new Refusal(`${file}: the machine has no axes yet.`);
  if (name === undefined) {
    if (machine.axes.length === 1) return machine.axes[0]!;
    throw new Refusal(`${file} has ${machine.axes.length} axes; choose one with --axis: ${names}.`);
  }
  const wanted = name.toLowerCase();
  const axis = machine.axes.find((a) => a.name.toLowerCase() === wanted || a.id.toLowerCase() === wanted);
  if (!axis) throw new Refusal(`${file} has no axis “${name}”; it has ${names}.`);
  return axis;
}
