<script setup lang="ts">
import type { Gearbox } from '@yoke/core';
import QuantityField from '@/components/QuantityField.vue';

type Losses = Pick<Gearbox, 'inertia' | 'efficiency' | 'backEfficiency' | 'friction'>;

/** What a part of a drive train carries and loses. */
defineProps<{ part: Losses; shaft: string; set: (key: keyof Losses, value: number) => string | null }>();
</script>

<template>
  <QuantityField
    :value="part.efficiency"
    kind="ratio"
    label="Efficiency"
    :min="0.01"
    :max="1"
    :commit="(v) => set('efficiency', v!)"
  />
  <QuantityField
    :value="part.backEfficiency"
    kind="ratio"
    label="… back-driven"
    hint="Share of power that comes back when the load drives; 0 % is self-locking"
    :min="0"
    :max="1"
    :commit="(v) => set('backEfficiency', v!)"
  />
  <QuantityField
    :value="part.inertia"
    kind="inertia"
    :label="`Inertia at ${shaft}`"
    :min="0"
    :commit="(v) => set('inertia', v!)"
  />
  <QuantityField
    :value="part.friction"
    kind="torque"
    :label="`Friction at ${shaft}`"
    :min="0"
    :commit="(v) => set('friction', v!)"
  />
</template>
