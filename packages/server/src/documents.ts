import { MessageChannel } from 'node:worker_threads';
import type { Motor } from '@yoke/core';
import { Piscina } from 'piscina';
import type { ReadAnswer, ReadDocument, ReadOrder, ReadTask } from './document-worker';
import { HttpProblem } from './problem';
import { threadOf } from './thread';

export type { ReadDocument };

/** Longest time that reading one upload may take, ms, and the memory it may use, MB. */
const READ_TIME = 20_000;
const READ_MEMORY = 768;
/** Longest wait for a thread that reads, ms. */
const LONGEST_WAIT = 120_000;
/** Uploads that wait for a thread at most; beyond that the server says that it is busy. */
const MOST_WAITING = 50;

let pool: Piscina<ReadOrder, ReadAnswer> | null = null;

function thePool(): Piscina<ReadOrder, ReadAnswer> {
  pool ??= new Piscina<ReadOrder, ReadAnswer>({
    ...threadOf('document-worker'),
    minThreads: 1,
    maxThreads: 2,
    maxQueue: MOST_WAITING,
    idleTimeout: 60_000,
    resourceLimits: { maxOldGenerationSizeMb: READ_MEMORY },
  });
  return pool;
}

/** Starts the first thread, so that the first upload does not wait for it. */
export const warmReaders = (): void => void thePool();

/** Ends the threads that read uploads. */
export async function closeReaders(): Promise<void> {
  const ending = pool;
  pool = null;
  await ending?.destroy();
}

async function ask(task: ReadTask): Promise<Extract<ReadAnswer, { ok: true }>> {
  const limit = new AbortController();
  const { port1, port2 } = new MessageChannel();
  let timer = setTimeout(() => limit.abort(), LONGEST_WAIT);
  let reading = false;
  // Waiting for a thread, and its start, are the server's affair and not that of what was sent.
  port1.once('message', () => {
    reading = true;
    clearTimeout(timer);
    timer = setTimeout(() => limit.abort(), READ_TIME);
  });
  let answer: ReadAnswer;
  try {
    answer = await thePool().run({ task, begun: port2 }, { signal: limit.signal, transferList: [port2] });
  } catch (error) {
    const { message, code, name } = error as Error & { code?: string };
    if (name === 'AbortError' && limit.signal.aborted && reading)
      throw new HttpProblem(
        422,
        'Takes too long',
        `Reading this took longer than ${READ_TIME / 1000} s, so it was given up: send less at a time.`,
      );
    if (name === 'AbortError' && limit.signal.aborted)
      throw new HttpProblem(503, 'Busy', 'The server has too much to do to read this just now. Try again in a moment.');
    if (code === 'ERR_WORKER_OUT_OF_MEMORY')
      throw new HttpProblem(422, 'Too large', `Reading this took more than ${READ_MEMORY} MB: send less at a time.`);
    if (/queue/i.test(message))
      throw new HttpProblem(503, 'Busy', 'Many uploads are being read just now. Try again in a moment.');
    throw error;
  } finally {
    clearTimeout(timer);
    port1.close();
  }
  if (answer.ok) return answer;
  const { status, detail, problems } = answer;
  throw new HttpProblem(
    status,
    status === 400 ? 'Bad request' : 'Not valid',
    detail,
    problems ? { problems: problems.slice(0, 100) } : {},
  );
}

function documentOf(answer: Extract<ReadAnswer, { ok: true }>) {
  if ('motors' in answer) throw new Error('A catalogue was read where a document was wanted.');
  return answer;
}

/** Checks a machine document sent as text. @throws HttpProblem 400 or 422 that names the culprit */
export async function readDocument(text: unknown): Promise<ReadDocument> {
  return documentOf(await ask({ read: 'machine', text: String(text) })).document;
}

/** A kept document under another name. */
export async function renamedDocument(text: string, name: string): Promise<ReadDocument> {
  return documentOf(await ask({ read: 'renamed', text, name })).document;
}

/** Checks a body that has a machine document in one of its members; the others are given back as they are. */
export async function readBodyWith(
  text: unknown,
  part: string,
): Promise<{ document: ReadDocument; rest: Record<string, unknown>; beyondBudget: string | null }> {
  return documentOf(await ask({ read: 'parts', text: String(text), part }));
}

/** Reads a motor catalogue. @throws HttpProblem 422 that names row and column */
export async function readMotors(text: string): Promise<Motor[]> {
  const answer = await ask({ read: 'catalogue', text });
  if (!('motors' in answer)) throw new Error('A document was read where a catalogue was wanted.');
  return answer.motors;
}
