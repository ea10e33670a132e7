<script setup lang="ts">
import { AXIS_KINDS, counted, formatQuantity } from '@yoke/core';
import { computed, ref } from 'vue';
import { ChoiceField, DeleteButton, NameField, QuantityField } from '@/components/fields';
import { useMachine, useTransfer } from '@/stores';

/** Poses that were marked; of the chosen one where its tool is and where each axis stands. */
const machine = useMachine();
const transfer = useTransfer();
const bodies = computed(() => machine.document!.mechanism.bodies);
const points = computed(
  () => bodies.value.find(({ id }) => id === transfer.tool?.body)?.points.map(({ id }, i) => ({ value: id, label: `Point ${i + 1}` })) ?? [], // prettier-ignore
);
const axes = computed(() => machine.axes.filter(({ id }) => transfer.places.has(id)));
const setBody = (body: string) =>
  transfer.setTool(transfer.mark!.id, { body, point: bodies.value.find(({ id }) => id === body)!.points.at(-1)!.id });
const open = ref(false);
/** To the micrometre: what is computed has more figures than mean anything. */
const rounded = (length: number) => Number(length.toFixed(6));
const PARTS = ['x', 'y', 'z'] as const;
const setPlace = (k: number) => (value: number | null) => {
  const [x, y, z] = transfer.toolPlace!;
  return transfer.setPlace([x, y, z].map((part, i) => (i === k ? value! : part)) as [number, number, number]);
};
const where = (id: string) => {
  const mark = transfer.marks.find((own) => own.id === id)!;
  const at = mark.at.filter(({ axis }) => machine.axes.some((own) => own.id === axis));
  return counted(at.length, 'axis', 'axes');
};
</script>

<template>
  <section class="panel" aria-label="Marked poses">
    <h2>Marked poses</h2>
    <p v-if="transfer.marks.length === 0" class="soft">
      Drag a body in the picture to where the way shall begin and mark that as start; then to where it shall end, and
      mark that as target.
    </p>
    <ul class="list">
      <li v-for="mark in transfer.marks" :key="mark.id">
        <button
          type="button"
          class="plain"
          :aria-pressed="mark.id === transfer.chosen"
          @click="transfer.choose(mark.id === transfer.chosen ? null : mark.id)"
        >
          {{ mark.name }}
        </button>
        <span class="soft">{{ where(mark.id) }}</span>
        <button
          v-if="mark.id === transfer.chosen"
          type="button"
          class="plain numbers"
          :aria-expanded="open"
          @click="open = !open"
        >
          {{ open ? 'Hide its numbers' : 'Its numbers' }}
        </button>
        <DeleteButton :label="`Delete ${mark.name}`" @click="transfer.remove(mark.id)" />
      </li>
    </ul>
    <template v-if="transfer.mark && open">
      <div class="fields">
        <NameField
          :value="transfer.mark.name"
          :of="transfer.mark.name"
          :commit="(name) => transfer.rename(transfer.mark!.id, name)"
        />
        <ChoiceField
          :value="transfer.tool?.body ?? ''"
          label="Tool point on"
          :options="bodies.map(({ id, name }) => ({ value: id, label: name }))"
          @choose="setBody"
        />
        <ChoiceField
          v-if="transfer.tool"
          :value="transfer.tool.point"
          label="Which point"
          :options="points"
          @choose="(point) => transfer.setTool(transfer.mark!.id, { ...transfer.tool!, point })"
        />
      </div>
      <div v-if="transfer.toolPlace" class="fields">
        <QuantityField
          v-for="(part, k) in PARTS"
          :key="part"
          :value="rounded(transfer.toolPlace[k]!)"
          kind="length"
          :label="`Tool at ${part}`"
          :hint="k === 0 ? 'To the right; y up, z towards the viewer. The axes find it.' : ''"
          :commit="setPlace(k)"
        />
      </div>
      <div class="fields four">
        <QuantityField
          v-for="axis in axes"
          :key="axis.id"
          :value="transfer.places.get(axis.id)!"
          :kind="AXIS_KINDS[axis.kind].position"
          :label="axis.name"
          :hint="
            axis.travel
              ? `From ${formatQuantity(axis.travel.min, AXIS_KINDS[axis.kind].position, machine.units, 4)} to ${formatQuantity(axis.travel.max, AXIS_KINDS[axis.kind].position, machine.units, 4)}`
              : ''
          "
          :commit="(value) => transfer.setAxis(axis.id, value!)"
        />
      </div>
    </template>
    <p v-if="transfer.message" class="note" role="status">{{ transfer.message }}</p>
  </section>
</template>

<style scoped>
.list {
  list-style: none;
  margin: 0 0 6px;
  padding: 0;
}
.list li {
  display: flex;
  align-items: center;
  gap: 8px;
}
.list button[aria-pressed='true'] {
  font-weight: 600;
  color: var(--primary);
}
.numbers {
  color: var(--primary);
}
.list .soft {
  font-size: 12.5px;
}
.fields {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 6px 10px;
  margin-bottom: 8px;
}
.four {
  grid-template-columns: repeat(4, minmax(0, 1fr));
}
.note {
  margin: 4px 0 0;
  font-size: 13px;
}
</style>
