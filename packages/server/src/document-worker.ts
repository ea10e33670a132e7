import type { MessagePort } from 'node:worker_threads';
import {
  CsvError,
  describeProblems,
  explainBudget,
  readCatalogue,
  readMachine,
  readMachineText,
  type Machine,
  type MachineShown,
  type Motor,
  type Problem,
} from '@yoke/core';
import { summaryOf } from './summary';
import { textHash } from './text-hash';

/** A document that was checked, as it is kept. */
export interface ReadDocument {
  text: string;
  name: string;
  summary: MachineShown;
  bytes: number;
  hash: string;
}

/** What may be asked of a thread that reads uploads. */
export type ReadTask =
  | { read: 'machine'; text: string }
  | { read: 'parts'; text: string; part: string }
  | { read: 'renamed'; text: string; name: string }
  | { read: 'catalogue'; text: string };

/** A task as it is handed over: the thread says when it begins, as its time is counted from then on. */
export interface ReadOrder {
  task: ReadTask;
  begun: MessagePort;
}

/** What it answers: the thing read, or what is wrong with it. */
export type ReadAnswer =
  | { ok: true; document: ReadDocument; rest: Record<string, unknown>; beyondBudget: string | null }
  | { ok: true; motors: Motor[] }
  | { ok: false; status: 400 | 422; detail: string; problems?: Problem[] };

function kept(machine: Machine): ReadDocument {
  const text = JSON.stringify(machine);
  return {
    text,
    name: machine.name,
    summary: summaryOf(machine),
    bytes: Buffer.byteLength(text),
    hash: textHash(text),
  };
}

const invalid = (problems: Problem[]): ReadAnswer => ({
  ok: false,
  status: 422,
  detail: describeProblems(problems),
  problems,
});

/** Reads one upload. Runs on a thread of its own, so that nothing sent can hold up the server. */
export default function read({ task, begun }: ReadOrder): ReadAnswer {
  begun.postMessage(null);

  if (task.read === 'catalogue') {
    try {
      return { ok: true, motors: readCatalogue(task.text) };
    } catch (error) {
      if (error instanceof CsvError) return { ok: false, status: 422, detail: error.message };
      throw error;
    }
  }
  if (task.read === 'renamed') {
    const result = readMachineText(task.text);
    if (!result.ok) return invalid(result.problems);
    return { ok: true, document: kept({ ...result.machine, name: task.name }), rest: {}, beyondBudget: null };
  }
  let data: unknown;
  try {
    data = JSON.parse(task.text);
  } catch (error) {
    return { ok: false, status: 400, detail: `The body is no JSON: ${(error as Error).message.slice(0, 200)}.` };
  }
  if (task.read === 'machine') {
    const result = readMachine(data);
    return result.ok
      ? { ok: true, document: kept(result.machine), rest: {}, beyondBudget: null }
      : invalid(result.problems);
  }
  const isObject = typeof data === 'object' && data !== null && !Array.isArray(data);
  const { [task.part]: part, ...rest } = isObject ? (data as Record<string, unknown>) : {};
  const result = readMachine(part);
  if (!result.ok) return invalid(result.problems);
  return { ok: true, document: kept(result.machine), rest, beyondBudget: explainBudget(result.machine) };
}
