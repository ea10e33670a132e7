import { randomUUID } from 'node:crypto';
import { Router } from 'express';
import { readMachine } from '@yoke/core';
import type { Database, RunRow } from './database';
import { HttpProblem } from './problem';
import { readBody } from './machines';

/** Most runs kept of one machine. */
const MOST_RUNS = 50;

const kept = ({ id, name, revision, createdAt, document }: RunRow) => {
  // A run kept by an older release is brought to the present format.
  const read = readMachine(document);
  return { id, name, revision, createdAt, document: read.ok ? read.machine : document };
};

/** Runs kept of a machine, under /api/machines/{id}/runs. */
export function runRoutes({ machines, runs }: Database): Router {
  const routes = Router({ mergeParams: true });

  async function machineOf(id: string) {
    const row = await machines.findByPk(id);
    if (!row || row.deletedAt !== null)
      throw new HttpProblem(404, 'Not found', 'There is no such machine; it may have been deleted.');
    return row;
  }

  routes.get<{ id: string }>('/', async (request, response) => {
    await machineOf(request.params.id);
    const rows = await runs.findAll({ where: { machineId: request.params.id }, order: [['createdAt', 'ASC']] });
    response.json(rows.map(kept));
  });

  routes.post<{ id: string }>('/', async (request, response) => {
    const machine = await machineOf(request.params.id);
    const { name, document } = (request.body ?? {}) as { name?: unknown; document?: unknown };
    if (typeof name !== 'string' || name.trim() === '' || name.length > 80)
      throw new HttpProblem(422, 'Not a valid run', 'A run needs a name of 1 to 80 characters.');
    const count = await runs.count({ where: { machineId: machine.id } });
    if (count >= MOST_RUNS)
      throw new HttpProblem(
        409,
        'Too many runs',
        `${MOST_RUNS} runs of this machine are kept already: forget one first.`,
      );
    const row = await runs.create({
      id: randomUUID(),
      machineId: machine.id,
      name: name.trim(),
      document: readBody(document),
      revision: machine.revision,
    });
    response.status(201).json(kept(row));
  });

  routes.delete<{ id: string; run: string }>('/:run', async (request, response) => {
    const gone = await runs.destroy({ where: { id: request.params.run, machineId: request.params.id } });
    if (gone === 0)
      throw new HttpProblem(404, 'Not found', 'There is no such run; it may have been forgotten already.');
    response.status(204).end();
  });

  return routes;
}
