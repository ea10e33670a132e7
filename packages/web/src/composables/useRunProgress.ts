import { formatQuantity } from '@yoke/core';
import { computed } from 'vue';
import { useMachine } from '@/stores/machine';
import { useRun } from '@/stores/run';

/** How far the run under way is, in words: `37 %, about 4 s left; shown is its first second`. Empty where none is. */
export function useRunProgress() {
  const results = useRun();
  const machine = useMachine();
  return computed(() => {
    const { progress, remaining, begun } = results;
    if (progress === null) return '';
    const share = `${Math.round(progress * 100)} %`;
    const left = remaining === null ? '' : `, about ${Math.max(1, Math.round(remaining))} s left`;
    const beginning =
      begun === null
        ? ''
        : `; what is shown and can be played is its first ${formatQuantity(begun, 'time', machine.units, 2)}`;
    return share + left + beginning;
  });
}
