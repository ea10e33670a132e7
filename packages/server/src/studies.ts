import { randomUUID } from 'node:crypto';
import { availableParallelism } from 'node:os';
import { Router } from 'express';
import { studyDraws, type Machine, type StudyRun } from '@yoke/core';
import { Piscina } from 'piscina';
import { z } from 'zod';
import { readBody } from './machines';
import { HttpProblem } from './problem';
import type { StudyTask } from './study-worker';

/** What a study asks for. */
export const studySchema = z.strictObject({
  runs: z.int().min(1).max(2000),
  seed: z.int().min(0).max(4_294_967_295),
  sensorDelay: z.number().min(0).max(10).meta({ description: 'Largest extra delay of each change of a sensor, s' }),
  friction: z.number().min(0).max(0.9).meta({ description: 'Largest share by which friction differs' }),
  torques: z.boolean().meta({ description: 'Whether torques are computed too' }),
});

interface Study {
  total: number;
  runs: StudyRun[];
  state: 'running' | 'done' | 'cancelled' | 'failed';
  problem: string | null;
  stop: AbortController;
  /** When it was last asked for; those that nobody asks for are forgotten. */
  asked: number;
}

/** Runs handed to a thread at a time: the document is sent along with each. */
const AT_A_TIME = 4;
/** Studies kept, and how long without being asked for, in ms. */
const MOST_KEPT = 20;
const KEPT_FOR = 30 * 60_000;

let pool: Piscina<StudyTask, StudyRun[]> | null = null;

/** The pool of threads, made when it is first needed; one thread is left to the server itself. */
function thePool(): Piscina<StudyTask, StudyRun[]> {
  pool ??= new Piscina<StudyTask, StudyRun[]>({
    filename: new URL('./study-worker.ts', import.meta.url).href,
    minThreads: 0,
    maxThreads: Math.max(1, availableParallelism() - 1),
    idleTimeout: 60_000,
    execArgv: ['--import', 'tsx'],
  });
  return pool;
}

/** Ends the threads. */
export async function closeStudies(): Promise<void> {
  await pool?.destroy();
  pool = null;
}

/** Many runs of one machine with scattered values, under /api/studies: begun, asked for, cancelled. */
export function studyRoutes(): Router {
  const routes = Router();
  const studies = new Map<string, Study>();

  function forgetOld(): void {
    const now = Date.now();
    for (const [id, study] of studies)
      if (study.state !== 'running' && (now - study.asked > KEPT_FOR || studies.size > MOST_KEPT)) studies.delete(id);
  }
  const find = (id: string): Study => {
    const study = studies.get(id);
    if (!study) throw new HttpProblem(404, 'Not found', 'There is no such study any more: begin it again.');
    study.asked = Date.now();
    return study;
  };
  const shown = (id: string, { total, runs, state, problem }: Study) => ({
    id,
    total,
    done: runs.length,
    state,
    problem,
    runs,
  });

  async function work(study: Study, machine: Machine, wishes: z.infer<typeof studySchema>): Promise<void> {
    const draws = studyDraws(wishes);
    const { signal } = study.stop;
    const tasks: Promise<void>[] = [];
    for (let i = 0; i < draws.length; i += AT_A_TIME)
      tasks.push(
        thePool()
          .run({ machine, draws: draws.slice(i, i + AT_A_TIME), torques: wishes.torques }, { signal })
          .then((done) => void study.runs.push(...done)),
      );
    try {
      await Promise.all(tasks);
      study.state = 'done';
    } catch (error) {
      if (!signal.aborted) {
        study.problem = (error as Error).message;
        study.state = 'failed';
        study.stop.abort();
      }
      await Promise.allSettled(tasks);
    }
    study.runs.sort((a, b) => a.number - b.number);
  }

  routes.post('/', (request, response) => {
    const { document, wishes } = (request.body ?? {}) as { document?: unknown; wishes?: unknown };
    const machine = readBody(document);
    const read = studySchema.safeParse(wishes);
    if (!read.success) {
      const { path, message } = read.error.issues[0]!;
      throw new HttpProblem(422, 'Not a valid study', `wishes.${path.join('.')}: ${message}`);
    }
    forgetOld();
    const id = randomUUID();
    const study: Study = {
      total: read.data.runs,
      runs: [],
      state: 'running',
      problem: null,
      stop: new AbortController(),
      asked: Date.now(),
    };
    studies.set(id, study);
    void work(study, machine, read.data);
    response.status(202).location(`/api/studies/${id}`).json(shown(id, study));
  });

  routes.get<{ id: string }>('/:id', (request, response) => {
    response.json(shown(request.params.id, find(request.params.id)));
  });

  routes.delete<{ id: string }>('/:id', (request, response) => {
    const study = find(request.params.id);
    if (study.state === 'running') study.state = 'cancelled';
    study.stop.abort();
    response.status(204).end();
  });
  return routes;
}
