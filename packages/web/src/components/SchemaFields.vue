<script setup lang="ts">
import type { Change, DrawnField } from '@yoke/core';
import { ref } from 'vue';
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
/** What is wrong with a choice that was not taken; boxes that are typed into say it themselves. */
const refused = ref<{ key: string; problem: string } | null>(null);
function choose({ key, label }: DrawnField, change: Change): void {
  const problem = commit(label, change);
  refused.value = problem === null ? null : { key, problem };
}
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
      :title="field.hint"
      :label="field.label"
      :options="field.choices"
      @choose="choose(field, field.set($event))"
    />
    <ManyField
      v-else-if="field.as === 'many'"
      :class="{ wide: field.wide }"
      :value="field.value"
      :title="field.hint"
      :label="field.label"
      :options="field.choices.map(({ value, label }) => ({ id: value, name: label }))"
      :none="field.placeholder"
      @choose="choose(field, field.set($event))"
    />
    <ToggleField
      v-else-if="field.as === 'switch'"
      :class="{ wide: field.wide }"
      :value="field.value"
      :title="field.hint"
      :label="field.label"
      @change="choose(field, field.set($event))"
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
    <p v-if="refused?.key === field.key" class="bad wide" role="alert">{{ refused.problem }}</p>
  </template>
</template>

<style scoped>
.wide {
  grid-column: 1 / -1;
}
</style>
