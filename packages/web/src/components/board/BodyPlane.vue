<script setup lang="ts">
import {
  addPlane,
  addSquarePlane,
  moveToPlane,
  seePlaneFrom,
  viewOfPlane,
  worldOf,
  type Body,
  type Mechanism,
} from '@yoke/core';
import { ElButton } from 'element-plus';
import { computed } from 'vue';
import { ChoiceField } from '@/components/fields';
import { useBoard } from '@/stores';
import ShownField from './ShownField.vue';

/** The plane that a body moves in, and planes that ride on it. */
const props = defineProps<{ body: Body }>();
const board = useBoard();
const planes = computed(() => board.mechanism!.planes);

function moveTo(plane: string): void {
  let refused: string | null = null;
  const problem = board.draw('move to a plane', (draft) => {
    refused = moveToPlane(draft.mechanism as Mechanism, props.body.id, plane);
  });
  if (refused ?? problem) board.message = (refused ?? problem)!;
  else board.showPlane(plane);
}
/** A plane on the body, seen from the right or else from the top: what is drawn there goes along. */
function carryOne(): void {
  let made = '';
  const problem = board.draw('add a plane', (draft) => {
    const m = draft.mechanism as Mechanism;
    // At its far end: there the next thing hangs, more often than not.
    const at = props.body.points.at(-1)!.at;
    const plane = addPlane(m, { name: `On ${props.body.name}`.slice(0, 70), on: props.body.id, at: [at[0], at[1], 0] }); // prettier-ignore
    // Square to the plane that the body lies in, where one of the two is.
    const seen = viewOfPlane(
      m,
      m.planes.find(({ id }) => id === props.body.plane)!,
    );
    seePlaneFrom(m, plane, seen === 'right' || seen === 'left' ? 'top' : 'right');
    made = plane.id;
  });
  if (problem === null) board.select(made);
}
/** A plane square to that of the body, through the line of its first two points. */
function square(): void {
  let made = '';
  const problem = board.draw('add a square plane', (draft) => {
    const m = draft.mechanism as Mechanism;
    const [from, to] = props.body.points.map(({ id }) => worldOf(m, { body: props.body.id, point: id }));
    const own = m.planes.find(({ id }) => id === props.body.plane)!;
    made = addSquarePlane(m, own, from!, to!, props.body.id).id;
  });
  if (problem === null) board.select(made);
}
</script>

<template>
  <h3>In space</h3>
  <div class="fields">
    <ChoiceField
      v-if="planes.length > 1"
      :value="body.plane"
      label="Plane"
      :options="planes.map(({ id, name }) => ({ value: id, label: name }))"
      @choose="moveTo"
    />
    <ShownField :id="body.id" />
  </div>
  <div class="actions">
    <ElButton size="small" title="What is drawn in it moves with the body" @click="carryOne">Plane on it</ElButton>
    <ElButton
      v-if="body.points.length > 1"
      size="small"
      title="Through its first two points, square to the plane that it is drawn in"
      @click="square"
      >Square plane on it</ElButton
    >
  </div>
</template>

<style scoped>
@import './panel.css';
</style>
