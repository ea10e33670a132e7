import { StorageSerializers, useLocalStorage, usePreferredDark } from '@vueuse/core';
import { defineStore } from 'pinia';
import { computed } from 'vue';

/** What this browser remembers of its user: theme and folded parts. */
export const usePreferences = defineStore('preferences', () => {
  const theme = useLocalStorage<'light' | 'dark' | 'system'>('yoke-theme', 'light');
  /** Whether the cycle diagram is folded, by stage: as it was last wished there; else it suits the window. */
  const diagramFolds = useLocalStorage<Record<string, boolean>>('yoke-diagram-folds', {});
  /** Whether this browser has been shown the demonstration on its first start. */
  const welcomed = useLocalStorage('yoke-welcomed', false);
  /** Whether the cycle gets longer by itself when a motion that is edited needs more time. */
  const cycleFollows = useLocalStorage('yoke-cycle-follows', false);
  /** Width of new bars, m; null for one by their length. */
  const barWidth = useLocalStorage<number | null>('yoke-bar-width', null, { serializer: StorageSerializers.number });
  /** Whether centres of mass are drawn on the board. */
  const massCentres = useLocalStorage('yoke-mass-centres', false);
  /** Sizes of the parts of Run that were dragged, as shares of the window; null as they come. */
  const runWidth = useLocalStorage<number | null>('yoke-run-width', null, { serializer: StorageSerializers.number });
  const runHeight = useLocalStorage<number | null>('yoke-run-height', null, { serializer: StorageSerializers.number });
  /** The walk that is gone, “choose” while none is chosen, null where the guide is closed. */
  const walk = useLocalStorage<string | null>('yoke-walk', null, { serializer: StorageSerializers.string });
  const prefersDark = usePreferredDark();
  const dark = computed(() => theme.value === 'dark' || (theme.value === 'system' && prefersDark.value));
  return { theme, dark, diagramFolds, welcomed, cycleFollows, barWidth, massCentres, runWidth, runHeight, walk };
});
