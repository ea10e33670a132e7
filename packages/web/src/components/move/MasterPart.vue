<script setup lang="ts">
import { AXIS_KINDS, displayUnit, drawnFields, masterSchema, sampleMotion, type Machine } from '@yoke/core';
import { computed } from 'vue';
import { ChoiceField, SchemaFields } from '@/components/fields';
import CurveStack, { type CurvePanel } from '@/components/CurveStack.vue';
import { useMachine, useMotions } from '@/stores';
import ConstantsTable from './ConstantsTable.vue';

/** The virtual master: what it is, how it runs, and who follows it. */
const machine = useMachine();
const motions = useMotions();
type Master = Machine['master'];
const master = computed(() => machine.document!.master);
const kinds = computed(() => AXIS_KINDS[master.value.kind]);
const edit = (label: string, recipe: (m: Master) => void) =>
  machine.edit(label, (draft) => recipe(draft.master as Master));

const setKind = (kind: Master['kind']) =>
  edit('kind of the master', (m) => {
    m.kind = kind;
    m.wrap = kind === 'rotary' ? 2 * Math.PI : 1;
    m.start = 0;
    m.course = { kind: 'cycle' };
  });
const fields = computed(() => drawnFields(masterSchema, master.value, machine.document!));

const followers = computed(() =>
  machine.axes.map((axis) => {
    const { source, over, engage } = axis.motion;
    const how =
      source.kind === 'follow'
        ? source.axis === null
          ? 'at a fixed ratio'
          : `along with ${machine.axes.find(({ id }) => id === source.axis)?.name ?? 'an axis that is gone'}`
        : over === 'master'
          ? {
              plan: 'by its plan',
              points: 'by a table',
              formula: 'by a formula',
              constant: '',
              harmonic: '',
              moves: '',
              cues: '',
            }[source.kind]
          : null;
    return { axis, how: how && engage ? `${how}, engaging on the way` : how };
  }),
);

const GRID = 500;
const times = computed(() => Float64Array.from({ length: GRID + 1 }, (_, i) => (machine.cycle * i) / GRID));
const panels = computed<CurvePanel[]>(() => {
  if (!motions.master) return [];
  const { position, velocity, acceleration } = sampleMotion(motions.master, times.value);
  const [p, v, a] = [
    displayUnit(kinds.value.position, machine.units),
    displayUnit(kinds.value.velocity, machine.units),
    displayUnit(kinds.value.acceleration, machine.units),
  ];
  const { wrap } = master.value;
  return [
    {
      id: 'wrapped',
      title: 'Position of the master, wrapped',
      unit: p.symbol,
      curves: [
        {
          label: 'Master',
          colour: '--primary',
          values: position.map((x) => (x - wrap * Math.floor(x / wrap + 1e-12)) / p.factor),
        },
      ],
    },
    {
      id: 'counted',
      title: 'Position, counted on',
      unit: p.symbol,
      curves: [{ label: 'Master', colour: '--primary', values: position.map((x) => x / p.factor) }],
    },
    {
      id: 'speed',
      title: 'Speed',
      unit: v.symbol,
      curves: [{ label: 'Master', colour: '--primary', values: velocity.map((x) => x / v.factor) }],
    },
    {
      id: 'acceleration',
      title: 'Acceleration',
      unit: a.symbol,
      curves: [{ label: 'Master', colour: '--primary', values: acceleration.map((x) => x / a.factor) }],
    },
  ];
});
</script>

<template>
  <div class="halves">
    <div class="left">
      <section class="panel" aria-label="Virtual master">
        <h2>Virtual master</h2>
        <div class="fields">
          <ChoiceField
            :value="master.kind"
            label="It"
            :options="{ rotary: 'Turns', linear: 'Slides' }"
            @choose="setKind"
          />
          <SchemaFields :fields :change="(change, label) => edit(label, change)" />
        </div>
        <p v-if="motions.masterProblem" class="bad" role="alert">{{ motions.masterProblem }}</p>
        <h3>Who goes with it</h3>
        <ul class="followers">
          <li v-for="{ axis, how } in followers" :key="axis.id">
            <b>{{ axis.name }}</b>
            <RouterLink :to="{ query: {} }" @click="machine.selectedAxisId = axis.id">{{
              how ?? 'moves over time by itself'
            }}</RouterLink>
          </li>
        </ul>
      </section>
      <section class="panel" aria-label="Constants">
        <h2>Constants of the formulas</h2>
        <ConstantsTable />
      </section>
    </div>
    <CurveStack v-if="panels.length > 0" :panels :times />
  </div>
</template>

<style scoped>
.halves {
  --left: 470px;
}
.fields {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 8px 10px;
}
h3 {
  margin: 12px 0 5px;
}
.followers {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 3px;
}
.followers li {
  display: flex;
  gap: 8px;
}
.followers b {
  font-weight: 500;
  min-width: 120px;
}
</style>
