import type { KeptRun } from '@yoke/core';
import { Router, type Request, type Response } from 'express';
import { UniqueConstraintError } from 'sequelize';
import type { Database, RunRow } from './database';
import { readBodyWith, readDocument } from './documents';
import { bodyOf } from './guard';
import { idOf, jsonText } from './machines';
import { HttpProblem } from './problem';
import type { RunResults } from './results';

/** Most runs kept of one machine. */
const MOST_RUNS = 50;

const listed = ({ id, name, revision, cycleTime, createdAt }: RunRow): KeptRun => ({
  id,
  name,
  revision,
  cycleTime,
  createdAt: createdAt.toISOString(),
});

/** Runs kept of a machine, under /api/machines/{id}/runs. */
export function runRoutes({ sequelize, machines, runs }: Database, results?: RunResults): Router {
  const routes = Router({ mergeParams: true });
  const noMachine = () => new HttpProblem(404, 'Not found', 'There is no such machine; it may have been deleted.');
  const noRun = () => new HttpProblem(404, 'Not found', 'There is no such run; it may have been forgotten already.');

  routes.get<{ id: string }>('/', async (request, response) => {
    const machine = await machines.findByPk(request.params.id, { attributes: ['id', 'deletedAt'] });
    if (!machine || machine.deletedAt !== null) throw noMachine();
    const rows = await runs.findAll({
      attributes: ['id', 'name', 'revision', 'cycleTime', 'createdAt'],
      where: { machineId: machine.id },
      order: [['createdAt', 'ASC']],
    });
    response.json(rows.map(listed));
  });

  routes.get<{ id: string; run: string }>('/:run', async (request, response) => {
    const row = await runs.findOne({ where: { id: request.params.run, machineId: request.params.id } });
    if (!row) throw noRun();
    // A run kept by an older release is brought to the present format.
    const { text } = await readDocument(row.document).catch(() => ({ text: row.document }));
    const head = JSON.stringify(listed(row)).slice(0, -1);
    response.type('application/json').send(`${head},"document":${text}}`);
  });

  routes.post('/', jsonText, async (request: Request<{ id: string }>, response: Response) => {
    const { document: read, rest, beyondBudget } = await readBodyWith(request.body, 'document');
    const { name, cycleTime = null } = rest;
    if (cycleTime !== null && !(typeof cycleTime === 'number' && cycleTime > 0 && cycleTime <= 1e6))
      throw new HttpProblem(422, 'Not a valid run', 'cycleTime must be a number of seconds, or be left out.');
    if (typeof name !== 'string' || name.trim() === '' || name.length > 80)
      throw new HttpProblem(422, 'Not a valid run', 'A run needs a name of 1 to 80 characters.');
    const id = idOf(request);
    const row = await sequelize.transaction(async (transaction) => {
      // The machine's row is held meanwhile, so that two requests do not both find room for the last one.
      const machine = await machines.findByPk(request.params.id, {
        attributes: ['id', 'revision', 'deletedAt'],
        transaction,
        lock: transaction.LOCK.UPDATE,
      });
      if (!machine || machine.deletedAt !== null) throw noMachine();
      const before = await runs.findByPk(id, { transaction });
      if (before && before.machineId === machine.id && before.hash === read.hash) return before;
      if (before) throw new HttpProblem(409, 'Used already', 'This Idempotency-Key was used for another run.');
      if ((await runs.count({ where: { machineId: machine.id }, transaction })) >= MOST_RUNS)
        throw new HttpProblem(
          409,
          'Too many runs',
          `${MOST_RUNS} runs of this machine are kept already: forget one first.`,
        );
      const { text: document, hash } = read;
      const { revision } = machine;
      return runs
        .create({ id, machineId: machine.id, name: name.trim(), document, hash, revision, cycleTime }, { transaction })
        .catch((error: unknown) => {
          if (error instanceof UniqueConstraintError)
            throw new HttpProblem(409, 'Used already', 'This Idempotency-Key was used for another run.');
          throw error;
        });
    });
    if (beyondBudget === null) results?.begin(row.document);
    const document: unknown = JSON.parse(row.document);
    response
      .status(201)
      .location(`/api/machines/${row.machineId}/runs/${row.id}`)
      .json({ ...listed(row), document });
  });

  routes.delete('/:run', bodyOf(null), async (request: Request<{ id: string; run: string }>, response: Response) => {
    if (request.get('If-Match') === undefined)
      throw new HttpProblem(428, 'Precondition required', 'Send If-Match: * to say that the run you saw shall go.');
    const gone = await runs.destroy({ where: { id: request.params.run, machineId: request.params.id } });
    if (gone === 0) throw noRun();
    response.status(204).end();
  });

  return routes;
}
