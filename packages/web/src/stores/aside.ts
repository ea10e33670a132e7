import type {
  AxisKind,
  ForceTable,
  Machine,
  Mechanism,
  OtherPose,
  OutlineDrawing,
  ReadResult,
  SheetFinding,
  UnitSystem,
} from '@yoke/core';
import { proxy, transfer, wrap, type Remote } from 'comlink';
import { defineStore } from 'pinia';
import { ref, toRaw } from 'vue';
import type { ExaminedSolid, MachineZip } from '@yoke/core/geometry-file';
import type { AsideWorker } from '@/worker/aside';
import type { GeometryFileWorker, UnitQuestion } from '@/worker/geometry-file';

/** Reading was given up by the engineer. */
export class ReadingCancelled extends Error {
  override name = 'ReadingCancelled';
}

interface Helper<W = AsideWorker> {
  thread: Worker;
  remote: Remote<W>;
}

function start(): Helper {
  const thread = new Worker(new URL('../worker/aside.ts', import.meta.url), { type: 'module' });
  return { thread, remote: wrap<AsideWorker>(thread) };
}
function startGeometry(): Helper<GeometryFileWorker> {
  const thread = new Worker(new URL('../worker/geometry-file.ts', import.meta.url), { type: 'module' });
  return { thread, remote: wrap<GeometryFileWorker>(thread) };
}

/** Largest file of geometry that is opened, bytes. */
const GEOMETRY_MOST = 200e6;
/** Longest time that reading a file of geometry may take, ms: a file may keep its reader busy for ever. */
const LONGEST_READING = 10 * 60_000;

/** Files that are read, checks and searches that are made, beside the page: nothing sent or drawn can hold it up. */
export const useAside = defineStore('aside', () => {
  /** The file being read with the share done, from 0 to 1; null while none is. */
  const reading = ref<{ name: string; share: number } | null>(null);
  let reader: Pick<Helper, 'thread'> | null = null;
  let checker: Helper | null = null;
  let giveUp: ((reason: Error) => void) | null = null;

  /** Reads in a thread of its own, which ends with the reading: it may have taken much memory. */
  const read = <T>(name: string, task: (remote: Remote<AsideWorker>) => Promise<T>): Promise<T> =>
    readWith(start, name, task);
  async function readWith<W, T>(
    begin: () => Helper<W>,
    name: string,
    task: (remote: Remote<W>) => Promise<T>,
  ): Promise<T> {
    cancel();
    const own = begin();
    reader = own;
    reading.value = { name, share: 0 };
    try {
      return await Promise.race([
        task(own.remote),
        new Promise<never>((_resolve, reject) => {
          giveUp = reject;
          own.thread.addEventListener('error', () =>
            reject(new Error('The file took more memory than there is: save only the parts that are needed.')),
          );
        }),
      ]);
    } finally {
      own.thread.terminate();
      if (reader === own) {
        reader = null;
        giveUp = null;
        reading.value = null;
      }
    }
  }

  function cancel(): void {
    giveUp?.(new ReadingCancelled('Reading was cancelled.'));
  }

  /**
   * Reads a file of geometry.
   * @param askUnit asked where the file does not say what one is; answers metres
   */
  async function readGeometry(
    file: File,
    askUnit: (question: UnitQuestion) => Promise<number>,
  ): Promise<{ solids: ExaminedSolid[]; notes: string[]; content: Uint8Array<ArrayBuffer> }> {
    if (file.size > GEOMETRY_MOST)
      throw new Error(`${file.name} has ${Math.round(file.size / 1e6)} MB, of ${GEOMETRY_MOST / 1e6} at most: save it coarser, or in parts.`); // prettier-ignore
    const bytes = new Uint8Array(await file.arrayBuffer());
    let limit: ReturnType<typeof setTimeout> | undefined;
    const begun = () => {
      clearTimeout(limit);
      limit = setTimeout(() => giveUp?.(new Error(`Reading ${file.name} took longer than ${LONGEST_READING / 60_000} minutes, so it was given up: save it coarser, or in parts.`)), LONGEST_READING); // prettier-ignore
    };
    begun();
    try {
      return await readWith(startGeometry, file.name, async (remote) => {
        const told = await remote.read(
          transfer(bytes, [bytes.buffer]),
          file.name,
          proxy(async (question: UnitQuestion) => {
            // Whoever is asked has all the time that is wanted.
            clearTimeout(limit);
            const answer = await askUnit(question);
            begun();
            return answer;
          }),
          proxy((share: number) => {
            if (reading.value?.name === file.name) reading.value = { name: file.name, share };
          }),
        );
        return { ...told, content: new Uint8Array(told.content) };
      });
    } finally {
      clearTimeout(limit);
    }
  }

  /** Opens a machine that was saved with its shapes. */
  async function readZip(file: File): Promise<MachineZip> {
    const bytes = new Uint8Array(await file.arrayBuffer());
    return readWith(startGeometry, file.name, (remote) => remote.readZip(transfer(bytes, [bytes.buffer])));
  }

  const readDrawing = (text: string, name: string): Promise<OutlineDrawing> =>
    read(name, (remote) =>
      remote.readDrawing(
        text,
        name,
        proxy((share: number) => {
          if (reading.value?.name === name) reading.value = { name, share };
        }),
      ),
    );
  const readMachine = (text: string, name: string): Promise<ReadResult> =>
    read<ReadResult>(name, async (remote) => remote.readMachine(text));

  const readForceTable = (text: string, name: string, kind: AxisKind, units: UnitSystem): Promise<ForceTable> =>
    read<ForceTable>(name, async (remote) => remote.readForceTable(text, kind, units));

  async function checkSheet({ sequence, axes }: Machine): Promise<SheetFinding[]> {
    checker ??= start();
    return checker.remote.checkSheet({ sequence, axes });
  }

  async function otherClosures(m: Mechanism, joint: string, driven: readonly string[]): Promise<OtherPose[] | string> {
    checker ??= start();
    return checker.remote.otherClosures(toRaw(m), joint, [...driven]);
  }

  return {
    reading,
    readGeometry,
    readZip,
    readDrawing,
    readMachine,
    readForceTable,
    cancel,
    checkSheet,
    otherClosures,
  };
});
