import type { Machine } from '@yoke/core';
import { createStore, del, entries, get, set, type UseStore } from 'idb-keyval';

/** A document as it stood in a window, kept in the browser until the server has acknowledged it. */
export interface Draft {
  machineId: string;
  document: Machine;
  /** Revision of the server it was edited from. */
  revision: number;
  /** When it was kept, ms since 1970. */
  at: number;
}

/** A draft that no open window works on, with the key it is kept under. */
export type FoundDraft = Draft & { key: string };

/** How long a draft that nobody has asked for stays, ms: as long as a deleted machine. */
const KEPT_FOR = 30 * 86_400_000;

const here = typeof indexedDB !== 'undefined';
let store: UseStore | null = null;
const theStore = (): UseStore => (store ??= createStore('yoke-drafts', 'drafts'));

/** This window's name, the same after it was loaded anew. */
function windowName(): string {
  const known = sessionStorage.getItem('yoke-window');
  if (known) return known;
  const name = `w${Date.now().toString(36)}${Math.random().toString(36).slice(2, 8)}`;
  sessionStorage.setItem('yoke-window', name);
  return name;
}

const lockOf = (name: string) => `yoke-window-${name}`;
let own: string | null = null;

/**
 * Says under a lock that this window is open, so that no other one offers what it is working on. A window that was
 * duplicated has the name of the one it came from, which holds the lock: then it takes a new one.
 */
async function ownName(): Promise<string> {
  if (own !== null) return own;
  own = windowName();
  if (!('locks' in navigator)) return own;
  const hold = (name: string) =>
    new Promise<boolean>((resolve) => {
      void navigator.locks.request(lockOf(name), { ifAvailable: true }, (lock) => {
        resolve(lock !== null);
        // Held as long as the window is open.
        return lock === null ? undefined : new Promise(() => undefined);
      });
    });
  if (!(await hold(own))) {
    sessionStorage.removeItem('yoke-window');
    own = windowName();
    await hold(own);
  }
  return own;
}

async function openWindows(): Promise<Set<string>> {
  if (!('locks' in navigator)) return new Set();
  const { held = [] } = await navigator.locks.query();
  return new Set(held.map(({ name }) => name ?? ''));
}

const keyOf = (machineId: string, name: string) => `${machineId}/${name}`;

/** Keeps the document of this window. Never fails: a browser without room or storage keeps nothing. */
export async function keepDraft(draft: Draft): Promise<void> {
  if (!here) return;
  try {
    await set(keyOf(draft.machineId, await ownName()), draft, theStore());
  } catch {
    // Saving to the server goes on by itself; only the second net is missing.
  }
}

/** Forgets the draft of this window, or one that was found. */
export async function dropDraft(machineId: string, key?: string): Promise<void> {
  if (!here) return;
  try {
    await del(key ?? keyOf(machineId, await ownName()), theStore());
  } catch {
    // It is held against the server's document when it is found again.
  }
}

/** The newest draft of a machine that no open window works on, with its key; null where there is none. */
export async function findDraft(machineId: string): Promise<FoundDraft | null> {
  if (!here) return null;
  try {
    const mine = keyOf(machineId, await ownName());
    const open = await openWindows();
    const kept = await entries<string, Draft>(theStore());
    for (const [key, { at }] of kept) if (Date.now() - at > KEPT_FOR) await del(key, theStore());
    const found = kept.filter(
      ([key]) =>
        key === mine || (key.startsWith(`${machineId}/`) && !open.has(lockOf(key.slice(machineId.length + 1)))),
    );
    const [newest] = found.sort(([, a], [, b]) => b.at - a.at);
    if (!newest) return null;
    const draft = await get<Draft>(newest[0], theStore());
    return draft ? { ...draft, key: newest[0] } : null;
  } catch {
    return null;
  }
}
