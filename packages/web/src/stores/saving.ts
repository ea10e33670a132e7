import type { Machine } from '@yoke/core';
import { ref, type Ref, type ShallowRef } from 'vue';
import type { ApiProblem } from '@/api/client';
import { api } from '@/api/client';
import { dropDraft, keepDraft } from '@/lib/drafts';

/** Where the document stands against the server. */
export type SaveState =
  | { kind: 'saved' }
  | { kind: 'waiting' }
  | { kind: 'saving' }
  | { kind: 'offline'; message: string }
  | { kind: 'conflict' }
  | { kind: 'gone' }
  | { kind: 'refused'; message: string };

/** Rest after the last change before it is saved, ms. */
const REST = 500;
/** Between two tries while the server is out of reach, ms. */
const RETRY = 3000;

/**
 * Saves a document by itself, a moment after each change. Every save names the revision it started from,
 * so a change made elsewhere is never overwritten unseen: it shows as `conflict` instead. Until the server has
 * acknowledged a change, the browser keeps it.
 */
export function useSaving(id: Ref<string | null>, document: ShallowRef<Machine | null>) {
  const state = ref<SaveState>({ kind: 'saved' });
  let revision = 0;
  let timer: ReturnType<typeof setTimeout> | undefined;
  let running: Promise<void> | null = null;
  let unsaved = false;

  // Windows of one browser tell each other of saves, so that a clean window follows at once.
  const others = typeof BroadcastChannel === 'undefined' ? null : new BroadcastChannel('yoke-saves');
  const listeners = new Set<() => void>();
  others?.addEventListener('message', ({ data }: MessageEvent<{ id: string; revision: number }>) => {
    if (data.id !== id.value || data.revision <= revision) return;
    if (unsaved || running) state.value = { kind: 'conflict' };
    else for (const listener of listeners) listener();
  });

  let keeping: Promise<void> | null = null;
  /** Keeps the newest document in the browser; while one is being written only the newest waits. */
  function keep(): void {
    if (keeping) return;
    keeping = Promise.resolve().then(async () => {
      let kept: Machine | null = null;
      while (unsaved && id.value && document.value && document.value !== kept) {
        kept = document.value;
        await keepDraft({ machineId: id.value, document: kept, revision, at: Date.now() });
      }
      keeping = null;
    });
  }
  async function forget(machineId: string): Promise<void> {
    await keeping;
    if (!unsaved) await dropDraft(machineId);
  }

  function schedule(delay: number): void {
    clearTimeout(timer);
    timer = setTimeout(() => void flush(), delay);
  }

  function blocked(): boolean {
    return state.value.kind === 'conflict' || state.value.kind === 'gone';
  }

  async function send(): Promise<void> {
    const machineId = id.value;
    const machine = document.value;
    if (!machineId || !machine) return;
    unsaved = false;
    state.value = { kind: 'saving' };
    try {
      revision = await api.saveMachine(machineId, machine, revision);
      others?.postMessage({ id: machineId, revision });
      state.value = unsaved ? { kind: 'waiting' } : { kind: 'saved' };
      if (unsaved) schedule(REST);
      else void forget(machineId);
    } catch (error) {
      unsaved = true;
      const { status, message } = error as ApiProblem;
      if (status === 412) state.value = { kind: 'conflict' };
      else if (status === 404) state.value = { kind: 'gone' };
      else if (status === 422) state.value = { kind: 'refused', message };
      else {
        state.value = { kind: 'offline', message };
        schedule(RETRY);
      }
    }
  }

  /** Saves at once what has not been saved. */
  async function flush(): Promise<void> {
    clearTimeout(timer);
    if (running) await running;
    if (!unsaved || blocked()) return;
    running = send().finally(() => (running = null));
    await running;
  }

  /** Starts anew from a document just read at this revision. */
  function begin(seen: number): void {
    clearTimeout(timer);
    revision = seen;
    unsaved = false;
    state.value = { kind: 'saved' };
  }

  function end(): void {
    clearTimeout(timer);
    unsaved = false;
    state.value = { kind: 'saved' };
  }

  function changed(): void {
    unsaved = true;
    keep();
    if (blocked()) return;
    if (state.value.kind !== 'saving') state.value = { kind: 'waiting' };
    schedule(REST);
  }

  /** Resolves a conflict in favour of this window, on purpose. */
  async function overwrite(): Promise<void> {
    if (!id.value) return;
    const seen = await api.readMachine(id.value);
    begin(seen.revision);
    unsaved = true;
    await flush();
  }

  if (typeof window !== 'undefined')
    window.addEventListener('beforeunload', (event) => {
      if (!unsaved && !running) return;
      void flush();
      event.preventDefault();
    });

  return { state, begin, end, changed, flush, overwrite, onNewer: (listener: () => void) => listeners.add(listener) };
}
