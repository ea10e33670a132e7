<script setup lang="ts">
import { addCoupling, COUPLINGS, type Mechanism } from '@yoke/core';
import { ElButton } from 'element-plus';
import { computed } from 'vue';
import { useBoard, useMachine } from '@/stores';

/** What can couple the two joints that are chosen. */
const board = useBoard();
const machine = useMachine();
const before = computed(() => ({ machine: machine.document!, was: { joints: board.selection } }));
const fitting = computed(() =>
  Object.entries(COUPLINGS).flatMap(([kind, { label, hint, first }]) => {
    const coupling = first(before.value);
    return typeof coupling === 'string' ? [] : [{ kind, label, hint, coupling }];
  }),
);
type Fitting = (typeof fitting.value)[number];

const couple = ({ coupling: { id: _, name: __, ...coupling } }: Fitting) =>
  board.draw('add a coupling', (draft) => board.select(addCoupling(draft.mechanism as Mechanism, coupling).id));
</script>

<template>
  <h3>Couple them</h3>
  <p v-if="fitting.length === 0" class="note">Nothing couples these two: a weld has no position.</p>
  <ul>
    <li v-for="one in fitting" :key="one.kind">
      <ElButton size="small" @click="couple(one)">{{ one.label }}</ElButton>
      <span class="note">{{ one.hint }}</span>
    </li>
  </ul>
</template>

<style scoped>
@import './panel.css';
ul {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 6px;
}
li {
  display: grid;
  grid-template-columns: 78px 1fr;
  gap: 8px;
  align-items: center;
}
</style>
