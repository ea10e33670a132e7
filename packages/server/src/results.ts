import { Router } from 'express';
import { Piscina } from 'piscina';
import { col, fn, Op } from 'sequelize';
import type { Database } from './database';
import { listMotors } from './motors';
import { HttpProblem } from './problem';
import type { Packed, ResultTask } from './result-worker';
import { threadOf } from './thread';

/** Most bytes of one result as the database takes it, and of all together; the longest unused go first. */
const MOST_BYTES = 12e6;
const ROOM = 1e9;
/** Results that may wait for the thread; more are computed by whoever looks at them. */
const MOST_WAITING = 20;
/** Longest time of one run, ms; memory of the thread, MB; how long it waits for another run, ms. */
const RUN_TIME = 10 * 60_000;
const MEMORY = 1536;
const IDLE = 30_000;

/** Results of kept runs: computed beside the requests once a run is kept, and found by what they go by. */
export class RunResults {
  private pool: Piscina<ResultTask, Packed> | null = null;

  constructor(private readonly database: Database) {}

  /** Computes and keeps the result of a document, some time. Never fails: what is not kept is computed anew. */
  begin(text: string): void {
    this.pool ??= new Piscina<ResultTask, Packed>({
      ...threadOf('result-worker'),
      minThreads: 0,
      maxThreads: 1,
      idleTimeout: IDLE,
      resourceLimits: { maxOldGenerationSizeMb: MEMORY },
    });
    if (this.pool.queueSize >= MOST_WAITING) return;
    const { pool } = this;
    void listMotors(this.database)
      .then((motors) => pool.run({ text, motors }, { signal: AbortSignal.timeout(RUN_TIME) }))
      .then((made) => (made ? this.keep(made.key, Buffer.from(made.data)) : undefined))
      .catch(() => undefined);
  }

  private async keep(key: string, data: Buffer): Promise<void> {
    const { results } = this.database;
    if (data.length > MOST_BYTES) return;
    await results.upsert({ key, data, bytes: data.length, usedAt: new Date() });
    const held = (await results.findOne({ attributes: [[fn('SUM', col('bytes')), 'bytes']], raw: true }))?.bytes;
    let over = Number(held ?? 0) - ROOM;
    for (const { key: oldest, bytes } of over > 0
      ? await results.findAll({ attributes: ['key', 'bytes'], order: [['usedAt', 'ASC']] })
      : []) {
      if (over <= 0) break;
      await results.destroy({ where: { key: { [Op.eq]: oldest } } });
      over -= bytes;
    }
  }

  /** A result as it is kept, or null. */
  async find(key: string): Promise<Buffer | null> {
    const row = await this.database.results.findByPk(key);
    if (!row) return null;
    await this.database.results.update({ usedAt: new Date() }, { where: { key } });
    return row.data;
  }

  async close(): Promise<void> {
    await this.pool?.destroy();
  }
}

/** Results by what they go by, under /api/results: CBOR, packed by gzip. */
export function resultRoutes(results: RunResults): Router {
  const routes = Router();
  routes.get<{ key: string }>('/:key', async (request, response) => {
    const { key } = request.params;
    if (!/^[0-9a-f]{64}$/.test(key))
      throw new HttpProblem(400, 'Bad request', 'A result is asked for by the SHA-256 of what it goes by.');
    const data = await results.find(key);
    // That there is none yet is no failure.
    if (data === null) response.status(204).end();
    else response.type('application/gzip').send(data);
  });
  return routes;
}
