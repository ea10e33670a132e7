import { formatQuantity } from '@yoke/core';
import { computed } from 'vue';
import { useClearance } from '@/stores/clearance';
import { useMachine } from '@/stores/machine';

/** A line between the nearest places of two bodies, in the world, m, with how long it is in words. */
export interface Gap {
  from: [number, number, number];
  to: [number, number, number];
  text: string;
}

/** The pair whose clearance is looked at: what lights up, and the line between its nearest places. */
export function useGap() {
  const clearance = useClearance();
  const machine = useMachine();
  const gap = computed<Gap | null>(() => {
    const { now } = clearance;
    if (!now) return null;
    return {
      from: [...now.onFirst],
      to: [...now.onSecond],
      text: now.meets ? 'they touch' : formatQuantity(now.distance, 'length', machine.units, 3),
    };
  });
  return { gap, lit: computed<readonly string[]>(() => clearance.looked ?? []) };
}
