import { readdirSync, readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import {
  describeProblems,
  explainBudget,
  explainCycleFinding,
  explainMechanismFinding,
  explainPlanFinding,
  explainSheetFinding,
  checkSheet,
  cycleTime,
  dutyOf,
  hasCycle,
  isHeldBack,
  loadContact,
  machineText,
  rankMotors,
  readCatalogue,
  readMachine,
  readMachineText,
  runCycle,
  Scatter,
  segmentName,
  simulate,
  type Machine,
} from '@yoke/core';

/** Numbers that make trouble: ends of what a double holds, and values that look ordinary. */
const NUMBERS = [0, -0, 1, -1, 1e-300, 5e-324, 1e-12, 1e-6, 1e6, 1e12, -1e12, 1e20, 1e300, 1.797e308, 0.1, 3, 1000, -5];
const TEXTS = [
  '',
  ' ',
  'ground',
  '__proto__',
  'constructor',
  '"',
  '<b>',
  '=1+1',
  'x'.repeat(100),
  '\u0000',
  '\ud800',
  '0.1 m * sqrt(t/T)',
  '1 N / (t/T)',
  'poly345',
  'axis1',
];
const FORMULAS = [
  '0.1 m * sqrt(t/T)',
  '1 N / (t/T - t/T)',
  '(((((',
  'sin(t',
  '0.05 m * sin(2*pi*t/T)',
  '1e300 * 1e300 N',
  '0 m',
];

type Plain = Record<string, unknown> | unknown[];

/** Every place of a document that holds something, as its owner and key. */
function places(document: Plain): { owner: Plain; key: string | number }[] {
  const found: { owner: Plain; key: string | number }[] = [];
  const queue: Plain[] = [document];
  for (const owner of queue)
    for (const [key, value] of Object.entries(owner)) {
      found.push({ owner, key: Array.isArray(owner) ? Number(key) : key });
      if (typeof value === 'object' && value !== null) queue.push(value as Plain);
    }
  return found;
}

/** Changes one to three places of a document: numbers, texts, kinds of values, order and number of entries. */
export function mutate(document: unknown, scatter: Scatter): unknown {
  const copy = structuredClone(document) as Plain;
  const pick = <T>(list: readonly T[]): T => list[Math.floor(scatter.uniform() * list.length)]!;
  for (let n = 1 + Math.floor(scatter.uniform() * 3); n > 0; n--) {
    const { owner, key } = pick(places(copy));
    const target = owner as Record<string | number, unknown>;
    const value = target[key];
    const die = scatter.uniform();
    if (typeof value === 'number' && die < 0.8)
      target[key] = die < 0.4 ? pick(NUMBERS) : value * pick([0, -1, 1e-6, 0.5, 2, 1e6, 1 + 1e-12]);
    else if (typeof value === 'string' && die < 0.8)
      target[key] = key === 'text' || key === 'formula' ? pick(FORMULAS) : pick(TEXTS);
    else if (Array.isArray(value) && value.length > 0 && die < 0.85) {
      const i = Math.floor(scatter.uniform() * value.length);
      const j = Math.floor(scatter.uniform() * value.length);
      if (die < 0.25) value.splice(i, 1);
      else if (die < 0.5) value.push(structuredClone(value[i]));
      else if (die < 0.75) [value[i], value[j]] = [value[j], value[i]];
      else value.reverse();
    } else if (typeof value === 'boolean') target[key] = !value;
    else if (die < 0.9) target[key] = pick([null, 0, '', [], {}, true, 'x', 1e9]);
    else if (Array.isArray(owner)) owner.splice(Number(key), 1);
    else Reflect.deleteProperty(target, key);
  }
  return copy;
}

/** What became of a mutant. */
export type MutantOutcome = 'refused' | 'asked' | 'named' | 'ran';

const demoFolder = fileURLToPath(new URL('../../demo/', import.meta.url));
const motors = () => readCatalogue(readFileSync(`${demoFolder}motors.csv`, 'utf8'));

/** The demonstration machines, as parsed documents. */
export const demos = (): unknown[] =>
  readdirSync(demoFolder)
    .filter((file) => file.endsWith('.yoke.json'))
    .map((file): unknown => JSON.parse(readFileSync(demoFolder + file, 'utf8')));

/** Sentences must say something: no value that is none may show in them. */
function spoken(text: string): void {
  if (text.trim() === '' || /undefined|\bNaN\b|\[object|Infinity/.test(text))
    throw new Error(`An empty sentence: “${text}”`);
}

/** Errors that name a culprit and are shown as they are. */
const NAMED = new Set(['ContactError', 'OutlineError']);

/**
 * Takes a document through everything the core does with one. A run has a bound on its work: what a document asks for
 * beyond the budget is asked about, and machines with cues run for a moment of machine time.
 * @throws Error for whatever must not happen: an exception that names nothing, a number that is none, an empty sentence
 */
export function tryMutant(document: unknown): MutantOutcome {
  const read = readMachine(document);
  if (!read.ok) {
    spoken(describeProblems(read.problems));
    if (read.problems.some(({ path }) => path === '')) throw new Error('A problem without a path.');
    return 'refused';
  }
  const { machine } = read;
  const again = readMachineText(machineText(machine));
  if (!again.ok) throw new Error(`It does not come back: ${describeProblems(again.problems)}`);
  if (explainBudget(machine) !== null) {
    spoken(explainBudget(machine)!);
    return 'asked';
  }
  for (const finding of checkSheet(machine)) spoken(explainSheetFinding(finding, machine));
  const brief: Machine = {
    ...machine,
    // What goes wrong at all goes wrong in a few hundred samples too.
    step: Math.max(machine.step ?? 0, cycleTime(machine) / 300),
    sequence: {
      ...machine.sequence,
      cycle: { ...machine.sequence.cycle, most: Math.min(machine.sequence.cycle.most, 0.4) },
    },
    loose: { ...machine.loose, step: Math.max(machine.loose.step, 0.002) },
  };
  try {
    const { run, record } = hasCycle(brief) ? runCycle(brief) : { run: simulate(brief), record: null };
    for (const finding of record?.findings ?? []) spoken(explainCycleFinding(finding, brief));
    for (const finding of run.mechanism?.findings ?? []) spoken(explainMechanismFinding(finding, brief));
    brief.axes.forEach((axis, i) => {
      const own = run.axes[i]!;
      for (const finding of own.findings)
        spoken(explainPlanFinding(finding, axis.kind, brief.units, (id) => segmentName(axis, id)));
      const reached = axis.joint === null ? run.times.length : (run.mechanism?.reached ?? run.times.length);
      for (const [id, values] of Object.entries(own.channels)) {
        const wrong = values.subarray(0, reached).findIndex((value) => !Number.isFinite(value));
        if (wrong >= 0 && !isHeldBack(own))
          throw new Error(`${axis.name}.${id} is ${values[wrong]} at sample ${wrong}, unsaid.`);
      }
      if (isHeldBack(own) || axis.joint !== null) return;
      for (const { rmsTorque } of rankMotors(motors(), dutyOf(axis, own, run.times), axis.sizing))
        if (!Number.isFinite(rmsTorque)) throw new Error(`${axis.name} is ranked by ${rmsTorque}.`);
    });
    return 'ran';
  } catch (error) {
    if (!NAMED.has((error as Error).name)) throw error;
    spoken((error as Error).message);
    return 'named';
  }
}

/** What a row of mutants came to; `wrong` names seeds and what went wrong. */
export interface MutantReport {
  outcomes: Record<MutantOutcome, number>;
  wrong: { seed: number; text: string }[];
}

/** Tries mutants of the demonstration machines by their seeds. */
export async function tryMutants(from: number, count: number, told?: (done: number) => void): Promise<MutantReport> {
  await loadContact();
  const documents = demos();
  const report: MutantReport = { outcomes: { refused: 0, asked: 0, named: 0, ran: 0 }, wrong: [] };
  for (let seed = from; seed < from + count; seed++) {
    const scatter = new Scatter(seed);
    const document = documents[seed % documents.length];
    try {
      report.outcomes[tryMutant(mutate(document, scatter))]++;
    } catch (error) {
      const { name, message, stack } = error as Error;
      report.wrong.push({ seed, text: `${name}: ${message.slice(0, 300)} ${stack?.split('\n')[1]?.trim() ?? ''}` });
    }
    told?.(seed - from + 1);
  }
  return report;
}
