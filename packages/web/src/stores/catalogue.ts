import type { Motor } from '@yoke/core';
import { defineStore } from 'pinia';
import { ref, shallowRef } from 'vue';
import { api, type ApiProblem, type Catalogue } from '@/api/client';

/** The motor catalogue of the server. */
export const useCatalogue = defineStore('catalogue', () => {
  const motors = shallowRef<Motor[]>([]);
  /** Motors of the catalogue before the last change, which undoing brings back; null where there is none. */
  const former = ref<number | null>(null);
  const state = ref<'empty' | 'loading' | 'ready' | 'failed'>('empty');
  const message = ref('');

  async function take(source: Promise<Catalogue>): Promise<string | null> {
    try {
      const read = await source;
      motors.value = read.motors;
      former.value = read.former;
      state.value = 'ready';
      message.value = '';
      return null;
    } catch (error) {
      message.value = (error as Error).message;
      if (state.value === 'loading') state.value = 'failed';
      return message.value;
    }
  }

  async function load(): Promise<void> {
    if (state.value === 'ready' || state.value === 'loading') return;
    state.value = 'loading';
    await take(api.listMotors());
  }

  /** A change of the catalogue; gives a sentence where it failed, which says what became of the catalogue. */
  async function change(source: Promise<Catalogue>): Promise<string | null> {
    const problem = await source.then(
      () => null,
      (error: ApiProblem) => error,
    );
    if (problem === null) return take(source);
    if (!problem.outcomeUnknown) return `Nothing was changed. ${problem.message}`;
    // Whether the server had made the change before it failed shows in the catalogue it has now.
    const seen = await take(api.listMotors());
    return seen === null
      ? `${problem.message} The catalogue is shown as the server has it now.`
      : `${problem.message} Whether the catalogue was changed will show when the server answers again.`;
  }

  return {
    motors,
    former,
    state,
    message,
    load,
    /** Reads a CSV into the catalogue. */
    importCsv: (csv: string, mode: 'extend' | 'replace') => change(api.importMotors(csv, mode)),
    reset: () => change(api.resetMotors()),
    undo: () => change(api.undoMotors()),
  };
});
