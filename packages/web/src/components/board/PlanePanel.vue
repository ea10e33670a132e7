<script setup lang="ts">
import { carriersOfPlane, carryPlane, GROUND, nameIn, seePlaneFrom, VIEWS, viewOfPlane, type Mechanism, type Plane, type View } from '@yoke/core'; // prettier-ignore
import { ElButton } from 'element-plus';
import { computed } from 'vue';
import { ChoiceField, NameField, QuantityField } from '@/components/fields';
import { useThing } from '@/composables/useThing';
import { tidy } from '@/lib/ticks';
import { useBoard, useMachine } from '@/stores';
import ShownField from './ShownField.vue';

/** A plane: what carries it, from where it is seen, where it begins. */
const props = defineProps<{ plane: Plane }>();
const board = useBoard();
const machine = useMachine();
const { edit, set } = useThing('planes', () => props.plane.id);
const isFirst = computed(() => board.mechanism!.planes[0]!.id === props.plane.id);
const carriers = computed(() =>
  carriersOfPlane(board.mechanism as Mechanism, props.plane).map((id) => ({
    value: id,
    label: id === GROUND ? 'The ground' : nameIn(machine.document!, id),
  })),
);
const view = computed(() => viewOfPlane(board.mechanism as Mechanism, props.plane));
const views = computed(() => [
  ...(Object.keys(VIEWS) as View[]).map((value) => ({ value, label: VIEWS[value].label })),
  ...(view.value === null ? [{ value: 'askew' as const, label: 'Askew' }] : []),
]);
const own = computed(() => board.mechanism!.bodies.filter(({ plane }) => plane === props.plane.id).length);
const carry = (to: string) => edit('carrier of the plane', (plane, m) => carryPlane(m, plane, to));
const turn = (to: View | 'askew') => {
  if (to !== 'askew') edit('turn the plane', (plane, m) => seePlaneFrom(m, plane, to));
};
const place = (k: 0 | 1 | 2) => (value: number | null) =>
  edit('move the plane', (plane) => void (plane.at[k] = value!));
</script>

<template>
  <div class="fields">
    <NameField :value="plane.name" :commit="set('name', 'rename')" class="wide" />
    <template v-if="!isFirst">
      <ChoiceField :value="plane.on" label="Stands on" :options="carriers" @choose="carry" />
      <ChoiceField :value="view ?? 'askew'" label="Seen from" :options="views" @choose="turn" />
      <QuantityField
        v-for="(label, k) in ['Origin x', 'Origin y', 'Origin z']"
        :key="label"
        :value="tidy(plane.at[k]!)"
        kind="length"
        :label
        :commit="place(k as 0 | 1 | 2)"
      />
    </template>
    <ShownField :id="plane.id" />
  </div>
  <p class="note">
    <template v-if="isFirst">The plane of the world, seen from the front: x to the right, y up.</template>
    <template v-else>
      Seen from there as the machine is drawn; its origin is a place of
      {{ plane.on === GROUND ? 'the world' : nameIn(machine.document!, plane.on) }}.
    </template>
    {{ own === 1 ? 'One body is' : `${own} bodies are` }} drawn in it.
  </p>
  <div v-if="board.plane !== plane.id" class="actions">
    <ElButton size="small" type="primary" @click="board.showPlane(plane.id)">Draw in it</ElButton>
  </div>
</template>

<style scoped>
@import './panel.css';
</style>
