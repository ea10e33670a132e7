<script setup lang="ts">
import {
  addPointBehind,
  carryPath,
  cornerRadius,
  drawnFields,
  formatQuantity,
  GROUND,
  pathCorners,
  pathCurve,
  pathPoints,
  pathSchema,
  removePathPoint,
  roundCorners,
  withPathHandle,
  type MechanismPath,
} from '@yoke/core';
import { Plus } from '@lucide/vue';
import { computed } from 'vue';
import { ChoiceField, DeleteButton, IconButton, NameField, QuantityField, SchemaFields } from '@/components/fields';
import { useThing } from '@/composables/useThing';
import { useBoard, useMachine } from '@/stores';
import PathPieces from './PathPieces.vue';

/** A path: who carries it, its corners, its pieces and its points. */
const props = defineProps<{ path: MechanismPath }>();
type Shape = MechanismPath['shape'];
type Chain = Extract<Shape, { kind: 'chain' }>;
const board = useBoard();
const machine = useMachine();
const { edit, set } = useThing('paths', () => props.path.id);

const carriers = computed(() => [
  { value: GROUND, label: 'The ground' },
  ...board.mechanism!.bodies.map(({ id, name }) => ({ value: id, label: name })),
]);
const long = (value: number, digits = 5) => formatQuantity(value, 'length', machine.units, digits);
const outcome = computed(() => {
  try {
    const corners = pathCorners(props.path.shape);
    const where = corners.slice(0, 3).map(({ at }) => long(at, 4));
    return {
      length: `${long(pathCurve(props.path.shape).length)} long.`,
      corners:
        corners.length === 0
          ? ''
          : `${corners.length === 1 ? 'A sharp corner' : `${corners.length} sharp corners`}, at ${where.join(', ')}${corners.length > 3 ? ' …' : ''}: a speed of 0 is all ${corners.length === 1 ? 'it allows' : 'they allow'}. Round ${corners.length === 1 ? 'it' : 'them'}, or let what follows the path stop there.`,
    };
  } catch (error) {
    return { length: (error as Error).message, corners: '' };
  }
});
const fields = computed(() => drawnFields(pathSchema, props.path, machine.document!));
const change = (make: (path: MechanismPath) => void, label: string) => edit(label, make);

/** Changes the shape; a sentence in its place is said on the board. */
function reshape(label: string, make: (shape: Shape) => Shape | string): string | null {
  const made = make(props.path.shape);
  if (typeof made === 'string') {
    board.message = made;
    return made;
  }
  return edit(label, (path) => void (path.shape = structuredClone(made)));
}
const reshapeChain = (label: string, make: (shape: Chain) => Shape | string) =>
  reshape(label, (shape) => (shape.kind === 'chain' ? make(shape) : shape));

const corners = computed(() => (props.path.shape.kind === 'chain' ? cornerRadius(props.path.shape) : null));
const setCorners = (radius: number | null) =>
  reshapeChain('round the corners', (shape) => {
    const made = roundCorners(shape, radius!);
    if (!('corner' in made)) return made;
    return `Corner ${made.corner} has no room for that: its largest radius is ${long(made.most, 4)}.`;
  });

const setCoordinate = (index: number, axis: 0 | 1) => (value: number | null) =>
  reshape('move a point of the path', (shape) => {
    const at = [...pathPoints(shape)[index]!] as [number, number];
    at[axis] = value!;
    return withPathHandle(shape, { what: 'point', at, index }, at);
  });
const addBehind = (index: number) => reshape('add a point to the path', (shape) => addPointBehind(shape, index));
const remove = (index: number) => reshape('take a point of the path away', (shape) => removePathPoint(shape, index));
const points = computed(() => pathPoints(props.path.shape));
const shown = computed(() => points.value.slice(0, 40));
</script>

<template>
  <div class="fields">
    <NameField :value="path.name" :commit="set('name', 'rename')" />
    <ChoiceField
      :value="path.body"
      label="Carried by"
      :options="carriers"
      @choose="(to) => edit('carrier', (p, m) => carryPath(m, p, to))"
    />
    <SchemaFields :fields :change />
    <QuantityField
      v-if="path.shape.kind === 'chain'"
      :value="corners"
      kind="length"
      label="Radius of all corners"
      hint="Rounds every corner between lines; 0 makes them sharp. Empty where their radii differ."
      :min="0"
      :commit="setCorners"
    />
  </div>
  <p class="note">{{ outcome.length }}</p>
  <p v-if="outcome.corners" class="note corners">{{ outcome.corners }}</p>
  <PathPieces v-if="path.shape.kind === 'chain'" :shape="path.shape" :change="reshapeChain" />
  <h3>Points in the frame of the carrier</h3>
  <div v-for="(p, i) in shown" :key="i" class="row">
    <QuantityField bare :value="p[0]" kind="length" :label="`Point ${i + 1} x`" :commit="setCoordinate(i, 0)" />
    <QuantityField bare :value="p[1]" kind="length" :label="`Point ${i + 1} y`" :commit="setCoordinate(i, 1)" />
    <template v-if="path.shape.kind !== 'circle'">
      <IconButton
        :icon="Plus"
        :size="14"
        :aria-label="`Add a point behind ${i + 1}`"
        title="Add a point behind it"
        @click="addBehind(i)"
      />
      <DeleteButton :label="`Delete point ${i + 1}`" @click="remove(i)" />
    </template>
  </div>
  <p v-if="points.length > shown.length" class="note">And {{ points.length - shown.length }} more.</p>
</template>

<style scoped>
@import './panel.css';
.row {
  display: grid;
  grid-template-columns: 1fr 1fr 22px 22px;
  gap: 4px;
  align-items: center;
  margin-bottom: 4px;
}
.corners {
  color: var(--attention-ink);
}
</style>
