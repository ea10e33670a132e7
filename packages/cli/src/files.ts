import { readFileSync, writeFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { describeProblems, readCatalogue, readMachineText, type Machine, type Motor } from '@yoke/core';

/** A refusal with a one-line reason, and what is printed all the same. */
export class Refusal extends Error {
  override name = 'Refusal';

  constructor(
    message: string,
    readonly output = '',
  ) {
    super(message);
  }
}

/** The invented catalogue that ships with the project. */
const DEMO_CATALOGUE = fileURLToPath(new URL('../../../demo/motors.csv', import.meta.url));

const REASONS: Record<string, string> = {
  ENOENT: 'there is no such file',
  EISDIR: 'it is a folder',
  EACCES: 'it may not be read',
};

const WRITING: Record<string, string> = {
  EISDIR: 'it is a folder',
  EACCES: 'it may not be written',
  ENOSPC: 'the disk is full',
};

function readText(file: string): string {
  try {
    return readFileSync(file, 'utf8');
  } catch (error) {
    const { code = '', message } = error as NodeJS.ErrnoException;
    throw new Refusal(`${file} cannot be read: ${REASONS[code] ?? message}.`);
  }
}

/** Writes a file. @throws Refusal saying why it cannot be written */
export function writeText(file: string, text: string): void {
  try {
    writeFileSync(file, text);
  } catch (error) {
    const { code = '', message } = error as NodeJS.ErrnoException;
    const reason = code === 'ENOENT' ? 'there is no such folder' : (WRITING[code] ?? message);
    throw new Refusal(`${file} cannot be written: ${reason}.`);
  }
}

/** Reads a machine document. @throws Refusal naming the file and the culprit inside it */
export function openMachine(file: string): Machine {
  const result = readMachineText(readText(file));
  if (!result.ok) throw new Refusal(`${file}: ${describeProblems(result.problems)}`);
  return result.machine;
}

/** Reads a motor catalogue; the demonstration catalogue where no file is named. */
export function openCatalogue(file: string = DEMO_CATALOGUE): Motor[] {
  return readCatalogue(readText(file));
}
