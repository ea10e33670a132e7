import { shallowRef, watch, type ShallowRef } from 'vue';
import { useMachine } from '@/stores/machine';

/**
 * A value that is true of the machine as it is: with the next change, be it undo, it is taken back. What is said of an
 * edit is set after the edit.
 */
export function useUntilChanged<T>(none: T): ShallowRef<T> {
  const machine = useMachine();
  const value: ShallowRef<T> = shallowRef(none);
  watch(
    () => machine.document,
    () => (value.value = none),
    { flush: 'sync' },
  );
  return value;
}
