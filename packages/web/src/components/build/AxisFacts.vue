<script setup lang="ts">
import {
  AXIS_KINDS,
  driveModel,
  formatQuantity,
  holdingTorque,
  loadModel,
  reflectedInertia,
  type Axis,
} from '@yoke/core';
import { computed } from 'vue';
import { useMachine } from '@/stores/machine';

/** What follows from axis, drive train and load before anything moves. */
const props = defineProps<{ axis: Axis }>();
const machine = useMachine();

const facts = computed(() => {
  const { axis } = props;
  const kinds = AXIS_KINDS[axis.kind];
  const drive = driveModel(axis, axis.reversed);
  const load = loadModel(axis.load, axis.kind, axis.reversed);
  const gravity = load.gravity(axis.home);
  const show = (value: number, kind: Parameters<typeof formatQuantity>[1]) =>
    formatQuantity(value, kind, machine.units);
  const perTurn = (2 * Math.PI) / Math.abs(drive.ratio);
  return [
    ['Motor turn moves the axis', show(perTurn, kinds.position)],
    ['Load at the motor shaft', show(reflectedInertia(drive, axis.load.inertia), 'inertia')],
    [
      'Gravity asks at home',
      gravity === 0
        ? 'nothing'
        : `${show(Math.abs(gravity), kinds.effort)} ${gravity > 0 ? 'in + direction' : 'in − direction'}`,
    ],
    ['Held at rest by the motor shaft', show(holdingTorque(drive, Math.abs(gravity)), 'torque')],
  ] as const;
});
</script>

<template>
  <section class="panel" aria-label="What follows">
    <h2>What follows</h2>
    <dl>
      <template v-for="[label, value] in facts" :key="label">
        <dt>{{ label }}</dt>
        <dd class="figures">{{ value }}</dd>
      </template>
    </dl>
  </section>
</template>

<style scoped>
dl {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 4px 12px;
  margin: 0;
}
dt {
  color: var(--ink-soft);
}
dd {
  margin: 0;
  text-align: right;
}
</style>
