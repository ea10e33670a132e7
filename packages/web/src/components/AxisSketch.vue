<script setup lang="ts">
import { AXIS_KINDS, formatQuantity, planKnees, type Axis } from '@yoke/core';
import { useElementSize } from '@vueuse/core';
import { computed, ref } from 'vue';
import { axisColour } from '@/lib/axis-look';
import { useTooClose } from '@/composables/useTooClose';
import { useMachine, useRun } from '@/stores';
import LinearSketch from './LinearSketch.vue';
import RotarySketch from './RotarySketch.vue';

/** The axis to scale: a carriage on its rail, or a turning table. */
const props = defineProps<{
  axis: Axis;
  position: number;
  velocity?: number;
  /** Effort of the drive, drawn as an arrow against `largestEffort`. */
  effort?: number;
  largestEffort?: number;
  largestVelocity?: number;
}>();
const machine = useMachine();
const results = useRun();
const { close, words: tooClose } = useTooClose(
  () => results.document,
  () => results.record,
);
const box = ref<HTMLElement>();
const { width, height } = useElementSize(box);

/** Range of positions the drawing must show. */
const range = computed(() => {
  const positions = planKnees(props.axis.plan).map(({ position }) => position);
  const ends = props.axis.travel ? [props.axis.travel.min, props.axis.travel.max] : [];
  const low = Math.min(...positions, ...ends, props.axis.home);
  const high = Math.max(...positions, ...ends, props.axis.home);
  return high > low ? { low, high } : { low: low - 0.05, high: high + 0.05 };
});
const share = (value: number | undefined, largest: number | undefined) =>
  value === undefined || !largest ? 0 : Math.max(-1, Math.min(1, value / largest));
const shown = computed(() => formatQuantity(props.position, AXIS_KINDS[props.axis.kind].position, machine.units));
</script>

<template>
  <div ref="box" class="sketch" role="img" :aria-label="`${axis.name} at ${shown}`">
    <component
      :is="axis.kind === 'linear' ? LinearSketch : RotarySketch"
      v-if="width > 40 && height > 40"
      :axis
      :colour="axisColour(axis)"
      :position
      :range
      :width
      :height
      :velocity-share="share(velocity, largestVelocity)"
      :effort-share="share(effort, largestEffort)"
      :label="shown"
      :units="machine.units"
    />
    <p v-if="close.includes(axis.id)" class="too-close" role="status">{{ tooClose }}</p>
  </div>
</template>

<style scoped>
.sketch {
  position: relative;
  height: 100%;
  min-height: 0;
  overflow: hidden;
}
</style>
