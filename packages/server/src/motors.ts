import { Router, text, type Request, type Response } from 'express';
import type { Transaction } from 'sequelize';
import { readCatalogue, writeCatalogue, type Motor } from '@yoke/core';
import type { Database, MotorRow } from './database';
import { readMotors } from './documents';
import { bodyOf } from './guard';
import { BODY_LIMIT, HttpProblem } from './problem';

/** Former catalogues kept, so that replacing can be undone. */
const MOST_FORMER = 20;

/** All motors in the order of their file. */
export async function listMotors({ motors }: Database, transaction?: Transaction): Promise<Motor[]> {
  const rows = await motors.findAll({ order: [['position', 'ASC']], transaction: transaction ?? null });
  return rows.map((row) => row.data);
}

/**
 * Takes motors into the catalogue, inside a transaction.
 * @param mode `replace` empties it first; `extend` keeps the others and overwrites motors of the same type
 */
export async function storeMotors(
  { motors }: Database,
  catalogue: readonly Motor[],
  mode: 'replace' | 'extend',
  transaction: Transaction,
): Promise<void> {
  if (mode === 'replace') await motors.destroy({ where: {}, transaction });
  const start = Number((await motors.max<number, MotorRow>('position', { transaction })) ?? -1) + 1;
  const rows = catalogue.map((data, i) => ({ type: data.type, position: start + i, data }));
  await motors.bulkCreate(rows, { updateOnDuplicate: ['data'], transaction });
}

/** Changes the catalogue and keeps the one before, as one step. A change that changes nothing keeps nothing. */
async function change(database: Database, catalogue: readonly Motor[], mode: 'replace' | 'extend'): Promise<Motor[]> {
  const { sequelize, formerCatalogues } = database;
  return sequelize.transaction(async (transaction) => {
    const before = await listMotors(database, transaction);
    await storeMotors(database, catalogue, mode, transaction);
    const after = await listMotors(database, transaction);
    const motors = JSON.stringify(before);
    if (motors !== JSON.stringify(after)) {
      await formerCatalogues.create({ motors, count: before.length }, { transaction });
      const old = await formerCatalogues.findAll({
        attributes: ['id'],
        order: [['id', 'DESC']],
        offset: MOST_FORMER,
        limit: 100,
        transaction,
      });
      for (const row of old) await row.destroy({ transaction });
    }
    return after;
  });
}

/** The motor catalogue, under /api/motors. */
export function motorRoutes(database: Database, demoCatalogue: () => string): Router {
  const { sequelize, formerCatalogues } = database;
  const routes = Router();

  /** The catalogue, and in a header how many motors undoing would bring back. */
  async function answer(response: Response, motors: readonly Motor[]): Promise<void> {
    const former = await formerCatalogues.findOne({ attributes: ['count'], order: [['id', 'DESC']] });
    if (former) response.set('Yoke-Former-Motors', String(former.count));
    response.json(motors);
  }

  routes.get('/', async (_request, response) => answer(response, await listMotors(database)));
  routes.get('/csv', async (_request, response) => {
    response
      .type('text/csv')
      .attachment('motors.csv')
      .send(writeCatalogue(await listMotors(database)));
  });
  routes.post(
    '/import',
    bodyOf('text/csv'),
    text({ type: 'text/csv', limit: BODY_LIMIT }),
    async (request: Request, response: Response) => {
      const mode = request.query.mode ?? 'extend';
      if (mode !== 'extend' && mode !== 'replace')
        throw new HttpProblem(400, 'Bad request', 'mode must be extend or replace.');
      const body: unknown = request.body;
      if (typeof body !== 'string' || body.trim() === '')
        throw new HttpProblem(422, 'Not a valid catalogue', 'The file is empty: send the catalogue with a header row.');
      await answer(response, await change(database, await readMotors(body), mode));
    },
  );
  routes.post('/reset', bodyOf(null), async (_request, response) =>
    answer(response, await change(database, readCatalogue(demoCatalogue()), 'replace')),
  );
  routes.post('/undo', bodyOf(null), async (_request, response) => {
    const motors = await sequelize.transaction(async (transaction) => {
      const former = await formerCatalogues.findOne({
        order: [['id', 'DESC']],
        transaction,
        lock: transaction.LOCK.UPDATE,
      });
      if (!former)
        throw new HttpProblem(409, 'Nothing to undo', 'The catalogue has not been changed since it was first loaded.');
      await storeMotors(database, JSON.parse(former.motors) as Motor[], 'replace', transaction);
      await former.destroy({ transaction });
      return listMotors(database, transaction);
    });
    await answer(response, motors);
  });
  return routes;
}
