import { availableParallelism } from 'node:os';
import type { StudyDraw, StudyRun } from '@yoke/core';
import { Piscina } from 'piscina';
import type { StudyTask } from './study-worker';
import { threadOf } from './thread';

/** Longest time of one run, ms, and the memory of a thread, MB: beyond either the run is given up. */
const RUN_TIME = 10 * 60_000;
const RUN_MEMORY = 1536;

/** A study as far as the queue goes. */
export interface QueuedStudy {
  id: string;
  text: string;
  torques: boolean;
  /** Draws not yet run. */
  waiting: StudyDraw[];
  /** Takes each run as it is done. */
  take(run: StudyRun): Promise<void>;
  /** Told once: null when all runs are taken, else why it cannot go on. */
  end(problem: string | null): Promise<void>;
}

interface Entry {
  study: QueuedStudy;
  running: number;
  stop: AbortController;
  /** Count of the queue when it was served last: whoever waits longest is served next. */
  served: number;
  over: boolean;
}

/**
 * Shares the threads out among all studies, one run at a time: the study with the fewest runs under way goes next, so
 * that a single run never waits behind thousands of another study.
 */
export class StudyQueue {
  private readonly threads = Math.max(1, availableParallelism() - 1);
  private pool: Piscina<StudyTask, StudyRun> | null = null;
  private readonly entries = new Map<string, Entry>();
  private busy = 0;
  private count = 0;
  private closed = false;

  get size(): number {
    return this.entries.size;
  }

  add(study: QueuedStudy): void {
    this.entries.set(study.id, { study, running: 0, stop: new AbortController(), served: 0, over: false });
    this.fill();
  }

  /** Ends a study before it is through; runs under way are given up. */
  cancel(id: string): void {
    const entry = this.entries.get(id);
    if (!entry) return;
    entry.over = true;
    this.entries.delete(id);
    entry.stop.abort();
  }

  /** Ends the threads; what is not through is gone on with when the server starts again. */
  async close(): Promise<void> {
    this.closed = true;
    for (const entry of this.entries.values()) entry.over = true;
    this.entries.clear();
    const { pool } = this;
    this.pool = null;
    await pool?.destroy();
  }

  private fill(): void {
    while (!this.closed && this.busy < this.threads) {
      const next = [...this.entries.values()]
        .filter(({ study }) => study.waiting.length > 0)
        .sort((a, b) => a.running - b.running || a.served - b.served)[0];
      if (!next) return;
      void this.run(next, next.study.waiting.shift()!);
    }
  }

  private async run(entry: Entry, draw: StudyDraw): Promise<void> {
    const { study, stop } = entry;
    entry.running++;
    entry.served = ++this.count;
    this.busy++;
    let problem: string | null = null;
    let late = false;
    const limit = new AbortController();
    const giveUp = () => limit.abort();
    stop.signal.addEventListener('abort', giveUp, { once: true });
    const timer = setTimeout(() => {
      late = true;
      limit.abort();
    }, RUN_TIME);
    try {
      this.pool ??= makePool(this.threads);
      const task = { study: study.id, text: study.text, draw, torques: study.torques };
      const run = await this.pool.run(task, { signal: limit.signal });
      if (!entry.over) await study.take(run);
    } catch (error) {
      const { code, message } = error as Error & { code?: string };
      const which = `Run ${draw.number + 1} (seed ${draw.seed})`;
      problem = late
        ? `${which} took longer than ${RUN_TIME / 60_000} minutes, so the study ends here.`
        : code === 'ERR_WORKER_OUT_OF_MEMORY'
          ? `${which} took more than ${RUN_MEMORY} MB of memory, so the study ends here.`
          : `${which} failed, so the study ends here: ${message.slice(0, 300)}`;
    } finally {
      clearTimeout(timer);
      stop.signal.removeEventListener('abort', giveUp);
      entry.running--;
      this.busy--;
    }
    if (!entry.over && (problem !== null || (entry.running === 0 && study.waiting.length === 0))) {
      entry.over = true;
      this.entries.delete(study.id);
      stop.abort();
      await study.end(problem).catch(() => undefined);
    }
    this.fill();
  }
}

function makePool(threads: number): Piscina<StudyTask, StudyRun> {
  return new Piscina<StudyTask, StudyRun>({
    ...threadOf('study-worker'),
    minThreads: 0,
    maxThreads: threads,
    idleTimeout: 60_000,
    resourceLimits: { maxOldGenerationSizeMb: RUN_MEMORY },
  });
}
