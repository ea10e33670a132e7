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

const readText = (file: string): string => readBytes(file).toString('utf8');

function readBytes(file: string): Buffer {
  try {
    return readFileSync(file);
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

/** A machine as a file holds it, with the geometry of its solids where that came along, by SHA-256. */
export interface OpenedMachine {
  machine: Machine;
  geometry: ReadonlyMap<string, Uint8Array>;
}

/** Reads a machine document, alone or packed with its geometry. @throws Refusal naming the file and the culprit inside it */
export async function openMachine(file: string): Promise<OpenedMachine> {
  const { document, geometry } = /\.zip$/i.test(file)
    ? await unpacked(file)
    : { document: readText(file), geometry: new Map<string, Uint8Array>() };
  const result = readMachineText(document);
  if (!result.ok) throw new Refusal(`${file}: ${describeProblems(result.problems)}`);
  return { machine: result.machine, geometry };
}

async function unpacked(file: string): Promise<{ document: string; geometry: ReadonlyMap<string, Uint8Array> }> {
  const content = readBytes(file);
  // Files of geometry take libraries that nothing else here needs.
  const { readMachineZip } = await import('@yoke/core/geometry-file');
  try {
    return readMachineZip(content);
  } catch (error) {
    throw new Refusal(`${file}: ${(error as Error).message}`);
  }
}

/** Reads a motor catalogue; the demonstration catalogue where no file is named. */
export function openCatalogue(file: string = DEMO_CATALOGUE): Motor[] {
  return readCatalogue(readText(file));
}
