<script setup lang="ts">
import { addSolid, GROUND, OWN_SHAPES, STEEL, UNASSIGNED, type OwnShape, type SolidRef } from '@yoke/core';
import { ElButton } from 'element-plus';
import { computed, ref } from 'vue';
import { ChoiceField, FileButton } from '@/components/fields';
import ReadingNote from '@/components/ReadingNote.vue';
import { useMachine, useSolids } from '@/stores';

/** Where solids come from: files, newer files in their place, and solids that need none. */
const machine = useMachine();
const solids = useSolids();
const ACCEPT = '.step,.stp,.stl,.obj,.glb,.gltf';
const MOST = 200e6;
const files = computed(() => machine.document?.mechanism.shapes?.files ?? []);
const unit = ref('0.001');
const UNITS = [
  { value: '0.001', label: 'Millimetre' },
  { value: '0.01', label: 'Centimetre' },
  { value: '1', label: 'Metre' },
  { value: '0.0254', label: 'Inch' },
];
const large = (metres: number) => (metres < 1 ? `${Number((metres * 1000).toPrecision(3))} mm` : `${Number(metres.toPrecision(3))} m`); // prettier-ignore
const kind = ref<OwnShape['kind']>('box');
const KINDS = Object.entries(OWN_SHAPES).map(([value, { label }]) => ({ value: value as OwnShape['kind'], label }));

/** Adds a solid of one's own at the origin, to what is chosen, or not assigned. */
function add(): void {
  const first = OWN_SHAPES[kind.value].first({ machine: machine.document!, was: {} });
  if (typeof first === 'string') return;
  const [carrier = UNASSIGNED] = new Set(solids.chosen.map((own) => own.carrier));
  const { label } = OWN_SHAPES[kind.value];
  let made: SolidRef | null = null;
  const problem = solids.edit(`add a ${label.toLowerCase()}`, (m) => {
    made = addSolid(m, carrier === GROUND ? UNASSIGNED : carrier, {
      name: label,
      colour: null,
      shape: first,
      at: [0, 0, 0],
      turn: [1, 0, 0, 0],
      density: STEEL,
    });
  });
  if (problem === null && made) solids.choose([made]);
}
const listed = (names: readonly string[]) =>
  names.length > 6 ? `${names.slice(0, 6).join(', ')} and ${names.length - 6} more` : names.join(', ');
</script>

<template>
  <section class="panel" aria-label="Files of geometry">
    <div class="row">
      <FileButton raw :accept="ACCEPT" :most="MOST" @file="(file: File) => solids.open(file, null)">
        Import a file
      </FileButton>
    </div>
    <ReadingNote />
    <div v-if="solids.asking" class="ask" role="group" aria-label="Unit of the file">
      <p>
        The file does not say what its lengths are in. Its largest solid is
        {{ Number(solids.asking.size.toPrecision(3)) }} across, so {{ large(solids.asking.size * Number(unit)) }} as
        this:
      </p>
      <ChoiceField :value="unit" label="Unit of the file" :options="UNITS" @choose="unit = $event" />
      <ElButton size="small" type="primary" @click="solids.asking?.answer(Number(unit))">Take it so</ElButton>
    </div>
    <p v-for="note in solids.notes" :key="note" class="note">{{ note }}</p>
    <div v-for="file in files" :key="file.id" class="file">
      <span :title="file.name">{{ file.name }}</span>
      <FileButton raw :accept="ACCEPT" :most="MOST" @file="(newer: File) => solids.open(newer, file.id)">
        Newer one
      </FileButton>
    </div>
    <div v-if="solids.replacing" class="ask" role="group" aria-label="What the newer file changes">
      <p>
        <strong>{{ solids.replacing.taken.name }}</strong> against what is there:
        {{ solids.replacing.changes.same }} the same.
      </p>
      <p v-if="solids.replacing.changes.changed.length > 0">
        Changed: {{ listed(solids.replacing.changes.changed.map((own) => `${own.name} (${own.carrier})`)) }}.
      </p>
      <p v-if="solids.replacing.changes.fresh.length > 0">
        New, not assigned: {{ listed(solids.replacing.changes.fresh) }}.
      </p>
      <p v-if="solids.replacing.changes.gone.length > 0">
        Gone: {{ listed(solids.replacing.changes.gone.map((own) => `${own.name} (${own.carrier})`)) }}.
      </p>
      <div class="row">
        <ElButton size="small" type="primary" @click="solids.replace()">Take it</ElButton>
        <ElButton size="small" @click="solids.replacing = null">Leave as it is</ElButton>
      </div>
    </div>
    <div class="own">
      <ChoiceField :value="kind" label="Without a file" :options="KINDS" @choose="kind = $event" />
      <ElButton size="small" @click="add">Add</ElButton>
    </div>
  </section>
</template>

<style scoped>
.row,
.own {
  display: flex;
  gap: 6px;
  align-items: end;
}
.own {
  margin-top: 8px;
}
.own > :first-child {
  flex: 1;
}
.file {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 6px;
  margin-top: 6px;
  font: 13px var(--narrow);
}
.file > span:first-child {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.file :deep(.el-button) {
  height: 22px;
  padding: 0 8px;
  font-size: 12px;
}
.ask {
  display: grid;
  gap: 6px;
  margin: 8px 0;
  padding: 8px;
  border: 1px solid var(--attention);
  border-radius: var(--radius);
  font-size: 12.5px;
}
.ask p {
  margin: 0;
}
.note {
  margin: 6px 0 0;
  font-size: 12.5px;
  color: var(--ink-soft);
}
</style>
