<script setup lang="ts">
import { drawnFields, formatQuantity, HANDLERS, handlerSchema, partMass } from '@yoke/core';
import { ElButton } from 'element-plus';
import { computed } from 'vue';
import { NameField, SchemaFields } from '@/components/fields';
import { useLoose, useMachine } from '@/stores';

/** The chosen kind of part, source, belt … in full. */
const emit = defineEmits<{ problem: [text: string | null] }>();
const machine = useMachine();
const store = useLoose();
const list = computed(() => store.chosen!.list);
const fields = computed(() =>
  store.item ? drawnFields(handlerSchema(list.value), store.item, machine.document!) : [],
);
/** Mass of one part, which its shape may give. */
const mass = computed(() => {
  const kind = list.value === 'kinds' ? machine.document!.loose.kinds.find(({ id }) => id === store.item?.id) : null;
  return kind ? partMass(kind, machine.document!.loose.materials).mass : null;
});
const remove = () => emit('problem', store.remove(list.value, store.chosen!.id));
</script>

<template>
  <div v-if="store.item" class="loose-fields">
    <NameField
      :value="store.item.name"
      :label="HANDLERS[list].one"
      :commit="(name) => store.editItem('name of a loose part', (item) => void (item.name = name))"
    />
    <SchemaFields :fields :change="(change) => store.editItem('a loose part', change)" />
    <p v-if="mass !== null" class="soft wide">{{ formatQuantity(mass, 'mass', machine.units) }} a part</p>
    <div class="wide"><ElButton @click="remove">Delete</ElButton></div>
  </div>
</template>

<style scoped>
.loose-fields {
  display: grid;
  grid-template-columns: repeat(3, 1fr);
  gap: 7px 8px;
  align-items: start;
}
.wide {
  grid-column: 1 / -1;
}
</style>
