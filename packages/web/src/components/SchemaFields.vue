<script setup lang="ts">
import type { Change, DrawnField } from '@yoke/core';
import ChoiceField from './ChoiceField.vue';
import ManyField from './ManyField.vue';
import NameField from './NameField.vue';
import QuantityField from './QuantityField.vue';
import ToggleField from './ToggleField.vue';

/** The fields of a thing of the document, as its schema says that they are called and typed. */
const props = defineProps<{
  fields: readonly DrawnField[];
  /** Makes a change of the thing; answers with what is wrong, or null. */
  change: (change: (thing: object) => void, label: string) => string | null;
}>();
const commit = (label: string, change: Change): string | null =>
  typeof change === 'string' ? change : props.change(change, label.toLowerCase());
</script>

<template>
  <template v-for="field in fields" :key="field.key">
    <QuantityField
      v-if="field.as === 'quantity'"
      :class="{ wide: field.wide }"
      :value="field.value"
      :kind="field.quantity"
      :label="field.label"
      :optional="field.optional"
      :placeholder="field.placeholder"
      :min="field.min"
      :max="field.max"
      :hint="field.hint"
      :commit="(value) => commit(field.label, field.set(value))"
    />
    <ChoiceField
      v-else-if="field.as === 'choice'"
      :class="{ wide: field.wide }"
      :value="field.value"
      :label="field.label"
      :options="field.choices"
      @choose="commit(field.label, field.set($event))"
    />
    <ManyField
      v-else-if="field.as === 'many'"
      :class="{ wide: field.wide }"
      :value="field.value"
      :label="field.label"
      :options="field.choices.map(({ value, label }) => ({ id: value, name: label }))"
      :none="field.placeholder"
      @choose="commit(field.label, field.set($event))"
    />
    <ToggleField
      v-else-if="field.as === 'switch'"
      :class="{ wide: field.wide }"
      :value="field.value"
      :label="field.label"
      @change="commit(field.label, field.set($event))"
    />
    <NameField
      v-else
      :class="{ wide: field.wide }"
      :value="field.value"
      :label="field.label"
      :placeholder="field.placeholder"
      :most="field.most"
      :commit="(value) => commit(field.label, field.set(value))"
    />
  </template>
</template>

<style scoped>
.wide {
  grid-column: 1 / -1;
}
</style>
