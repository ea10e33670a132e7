import { randomUUID } from 'node:crypto';
import type { MachineShown, MachineSummary } from '@yoke/core';
import { Router, text, type Request, type Response } from 'express';
import { Op, UniqueConstraintError } from 'sequelize';
import type { Database, MachineRow } from './database';
import { readDocument, renamedDocument, type ReadDocument } from './documents';
import { bodyOf } from './guard';
import { BODY_LIMIT, HttpProblem } from './problem';

const etag = (revision: number) => `"${revision}"`;

/** How long a deleted machine is kept, in days. */
export const DELETED_KEPT_DAYS = 30;
const DAY = 86_400_000;
/** Machines in one page of the list, and at most. */
const PAGE = 100;
const LARGEST_PAGE = 500;

/** Reads JSON as text: it is parsed on another thread. */
export const jsonText = [bodyOf('application/json'), text({ type: 'application/json', limit: BODY_LIMIT })];

/** The revision named by If-Match. Changing without one is refused, so that nothing is overwritten unseen (RFC 6585). */
export function wantedRevision(request: Request): number {
  const header = request.get('If-Match');
  if (header === undefined)
    throw new HttpProblem(428, 'Precondition required', 'Name the revision you have seen in If-Match.');
  const match = /^"(\d{1,9})"$/.exec(header.trim());
  if (!match) throw new HttpProblem(400, 'Bad request', 'If-Match must name one revision, for example "3".');
  return Number(match[1]);
}

const UUID = /^[0-9a-f]{8}-[0-9a-f]{4}-[1-8][0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}$/i;

/**
 * Identifier of what a request makes: its Idempotency-Key where it has one, so that the request repeated after a lost
 * answer makes nothing twice; else a new one.
 */
export function idOf(request: Request): string {
  const key = request.get('Idempotency-Key');
  if (key === undefined) return randomUUID();
  if (!UUID.test(key)) throw new HttpProblem(400, 'Bad request', 'Idempotency-Key must be a UUID.');
  return key.toLowerCase();
}

/** A whole number of the query, within bounds. @throws HttpProblem 400 */
function count(request: Request, name: string, least: number, most: number, usual: number): number {
  const given = request.query[name];
  if (given === undefined) return usual;
  const value = typeof given === 'string' && /^\d{1,9}$/.test(given) ? Number(given) : NaN;
  if (!(value >= least && value <= most))
    throw new HttpProblem(400, 'Bad request', `${name} must be a whole number from ${least} to ${most}.`);
  return value;
}

const LISTED = ['id', 'name', 'summary', 'bytes', 'revision', 'updatedAt', 'deletedAt'] as const;

const listed = ({ id, name, summary, bytes, revision, updatedAt, deletedAt }: MachineRow): MachineSummary => ({
  id,
  name,
  ...(JSON.parse(summary) as MachineShown),
  bytes,
  revision,
  updatedAt: updatedAt.toISOString(),
  ...(!deletedAt
    ? {}
    : {
        deletedAt: deletedAt.toISOString(),
        purgedAt: new Date(deletedAt.getTime() + DELETED_KEPT_DAYS * DAY).toISOString(),
      }),
});

/** Takes machines away for good that were deleted long ago. */
export async function purgeDeleted({ machines }: Database): Promise<number> {
  return machines.destroy({ where: { deletedAt: { [Op.lt]: new Date(Date.now() - DELETED_KEPT_DAYS * DAY) } } });
}

/** Reading and writing machines, under /api/machines. */
export function machineRoutes({ machines }: Database): Router {
  const routes = Router();

  async function find(id: string, deleted = false): Promise<MachineRow> {
    const row = await machines.findByPk(id);
    if (!row || (row.deletedAt !== null && !deleted))
      throw new HttpProblem(404, 'Not found', 'There is no such machine; it may have been deleted.');
    return row;
  }

  async function create(request: Request, response: Response, read: ReadDocument): Promise<void> {
    const { name, bytes, hash, text: document } = read;
    const id = idOf(request);
    let row: MachineRow;
    try {
      const summary = JSON.stringify(read.summary);
      row = await machines.create({ id, name, document, summary, bytes, hash, revision: 1 });
    } catch (error) {
      if (!(error instanceof UniqueConstraintError)) throw error;
      // The same request came before, and its answer was lost.
      const before = await machines.findByPk(id);
      if (!before || before.hash !== hash || before.revision !== 1)
        throw new HttpProblem(
          409,
          'Used already',
          'This Idempotency-Key was used for another machine: take a new one.',
        );
      row = before;
    }
    response.status(201).location(`/api/machines/${row.id}`).set('ETag', etag(row.revision)).json(listed(row));
  }

  routes.get('/', async (request, response) => {
    const limit = count(request, 'limit', 1, LARGEST_PAGE, PAGE);
    const offset = count(request, 'offset', 0, 999_999_999, 0);
    const deleted = request.query.deleted === 'true';
    const found = await machines.findAll({
      attributes: [...LISTED],
      where: { deletedAt: deleted ? { [Op.ne]: null } : null },
      order: [
        [deleted ? 'deletedAt' : 'updatedAt', 'DESC'],
        ['id', 'ASC'],
      ],
      // One more than wanted tells whether there is a next page.
      limit: limit + 1,
      offset,
    });
    if (found.length > limit)
      response.links({
        next: `/api/machines?limit=${limit}&offset=${offset + limit}${deleted ? '&deleted=true' : ''}`,
      });
    response.json(found.slice(0, limit).map(listed));
  });

  routes.post('/', jsonText, async (request: Request, response: Response) =>
    create(request, response, await readDocument(request.body)),
  );

  routes.get('/:id', async (request, response) => {
    const row = await find(request.params.id);
    response.set('ETag', etag(row.revision)).type('application/json').send(row.document);
  });

  routes.put('/:id', jsonText, async (request: Request<{ id: string }>, response: Response) => {
    const revision = wantedRevision(request);
    const { name, bytes, hash, text: document, summary } = await readDocument(request.body);
    const [changed] = await machines.update(
      { document, name, summary: JSON.stringify(summary), bytes, hash, revision: revision + 1 },
      { where: { id: request.params.id, revision, deletedAt: null } },
    );
    let now = revision + 1;
    if (changed === 0) {
      const row = await find(request.params.id);
      // The same content is there already: the answer to an earlier save was lost.
      if (row.hash !== hash)
        throw new HttpProblem(
          412,
          'Changed elsewhere',
          `The machine is at revision ${row.revision} by now, you changed revision ${revision}.`,
          { revision: row.revision },
        );
      now = row.revision;
    }
    response.set('ETag', etag(now)).json({ revision: now });
  });

  routes.delete('/:id', bodyOf(null), async (request: Request<{ id: string }>, response: Response) => {
    const revision = wantedRevision(request);
    const { id } = request.params;
    const [changed] = await machines.update({ deletedAt: new Date() }, { where: { id, revision, deletedAt: null } });
    if (changed === 0) {
      const row = await find(id, true);
      if (row.revision !== revision)
        throw new HttpProblem(
          412,
          'Changed elsewhere',
          `The machine is at revision ${row.revision} by now, you saw revision ${revision}: look at it before it goes.`,
          { revision: row.revision },
        );
    }
    response.status(204).end();
  });

  routes.post('/:id/restore', bodyOf(null), async (request: Request<{ id: string }>, response: Response) => {
    const row = await find(request.params.id, true);
    if (row.deletedAt !== null) await row.update({ deletedAt: null });
    response.set('ETag', etag(row.revision)).json(listed(row));
  });

  routes.post('/:id/duplicate', bodyOf(null), async (request: Request<{ id: string }>, response: Response) => {
    const row = await find(request.params.id);
    await create(request, response, await renamedDocument(row.document, `${row.name.slice(0, 73)} (copy)`));
  });

  return routes;
}
