<script setup lang="ts">
import { drawnFields, interlockSchema, monitorSchema, spacingSchema, type AxisSpacing, type Interlock, type Monitor } from '@yoke/core'; // prettier-ignore
import { computed } from 'vue';
import { DeleteButton, NameField, SchemaFields } from '@/components/fields';
import { useCues, useMachine } from '@/stores';

/** One rule of the sheet: its name, what stands in the slot, its fields, and the way to delete it. */
const RULES = {
  interlocks: { label: 'Interlock', schema: interlockSchema, less: 'an interlock less' },
  monitors: { label: 'Monitor', schema: monitorSchema, less: 'a monitor less' },
  spacings: { label: 'Spacing', schema: spacingSchema, less: 'a spacing less' },
} as const;
type Rule = Interlock | Monitor | AxisSpacing;

const props = defineProps<{ list: keyof typeof RULES; rule: Rule }>();
const machine = useMachine();
const cues = useCues();
const own = computed(() => RULES[props.list]);
const fields = computed(() => drawnFields(own.value.schema, props.rule, machine.document!));
const set = (change: (rule: Rule) => void) =>
  cues.edit(own.value.label.toLowerCase(), (s) => {
    const all: readonly Rule[] = s[props.list] ?? [];
    change(all.find(({ id }) => id === props.rule.id)!);
    return s;
  });
const remove = () =>
  cues.edit(own.value.less, (s) => {
    const all: readonly Rule[] = s[props.list] ?? [];
    return { ...s, [props.list]: all.filter(({ id }) => id !== props.rule.id) };
  });
</script>

<template>
  <div class="item">
    <NameField :value="rule.name" :label="own.label" :commit="(name) => set((one) => void (one.name = name))" />
    <slot />
    <SchemaFields :fields :change="set" />
    <DeleteButton :label="`Delete ${rule.name}`" @click="remove" />
    <slot name="below" />
  </div>
</template>

<style scoped>
.item {
  display: grid;
  grid-template-columns: repeat(4, 1fr);
  gap: 7px 8px;
  align-items: start;
  border: 1px solid var(--line-soft);
  border-radius: var(--radius);
  padding: 7px 9px;
  margin-bottom: 6px;
}
.item > .icon-button {
  justify-self: end;
  align-self: end;
}
</style>
