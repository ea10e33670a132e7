<script setup lang="ts" generic="T extends object">
import type { Change, DrawnField } from '@yoke/core';
import { ref, type Component } from 'vue';
import ChoiceField from './ChoiceField.vue';
import ManyField from './ManyField.vue';
import NameField from './NameField.vue';
import QuantityField from './QuantityField.vue';
import ToggleField from './ToggleField.vue';

/** The fields of a thing of the document, as its schema says that they are called and typed. */
const props = defineProps<{
  fields: readonly DrawnField[];
  /** Makes a change of the thing; answers with what is wrong, or null. */
  change: (change: (thing: T) => void, label: string) => string | null;
  /** What the fields are of, where several of their names stand on the page: “block 2”. */
  of?: string | undefined;
}>();
const commit = (label: string, change: Change): string | null =>
  typeof change === 'string' ? change : props.change(change, label.toLowerCase());
/** What is wrong with a choice that was not taken; boxes that are typed into say it themselves. */
const refused = ref<{ key: string; problem: string } | null>(null);
function choose({ key, label }: DrawnField, change: Change): void {
  const problem = commit(label, change);
  refused.value = problem === null ? null : { key, problem };
}

const PARTS = {
  quantity: QuantityField,
  choice: ChoiceField,
  many: ManyField,
  switch: ToggleField,
  text: NameField,
} as const satisfies Record<DrawnField['as'], Component>;
/** What a field tells the box that draws it, beside its name and value. */
function more(field: DrawnField): Record<string, unknown> {
  switch (field.as) {
    case 'quantity': {
      const { quantity, optional, placeholder, min, max, hint } = field;
      const take = (value: number | null) => commit(field.label, field.set(value));
      return { kind: quantity, optional, placeholder, min, max, hint, commit: take };
    }
    case 'choice':
      return {
        title: field.hint,
        options: field.choices,
        onChoose: (value: string) => choose(field, field.set(value)),
      };
    case 'many': {
      const options = field.choices.map(({ value, label }) => ({ id: value, name: label }));
      const take = (ids: string[]) => choose(field, field.set(ids));
      return { title: field.hint, options, none: field.placeholder, onChoose: take };
    }
    case 'switch':
      return { title: field.hint, onChange: (value: boolean) => choose(field, field.set(value)) };
    case 'text':
      return {
        placeholder: field.placeholder,
        most: field.most,
        commit: (value: string) => commit(field.label, field.set(value)),
      };
  }
}
</script>

<template>
  <template v-for="field in fields" :key="field.key">
    <component
      :is="PARTS[field.as]"
      v-bind="more(field)"
      :class="{ wide: field.wide }"
      :value="field.value"
      :label="field.label"
      :of
    />
    <p v-if="refused?.key === field.key" class="bad wide" role="alert">{{ refused.problem }}</p>
  </template>
</template>

<style scoped>
.wide {
  grid-column: 1 / -1;
}
</style>
