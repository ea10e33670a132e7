<script setup lang="ts">
import { formatQuantity, GROUND, localOf, pathCurve, type MechanismPath, type Mechanism } from '@yoke/core';
import { computed } from 'vue';
import ChoiceField from '@/components/ChoiceField.vue';
import NameField from '@/components/NameField.vue';
import QuantityField from '@/components/QuantityField.vue';
import ToggleField from '@/components/ToggleField.vue';
import { useThing } from '@/composables/useThing';
import { useBoard } from '@/stores/board';
import { useMachine } from '@/stores/machine';

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
type Shape = MechanismPath['shape'];
const points = (shape: Shape): [number, number][] =>
  shape.kind === 'loop'
    ? shape.through
    : shape.kind === 'chain'
      ? [shape.start, ...shape.pieces.flatMap((p) => (p.kind === 'spline' ? p.through : [p.to]))]
      : [shape.centre];

/** The path keeps its place when another body takes it up. */
const carry = (to: string) =>
  edit('carrier', (path, m: Mechanism) => {
    const from = m.bodies.find(({ id }) => id === path.body);
    const next = m.bodies.find(({ id }) => id === to);
    const move = ([x, y]: readonly [number, number]): [number, number] => {
      const c = Math.cos(from?.pose.angle ?? 0);
      const s = Math.sin(from?.pose.angle ?? 0);
      const world: [number, number] = [(from?.pose.x ?? 0) + c * x - s * y, (from?.pose.y ?? 0) + s * x + c * y];
      return next ? localOf(next, world) : world;
    };
    const { shape } = path;
    if (shape.kind === 'circle') shape.centre = move(shape.centre);
    else if (shape.kind === 'loop') shape.through = shape.through.map(move);
    else {
      shape.start = move(shape.start);
      for (const piece of shape.pieces) {
        if (piece.kind === 'spline') piece.through = piece.through.map(move);
        else piece.to = move(piece.to);
        if (piece.kind === 'arc') piece.via = move(piece.via);
      }
    }
    path.body = to;
  });
const setShape = (kind: Shape['kind']) =>
  edit('kind of path', (path) => {
    const through = points(path.shape);
    const [first] = through as [[number, number]];
    if (kind === 'circle') path.shape = { kind, centre: first, radius: 0.03 };
    else if (kind === 'loop')
      path.shape = {
        kind,
        through: through.length >= 3 ? through : [first, [first[0] + 0.05, first[1]], [first[0], first[1] + 0.05]],
      };
    else {
      const rest = through.length >= 2 ? through.slice(1) : [[first[0] + 0.05, first[1]] as [number, number]];
      path.shape = { kind, start: first, closed: false, pieces: rest.map((to) => ({ kind: 'line', to })) };
    }
  });
const setPiece = (index: number, kind: 'line' | 'arc' | 'spline' | 'transition') =>
  edit('kind of piece', (path) => {
    if (path.shape.kind !== 'chain') return;
    const from =
      index === 0 ? path.shape.start : points({ ...path.shape, pieces: path.shape.pieces.slice(0, index) }).at(-1)!;
    const piece = path.shape.pieces[index]!;
    const to = piece.kind === 'spline' ? piece.through.at(-1)! : piece.to;
    const middle: [number, number] = [
      (from[0] + to[0]) / 2 - (to[1] - from[1]) * 0.2,
      (from[1] + to[1]) / 2 + (to[0] - from[0]) * 0.2,
    ];
    path.shape.pieces[index] =
      kind === 'arc' ? { kind, via: middle, to } : kind === 'spline' ? { kind, through: [middle, to] } : { kind, to };
  });
const setCoordinate = (index: number, axis: 0 | 1) => (value: number | null) =>
  edit('move a point of the path', (path) => {
    const { shape } = path;
    if (shape.kind === 'circle') shape.centre[axis] = value!;
    else if (shape.kind === 'loop') shape.through[index]![axis] = value!;
    else if (index === 0) shape.start[axis] = value!;
    else {
      let k = 0;
      for (const piece of shape.pieces) {
        const own = piece.kind === 'spline' ? piece.through : [piece.to];
        if (index - 1 < k + own.length) {
          own[index - 1 - k]![axis] = value!;
          return;
        }
        k += own.length;
      }
    }
  });
const shown = computed(() => points(props.path.shape).slice(0, 40));
</script>

<template>
  <div class="fields">
    <NameField :value="path.name" :commit="set('name', 'rename')" />
    <ChoiceField :value="path.body" label="Carried by" :options="carriers" @choose="carry" />
    <ChoiceField
      :value="path.shape.kind"
      label="Shape"
      :options="[
        { value: 'chain', label: 'Pieces' },
        { value: 'loop', label: 'Smooth loop' },
        { value: 'circle', label: 'Circle' },
      ]"
      @choose="setShape"
    />
    <ToggleField
      v-if="path.shape.kind === 'chain'"
      :value="path.shape.closed"
      label="Closed"
      @change="
        (v) =>
          edit('close the path', (p) => {
            if (p.shape.kind === 'chain') p.shape.closed = v;
          })
      "
    />
    <QuantityField
      v-if="path.shape.kind === 'circle'"
      :value="path.shape.radius"
      kind="length"
      label="Radius"
      :commit="
        (v) =>
          edit('radius', (p) => {
            if (p.shape.kind === 'circle') p.shape.radius = v!;
          })
      "
    />
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
      :options="[
        { value: 'line', label: 'Line' },
        { value: 'arc', label: 'Arc' },
        { value: 'spline', label: 'Spline' },
        { value: 'transition', label: 'Smooth transition' },
      ]"
      @choose="setPiece(i, $event)"
    />
  </template>
  <h3>Points in the frame of the carrier</h3>
  <div v-for="(p, i) in shown" :key="i" class="row">
    <QuantityField bare :value="p[0]" kind="length" :label="`Point ${i + 1} x`" :commit="setCoordinate(i, 0)" />
    <QuantityField bare :value="p[1]" kind="length" :label="`Point ${i + 1} y`" :commit="setCoordinate(i, 1)" />
  </div>
  <p v-if="points(path.shape).length > shown.length" class="note">
    And {{ points(path.shape).length - shown.length }} more.
  </p>
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
