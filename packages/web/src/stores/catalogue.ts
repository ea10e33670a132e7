import type { Motor } from '@yoke/core';
import { defineStore } from 'pinia';
import { ref, shallowRef } from 'vue';
import { api } from '@/api/client';

/** The motor catalogue of the server. */
export const useCatalogue = defineStore('catalogue', () => {
  const motors = shallowRef<Motor[]>([]);
  const state = ref<'empty' | 'loading' | 'ready' | 'failed'>('empty');
  const message = ref('');

  async function take(source: Promise<Motor[]>): Promise<string | null> {
    try {
      motors.value = await source;
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

  return {
    motors,
    state,
    message,
    load,
    /** Reads a CSV into the catalogue; gives a sentence where it is refused, and then nothing has changed. */
    importCsv: (csv: string, mode: 'extend' | 'replace') => take(api.importMotors(csv, mode)),
    reset: () => take(api.resetMotors()),
  };
});
