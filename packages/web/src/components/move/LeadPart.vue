<script setup lang="ts">
import {
  displayUnit,
  formatQuantity,
  freeId,
  keepMotions,
  straightOn,
  type LeadResult,
  type Machine,
  type PathLead,
} from '@yoke/core';
import { useDebounceFn } from '@vueuse/core';
import { ElButton } from 'element-plus';
import { computed, ref, shallowRef, watch } from 'vue';
import CurveStack, { type CurvePanel } from '@/components/CurveStack.vue';
import { DeleteButton } from '@/components/fields';
import { useCursor, useMachine, useWork } from '@/stores';
import LeadFields from './LeadFields.vue';
import LeadPicture from './LeadPicture.vue';
import LeadSpace from './LeadSpace.vue';

/** Tool points led along paths: what they do there, and the motions their axes must make. */
const machine = useMachine();
const cursor = useCursor();
const work = useWork();
const leads = computed(() => machine.document!.leads);
const chosen = ref<string | null>(null);
const lead = computed(() => leads.value.find(({ id }) => id === chosen.value) ?? leads.value[0] ?? null);
const result = shallowRef<LeadResult | null>(null);
const busy = ref(false);
const kept = ref<string | null>(null);
const mechanism = computed(() => machine.document!.mechanism);

function add(): void {
  const id = freeId('lead', leads.value.map((l) => l.id)); // prettier-ignore
  const body = mechanism.value.bodies.at(-1);
  const fresh: PathLead = {
    id,
    name: freeId('Tool ', leads.value.map((l) => l.name)), // prettier-ignore
    path: mechanism.value.paths[0]?.id ?? 'none',
    point: { body: body?.id ?? 'none', point: body?.points.at(-1)?.id ?? 'none' },
    axes: machine.axes.filter(({ joint }) => joint !== null).map((axis) => axis.id),
    blend: 0.01,
    law: { kind: 'speed', speed: 0.2, ramp: Math.min(0.2, machine.cycle / 10) },
    samples: 400,
    start: 0,
  };
  if (mechanism.value.paths.length === 0) fresh.space = straightOn(machine.document!, fresh.point);
  machine.edit('lead a tool point', (draft) => void draft.leads.push(fresh as (typeof draft.leads)[number]));
  chosen.value = id;
}
const remove = (id: string) =>
  machine.edit('delete a led point', (draft) => void (draft.leads = draft.leads.filter((l) => l.id !== id)));

const failure = ref<string | null>(null);
/** Counts what was asked for: a result that is no longer asked for is not shown, let alone kept. */
let asked = 0;
const compute = useDebounceFn(async () => {
  const wanted = lead.value;
  const mine = asked;
  let found: LeadResult | null = null;
  let said: string | null = null;
  try {
    if (wanted && machine.document) found = await work.lead(wanted);
  } catch (error) {
    said = (error as Error).message;
  }
  if (mine !== asked) return;
  result.value = found;
  failure.value = said;
  busy.value = false;
}, 150);
watch(
  [lead, () => machine.document],
  () => {
    kept.value = null;
    asked++;
    busy.value = true;
    void compute();
  },
  { immediate: true },
);

const length = (value: number) => formatQuantity(value, 'length', machine.units, 4);
const peakText = computed(() => {
  const peak = result.value?.peak;
  if (!peak) return null;
  const cause =
    peak.cause === 'curvature'
      ? `by the curvature of the path (radius ${Number.isFinite(peak.radius) ? length(peak.radius) : 'none'})`
      : 'by the law along it';
  return `The greatest acceleration, ${formatQuantity(peak.value, 'acceleration', machine.units, 4)}, is ${length(peak.arc)} along the path at ${formatQuantity(peak.time, 'time', machine.units, 4)}; it is set ${cause}.`;
});
function toPeak(): void {
  cursor.stopAt(result.value!.peak!.time);
}

function keep(): void {
  const found = result.value;
  if (!found || busy.value) return;
  const still = found.still.map(({ axisId }) => machine.axes.find(({ id }) => id === axisId)!.name);
  const names = found.required.map(({ axisId }) => machine.axes.find(({ id }) => id === axisId)!.name);
  const problem = machine.edit('keep the motions of the axes', (draft) => keepMotions(draft as Machine, found));
  // The document has changed, and with it the result; the note is for what was done.
  setTimeout(
    () =>
      (kept.value =
        problem ??
        `${names.join(' and ')} now make these motions${still.length > 0 ? `, ${still.join(' and ')} ${still.length === 1 ? 'stands' : 'stand'} still` : ''}: Run shows the forces, Size the torques.`),
    0,
  );
}

const panels = computed<CurvePanel[]>(() => {
  const samples = result.value?.samples;
  if (!samples) return [];
  const [l, v, a] = [
    displayUnit('length', machine.units),
    displayUnit('velocity', machine.units),
    displayUnit('acceleration', machine.units),
  ];
  const peak = result.value?.peak;
  const per = (values: Float64Array, factor: number) => values.map((value) => value / factor);
  return [
    {
      id: 'arc',
      title: 'Length along the path',
      unit: l.symbol,
      curves: [{ label: 'Length', colour: '--axis-0', values: per(samples.arc, l.factor) }],
    },
    {
      id: 'speed',
      title: 'Speed of the tool',
      unit: v.symbol,
      curves: [{ label: 'Speed', colour: '--axis-0', values: per(samples.speed, v.factor) }],
    },
    {
      id: 'acceleration',
      title: 'Acceleration of the tool',
      unit: a.symbol,
      curves: [
        { label: 'along', colour: '--axis-1', values: per(samples.tangential, a.factor) },
        { label: 'across', colour: '--axis-2', values: per(samples.normal, a.factor) },
        { label: 'in all', colour: '--axis-0', values: per(samples.total, a.factor) },
      ],
      marks: peak ? [{ time: peak.time, value: peak.value / a.factor, text: `peak: ${peak.cause}` }] : [],
    },
    {
      id: 'curvature',
      title: 'Curvature of the path',
      unit: `1/${l.symbol}`,
      curves: [{ label: 'Curvature', colour: '--axis-3', values: samples.curvature.map((k) => k * l.factor) }],
    },
  ];
});
</script>

<template>
  <div class="halves">
    <div class="left">
      <section class="panel" aria-label="Tool points led along paths">
        <h2>Tool points led along paths</h2>
        <p v-if="mechanism.bodies.length === 0" class="soft">
          A tool is led where there is a mechanism: draw an arm in
          <RouterLink :to="{ name: 'build', params: { id: machine.id }, query: { part: 'board' } }">Build</RouterLink>,
          and the path there or here, or open the “Watering arm” of the demo.
        </p>
        <LeadPicture v-if="lead && result && !lead.space" :lead :result class="beside" />
        <ul class="list">
          <li v-for="item in leads" :key="item.id">
            <button type="button" class="plain" :aria-pressed="item.id === lead?.id" @click="chosen = item.id">
              {{ item.name }}
            </button>
            <DeleteButton :label="`Delete ${item.name}`" @click="remove(item.id)" />
          </li>
        </ul>
        <ElButton size="small" :disabled="mechanism.bodies.length === 0" @click="add">Lead a tool point</ElButton>
      </section>
      <LeadSpace v-if="lead?.space && result" :lead :result />
      <LeadFields v-if="lead" :key="lead.id" :lead />
      <p v-if="failure" class="bad" role="alert">{{ failure }}</p>
      <section v-if="lead && result" class="panel" aria-label="What comes of it" :aria-busy="busy">
        <h2>What comes of it</h2>
        <p class="soft">
          The path is {{ length(result.length) }} long{{ lead.blend > 0 ? ' with its corners blended' : '' }}.
        </p>
        <p v-for="problem in result.problems" :key="problem" class="bad" role="alert">{{ problem }}</p>
        <p v-for="note in result.notes" :key="note" class="note">{{ note }}</p>
        <p v-if="peakText">
          <button type="button" class="plain link" title="Cursor to this place" @click="toPeak">{{ peakText }}</button>
        </p>
        <ElButton type="primary" size="small" :disabled="result.required.length === 0 || busy" @click="keep"
          >Keep as motions of
          {{ result.required.length === 1 ? 'the axis' : `the ${result.required.length || ''} axes` }}</ElButton
        >
        <p v-if="kept" class="note" role="status">{{ kept }}</p>
      </section>
    </div>
    <CurveStack v-if="panels.length > 0" :panels :times="result!.samples!.times" :stale="busy" />
  </div>
</template>

<style scoped>
.halves {
  --left: 470px;
}
.beside {
  float: right;
  width: 300px;
}
.list {
  list-style: none;
  margin: 0 0 8px;
  padding: 0;
}
.list li {
  display: flex;
  align-items: center;
  gap: 6px;
}
.list button[aria-pressed='true'] {
  font-weight: 600;
  color: var(--primary);
}
.link {
  text-align: left;
}
.link:hover {
  text-decoration: underline;
}
.note {
  font-size: 13px;
  color: var(--attention-ink);
}
</style>
