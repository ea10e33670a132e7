<script setup lang="ts">
import {
  AXIS_KINDS,
  camTable,
  camTableCsv,
  camTableError,
  formatQuantity,
  makeTrajectory,
  motionOfAxis,
  plcXml,
  readCamTableCsv,
  readPlcXml,
  readStructuredText,
  readTrajectoryCsv,
  readTrajectoryJson,
  structuredText,
  tableError,
  trajectoryCsv,
  trajectoryJson,
  type PointForm,
  type TableError,
  type Trajectory,
} from '@yoke/core';
import { ElButton } from 'element-plus';
import { computed, ref, watch } from 'vue';
import BrokenNote from '@/components/BrokenNote.vue';
import { ChoiceField, FileButton, QuantityField } from '@/components/fields';
import { download, fileName } from '@/lib/files';
import { useMachine, useRun } from '@/stores';

/** The motion of an axis for a controller: points by step or by error, in several files, each read back and held against the motion. */
type Way = 'csv' | 'json' | 'st' | 'xml' | 'cam';
const machine = useMachine();
const results = useRun();
const axisId = ref<string>(machine.axis?.id ?? '');
const axis = computed(() => machine.axes.find(({ id }) => id === axisId.value) ?? machine.axes[0]!);
const way = ref<Way>('csv');
const form = ref<PointForm>('pvat');
const by = ref<'step' | 'error'>('error');
const step = ref(machine.cycle / 100);
/** A hundredth of a millimetre, a thousandth of a degree. */
const errors = ref({ linear: 1e-5, rotary: Math.PI / 180e3 });
const error = computed({
  get: () => errors.value[axis.value.kind],
  set: (value) => (errors.value = { ...errors.value, [axis.value.kind]: value }),
});
const intervals = ref(360);
const read = ref<{ name: string; said: string; bad: boolean } | null>(null);
const broken = computed(() => results.beside.pending || (results.brokenFor(axis.value) !== null && !results.insisted));
const kinds = computed(() => AXIS_KINDS[axis.value.kind]);
watch([axisId, way, () => machine.document], () => (read.value = null));

const WAYS: Record<Way, { label: string; hint: string; ending: string; type: string }> = {
  csv: {
    label: 'Point table, CSV',
    hint: 'Time, position, velocity and acceleration',
    ending: 'points.csv',
    type: 'text/csv',
  },
  json: { label: 'Point table, JSON', hint: 'The same in SI units', ending: 'points.json', type: 'application/json' },
  st: {
    label: 'Structured Text',
    hint: 'IEC 61131-3: a function block with the table, and what interpolates it',
    ending: 'motion.st',
    type: 'text/plain',
  },
  xml: {
    label: 'XML for controllers',
    hint: 'IEC 61131-10: the same block in the exchange format',
    ending: 'motion.xml',
    type: 'application/xml',
  },
  cam: { label: 'Cam table over the master', hint: 'Master, position and slope', ending: 'cam.csv', type: 'text/csv' },
};

/** Errors of writing and reading numbers, SI. */
const ROUNDING = { position: 1e-12, velocity: 1e-10, acceleration: 1e-8 };

interface Made {
  text: string;
  points: number;
  /** Largest distance from the motion after it was read back, in words, and what lies between points. */
  away: string;
  between: string;
  /** Knees at which two rows stand. */
  knees: number;
}
function readers(
  trajectory: Trajectory,
): Record<Exclude<Way, 'cam'>, [write: () => string, read: (text: string) => number[][]]> {
  return {
    csv: [() => trajectoryCsv(trajectory), (text) => readTrajectoryCsv(text, trajectory)],
    json: [() => trajectoryJson(trajectory), readTrajectoryJson],
    st: [() => structuredText(trajectory), (text) => readStructuredText(text, trajectory)],
    xml: [() => plcXml(trajectory, new Date().toISOString()), (text) => readPlcXml(text, trajectory)],
  };
}
const between = computed(() => (form.value === 'pvt' ? 'a cubic' : 'a quintic'));

const made = computed<Made | { problem: string }>(() => {
  const document = machine.document!;
  try {
    if (way.value === 'cam') {
      const table = camTable(document, axis.value, intervals.value);
      return {
        text: camTableCsv(document, axis.value, table),
        points: table.rows.length,
        away: `${length(table.lineError)} in position`,
        between: 'straight lines',
        knees: 0,
      };
    }
    const trajectory = makeTrajectory(
      document,
      axis.value,
      form.value,
      by.value === 'step' ? { by: 'step', step: step.value } : { by: 'error', error: error.value },
    );
    const [write, readBack] = readers(trajectory)[way.value];
    const text = write();
    const { rows } = trajectory;
    const knees = rows.filter(([time], i) => i > 0 && time === rows[i - 1]![0]).length;
    const away = errorWords(tableError(readBack(text), motionOfAxis(document, axis.value)));
    return { text, points: rows.length, away, between: between.value, knees };
  } catch (failure) {
    return { problem: (failure as Error).message };
  }
});
const file = computed(
  () => `${fileName(machine.document!.name)}-${fileName(axis.value.name)}-${WAYS[way.value].ending}`,
);
const save = () => 'text' in made.value && download(file.value, made.value.text, WAYS[way.value].type);

/** Errors far below any drive's resolution are those of writing numbers. */
const length = (value: number) =>
  value < 1e-12 ? 'nothing but rounding' : formatQuantity(value, kinds.value.position, machine.units, 3);
/** Largest errors with the times at which they stand. */
function errorWords(error: TableError): string {
  const words = (['position', 'velocity', 'acceleration'] as const).flatMap((what) => {
    const { most, time } = error[what];
    if (most < ROUNDING[what]) return [];
    const amount = formatQuantity(most, kinds.value[what], machine.units, 3);
    return [`${amount} in ${what} (at ${formatQuantity(time, 'time', machine.units, 4)})`];
  });
  return words.length > 0 ? words.join(', ') : 'nothing but rounding in position, velocity and acceleration';
}
/** Reads a file back, as it came from elsewhere, and holds it against the motion as it is now. */
function readFile(text: string, name: string): void {
  const document = machine.document!;
  const motion = motionOfAxis(document, axis.value);
  const plain: Trajectory = {
    axis: axis.value.name,
    kind: axis.value.kind,
    units: document.units,
    form: form.value,
    rows: [],
  };
  try {
    if (way.value === 'cam') {
      const rows = readCamTableCsv(text, document, axis.value);
      read.value = {
        name,
        bad: false,
        said: `${rows.length} points read; at most ${length(camTableError(document, axis.value, rows))} from the motion of ${axis.value.name}, at the points.`,
      };
      return;
    }
    const rows = readers(plain)[way.value][1](text);
    const found = errorWords(tableError(rows, motion));
    read.value = {
      name,
      bad: false,
      said: `${rows.length} points read; from the motion of ${axis.value.name} at most ${found}.`,
    };
  } catch (failure) {
    read.value = { name, bad: true, said: (failure as Error).message };
  }
}
const preview = computed(() =>
  'text' in made.value
    ? made.value.text
        .split('\n')
        .slice(0, 6)
        .map((line) => (line.length > 80 ? `${line.slice(0, 79)}…` : line))
        .join('\n')
    : '',
);
</script>

<template>
  <section class="panel" aria-label="Motion for the controller">
    <h2>Motion for the controller</h2>
    <div class="fields">
      <ChoiceField
        :value="axis.id"
        label="Axis"
        :options="machine.axes.map(({ id, name }) => ({ value: id, label: name }))"
        @choose="axisId = $event"
      />
      <ChoiceField
        :value="way"
        label="Written as"
        :options="
          (Object.keys(WAYS) as Way[]).map((value) => ({ value, label: WAYS[value].label, hint: WAYS[value].hint }))
        "
        @choose="way = $event"
      />
      <template v-if="way !== 'cam'">
        <ChoiceField
          :value="form"
          label="Each point holds"
          :options="[
            { value: 'pvt', label: 'Position, velocity, time', hint: 'Between points a cubic' },
            { value: 'pvat', label: '… and acceleration', hint: 'Between points a quintic' },
          ]"
          @choose="form = $event"
        />
        <ChoiceField
          :value="by"
          label="Spaced by"
          :options="[
            { value: 'error', label: 'Largest error', hint: 'As few points as keep it' },
            { value: 'step', label: 'Equal steps' },
          ]"
          @choose="by = $event"
        />
        <QuantityField
          v-if="by === 'error'"
          :value="error"
          :kind="kinds.position"
          label="Error at most"
          :commit="(v) => (v! > 0 ? ((error = v!), null) : 'Must be greater than zero.')"
        />
        <QuantityField
          v-else
          :value="step"
          kind="time"
          label="Step"
          :commit="(v) => (v! > 0 ? ((step = v!), null) : 'Must be greater than zero.')"
        />
      </template>
      <QuantityField
        v-else
        :value="intervals"
        kind="number"
        label="Intervals"
        :min="2"
        :max="20000"
        :commit="(v) => ((intervals = Math.round(v!)), null)"
      />
    </div>
    <p v-if="'problem' in made" class="bad" role="alert">{{ made.problem }}</p>
    <template v-else>
      <p class="outcome" role="status">
        {{ made.points }} points, {{ made.between }} between them<template v-if="made.knees">
          (two at {{ made.knees }} {{ made.knees === 1 ? 'knee' : 'knees' }} where it steps: before and after)</template
        >. Read back, from the motion at most <b class="figures">{{ made.away }}</b>.
      </p>
      <pre class="figures" tabindex="0" aria-label="First lines of the file">{{ preview }}</pre>
    </template>
    <BrokenNote v-if="!('problem' in made)" :axis what="delivered" />
    <div class="buttons">
      <ElButton type="primary" :disabled="'problem' in made || broken || results.stale" @click="save"
        >Save {{ WAYS[way].label }}</ElButton
      >
      <FileButton accept=".csv,.json,.st,.xml,.txt" @read="readFile">Read one back …</FileButton>
    </div>
    <p v-if="read" :class="{ bad: read.bad }" role="status">{{ read.name }}: {{ read.said }}</p>
  </section>
</template>

<style scoped>
.fields {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 8px 10px;
}
.outcome {
  margin: 8px 0 4px;
}
pre {
  background: var(--sunken);
  border: 1px solid var(--line-soft);
  padding: 6px 8px;
  overflow: auto;
  margin: 0 0 8px;
  font-size: 10.5px;
}
.buttons {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
</style>
