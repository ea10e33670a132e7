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
import { proxy, wrap, type Remote } from 'comlink';
import { defineStore } from 'pinia';
import { ref, toRaw } from 'vue';
import type { AsideWorker } from '@/worker/aside';

/** Reading was given up by the engineer. */
export class ReadingCancelled extends Error {
  override name = 'ReadingCancelled';
}

interface Helper {
  thread: Worker;
  remote: Remote<AsideWorker>;
}

function start(): Helper {
  const thread = new Worker(new URL('../worker/aside.ts', import.meta.url), { type: 'module' });
  return { thread, remote: wrap<AsideWorker>(thread) };
}

/** Files that are read, checks and searches that are made, beside the page: nothing sent or drawn can hold it up. */
export const useAside = defineStore('aside', () => {
  /** The file being read with the share done, from 0 to 1; null while none is. */
  const reading = ref<{ name: string; share: number } | null>(null);
  let reader: Helper | null = null;
  let checker: Helper | null = null;
  let giveUp: ((reason: Error) => void) | null = null;

  /** Reads in a thread of its own, which ends with the reading: it may have taken much memory. */
  async function read<T>(name: string, task: (remote: Remote<AsideWorker>) => Promise<T>): Promise<T> {
    cancel();
    const own = start();
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

  return { reading, readDrawing, readMachine, readForceTable, cancel, checkSheet, otherClosures };
});
