<script setup lang="ts">
import { formatQuantity, type AxisRun } from '@yoke/core';
import { computed } from 'vue';
import { useMachine, useRun } from '@/stores';

/** Energy of one cycle at the motor shaft and where it goes. */
const props = defineProps<{ axisRun: AxisRun; cycle: number }>();
const machine = useMachine();
const results = useRun();

const rows = computed(() => {
  const { energy } = props.axisRun;
  const rest = Math.abs(energy.balance.stored) > energy.balance.turnedOver * 1e-9;
  return [
    { label: 'Drawn at the motor shaft', value: energy.drawn, strong: true },
    { label: 'Given back (regenerated)', value: energy.regenerated, strong: true },
    { label: 'Lost in load friction', value: energy.loadFriction },
    { label: 'Lost in the drive train', value: energy.driveLoss },
    { label: 'Given off to outside forces', value: -energy.externalWork },
    ...(rest ? [{ label: 'Stored, as the cycle does not close', value: energy.balance.stored }] : []),
  ];
});
const residual = computed(() => {
  const { residual: gap, turnedOver } = props.axisRun.energy.balance;
  return turnedOver > 0 ? Math.abs(gap / turnedOver) : 0;
});
const show = (value: number) => formatQuantity(value, 'energy', machine.units);
const mean = computed(() =>
  formatQuantity((props.axisRun.energy.drawn - props.axisRun.energy.regenerated) / props.cycle, 'power', machine.units),
);
</script>

<template>
  <table class="rows">
    <thead>
      <tr>
        <th scope="col">Energy per cycle</th>
        <th scope="col" class="number">mean {{ mean }}</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="row in rows" :key="row.label" :class="{ strong: row.strong }">
        <td>{{ row.label }}</td>
        <td class="number">{{ show(row.value) }}</td>
      </tr>
    </tbody>
  </table>
  <p class="soft closes">
    {{
      results.coarse
        ? 'Sampled too coarsely to be relied on: see above.'
        : residual < 1e-9
          ? 'The balance closes to better than 1e−9 of the energy turned over.'
          : 'The balance does not close: a velocity step moves energy in no time.'
    }}
  </p>
</template>

<style scoped>
.strong td {
  font-weight: 500;
}
.closes {
  font-size: 12px;
  margin-top: 4px;
}
</style>
