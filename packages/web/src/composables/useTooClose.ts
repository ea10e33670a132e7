import { formatQuantity, tooCloseAt, type CycleRecord, type Machine } from '@yoke/core';
import { computed } from 'vue';
import { useClearance } from '@/stores/clearance';
import { useCursor } from '@/stores/cursor';

/** What is nearer to each other at the cursor than it may be: bodies and axes, and what there is to say of it. */
export function useTooClose(machine: () => Machine | null, record: () => CycleRecord | null) {
  const cursor = useCursor();
  const clearance = useClearance();
  const found = computed(() => {
    const [document, of] = [machine(), record()];
    return document && of ? tooCloseAt(document.sequence, of.clearances, cursor.time) : [];
  });
  return {
    /** Identifiers of the bodies and axes. */
    close: computed(() => [...found.value.flatMap(({ a, b }) => [a, b]), ...(clearance.looked ?? [])]),
    words: computed(() =>
      found.value
        .map(
          ({ name, clearance }) =>
            `${name}: ${clearance > 0 ? `${formatQuantity(clearance, 'length', machine()!.units, 3)} apart` : 'they touch'}`,
        )
        .join('; '),
    ),
  };
}
