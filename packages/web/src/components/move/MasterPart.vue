<script setup lang="ts">
import { AXIS_KINDS, displayUnit, LAWS, sampleMotion, type LawId, type Machine } from '@yoke/core';
import { computed } from 'vue';
import ChoiceField from '@/components/ChoiceField.vue';
import CurveStack, { type CurvePanel } from '@/components/CurveStack.vue';
import QuantityField from '@/components/QuantityField.vue';
import { put, type KeyOf } from '@/lib/put';
import { useMachine } from '@/stores/machine';
import { useMotions } from '@/stores/motions';
import ConstantsTable from './ConstantsTable.vue';

/** The virtual master: what it is, how it runs, and who follows it. */
const machine = useMachine();
const motions = useMotions();
type Master = Machine['master'];
const master = computed(() => machine.document!.master);
const kinds = computed(() => AXIS_KINDS[master.value.kind]);
const speedKind = computed(() => (master.value.kind === 'rotary' ? 'shaftSpeed' : 'velocity'));
const edit = (label: string, recipe: (m: Master) => void) =>
  machine.edit(label, (draft) => recipe(draft.master as Master));

const setKind = (kind: Master['kind']) =>
  edit('kind of the master', (m) => {
    m.kind = kind;
    m.wrap = kind === 'rotary' ? 2 * Math.PI : 1;
    m.start = 0;
    m.course = { kind: 'cycle' };
  });
const setCourse = (kind: Master['course']['kind']) =>
  edit('how the master runs', (m) => {
    const speed = m.wrap / machine.cycle;
    if (kind === 'cycle') m.course = { kind };
    else if (kind === 'speed') m.course = { kind, speed };
    else
      m.course = {
        kind,
        speed: speed * 1.5,
        up: machine.cycle / 6,
        down: machine.cycle / 6,
        stop: m.start + m.wrap,
        law: 'poly345',
      };
  });
const course = computed(() => master.value.course);
type CourseKey = Exclude<KeyOf<Machine['master']['course']>, 'kind' | 'law' | 'text' | 'rows'>;
const set = (key: CourseKey) => (value: number | null) => edit('how the master runs', (m) => put(m.course, key, value));
const positive = (key: CourseKey) => (value: number | null) =>
  value! > 0 ? set(key)(value) : 'Must be greater than zero.';
const laws = LAWS.filter(({ id }) => id !== 'straight').map(({ id, name }) => ({ value: id as LawId, label: name }));

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
  <div class="master">
    <div class="left">
      <section class="panel" aria-label="Virtual master">
        <h2>Virtual master</h2>
        <div class="fields">
          <ChoiceField
            :value="master.kind"
            label="It"
            :options="[
              { value: 'rotary', label: 'Turns' },
              { value: 'linear', label: 'Slides' },
            ]"
            @choose="setKind"
          />
          <QuantityField
            :value="master.wrap"
            :kind="kinds.position"
            label="Wraps after"
            hint="360° or any length: there its position begins anew"
            :commit="
              (v) => (v! > 0 ? edit('wrap of the master', (m) => void (m.wrap = v!)) : 'Must be greater than zero.')
            "
          />
          <QuantityField
            :value="master.start"
            :kind="kinds.position"
            label="Starts at"
            :commit="(v) => edit('start of the master', (m) => void (m.start = v!))"
          />
          <ChoiceField
            :value="course.kind"
            label="Runs"
            :options="[
              { value: 'cycle', label: 'Once a cycle', hint: 'One wrap in a cycle, at constant speed' },
              { value: 'speed', label: 'At a speed' },
              { value: 'ramp', label: 'With ramps', hint: 'From rest to a speed, and to a stop at a position' },
            ]"
            @choose="setCourse"
          />
          <QuantityField
            v-if="course.kind !== 'cycle'"
            :value="course.speed"
            :kind="speedKind"
            label="Speed"
            :commit="positive('speed')"
          />
          <template v-if="course.kind === 'ramp'">
            <QuantityField :value="course.up" kind="time" label="Ramp up in" :min="0" :commit="set('up')" />
            <QuantityField
              :value="course.stop"
              :kind="kinds.position"
              optional
              placeholder="runs on"
              label="Stops at"
              hint="Counted on without wrapping; empty runs on"
              :commit="set('stop')"
            />
            <QuantityField
              v-if="course.stop !== null"
              :value="course.down"
              kind="time"
              label="Ramp down in"
              :min="0"
              :commit="set('down')"
            />
            <ChoiceField
              :value="course.law"
              label="Law of the ramps"
              :options="laws"
              @choose="
                (law) => edit('law of the ramps', (m) => void (m.course.kind === 'ramp' && (m.course.law = law)))
              "
            />
          </template>
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
    <CurveStack v-if="panels.length > 0" :panels="panels" :times="times" />
  </div>
</template>

<style scoped>
.master {
  display: grid;
  grid-template: minmax(0, 1fr) / 470px minmax(0, 1fr);
  gap: 10px;
  min-height: 0;
}
.left {
  display: grid;
  gap: 10px;
  align-content: start;
  overflow: auto;
  min-height: 0;
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
