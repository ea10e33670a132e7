<script setup lang="ts">
import {
  carryPath,
  choicesOf,
  drawnFields,
  formatQuantity,
  GROUND,
  PATH_PIECES,
  pathCurve,
  pathPoints,
  pathSchema,
  pieceEnds,
  withPathPoint,
  type MechanismPath,
} from '@yoke/core';
import { computed } from 'vue';
import { ChoiceField, NameField, QuantityField, SchemaFields } from '@/components/fields';
import { useThing } from '@/composables/useThing';
import { useBoard, useMachine } from '@/stores';

/** A path: who carries it, and its pieces. */
const props = defineProps<{ path: MechanismPath }>();
const board = useBoard();
const machine = useMachine();
const { edit, set } = useThing('paths', () => props.path.id);

const carriers = computed(() => [
  { value: GROUND, label: 'The ground' },
  ...board.mechanism!.bodies.map(({ id, name }) => ({ value: id, label: name })),
]);
const outcome = computed(() => {
  try {
    return `${formatQuantity(pathCurve(props.path.shape).length, 'length', machine.units, 5)} long.`;
  } catch (error) {
    return (error as Error).message;
  }
});
const fields = computed(() => drawnFields(pathSchema, props.path, machine.document!));
const change = (make: (path: MechanismPath) => void, label: string) => edit(label, make);

/** Between which points a piece runs, for whatever it is made into. */
const before = (shape: MechanismPath['shape'], index: number) => {
  const [from, at] = shape.kind === 'chain' ? pieceEnds(shape, index) : [[0, 0], [0, 0]]; // prettier-ignore
  return { machine: machine.document!, was: { from, at } };
};
const setPiece = (index: number, kind: keyof typeof PATH_PIECES) =>
  edit('kind of piece', ({ shape }) => {
    const piece = PATH_PIECES[kind].first(before(shape, index));
    if (shape.kind === 'chain' && typeof piece !== 'string') shape.pieces[index] = piece;
  });
const setCoordinate = (index: number, axis: 0 | 1) => (value: number | null) =>
  edit('move a point of the path', (path) => {
    const at = [...pathPoints(path.shape)[index]!] as [number, number];
    at[axis] = value!;
    path.shape = withPathPoint(path.shape, index, at);
  });
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
  </div>
  <p class="note">{{ outcome }}</p>
  <template v-if="path.shape.kind === 'chain'">
    <h3>Pieces</h3>
    <ChoiceField
      v-for="(piece, i) in path.shape.pieces"
      :key="i"
      bare
      class="piece"
      :value="piece.kind"
      :label="`Piece ${i + 1}`"
      :options="choicesOf(PATH_PIECES, before(path.shape, i))"
      @choose="setPiece(i, $event)"
    />
  </template>
  <h3>Points in the frame of the carrier</h3>
  <div v-for="(p, i) in shown" :key="i" class="row">
    <QuantityField bare :value="p[0]" kind="length" :label="`Point ${i + 1} x`" :commit="setCoordinate(i, 0)" />
    <QuantityField bare :value="p[1]" kind="length" :label="`Point ${i + 1} y`" :commit="setCoordinate(i, 1)" />
  </div>
  <p v-if="points.length > shown.length" class="note">And {{ points.length - shown.length }} more.</p>
</template>

<style scoped>
@import './panel.css';
.row {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 6px;
  margin-bottom: 4px;
}
.piece {
  margin-bottom: 4px;
}
</style>
