<script setup lang="ts">
import { ElButton } from 'element-plus';
import { ref } from 'vue';
import { QuantityField, ToggleField } from '@/components/fields';
import { useBoard } from '@/stores';

/** Copies the chosen bodies, or the whole unit with its drive, beside the original and behind it in phase. */
const board = useBoard();
const across = ref(0.2);
const up = ref(0);
const phase = ref(0);
const unit = ref(true);
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
  </div>
  <div class="actions">
    <ElButton size="small" @click="board.copy(unit, [across, up], -phase)"
      >Copy {{ unit ? 'the unit' : 'what is chosen' }}</ElButton
    >
  </div>
</template>

<style scoped>
@import './panel.css';
</style>
