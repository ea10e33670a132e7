import { axisSchema, drawnFields, fieldsAt, type Axis } from '@yoke/core';
import { computed } from 'vue';
import { useMachine } from '@/stores/machine';

/** Fields of the selected axis as its schema tells of them, some at a time, and how they change it. */
export function useAxisFields(axis: () => Axis) {
  const machine = useMachine();
  const all = computed(() => drawnFields(axisSchema, axis(), machine.document!));
  const fields = (...places: string[]) => fieldsAt(all.value, ...places);
  const change = (make: (axis: Axis) => void, label: string): string | null =>
    machine.editAxis(label, (draft) => make(draft as Axis));
  return { fields, change };
}
