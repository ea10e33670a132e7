import {
  allChannels,
  allMechanismChannels,
  counted,
  applyVariant,
  camTable,
  camTableCsv,
  channelsCsv,
  columnKinds,
  cycleTime,
  dutyOf,
  errorsOf,
  explainBudget,
  explainCandidate,
  eventsCsv,
  findLaw,
  isHeldBack,
  keepMotions,
  lawCsv,
  leadCsv,
  LAW_IDS,
  lawsCsv,
  machineText,
  makeTrajectory,
  partsCsv,
  plcXml,
  rankMotors,
  rankingCsv,
  rankingJson,
  runLead,
  runMachine,
  structuredText,
  toldSheet,
  trajectoryCsv,
  trajectoryJson,
  TrajectoryError,
  writeMotionRows,
  type LawId,
  type Machine,
  type MachineRun,
  type PointForm,
  type ToldFinding,
} from '@yoke/core';
import { openCatalogue, openMachine, Refusal, writeText } from './files';
import { clearanceFindings } from './shapes';

/** CSV of the characteristic values of all laws. */
export const laws = lawsCsv;

/** CSV of one law over evenly spaced points. */
export function law(id: string, points: number): string {
  if (!findLaw(id)) throw new Refusal(`there is no law “${id}”; known are ${LAW_IDS.join(', ')}.`);
  return lawCsv(id as LawId, points);
}

/** Settings of a command that runs a machine. */
export interface RunSettings {
  /** Whether a run beyond the budget is made all the same, and its numbers given in spite of errors. */
  anyway?: boolean;
  /** Name of the variant that is run instead of the machine as it is. */
  variant?: string;
  /** File of the catalogue from which motors were chosen. */
  catalogue?: string;
}

/** A machine that was run, and what was found. */
interface Ran extends MachineRun {
  machine: Machine;
}

/**
 * Opens a machine and runs it: through its cues where it has some, with the rotors of the motors chosen in it.
 * @throws Refusal where it would take more than a run takes without being asked for
 */
async function ranOf(file: string, { anyway = false, catalogue, variant }: RunSettings = {}): Promise<Ran> {
  const { machine: own, geometry } = await openMachine(file);
  const machine = variant === undefined ? own : applyVariant(own, pick(file, 'variant', own.variants, variant));
  const beyond = anyway ? null : explainBudget(machine);
  if (beyond !== null) throw new Refusal(`${file}: ${beyond} Add --anyway to run it all the same.`);
  const motors = machine.axes.some(({ sizing }) => sizing.motor !== null) ? openCatalogue(catalogue) : [];
  const ran = await runMachine(machine, { motors });
  const clearances = await clearanceFindings({ machine, geometry }, ran.run);
  return { machine, ...ran, findings: [...toldSheet(machine), ...ran.findings, ...clearances] };
}

/** Errors that stop a command, in a row. */
function listed(errors: readonly ToldFinding[]): string {
  const most = 5;
  const more = errors.length > most ? ` And ${errors.length - most} more: see “yoke check”.` : '';
  return `${errors
    .slice(0, most)
    .map(({ text }) => text)
    .join(' ')}${more}`;
}

/**
 * Refuses a run with errors: its numbers are not those of the machine that is meant. Values that are no numbers are
 * refused always, other errors unless told otherwise.
 * @param axisId leaves out errors in the motions of other axes
 */
function refuseErrors(file: string, { findings }: Ran, { anyway = false }: RunSettings, axisId?: string): void {
  const errors = errorsOf(findings, axisId);
  const never = errors.filter(({ code }) => code === 'no-number');
  if (never.length > 0) throw new Refusal(`${file}: ${listed(never)}`);
  if (errors.length > 0 && !anyway)
    throw new Refusal(`${file}: ${listed(errors)} Add --anyway for the numbers in spite of it.`);
}

/** Says that a machine is fine; otherwise refuses with the errors found. With `json` everything found is listed. */
export async function check(file: string, settings: RunSettings & { json?: boolean } = {}): Promise<string> {
  const { machine, run, findings } = await ranOf(file, settings);
  const errors = errorsOf(findings);
  if (settings.json) {
    const text = `${JSON.stringify({ file, machine: machine.name, cycleTime: run.cycleTime, findings }, null, 2)}\n`;
    if (errors.length > 0) throw new Refusal(`${file}: ${listed(errors)}`, text);
    return text;
  }
  if (errors.length > 0) throw new Refusal(`${file}: ${listed(errors)}`);
  const axes = counted(machine.axes.length, 'axis', 'axes');
  const bodies = machine.mechanism.bodies.length;
  return `${file}: ${machine.name}, ${bodies > 0 ? `${counted(bodies, 'body', 'bodies')}, ` : ''}${axes}, no errors\n`;
}

/** CSV of all channels of one cycle; of a machine of loose parts alone, of their ways. */
export async function simulateFile(file: string, settings: RunSettings = {}): Promise<string> {
  const ran = await ranOf(file, settings);
  const { machine, run, record } = ran;
  refuseErrors(file, ran, settings);
  if (machine.axes.length === 0 && machine.mechanism.bodies.length === 0) {
    if (record) return partsCsv(record, machine);
    throw new Refusal(`${file}: the machine has no axes, no mechanism and no loose parts yet, so nothing runs.`);
  }
  if (run.mechanism?.mode === 'none') throw new Refusal(`${file}: ${listed(errorsOf(ran.findings))}`);
  return channelsCsv(machine, run, allChannels(run), allMechanismChannels(machine, run));
}

/** CSV of the ways of all loose parts over the simulated cycle. */
export async function parts(file: string, settings: RunSettings = {}): Promise<string> {
  const ran = await ranOf(file, settings);
  refuseErrors(file, ran, settings);
  if (!ran.record || ran.record.fates.length === 0)
    throw new Refusal(`${file}: no loose part is released in its cycle.`);
  return partsCsv(ran.record, ran.machine);
}

/** CSV of everything that happened in the simulated cycle, with its cause: what led to an error can be read there too. */
export async function events(file: string, settings: RunSettings = {}): Promise<string> {
  const { machine, record, findings } = await ranOf(file, settings);
  if (!record) throw new Refusal(`${file}: the machine has no cues and no loose parts, so nothing happens in it.`);
  const csv = eventsCsv(record, machine);
  const errors = errorsOf(findings);
  if (errors.length > 0 && !settings.anyway) throw new Refusal(`${file}: ${listed(errors)}`, csv);
  return csv;
}

/** Ranking of a catalogue for one axis. */
export async function size(file: string, options: { axis?: string; json?: boolean } & RunSettings): Promise<string> {
  const ran = await ranOf(file, options);
  const { machine, run } = ran;
  const axis = pick(file, 'axis', machine.axes, options.axis);
  refuseErrors(file, ran, options, axis.id);
  const axisRun = run.axes.find(({ axisId }) => axisId === axis.id)!;
  if (isHeldBack(axisRun))
    throw new Refusal(`${file}: ${axis.name} did not get through its cycle, so no duty is known to size it by.`);
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
export async function exportMotion(
  file: string,
  options: { axis?: string; as: (typeof EXPORTS)[number]; form: PointForm; points: number } & RunSettings,
): Promise<string> {
  const ran = await ranOf(file, options);
  const { machine } = ran;
  const axis = pick(file, 'axis', machine.axes, options.axis);
  refuseErrors(file, ran, options, axis.id);
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

/** One of several things by its name or identifier, upper and lower case alike. */
function pick<T extends { id: string; name: string }>(
  file: string,
  what: string,
  list: readonly T[],
  wanted: string | undefined,
  option = what,
): T {
  const names = list.map(({ name }) => name).join(', ');
  if (list.length === 0) throw new Refusal(`${file}: the machine has no ${what} yet.`);
  if (wanted === undefined) {
    if (list.length === 1) return list[0]!;
    throw new Refusal(`${file} has more than one ${what}; choose one with --${option}: ${names}.`);
  }
  const key = wanted.toLowerCase();
  const found = list.find(({ id, name }) => name.toLowerCase() === key || id.toLowerCase() === key);
  if (!found) throw new Refusal(`${file} has no ${what} “${wanted}”; it has ${names}.`);
  return found;
}

/** Settings of leading a tool point. */
export interface LeadSettings {
  /** Name of the led tool point. */
  tool?: string;
  /** Axis whose motion is written instead of what the tool does. */
  axis?: string;
  /** File into which the machine is written with the motions kept. */
  keep?: string;
  /** Whether the numbers are given in spite of what speaks against the path. */
  anyway?: boolean;
}

/** Leads a tool point along its path: what it does there, or what an axis must do for it, as CSV. */
export async function lead(file: string, { tool, axis, keep, anyway = false }: LeadSettings = {}): Promise<string> {
  const { machine } = await openMachine(file);
  const led = pick(file, 'led tool point', machine.leads, tool, 'tool');
  const result = runLead(machine, led);
  const { samples, required, problems, notes } = result;
  if (problems.length > 0 || !samples) throw new Refusal(`${file}: ${led.name}: ${problems.join(' ')}`);
  // A corner that stays sharp, or a law that runs beyond the path: the numbers are not what the tool would do.
  if (notes.length > 0 && !anyway)
    throw new Refusal(`${file}: ${led.name}: ${notes.join(' ')} Add --anyway for the numbers in spite of it.`);
  if (keep !== undefined) {
    keepMotions(machine, result);
    writeText(keep, machineText(machine));
  }
  if (axis === undefined) return leadCsv(samples, machine);
  const asked = machine.axes.filter(({ id }) => required.some(({ axisId }) => axisId === id));
  const own = pick(file, 'axis that this tool point asks for', asked, axis, 'axis');
  const { rows } = required.find(({ axisId }) => axisId === own.id)!;
  return writeMotionRows(rows, columnKinds(own.kind, null), machine.units);
}
