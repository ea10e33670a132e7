<script setup lang="ts">
import { drawnFields, variantSchema, type Variant } from '@yoke/core';
import { computed } from 'vue';
import { NameField, QuantityField, SchemaFields, ToggleField } from '@/components/fields';
import { useMachine } from '@/stores';

/** What a variant changes: speed, gravity, loads, friction, elements switched off, other springs. */
const props = defineProps<{ variant: Variant }>();
const machine = useMachine();
const edit = (label: string, recipe: (variant: Variant) => void) =>
  machine.edit(label, (draft) => {
    const found = draft.variants.find(({ id }) => id === props.variant.id);
    if (found) recipe(found as Variant);
  });
const fields = computed(() => drawnFields(variantSchema, props.variant, machine.document!));
const elements = computed(() => machine.document?.mechanism.elements ?? []);
const rated = computed(() => elements.value.flatMap((e) => ('rate' in e ? [e] : [])));
const KIND = { spring: 'springRate', torsion: 'torsionRate', damper: 'linearDamping' } as const;
const changed = (id: string) => props.variant.changes.find(({ element }) => element === id)?.rate ?? null;
const setRate = (id: string) => (value: number | null) =>
  edit('another spring', (variant) => {
    variant.changes = variant.changes.filter(({ element }) => element !== id);
    if (value !== null) variant.changes.push({ element: id, rate: value, free: null });
  });
const pairs = computed(() => {
  const { pairs: list, materials } = machine.document!.loose;
  const nameOf = (id: string) => materials.find((m) => m.id === id)?.name ?? '';
  return list.map((pair) => ({
    pair,
    name: `${nameOf(pair.a)} – ${nameOf(pair.b)}`,
    own: props.variant.pairs.find((p) => p.pair === pair.id),
  }));
});
const setPair = (id: string, key: 'friction' | 'restitution') => (value: number | null) =>
  edit('another pair', (variant) => {
    const { pair } = pairs.value.find((p) => p.pair.id === id)!;
    const own = variant.pairs.find((p) => p.pair === id);
    if (value === null) variant.pairs = variant.pairs.filter((p) => p.pair !== id);
    else if (own) own[key] = value;
    else variant.pairs.push({ pair: id, friction: pair.friction, restitution: pair.restitution, [key]: value });
  });
const toggleOff = (id: string) =>
  edit('switch in a variant', (variant) => {
    variant.off = variant.off.includes(id) ? variant.off.filter((other) => other !== id) : [...variant.off, id];
  });
</script>

<template>
  <div class="variant">
    <NameField :value="variant.name" :commit="(v) => edit('rename', (d) => void (d.name = v))" />
    <SchemaFields :fields :change="(make: (variant: Variant) => void, label) => edit(label, make)" />
    <ToggleField
      v-for="element in elements"
      :key="element.id"
      :value="!variant.off.includes(element.id)"
      :label="element.name"
      @change="toggleOff(element.id)"
    />
    <QuantityField
      v-for="element in rated"
      :key="element.id"
      :value="changed(element.id)"
      :kind="KIND[element.kind]"
      :label="`${element.name}: rate`"
      optional
      placeholder="as it is"
      :commit="setRate(element.id)"
    />
    <template v-for="{ pair, name, own } in pairs" :key="pair.id">
      <QuantityField
        :value="own?.friction ?? null"
        kind="number"
        :label="`${name}: friction`"
        optional
        :placeholder="String(pair.friction)"
        :min="0"
        :max="10"
        :commit="setPair(pair.id, 'friction')"
      />
      <QuantityField
        :value="own?.restitution ?? null"
        kind="number"
        :label="`${name}: bounce`"
        optional
        :placeholder="String(pair.restitution)"
        :min="0"
        :max="1"
        :commit="setPair(pair.id, 'restitution')"
      />
    </template>
  </div>
</template>

<style scoped>
.variant {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(110px, 1fr));
  gap: 6px 10px;
  padding: 6px 0 8px;
}
</style>
