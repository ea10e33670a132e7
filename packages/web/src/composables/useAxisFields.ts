import { axisSchema, drawnFields, type Axis, type DrawnField } from '@yoke/core';
import { computed } from 'vue';
import { useMachine } from '@/stores/machine';

/** Fields of the selected axis as its schema tells of them, some at a time, and how they change it. */
export function useAxisFields(axis: () => Axis) {
  const machine = useMachine();
  const all = computed(() => drawnFields(axisSchema, axis(), machine.document!));
  /** The fields at some places of the axis, as `limits` or `cylinder.out`, in the order of the places. */
  const fields = (...places: string[]): DrawnField[] =>
    places.flatMap((place) => all.value.filter(({ key }) => key === place || key.startsWith(`${place}.`)));
  const change = (make: (axis: Axis) => void, label: string): string | null =>
    machine.editAxis(label, (draft) => make(draft as Axis));
  return { fields, change };
}
