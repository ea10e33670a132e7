import { randomUUID } from 'node:crypto';
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describeProblems, readCatalogue, readMachineText } from '@yoke/core';
import type { Database } from './database';
import { storeMotors } from './motors';

/** Loads the demonstration machines and motors from `folder`, once in the life of a database. */
export async function loadDemoOnce(database: Database, folder: string): Promise<void> {
  if (await database.facts.findByPk('demo-loaded')) return;
  await storeMotors(database, readCatalogue(readFileSync(join(folder, 'motors.csv'), 'utf8')), 'replace');
  for (const file of readdirSync(folder)
    .filter((name) => name.endsWith('.yoke.json'))
    .sort()) {
    const result = readMachineText(readFileSync(join(folder, file), 'utf8'));
    if (!result.ok) throw new Error(`demo/${file}: ${describeProblems(result.problems)}`);
    const { machine: document } = result;
    await database.machines.create({ id: randomUUID(), name: document.name, document, revision: 1 });
  }
  await database.facts.create({ name: 'demo-loaded', value: new Date().toISOString() });
}
