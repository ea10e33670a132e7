import { MachineMotions, movingMachine, type AxisMotionResult } from '@yoke/core';
import { defineStore } from 'pinia';
import { computed } from 'vue';
import { useMachine } from './machine';

/** The motions of the open machine, made anew with every edit; cheap enough to draw while typing. */
export const useMotions = defineStore('motions', () => {
  const machine = useMachine();
  const motions = computed(() => (machine.document ? new MachineMotions(movingMachine(machine.document)) : null));
  return {
    motions,
    master: computed(() => motions.value?.master ?? null),
    masterProblem: computed(() => motions.value?.masterProblem ?? null),
    /** The motion of an axis of the document, as it stands. */
    of: (id: string): AxisMotionResult => motions.value!.of(id),
  };
});
