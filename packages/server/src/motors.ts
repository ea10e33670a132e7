import { Router, text } from 'express';
import { CsvError, readCatalogue, writeCatalogue, type Motor } from '@yoke/core';
import type { Database, MotorRow } from './database';
import { HttpProblem } from './problem';

/** All motors in the order of their file. */
export async function listMotors({ motors }: Database): Promise<Motor[]> {
  const rows = await motors.findAll({ order: [['position', 'ASC']] });
  return rows.map((row) => row.data);
}

/**
 * Takes motors into the catalogue.
 * @param mode `replace` empties it first; `extend` keeps the others and overwrites motors of the same type
 */
export async function storeMotors(
  { sequelize, motors }: Database,
  catalogue: readonly Motor[],
  mode: 'replace' | 'extend',
): Promise<void> {
  await sequelize.transaction(async (transaction) => {
    if (mode === 'replace') await motors.destroy({ where: {}, transaction });
    const start = Number((await motors.max<number, MotorRow>('position', { transaction })) ?? -1) + 1;
    const rows = catalogue.map((data, i) => ({ type: data.type, position: start + i, data }));
    await motors.bulkCreate(rows, { updateOnDuplicate: ['data'], transaction });
  });
}

function parse(body: unknown): Motor[] {
  if (typeof body !== 'string' || body.trim() === '')
    throw new HttpProblem(415, 'CSV wanted', 'Send the catalogue as text/csv with a header row.');
  try {
    return readCatalogue(body);
  } catch (error) {
    if (error instanceof CsvError) throw new HttpProblem(422, 'Not a valid catalogue', error.message);
    throw error;
  }
}

/** The motor catalogue, under /api/motors. */
export function motorRoutes(database: Database, demoCatalogue: () => string): Router {
  const routes = Router();
  routes.get('/', async (_request, response) => {
    response.json(await listMotors(database));
  });
  routes.get('/csv', async (_request, response) => {
    response
      .type('text/csv')
      .attachment('motors.csv')
      .send(writeCatalogue(await listMotors(database)));
  });
  routes.post('/import', text({ type: () => true, limit: '8mb' }), async (request, response) => {
    const mode = request.query.mode ?? 'extend';
    if (mode !== 'extend' && mode !== 'replace')
      throw new HttpProblem(400, 'Bad request', 'mode must be extend or replace.');
    await storeMotors(database, parse(request.body), mode);
    response.json(await listMotors(database));
  });
  routes.post('/reset', async (_request, response) => {
    await storeMotors(database, readCatalogue(demoCatalogue()), 'replace');
    response.json(await listMotors(database));
  });
  return routes;
}
