<script setup lang="ts">
import { AXIS_KINDS, type Axis, type AxisMotion, type QuantityKind } from '@yoke/core';
import { ElButton } from 'element-plus';
import { computed } from 'vue';
import ChoiceField from '@/components/ChoiceField.vue';
import QuantityField from '@/components/QuantityField.vue';
import { useMachine } from '@/stores/machine';

/** What tells an axis how to move, at which level, and where it begins. */
const props = defineProps<{ axis: Axis }>();
const machine = useMachine();
const kinds = computed(() => AXIS_KINDS[props.axis.kind]);
const valueKind = computed<QuantityKind>(() => kinds.value[props.axis.motion.level]);
const edit = (label: string, recipe: (motion: AxisMotion) => void) =>
  machine.editAxis(label, (draft) => recipe(draft.motion as AxisMotion));

const setSource = (kind: 'plan' | 'constant' | 'harmonic') =>
  edit('what leads the axis', (motion) => {
    const turn = (2 * Math.PI) / machine.cycle;
    const rotary = props.axis.kind === 'rotary';
    if (kind === 'plan') {
      motion.source = { kind };
      motion.level = 'position';
    } else if (kind === 'constant') {
      motion.source = { kind, value: rotary ? turn : 0.05 };
      motion.level = 'velocity';
    } else {
      motion.source = {
        kind,
        mean: props.axis.plan.start,
        amplitude: rotary ? 0.5 : 0.02,
        frequency: 1 / machine.cycle,
        phase: 0,
      };
      motion.level = 'position';
    }
  });
const setValue = (key: string) => (value: number | null) =>
  edit(key, (motion) => void ((motion.source as unknown as Record<string, unknown>)[key] = value));
const setInitial = (key: 'position' | 'velocity') => (value: number | null) =>
  edit('where it begins', (motion) => void (motion.initial[key] = value!));
/** Turns the motion round where it is, without turning the positive direction. */
const reverse = () =>
  machine.editAxis('turn the motion round', (draft) => {
    const { motion, plan } = draft;
    if (motion.source.kind === 'constant') motion.source.value *= -1;
    else if (motion.source.kind === 'harmonic') motion.source.amplitude *= -1;
    else for (const segment of plan.segments) if (segment.kind === 'move') segment.to = 2 * plan.start - segment.to;
  });
const oneTurn = () =>
  edit('one turn a cycle', (motion) => {
    if (motion.source.kind === 'constant')
      motion.source.value = (Math.sign(motion.source.value) || 1) * ((2 * Math.PI) / machine.cycle);
  });
const source = computed(() => props.axis.motion.source);
</script>

<template>
  <div class="source">
    <ChoiceField
      :value="source.kind"
      label="Led by"
      :options="[
        { value: 'plan', label: 'Motion plan' },
        { value: 'constant', label: 'Constant' },
        { value: 'harmonic', label: 'Harmonic' },
      ]"
      @choose="setSource"
    />
    <ChoiceField
      :value="axis.motion.level"
      label="Its values are"
      :options="[
        { value: 'position', label: 'Positions' },
        { value: 'velocity', label: 'Velocities' },
        { value: 'acceleration', label: 'Accelerations' },
      ]"
      @choose="(level) => edit('level of the motion', (m) => void (m.level = level))"
    />
    <QuantityField
      v-if="source.kind === 'constant'"
      :value="source.value"
      :kind="valueKind === 'angularVelocity' ? 'shaftSpeed' : valueKind"
      label="Constant value"
      :commit="setValue('value')"
    />
    <template v-if="source.kind === 'harmonic'">
      <QuantityField :value="source.mean" :kind="valueKind" label="Mean" :commit="setValue('mean')" />
      <QuantityField :value="source.amplitude" :kind="valueKind" label="Amplitude" :commit="setValue('amplitude')" />
      <QuantityField :value="source.frequency" kind="rate" label="Frequency" :commit="setValue('frequency')" />
      <QuantityField :value="source.phase" kind="angle" label="Phase" :commit="setValue('phase')" />
    </template>
    <QuantityField
      v-if="axis.motion.level !== 'position'"
      :value="axis.motion.initial.position"
      :kind="kinds.position"
      label="Begins at"
      :commit="setInitial('position')"
    />
    <QuantityField
      v-if="axis.motion.level === 'acceleration'"
      :value="axis.motion.initial.velocity"
      :kind="kinds.velocity"
      label="Begins with"
      :commit="setInitial('velocity')"
    />
    <div class="buttons">
      <ElButton size="small" title="Runs the same way backwards from its start" @click="reverse">Turn round</ElButton>
      <ElButton
        v-if="source.kind === 'constant' && axis.kind === 'rotary' && axis.motion.level === 'velocity'"
        size="small"
        @click="oneTurn"
        >One turn a cycle</ElButton
      >
    </div>
    <p v-if="source.kind === 'plan' && axis.motion.level !== 'position'" class="note">
      The “positions” of the plan below are read as
      {{ axis.motion.level === 'velocity' ? 'velocities' : 'accelerations' }} ({{
        axis.kind === 'rotary'
          ? 'the angle in degrees stands for degrees per second'
          : 'a millimetre stands for a millimetre per second'
      }}{{ axis.motion.level === 'acceleration' ? ', squared' : '' }}).
    </p>
  </div>
</template>

<style scoped>
.source {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(118px, 1fr));
  gap: 7px 10px;
  align-items: end;
  margin-bottom: 10px;
}
.buttons {
  display: flex;
  gap: 6px;
}
.buttons :deep(.el-button) {
  margin: 0;
}
.note {
  grid-column: 1 / -1;
  font-size: 12.5px;
  color: var(--ink-soft);
}
</style>
