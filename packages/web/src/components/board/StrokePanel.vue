<script setup lang="ts">
import { formatQuantity, GROUND, strokeNeed, type Place, type Positions, type StrokeNeed } from '@yoke/core';
import { ElButton } from 'element-plus';
import { computed, ref, shallowRef } from 'vue';
import { ChoiceField } from '@/components/fields';
import { useBoard, useMachine } from '@/stores';

/** Stroke finder: from this pose to that, between these points – what cylinder would it take? */
const board = useBoard();
const machine = useMachine();
const from = shallowRef<Positions | null>(null);
const to = shallowRef<Positions | null>(null);
const first = ref('');
const second = ref('');
const result = shallowRef<StrokeNeed | string | null>(null);

const options = computed(() => [
  ...board.mechanism!.ground.map((p) => ({ value: `${GROUND}.${p.id}`, label: `Ground ${p.id}` })),
  ...board.mechanism!.bodies.flatMap((b) =>
    b.points.map((p) => ({ value: `${b.id}.${p.id}`, label: `${b.name}.${p.id}` })),
  ),
]);
const placeOf = (text: string): Place | null => {
  const [body, point] = text.split('.');
  return body && point ? { body, point } : null;
};
const ready = computed(() => from.value && to.value && placeOf(first.value) && placeOf(second.value));

function find(): void {
  const [a, b] = [placeOf(first.value), placeOf(second.value)];
  if (!a || !b || !from.value || !to.value || !machine.document) return;
  result.value =
    a.body === b.body
      ? 'Both points are on one body: choose points that move against each other.'
      : strokeNeed(machine.document, [a, b], from.value, to.value);
}
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
      <ElButton size="small" @click="from = board.shownState()">{{
        from ? 'First pose kept' : 'Keep first pose'
      }}</ElButton>
      <ElButton size="small" @click="to = board.shownState()">{{
        to ? 'Second pose kept' : 'Keep second pose'
      }}</ElButton>
    </div>
    <div class="fields gap">
      <ChoiceField :value="first" label="From the point" :options @choose="first = $event" />
      <ChoiceField :value="second" label="To the point" :options @choose="second = $event" />
    </div>
    <div class="actions">
      <ElButton size="small" type="primary" :disabled="!ready" @click="find">Find the stroke</ElButton>
    </div>
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
    </template>
  </section>
</template>

<style scoped>
@import './panel.css';
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
