import { createHash } from 'node:crypto';
import { gzipSync } from 'node:zlib';
import {
  describeProblems,
  hasCycle,
  isKeepable,
  readMachineText,
  resultInput,
  runMachine,
  writeResult,
  type Motor,
} from '@yoke/core';

/** Name of the computation that this was built with; only a built page of the same computation asks for its results. */
declare const RESULTS_OF: string;
export const RELEASE = typeof RESULTS_OF === 'string' ? RESULTS_OF : 'not built';

/** A machine whose result is wanted, by the present catalogue. */
export interface ResultTask {
  text: string;
  motors: Motor[];
}

/** A result by the name that a page looks for, packed; null where it is not worth keeping or cannot be kept. */
export type Packed = { key: string; data: Uint8Array } | null;

export default async function run({ text, motors }: ResultTask): Promise<Packed> {
  const read = readMachineText(text);
  if (!read.ok) throw new Error(describeProblems(read.problems));
  // What moves without a cycle is computed in less time than it takes to be sent.
  if (!hasCycle(read.machine)) return null;
  const result = await runMachine(read.machine, { motors });
  if (!isKeepable(result)) return null;
  const key = createHash('sha256')
    .update(resultInput(RELEASE, read.machine, motors))
    .digest('hex');
  return { key, data: gzipSync(writeResult(result)) };
}
