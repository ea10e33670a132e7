import { randomUUID } from 'node:crypto';
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describeProblems, readCatalogue, readMachineText } from '@yoke/core';
import type { Database } from './database';
import { storeGeometry } from './geometry';
import { storeMotors } from './motors';
import { summaryOf } from './summary';
import { textHash } from './text-hash';

/**
 * Loads the demonstration machines and motors from `folder`, once in the life of a database: all of it or nothing, so
 * that a start that is killed on the way leaves nothing that the next one would double.
 */
export async function loadDemoOnce(database: Database, folder: string): Promise<void> {
  if (await database.facts.findByPk('demo-loaded')) return;
  const motors = readCatalogue(readFileSync(join(folder, 'motors.csv'), 'utf8'));
  const files = readdirSync(folder)
    .filter((name) => name.endsWith('.yoke.json'))
    .sort();
  const rows = files.map((file) => {
    const result = readMachineText(readFileSync(join(folder, file), 'utf8'));
    if (!result.ok) throw new Error(`demo/${file}: ${describeProblems(result.problems)}`);
    const document = JSON.stringify(result.machine);
    return {
      id: randomUUID(),
      name: result.machine.name,
      document,
      summary: JSON.stringify(summaryOf(result.machine)),
      bytes: Buffer.byteLength(document),
      hash: textHash(document),
      revision: 1,
    };
  });
  // Shapes of its solids, by the SHA-256 of their content.
  const shapes = join(folder, 'geometry');
  const kept = existsSync(shapes) ? readdirSync(shapes).filter((name) => /^[0-9a-f]{64}\.glb$/.test(name)) : [];
  await database.sequelize.transaction(async (transaction) => {
    // The fact goes first: its key lets only one of two loads through.
    await database.facts.create({ name: 'demo-loaded', value: new Date().toISOString() }, { transaction });
    await storeMotors(database, motors, 'replace', transaction);
    await database.machines.bulkCreate(rows, { transaction });
    for (const name of kept)
      await storeGeometry(database, name.slice(0, 64), readFileSync(join(shapes, name)), transaction);
  });
}
