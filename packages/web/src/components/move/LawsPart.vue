<script setup lang="ts">
import {
  counted,
  AXIS_KINDS,
  describeEnds,
  displayUnit,
  formatNumber,
  lawCharacteristics,
  LAWS,
  makeLaw,
  motionOptions,
  toDisplay,
  valueAt,
  type ComparedMotion,
  type LawId,
} from '@yoke/core';
import { useDebounceFn } from '@vueuse/core';
import { ElButton, ElCheckbox } from 'element-plus';
import 'element-plus/theme-chalk/el-checkbox.css';
import { computed, ref, shallowRef, watch } from 'vue';
import CurveStack, { type CurvePanel } from '@/components/CurveStack.vue';
import { useCatalogue, useMachine, useWork } from '@/stores';

/** The laws, and how chosen ones and motions put aside do on this axis, under its own load. */
const machine = useMachine();
const work = useWork();
const catalogue = useCatalogue();
const axis = computed(() => machine.axis!);
const planned = computed(() => axis.value.motion.source.kind === 'plan');
const chosen = ref<LawId[]>(['modifiedSine', 'modifiedTrapezoid']);
const reading = ref<LawId>('poly345');
const compared = shallowRef<ComparedMotion[]>([]);
const busy = ref(false);
const failure = ref<string | null>(null);

const laws = LAWS.map((law) => {
  const made = makeLaw(law.id);
  return { ...law, id: law.id as LawId, values: lawCharacteristics(made), ends: describeEnds(made) };
});
const figure = (value: number) => (Number.isFinite(value) ? value.toFixed(3) : '∞');
const detail = computed(() => laws.find(({ id }) => id === reading.value)!);
const toggle = (id: LawId, on: boolean) =>
  (chosen.value = on ? [...chosen.value, id] : chosen.value.filter((other) => other !== id));

const options = computed(() => motionOptions(axis.value, planned.value ? chosen.value : []));
const compute = useDebounceFn(async () => {
  if (!machine.document || !machine.axis) return;
  busy.value = true;
  try {
    compared.value = await work.compare(axis.value.id, options.value);
    failure.value = null;
  } catch (error) {
    failure.value = (error as Error).message;
  }
  busy.value = false;
}, 120);
watch([options, () => machine.document, () => catalogue.motors], () => void compute(), { immediate: true });

const kinds = computed(() => AXIS_KINDS[axis.value.kind]);
const columns = computed(() => {
  const unit = (kind: Parameters<typeof displayUnit>[0]) => displayUnit(kind, machine.units).symbol;
  return [
    { key: 'velocity', label: 'Peak velocity', unit: unit(kinds.value.velocity), kind: kinds.value.velocity },
    { key: 'acceleration', label: 'Peak accel.', unit: unit(kinds.value.acceleration), kind: kinds.value.acceleration },
    { key: 'jerk', label: 'Peak jerk', unit: unit(kinds.value.jerk), kind: kinds.value.jerk },
    { key: 'torque', label: 'Peak torque', unit: unit('torque'), kind: 'torque' },
    { key: 'rms', label: 'RMS torque', unit: unit('torque'), kind: 'torque' },
  ] as const;
});
type Column = (typeof columns.value)[number]['key'];
const valueOf = (row: ComparedMotion, key: Column) =>
  key === 'rms' ? row.rmsTorque : key === 'jerk' && row.jerky ? Infinity : row.peaks[key];
const cell = (row: ComparedMotion, { key, kind }: (typeof columns.value)[number]) => {
  const value = valueOf(row, key);
  return Number.isFinite(value) ? formatNumber(toDisplay(value, kind, machine.units), 4) : '∞, steps';
};
/** The least of each column among those without faults. */
const least = computed(() =>
  Object.fromEntries(
    columns.value.map(({ key }) => [
      key,
      Math.min(...compared.value.filter(({ faults }) => faults === 0).map((row) => valueOf(row, key))),
    ]),
  ),
);

function take(id: string): void {
  const option = options.value.find((other) => other.id === id);
  if (!option) return;
  machine.editAxis(`take ${option.name}`, (draft) => {
    draft.plan = JSON.parse(JSON.stringify(option.plan)) as typeof draft.plan;
    draft.motion = JSON.parse(JSON.stringify(option.motion)) as typeof draft.motion;
  });
}

const GRID = 800;
const times = computed(() => Float64Array.from({ length: GRID + 1 }, (_, i) => (machine.cycle * i) / GRID));
const panels = computed<CurvePanel[]>(() => {
  const shown = [
    { key: 'position', title: 'Position', kind: kinds.value.position },
    { key: 'velocity', title: 'Velocity', kind: kinds.value.velocity },
    { key: 'acceleration', title: 'Acceleration', kind: kinds.value.acceleration },
    { key: 'torque', title: 'Torque at the motor shaft', kind: 'torque' },
  ] as const;
  return shown.map(({ key, title, kind }) => {
    const { symbol, factor } = displayUnit(kind, machine.units);
    return {
      id: key,
      title,
      unit: symbol,
      curves: compared.value.map((row, i) => ({
        label: row.name,
        colour: `--axis-${i % 8}`,
        dashed: i >= 8,
        values: times.value.map((time) => valueAt(row.times, row[key], time) / factor),
      })),
    };
  });
});
</script>

<template>
  <div class="laws">
    <div class="left">
      <section class="panel" aria-label="Laws">
        <h2>Laws (VDI 2143) <span class="soft">unit rise in unit time</span></h2>
        <table class="rows library">
          <thead>
            <tr>
              <th scope="col">Compare</th>
              <th scope="col" data-word="Law">Law</th>
              <th scope="col" class="number" data-word="Cv">Cv</th>
              <th scope="col" class="number" data-word="Ca">Ca</th>
              <th scope="col" class="number">Cj</th>
              <th scope="col">Tasks</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="law in laws" :key="law.id" :class="{ read: law.id === reading }">
              <td>
                <ElCheckbox
                  size="small"
                  :model-value="chosen.includes(law.id)"
                  :disabled="!planned"
                  :aria-label="`Compare ${law.name}`"
                  @change="toggle(law.id, Boolean($event))"
                />
              </td>
              <td>
                <button type="button" class="plain" :aria-pressed="law.id === reading" @click="reading = law.id">
                  {{ law.name }}
                </button>
              </td>
              <td class="number figures">{{ figure(law.values.cv) }}</td>
              <td class="number figures">{{ figure(law.values.ca) }}</td>
              <td class="number figures">{{ figure(law.values.cj) }}</td>
              <td class="soft tasks">{{ law.tasks.join(' ') }}</td>
            </tr>
          </tbody>
        </table>
        <div class="detail" aria-live="polite">
          <b>{{ detail.name }}</b> <code>{{ detail.formula }}</code>
          <p>
            {{ detail.advice }}
            <span class="soft"
              >At the ends: {{ detail.ends }}. R rest, G constant speed, U reversal, B any motion.</span
            >
          </p>
        </div>
      </section>
    </div>
    <div class="right">
      <section class="panel" aria-label="Comparison on this axis" :aria-busy="busy">
        <h2>On {{ axis.name }}, under its own load</h2>
        <p v-if="!planned" class="soft">
          Other laws are tried on a motion plan; here stand the motion in use and those put aside.
        </p>
        <p v-if="failure" class="bad" role="alert">{{ failure }}</p>
        <table class="rows">
          <thead>
            <tr>
              <th scope="col">Motion</th>
              <th v-for="column in columns" :key="column.key" scope="col" class="number">
                {{ column.label }} <span class="soft">{{ column.unit }}</span>
              </th>
              <th scope="col"><span class="visually-hidden">Take it</span></th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(row, i) in compared" :key="row.id">
              <th scope="row">
                <i class="key" :style="{ background: `var(--axis-${i % 8})` }" />{{ row.name }}
                <span
                  v-if="row.faults > 0"
                  class="bad"
                  :title="`${counted(row.faults, 'finding')} against it: take it and read under Motion`"
                  >⚠</span
                >
              </th>
              <td
                v-for="column in columns"
                :key="column.key"
                class="number figures"
                :class="{ least: row.faults === 0 && valueOf(row, column.key) === least[column.key] }"
              >
                {{ cell(row, column) }}
              </td>
              <td>
                <ElButton v-if="row.id !== 'now'" size="small" :aria-label="`Take ${row.name}`" @click="take(row.id)"
                  >Take</ElButton
                >
              </td>
            </tr>
          </tbody>
        </table>
      </section>
      <CurveStack v-if="compared.length > 0" :panels :times :stale="busy" />
    </div>
  </div>
</template>

<style scoped>
.laws {
  display: grid;
  grid-template: minmax(0, 1fr) / 470px minmax(0, 1fr);
  gap: 10px;
  min-height: 0;
}
.left,
.right {
  min-height: 0;
  overflow: auto;
}
.right {
  display: grid;
  grid-template-rows: auto minmax(330px, 1fr);
  gap: 10px;
}
h2 .soft {
  font-weight: 400;
  font-size: 12.5px;
}
.library td {
  padding: 0 4px;
}
.library :deep(.el-checkbox) {
  height: 21px;
}
.library button {
  text-align: left;
}
tr.read td {
  background: var(--primary-soft);
}
.tasks {
  font: 11.5px var(--narrow);
}
.detail {
  margin-top: 8px;
  font-size: 13px;
  line-height: 1.35;
}
.detail p {
  margin: 3px 0 0;
}
code {
  font: 500 13px var(--words);
}
th[scope='row'] {
  font-weight: 500;
  text-align: left;
  white-space: nowrap;
}
.key {
  display: inline-block;
  width: 10px;
  height: 10px;
  border-radius: 2px;
  margin-right: 6px;
}
.least {
  color: var(--good);
  font-weight: 600;
}
</style>
