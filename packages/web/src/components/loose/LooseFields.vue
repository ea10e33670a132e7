<script setup lang="ts">
import {
  drawnFields,
  formatQuantity,
  HANDLERS,
  handlerSchema,
  partMass,
  spaceMass,
  type Gripper,
  type PartSource,
} from '@yoke/core';
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
  const { materials, space } = machine.document!.loose;
  return kind ? (space ? spaceMass : partMass)(kind, materials).mass : null;
});
/** A source in space may give rows at once. */
const source = computed(() => machine.document!.loose.sources.find(({ id }) => list.value === 'sources' && id === store.item?.id)); // prettier-ignore
const rows = computed(() => machine.document!.loose.space === true && source.value !== undefined);
function setRows(): void {
  const change = (item: object) => {
    const own = item as PartSource;
    if (own.pattern) delete own.pattern;
    else own.pattern = { alongX: 2, alongY: 1, across: 1, pitchX: 0.1, pitchY: 0.1, pitchAcross: 0.1 };
  };
  emit('problem', store.editItem('rows of a source', change));
}
/** A gripper in space may hold between fingers. */
const gripper = computed(() => machine.document!.loose.grippers.find(({ id }) => list.value === 'grippers' && id === store.item?.id)); // prettier-ignore
const mayClose = computed(() => machine.document!.loose.space === true && gripper.value !== undefined);
function setFingers(): void {
  const material = machine.document!.loose.materials[0]?.id ?? '';
  const change = (item: object) => {
    const own = item as Gripper;
    if (own.fingers) delete own.fingers;
    else own.fingers = { angle: 0, gap: 0.08, height: 0.02, width: 0.02, force: 20, speed: 0.2, material };
  };
  emit('problem', store.editItem('fingers of a gripper', change));
}
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
    <div v-if="rows" class="wide">
      <ElButton @click="setRows">{{ source?.pattern ? 'One part at a time' : 'Give parts in rows' }}</ElButton>
    </div>
    <div v-if="mayClose" class="wide">
      <ElButton @click="setFingers">{{ gripper?.fingers ? 'Take within reach' : 'Hold between fingers' }}</ElButton>
    </div>
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
