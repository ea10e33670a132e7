<script setup lang="ts">
import { formatQuantity, GROUND, nameIn, type LocalPlace, type Mechanism } from '@yoke/core';
import { ElButton } from 'element-plus';
import { computed } from 'vue';
import { ChoiceField } from '@/components/fields';
import { useUntilChanged } from '@/composables/useUntilChanged';
import { useBoard, useMachine, useStroke } from '@/stores';

/** Stroke finder: from this pose to that, between these points – what cylinder would it take? */
const board = useBoard();
const machine = useMachine();
const stroke = useStroke();
const result = computed(() => stroke.result);
const done = useUntilChanged('');

const ENDS = [
  { which: 'from', label: 'From the point', has: 'fromEnd' },
  { which: 'to', label: 'To the point', has: 'toEnd' },
] as const;
const PICKED = 'picked';
/** Drawn points, and where they are in the frame of their body. */
const points = computed(() => {
  const m = board.mechanism as Mechanism;
  const option = (label: string, place: LocalPlace) => ({ value: `${place.body}.${place.point}`, label, place });
  return [
    ...m.ground.map(({ id, at, plane }) =>
      option(`${frameName(plane)} ${id}`, { body: GROUND, at: [...at], plane, point: id }),
    ),
    ...m.bodies.flatMap(({ id: body, name, points: own }) =>
      own.map(({ id, at }) => option(`${name}.${id}`, { body, at: [...at], point: id })),
    ),
  ];
});
/** What a point of the ground is called by: the plane that it is fixed to, where there are several. */
function frameName(plane: string | undefined): string {
  const planes = (board.mechanism as Mechanism).planes;
  return planes.length > 1 ? `Frame of ${planes.find(({ id }) => id === plane)?.name}` : 'Ground';
}
const keyOf = (end: LocalPlace | null): string => {
  if (!end) return '';
  const isMeant = ({ place }: { place: LocalPlace }) =>
    place.body === end.body &&
    (end.body !== GROUND || place.plane === (end.plane ?? board.mechanism!.planes[0]!.id)) &&
    (end.point === undefined
      ? Math.hypot(place.at[0] - end.at[0], place.at[1] - end.at[1]) < 1e-9
      : place.point === end.point);
  return points.value.find(isMeant)?.value ?? PICKED;
};
/** A place that was picked beside all drawn points is listed, too. */
const optionsOf = (end: LocalPlace | null) => {
  const known = points.value.map(({ value, label }) => ({ value, label }));
  if (!end || keyOf(end) !== PICKED) return known;
  const where = end.at.map((v) => formatQuantity(v, 'length', machine.units, 4)).join(', ');
  const carrier =
    end.body === GROUND ? frameName(end.plane ?? board.mechanism!.planes[0]!.id) : nameIn(machine.document!, end.body);
  return [{ value: PICKED, label: `${carrier} at ${where}` }, ...known];
};
function choose(which: 'from' | 'to', value: string): void {
  const found = points.value.find((point) => point.value === value);
  if (found) stroke.ends = { ...stroke.ends, [which]: { ...found.place } };
}
const missing = computed(() => {
  const { fromPose, toPose, fromEnd, toEnd } = stroke.has;
  const open = [
    ...(fromPose ? [] : ['the first pose']),
    ...(toPose ? [] : ['the second pose']),
    ...(fromEnd && toEnd ? [] : [fromEnd || toEnd ? 'one more point' : 'two points']),
  ];
  return `Still open: ${open.join(', ')}.`;
});
const make = () => (done.value = stroke.make());
const show = (v: number, kind: 'length' | 'force') => formatQuantity(v, kind, machine.units, 4);
/** Force over the stroke as a small curve. */
const curve = computed(() => {
  const need = result.value;
  if (!need || typeof need === 'string') return '';
  const all = Array.from(need.forces);
  const [low, high] = [Math.min(0, ...all), Math.max(0, ...all)];
  const span = high - low || 1;
  return all
    .map(
      (f, i) =>
        `${i === 0 ? 'M' : 'L'}${(4 + (i / (all.length - 1)) * 232).toFixed(1)} ${(64 - ((f - low) / span) * 58).toFixed(1)}`,
    )
    .join('');
});
const largest = computed(() => {
  const need = result.value;
  if (!need || typeof need === 'string') return 0;
  return need.forces.reduce((most, f) => (Math.abs(f) > Math.abs(most) ? f : most), 0);
});
</script>

<template>
  <section class="panel" aria-label="Stroke finder">
    <h2>Stroke finder</h2>
    <p class="note">Move the mechanism by hand into each pose and keep it here.</p>
    <div class="actions">
      <ElButton size="small" @click="stroke.keep('from')">{{
        stroke.has.fromPose ? 'First pose kept' : 'Keep first pose'
      }}</ElButton>
      <ElButton size="small" @click="stroke.keep('to')">{{
        stroke.has.toPose ? 'Second pose kept' : 'Keep second pose'
      }}</ElButton>
    </div>
    <div v-for="{ which, label, has } in ENDS" :key="which" class="end">
      <ChoiceField
        :value="stroke.has[has] ? keyOf(stroke.ends[which]) : ''"
        :label
        :options="optionsOf(stroke.has[has] ? stroke.ends[which] : null)"
        @choose="choose(which, $event)"
      />
      <ElButton size="small" :aria-label="`Pick in the picture: ${label.toLowerCase()}`" @click="stroke.pick(which)"
        >Pick</ElButton
      >
    </div>
    <div class="actions">
      <ElButton size="small" type="primary" :disabled="!stroke.ready" @click="stroke.find()">Find the stroke</ElButton>
    </div>
    <p v-if="!stroke.ready" class="note">{{ missing }}</p>
    <p v-if="typeof result === 'string'" class="bad" role="alert">{{ result }}</p>
    <template v-else-if="result">
      <dl class="facts">
        <dt>Stroke</dt>
        <dd>{{ show(result.stroke, 'length') }}</dd>
        <dt>Least length</dt>
        <dd>{{ show(result.shortest, 'length') }}</dd>
        <dt>Largest force</dt>
        <dd>{{ show(Math.abs(largest), 'force') }} {{ largest >= 0 ? 'pushing' : 'pulling' }}</dd>
      </dl>
      <svg viewBox="0 0 240 70" class="force" role="img" aria-label="Force over the stroke"><path :d="curve" /></svg>
      <p class="note">Force at rest over the stroke, first pose at the left.</p>
      <div class="actions">
        <ElButton size="small" type="primary" @click="make">Make this cylinder and drive it</ElButton>
      </div>
    </template>
    <p v-if="done" class="note" role="status">{{ done }}</p>
  </section>
</template>

<style scoped>
@import './panel.css';
.end {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 6px;
  align-items: end;
  margin-top: 8px;
}
.force {
  width: 100%;
  background: var(--sunken);
  margin-top: 6px;
}
.force path {
  fill: none;
  stroke: var(--primary);
  stroke-width: 1.8;
}
</style>
