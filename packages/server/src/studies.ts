import { Router, type Request, type Response } from 'express';
import { Op, UniqueConstraintError } from 'sequelize';
import { studyDraws, studyWishesSchema, type StudyRun, type StudyState, type StudyWishes } from '@yoke/core';
import type { Database, StudyRow } from './database';
import { readBodyWith } from './documents';
import { bodyOf } from './guard';
import { idOf, jsonText } from './machines';
import { HttpProblem, isDatabaseAway } from './problem';
import { StudyQueue } from './study-queue';

/** Studies under way at a time, and how long results are kept, in days. */
const MOST_AT_ONCE = 20;
export const STUDIES_KEPT_DAYS = 7;

/** Tries of a step while the database is away, and the time between two, ms. */
const TRIES = 60;
const BETWEEN_TRIES = 2000;

/** Carries out a step, again and again while the database is away. */
async function patiently<T>(step: () => Promise<T>): Promise<T> {
  for (let tried = 1; ; tried++)
    try {
      return await step();
    } catch (error) {
      if (tried >= TRIES || !isDatabaseAway(error)) throw error;
      await new Promise((resolve) => setTimeout(resolve, BETWEEN_TRIES).unref());
    }
}

/** Many runs of machines with scattered values: begun, gone on with after a restart, kept for some days. */
export class Studies {
  private readonly queue = new StudyQueue();
  private closed = false;

  constructor(private readonly database: Database) {}

  /** Goes on with the studies that were under way when the server ended, and forgets old ones. */
  async resume(): Promise<void> {
    const { studies, studyRuns } = this.database;
    const old = new Date(Date.now() - STUDIES_KEPT_DAYS * 86_400_000);
    await studies.destroy({ where: { updatedAt: { [Op.lt]: old }, state: { [Op.ne]: 'running' } } });
    for (const study of await studies.findAll({ where: { state: 'running' } })) {
      const done = await studyRuns.findAll({ attributes: ['number'], where: { studyId: study.id } });
      this.enqueue(study, new Set(done.map(({ number }) => number)));
    }
  }

  /** Begins a study, or finds the one that the same request began before. */
  async begin(id: string, document: { text: string; hash: string }, wishes: StudyWishes): Promise<StudyRow> {
    const { studies } = this.database;
    const known = await studies.findByPk(id);
    if (known) return this.same(known, document.hash, wishes);
    if (this.queue.size >= MOST_AT_ONCE)
      throw new HttpProblem(503, 'Busy', `${MOST_AT_ONCE} studies are under way already: wait for one, or cancel one.`);
    try {
      const study = await studies.create({
        id,
        state: 'running',
        total: wishes.runs,
        wishes: JSON.stringify(wishes),
        document: document.text,
        hash: document.hash,
        problem: null,
      });
      this.enqueue(study, new Set());
      return study;
    } catch (error) {
      if (!(error instanceof UniqueConstraintError)) throw error;
      return this.same((await studies.findByPk(id))!, document.hash, wishes);
    }
  }

  private same(known: StudyRow, hash: string, wishes: StudyWishes): StudyRow {
    if (known.hash === hash && known.wishes === JSON.stringify(wishes)) return known;
    throw new HttpProblem(409, 'Used already', 'This Idempotency-Key was used for another study: take a new one.');
  }

  private enqueue(study: StudyRow, done: ReadonlySet<number>): void {
    const { studyRuns } = this.database;
    const { id, document: text } = study;
    const wishes = JSON.parse(study.wishes) as StudyWishes;
    const waiting = studyDraws(wishes).filter(({ number }) => !done.has(number));
    const take = async (run: StudyRun) => {
      // The answer to this may be lost while the database starts again: the same run is then simply there already.
      await patiently(() => studyRuns.upsert({ studyId: id, number: run.number, data: JSON.stringify(run) }));
    };
    const end = async (problem: string | null) => this.finish(id, problem === null ? 'done' : 'failed', problem);
    if (waiting.length === 0) void end(null).catch(() => undefined);
    else this.queue.add({ id, text, torques: wishes.torques, waiting, take, end });
  }

  private async finish(id: string, state: StudyState['state'], problem: string | null): Promise<void> {
    if (this.closed) return;
    await patiently(() => this.database.studies.update({ state, problem }, { where: { id, state: 'running' } }));
  }

  async find(id: string): Promise<StudyRow> {
    const study = await this.database.studies.findByPk(id, { attributes: ['id', 'state', 'total', 'problem'] });
    if (!study) throw new HttpProblem(404, 'Not found', 'There is no such study any more: begin it again.');
    return study;
  }

  /** A study as far as it is, with the runs done. */
  async shown({ id, total, state, problem }: StudyRow): Promise<StudyState> {
    const rows = await this.database.studyRuns.findAll({ where: { studyId: id }, order: [['number', 'ASC']] });
    const runs = rows.map(({ data }) => JSON.parse(data) as StudyRun);
    return { id, total, done: runs.length, state, problem, runs };
  }

  async cancel(id: string): Promise<void> {
    await this.find(id);
    this.queue.cancel(id);
    await this.finish(id, 'cancelled', null);
  }

  /** Ends the threads; what is under way is gone on with at the next start. */
  async close(): Promise<void> {
    this.closed = true;
    await this.queue.close();
  }
}

/** Many runs of one machine with scattered values, under /api/studies: begun, asked for, cancelled. */
export function studyRoutes(studies: Studies): Router {
  const routes = Router();

  routes.post('/', jsonText, async (request: Request, response: Response) => {
    const { document, rest, beyondBudget } = await readBodyWith(request.body, 'document');
    const read = studyWishesSchema.safeParse(rest.wishes);
    if (!read.success) {
      const { path, message } = read.error.issues[0]!;
      throw new HttpProblem(422, 'Not a valid study', `${['wishes', ...path].join('.')}: ${message}`);
    }
    if (beyondBudget !== null) throw new HttpProblem(422, 'Beyond the budget', beyondBudget);
    const study = await studies.begin(idOf(request), document, read.data);
    response
      .status(202)
      .location(`/api/studies/${study.id}`)
      .json(await studies.shown(study));
  });

  routes.get<{ id: string }>('/:id', async (request, response) => {
    response.json(await studies.shown(await studies.find(request.params.id)));
  });

  routes.delete('/:id', bodyOf(null), async (request: Request<{ id: string }>, response: Response) => {
    if (request.get('If-Match') === undefined)
      throw new HttpProblem(428, 'Precondition required', 'Send If-Match: * to say that the study you saw shall end.');
    await studies.cancel(request.params.id);
    response.status(204).end();
  });
  return routes;
}
