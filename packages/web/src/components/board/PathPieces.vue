<script setup lang="ts">
import {
  arcFacts,
  choicesOf,
  leastRadius,
  PATH_PIECES,
  pieceEnds,
  tangentArc,
  withArc,
  type ArcFacts,
  type MechanismPath,
} from '@yoke/core';
import { ElButton } from 'element-plus';
import { computed } from 'vue';
import { ChoiceField, QuantityField, ToggleField } from '@/components/fields';
import { useBoard, useMachine } from '@/stores';

/** The pieces of a path, one after the other; of an arc how it bends. */
type Shape = MechanismPath['shape'];
type Chain = Extract<Shape, { kind: 'chain' }>;
const props = defineProps<{
  shape: Chain;
  /** Changes the shape; a sentence in its place is what is wrong. */
  change: (label: string, make: (shape: Chain) => Shape | string) => string | null;
}>();
const board = useBoard();
const machine = useMachine();

/** Between which points a piece runs, for whatever it is made into. */
const before = (shape: Chain, index: number) => {
  const [from, at] = pieceEnds(shape, index);
  return { machine: machine.document!, was: { from, at } };
};
function setKind(index: number, kind: keyof typeof PATH_PIECES): void {
  props.change('kind of piece', (shape) => {
    const made = PATH_PIECES[kind].first(before(shape, index));
    return typeof made === 'string' ? made : { ...shape, pieces: shape.pieces.with(index, made) };
  });
  board.pathPiece = index;
}
const chosen = computed(() => (board.pathPiece === null ? undefined : props.shape.pieces[board.pathPiece]));
/** How the chosen arc bends; null where its points lie in line. */
const arc = computed(() => (chosen.value?.kind === 'arc' ? arcFacts(props.shape, board.pathPiece!) : null));
const least = computed(() => (board.pathPiece === null ? 0 : leastRadius(props.shape, board.pathPiece)));
/** A new arc where its points lie in line: a third larger than the smallest. */
const setArc = (facts: Partial<ArcFacts>) => {
  const index = board.pathPiece!;
  return props.change('bend an arc', (shape) => {
    const now = arcFacts(shape, index) ?? { radius: 1.5 * leastRadius(shape, index), turns: 'left', large: false };
    return withArc(shape, index, { ...now, ...facts });
  });
};
const setRadius = (radius: number | null) => setArc({ radius: radius! });
const setTurns = (turns: ArcFacts['turns']) => void setArc({ turns });
const setLarge = (large: boolean) => void setArc({ large });
const tangent = (neighbour: 'before' | 'behind') => {
  const index = board.pathPiece!;
  props.change('a tangent arc', (shape) => tangentArc(shape, index, neighbour));
};
</script>

<template>
  <h3>Pieces</h3>
  <ol class="pieces" aria-label="Pieces">
    <li v-for="(piece, i) in shape.pieces" :key="i" :class="{ chosen: board.pathPiece === i }">
      <button
        type="button"
        class="plain"
        :aria-pressed="board.pathPiece === i"
        :title="`Show piece ${i + 1} on the board`"
        @click="board.pathPiece = board.pathPiece === i ? null : i"
      >
        {{ i + 1 }}
      </button>
      <ChoiceField
        bare
        :value="piece.kind"
        :label="`Piece ${i + 1}`"
        :options="choicesOf(PATH_PIECES, before(shape, i))"
        @choose="setKind(i, $event)"
      />
    </li>
  </ol>
  <template v-if="chosen?.kind === 'arc'">
    <div class="fields gap">
      <QuantityField
        :value="arc?.radius ?? null"
        kind="length"
        label="Radius of the arc"
        :hint="arc ? 'At least half the way between its ends' : 'Its three points lie in line'"
        :min="least"
        :commit="setRadius"
      />
      <ChoiceField
        :value="arc?.turns ?? 'left'"
        label="It turns"
        :options="{ left: 'To the left', right: 'To the right' }"
        @choose="setTurns"
      />
    </div>
    <ToggleField :value="arc?.large ?? false" label="The long way round" @change="setLarge" />
    <div class="actions">
      <ElButton size="small" @click="tangent('before')">Tangent to the piece before</ElButton>
      <ElButton size="small" @click="tangent('behind')">Tangent to the piece behind</ElButton>
    </div>
  </template>
</template>

<style scoped>
@import './panel.css';
.pieces {
  list-style: none;
  margin: 0 0 6px;
  padding: 0;
  max-height: 200px;
  overflow: auto;
}
.pieces li {
  display: grid;
  grid-template-columns: 26px 1fr;
  align-items: center;
  margin-bottom: 4px;
  border-left: 3px solid transparent;
}
.pieces li.chosen {
  border-left-color: var(--attention);
}
.pieces button {
  text-align: center;
}
</style>
