import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describeProblems, readMachineText, type Machine } from '../src/machine';

/** A machine of the demo by the name of its file. */
export function demo(file: string): Machine {
  const read = readMachineText(readFileSync(join(__dirname, `../../../demo/${file}.yoke.json`), 'utf8'));
  if (!read.ok) throw new Error(describeProblems(read.problems));
  return read.machine;
}

/** The largest magnitude among samples. */
export const peak = (samples: ArrayLike<number>): number =>
  Array.from(samples).reduce((most, value) => Math.max(most, Math.abs(value)), 0);
