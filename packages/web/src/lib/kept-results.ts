import type { KeptResult } from '@yoke/core';
import { createStore, del, get, set, update, type UseStore } from 'idb-keyval';

/** Where results lie. */
export interface ResultStorage {
  get(key: string): Promise<unknown>;
  set(key: string, value: unknown): Promise<void>;
  del(key: string): Promise<void>;
  /** Changes a value in one go, other windows waiting meanwhile. */
  update(key: string, change: (value: unknown) => unknown): Promise<void>;
}

/** Results in the browser's database. */
export function browserStorage(): ResultStorage | null {
  if (typeof indexedDB === 'undefined') return null;
  let store: UseStore | null = null;
  const theStore = () => (store ??= createStore('yoke-results', 'results'));
  return {
    get: (key) => get(key, theStore()),
    set: (key, value) => set(key, value, theStore()),
    del: (key) => del(key, theStore()),
    update: (key, change) => update(key, change, theStore()),
  };
}

interface Entry {
  key: string;
  bytes: number;
  /** When it was asked for last, ms since 1970. */
  used: number;
}

const INDEX = 'index';

/** Bytes of all arrays of numbers in a value: nearly all that it takes. */
export function bytesIn(value: unknown): number {
  if (ArrayBuffer.isView(value)) return value.byteLength;
  if (typeof value !== 'object' || value === null) return 16;
  let sum = 0;
  for (const inner of Array.isArray(value) ? value : Object.values(value)) sum += bytesIn(inner);
  return sum;
}

/**
 * Results of runs, kept by what they were computed from. A run is deterministic, so what was kept is what would be
 * computed; the ones not asked for longest go first. Never fails: without room or storage it keeps nothing.
 */
export class KeptResults {
  /** @param room bytes that all results may take together */
  constructor(
    private readonly storage: ResultStorage | null,
    private readonly room = 500e6,
    private readonly now: () => number = Date.now,
  ) {}

  async find(key: string): Promise<KeptResult | null> {
    if (!this.storage) return null;
    try {
      const found = (await this.storage.get(`run:${key}`)) as KeptResult | undefined;
      if (!found) return null;
      await this.storage.update(INDEX, (index) =>
        entriesOf(index).map((entry) => (entry.key === key ? { ...entry, used: this.now() } : entry)),
      );
      return found;
    } catch {
      return null;
    }
  }

  async keep(key: string, { run, record }: KeptResult): Promise<void> {
    const { storage } = this;
    const bytes = bytesIn({ run, record });
    if (!storage || bytes > this.room / 2) return;
    try {
      let gone: Entry[] = [];
      await storage.update(INDEX, (index) => {
        const others = entriesOf(index)
          .filter((entry) => entry.key !== key)
          .sort((a, b) => b.used - a.used);
        let left = this.room - bytes;
        const kept = others.filter((entry) => (left -= entry.bytes) >= 0);
        gone = others.filter((entry) => !kept.includes(entry));
        return [{ key, bytes, used: this.now() }, ...kept];
      });
      for (const { key: old } of gone) await storage.del(`run:${old}`);
      await storage.set(`run:${key}`, { run, record });
    } catch {
      // It is computed again next time.
    }
  }
}

const entriesOf = (index: unknown): Entry[] => (Array.isArray(index) ? (index as Entry[]) : []);
