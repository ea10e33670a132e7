<script setup lang="ts">
import { ElButton } from 'element-plus';
import { computed, ref } from 'vue';
import { ChoiceField, QuantityField, ToggleField } from '@/components/fields';
import { useBoard } from '@/stores';

/** Copies the chosen bodies, or the whole unit with its drive, beside the original and behind it in phase. */
const board = useBoard();
const across = ref(0.2);
const up = ref(0);
const phase = ref(0);
const unit = ref(true);
const mirrored = ref(false);
/** Plane of the copy; that of the original to begin with. */
const into = ref('same');
const planes = computed(() => [
  { value: 'same', label: 'Where it is' },
  ...(board.mechanism?.planes ?? []).map(({ id, name }) => ({ value: id, label: name })),
]);
const copy = () =>
  board.copy(unit.value, [across.value, up.value], -phase.value, {
    mirrored: mirrored.value,
    into: into.value === 'same' ? undefined : into.value,
  });
const take = (target: { value: number }) => (value: number | null) => {
  target.value = value!;
  return null;
};
const setAcross = take(across);
const setUp = take(up);
const setPhase = take(phase);
</script>

<template>
  <h3>Copy</h3>
  <div class="fields">
    <QuantityField :value="across" kind="length" label="Across" :commit="setAcross" />
    <QuantityField :value="up" kind="length" label="Up" :commit="setUp" />
    <QuantityField
      :value="phase"
      kind="angle"
      label="Drive behind by"
      hint="180° is half a turn behind"
      :commit="setPhase"
    />
    <ToggleField :value="unit" label="Whole unit" @change="unit = $event" />
    <ToggleField
      :value="mirrored"
      label="Mirrored"
      hint="Left and right changed about its middle; drives keep their motions"
      @change="mirrored = $event"
    />
    <ChoiceField
      v-if="planes.length > 2"
      :value="into"
      label="Into the plane"
      :options="planes"
      @choose="into = $event"
    />
  </div>
  <div class="actions">
    <ElButton size="small" @click="copy">Copy {{ unit ? 'the unit' : 'what is chosen' }}</ElButton>
  </div>
</template>

<style scoped>
@import './panel.css';
</style>
