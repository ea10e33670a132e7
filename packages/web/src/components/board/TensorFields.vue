<script setup lang="ts">
import { solidMassOf, type Body } from '@yoke/core';
import { computed } from 'vue';
import { ChoiceField, QuantityField } from '@/components/fields';
import { useThing } from '@/composables/useThing';

/** The rest of the inertia tensor of a typed mass: that of a flat plate, or typed. */
const props = defineProps<{ body: Body }>();
const { edit } = useThing('bodies', () => props.body.id);
const typed = computed(() => (props.body.mass.given === 'typed' ? props.body.mass : null));
const ENTRIES = [
  ['xx', 'Inertia about x'],
  ['yy', 'Inertia about y'],
  ['xy', 'Product xy'],
  ['xz', 'Product xz'],
  ['yz', 'Product yz'],
] as const;

/** Typed it begins as that of the flat plate. */
const choose = (how: 'plate' | 'typed') =>
  edit('inertia tensor', (body) => {
    if (body.mass.given !== 'typed') return;
    const { xx, yy, xy, xz, yz } = solidMassOf(body).tensor;
    if (how === 'plate') delete body.mass.tensor;
    else body.mass.tensor = { xx, yy, xy, xz, yz };
  });
const set = (entry: (typeof ENTRIES)[number][0]) => (value: number | null) =>
  edit('inertia tensor', (body) => {
    if (body.mass.given === 'typed' && body.mass.tensor) body.mass.tensor[entry] = value!;
  });
</script>

<template>
  <template v-if="typed">
    <ChoiceField
      class="wide"
      :value="typed.tensor ? 'typed' : 'plate'"
      label="Inertia in space"
      :options="{ plate: 'That of a flat plate', typed: 'Tensor, typed' }"
      @choose="choose"
    />
    <template v-if="typed.tensor">
      <QuantityField
        v-for="[entry, label] in ENTRIES"
        :key="entry"
        :value="typed.tensor[entry]"
        kind="inertia"
        :label
        :commit="set(entry)"
      />
    </template>
  </template>
</template>
