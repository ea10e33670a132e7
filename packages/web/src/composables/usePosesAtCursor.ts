import { posesAt, type Pose } from '@yoke/core';
import { computed } from 'vue';
import { useCursor } from '@/stores/cursor';
import { useRun } from '@/stores/run';

/** Poses of the bodies of the run's machine at the cursor; one that could not be made into equations stands as drawn. */
export function usePosesAtCursor() {
  const results = useRun();
  const cursor = useCursor();
  return computed<Pose[]>(() => {
    const found = results.run ? posesAt(results.run, cursor.time) : [];
    return found.length > 0 ? found : (results.document?.mechanism.bodies.map(({ pose }) => pose) ?? []);
  });
}
