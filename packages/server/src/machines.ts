import { randomUUID } from 'node:crypto';
import { Router, type Request, type Response } from 'express';
import { describeProblems, readMachine, type Machine } from '@yoke/core';
import type { Database, MachineRow } from './database';
import { HttpProblem } from './problem';

const etag = (revision: number) => `"${revision}"`;

/** The machine in a request's body. @throws HttpProblem 422 where it is not valid */
export function readBody(body: unknown): Machine {
  const result = readMachine(body);
  if (result.ok) return result.machine;
  throw new HttpProblem(422, 'Not a valid machine', describeProblems(result.problems), {
    problems: result.problems,
  });
}

/** The revision named by If-Match. Saving without one is refused, so that nothing is overwritten unseen (RFC 6585). */
function wantedRevision(request: Request): number {
  const header = request.get('If-Match');
  if (header === undefined)
    throw new HttpProblem(428, 'Precondition required', 'Name the revision you have seen in If-Match.');
  const match = /^"(\d+)"$/.exec(header.trim());
  if (!match) throw new HttpProblem(400, 'Bad request', 'If-Match must name one revision, for example "3".');
  return Number(match[1]);
}

const summary = (row: MachineRow) => ({
  id: row.id,
  name: row.name,
  notes: row.document.notes,
  axes: row.document.axes.map(({ name, kind, colour }) => ({ name, kind, colour })),
  cycle: row.document.cycle,
  revision: row.revision,
  updatedAt: row.updatedAt,
});

/** Reading and writing machines, under /api/machines. */
export function machineRoutes({ machines }: Database): Router {
  const routes = Router();

  async function find(id: string, deleted = false): Promise<MachineRow> {
    const row = await machines.findByPk(id);
    if (!row || (row.deletedAt !== null && !deleted))
      throw new HttpProblem(404, 'Not found', 'There is no such machine; it may have been deleted.');
    return row;
  }

  async function create(response: Response, document: Machine): Promise<void> {
    const row = await machines.create({ id: randomUUID(), name: document.name, document, revision: 1 });
    response
      .status(201)
      .location(`/api/machines/${row.id}`)
      .set('ETag', etag(1))
      .json({ ...summary(row), document });
  }

  routes.get('/', async (_request, response) => {
    const rows = await machines.findAll({ where: { deletedAt: null }, order: [['updatedAt', 'DESC']] });
    response.json(rows.map(summary));
  });

  routes.post('/', async (request, response) => create(response, readBody(request.body)));

  routes.get('/:id', async (request, response) => {
    const row = await find(request.params.id);
    response.set('ETag', etag(row.revision)).json(row.document);
  });

  routes.put('/:id', async (request, response) => {
    const revision = wantedRevision(request);
    const document = readBody(request.body);
    const [changed] = await machines.update(
      { document, name: document.name, revision: revision + 1 },
      { where: { id: request.params.id, revision, deletedAt: null } },
    );
    if (changed === 0) {
      const row = await find(request.params.id);
      throw new HttpProblem(
        412,
        'Changed elsewhere',
        `The machine is at revision ${row.revision} by now, you changed revision ${revision}.`,
        { revision: row.revision },
      );
    }
    response.set('ETag', etag(revision + 1)).json({ revision: revision + 1 });
  });

  routes.delete('/:id', async (request, response) => {
    const row = await find(request.params.id);
    await row.update({ deletedAt: new Date() });
    response.status(204).end();
  });

  routes.post('/:id/restore', async (request, response) => {
    const row = await find(request.params.id, true);
    await row.update({ deletedAt: null });
    response.json(summary(row));
  });

  routes.post('/:id/duplicate', async (request, response) => {
    const row = await find(request.params.id);
    const name = `${row.name.slice(0, 73)} (copy)`;
    await create(response, { ...row.document, name });
  });

  return routes;
}
