<script setup lang="ts">
import { counted, nameIn, pathThrough, readPlaces, wayInSpace, type PathLead, type Place } from '@yoke/core';
import { Trash2 } from '@lucide/vue';
import { ElButton, ElInput } from 'element-plus';
import { computed, ref } from 'vue';
import { ChoiceField, FileButton, IconButton, QuantityField, ToggleField } from '@/components/fields';
import { useMachine, useRun } from '@/stores';

/** A path in space by its places: typed, pasted, or taken from the trace of a point. */
type SpacePath = NonNullable<PathLead['space']>;
type At = [number, number, number];
const props = defineProps<{ space: SpacePath }>();
const emit = defineEmits<{ change: [label: string, space: SpacePath] }>();
const machine = useMachine();
const results = useRun();

/** A place of the path, as a row: what leads there, and how it is put elsewhere. */
interface Row {
  key: string;
  label: string;
  at: At;
  put(space: SpacePath, at: At): void;
  /** Which piece goes with it. */
  piece: number | null;
  /** Which of the places of a spline. */
  through: number | null;
}
const rows = computed<Row[]>(() => [
  {
    key: 'start',
    label: 'Starts at',
    at: props.space.start,
    put: (space, at) => void (space.start = at),
    piece: null,
    through: null,
  },
  ...props.space.pieces.flatMap((piece, i): Row[] => {
    const own = (space: SpacePath) => space.pieces[i]!;
    if (piece.kind === 'spline')
      return piece.through.map((at, k) => ({
        key: `${i} ${k}`,
        label: k === 0 ? 'Spline through' : 'and',
        at,
        put: (space, to) => void ((own(space) as typeof piece).through[k] = to),
        piece: i,
        through: k,
      }));
    const end: Row = {
      key: `${i} to`,
      label: piece.kind === 'line' ? 'Line to' : 'to',
      at: piece.to,
      put: (space, to) => void ((own(space) as typeof piece).to = to),
      piece: i,
      through: null,
    };
    if (piece.kind === 'line') return [end];
    return [
      {
        key: `${i} via`,
        label: 'Arc by way of',
        at: piece.via,
        put: (space, to) => void ((own(space) as typeof piece).via = to),
        piece: null,
        through: null,
      },
      end,
    ];
  }),
]);
function change(label: string, recipe: (space: SpacePath) => void): null {
  const next = JSON.parse(JSON.stringify(props.space)) as SpacePath;
  recipe(next);
  emit('change', label, next);
  return null;
}
const setPart = (row: Row, k: number) => (value: number | null) =>
  change('place of a path', (space) => row.put(space, row.at.map((part, i) => (i === k ? value! : part)) as At));
function remove({ piece, through }: Row): void {
  change('delete a piece', (space) => {
    const own = space.pieces[piece!]!;
    if (own.kind === 'spline' && own.through.length > 1) own.through.splice(through!, 1);
    else space.pieces.splice(piece!, 1);
  });
}
const last = computed<At>(() => rows.value.at(-1)!.at);
function add(kind: 'line' | 'arc' | 'spline'): void {
  const [x, y, z] = last.value;
  const step = machine.units === 'metric' ? 0.05 : 0.0508;
  const to: At = [x + step, y, z];
  change('add a piece', ({ pieces }) => {
    const before = pieces.at(-1);
    if (kind === 'line') pieces.push({ kind, to });
    else if (kind === 'arc') pieces.push({ kind, via: [x + step / 2, y + step / 2, z], to });
    else if (before?.kind === 'spline') before.through.push(to);
    else pieces.push({ kind, through: [to] });
  });
}

const pasting = ref(false);
const text = ref('');
const as = ref<'lines' | 'spline'>('lines');
const error = ref<string | null>(null);
function take(places: () => readonly At[]): void {
  try {
    const found = places();
    emit('change', 'places of a path', pathThrough(found, as.value) as SpacePath);
    error.value = null;
    pasting.value = false;
    text.value = '';
  } catch (problem) {
    error.value = (problem as Error).message;
  }
}
const traces = computed(() =>
  (results.document?.mechanism.traces ?? []).map((place) => ({
    place,
    value: `${place.body}.${place.point}`,
    label: `${nameIn(results.document!, place.body)}, ${place.point}`,
  })),
);
const fromTrace = (place: Place) =>
  take(() => (results.document && results.run?.mechanism ? wayInSpace(results.document.mechanism, results.run.mechanism, place, 5000) : [])); // prettier-ignore
const PARTS = ['x', 'y', 'z'] as const;
</script>

<template>
  <section class="space" aria-label="Path in space">
    <table class="rows">
      <thead>
        <tr>
          <th />
          <th v-for="part in PARTS" :key="part">{{ part }}</th>
          <th />
        </tr>
      </thead>
      <tbody>
        <tr v-for="(row, i) in rows" :key="row.key">
          <th scope="row">{{ row.label }}</th>
          <td v-for="(part, k) in PARTS" :key="part">
            <QuantityField
              bare
              :value="row.at[k]!"
              kind="length"
              :label="part"
              :of="`place ${i + 1}`"
              :commit="setPart(row, k)"
            />
          </td>
          <td>
            <IconButton
              v-if="row.piece !== null && rows.length > 2 && (space.pieces.length > 1 || row.through !== null)"
              :icon="Trash2"
              :size="14"
              :label="`Delete place ${i + 1}`"
              @click="remove(row)"
            />
          </td>
        </tr>
      </tbody>
    </table>
    <div class="line">
      <ElButton size="small" @click="add('line')">Line</ElButton>
      <ElButton size="small" @click="add('arc')">Arc</ElButton>
      <ElButton size="small" @click="add('spline')">Spline</ElButton>
      <ElButton size="small" :aria-expanded="pasting" @click="pasting = !pasting">Places from elsewhere …</ElButton>
      <ToggleField
        :value="space.closed"
        label="Closed"
        @change="(on) => change('close the path', (own) => void (own.closed = on))"
      />
    </div>
    <div v-if="pasting" class="paste">
      <ElInput
        v-model="text"
        type="textarea"
        :rows="4"
        aria-label="Pasted places"
        placeholder="Paste cells from a spreadsheet or CSV here: x, y and z. They take the place of the path above."
      />
      <div class="line">
        <ChoiceField
          bare
          :value="as"
          label="Joined"
          :options="{ lines: 'By lines', spline: 'By a spline' }"
          @choose="as = $event"
        />
        <ElButton
          type="primary"
          size="small"
          :disabled="text.trim() === ''"
          @click="take(() => readPlaces(text, machine.units))"
          >Take the places</ElButton
        >
        <FileButton accept=".csv,.txt,.tsv,text/csv" @read="(content) => (text = content)">Read a file …</FileButton>
        <ElButton v-for="trace in traces" :key="trace.value" size="small" @click="fromTrace(trace.place)"
          >From the trace of {{ trace.label }}</ElButton
        >
        <span v-if="traces.length === 0" class="soft">A point that is traced in Run gives its way here as well.</span>
      </div>
    </div>
    <p v-if="error" class="bad" role="alert">{{ error }}</p>
    <p class="soft">
      {{ counted(rows.length, 'place') }} in the world: x to the right, y up, z towards the viewer of the front plane.
    </p>
  </section>
</template>

<style scoped>
.space {
  margin-bottom: 8px;
}
.rows {
  width: 100%;
}
.rows th[scope='row'] {
  font-weight: 500;
  text-align: left;
  white-space: nowrap;
}
.line {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px;
  margin: 6px 0;
}
.line :deep(.choice) {
  width: 120px;
}
.line :deep(.toggle) {
  display: flex;
  gap: 6px;
  align-items: center;
}
.paste {
  padding: 8px;
  background: var(--sunken);
  border-radius: var(--radius);
}
p {
  margin: 4px 0 0;
}
</style>
