<script setup lang="ts">
import { addElement, addJoint, GROUND, groundPoint, worldOf, type Body, type Mechanism, type Place } from '@yoke/core';
import { ElButton } from 'element-plus';
import { computed, ref } from 'vue';
import { ChoiceField } from '@/components/fields';
import { useBoard } from '@/stores';

/** Ties a point of the chosen body to another point or to the ground, without the pointer. */
const props = defineProps<{ body: Body }>();
const board = useBoard();
type Kind = 'pin' | 'slide' | 'slot' | 'weld' | 'cylinder' | 'spring' | 'damper';
const kind = ref<Kind>('pin');
const own = ref('');
const other = ref('here');

const KINDS: { value: Kind; label: string }[] = [
  { value: 'pin', label: 'Pin' },
  { value: 'slide', label: 'Slide' },
  { value: 'slot', label: 'Slot' },
  { value: 'weld', label: 'Weld' },
  { value: 'cylinder', label: 'Cylinder' },
  { value: 'spring', label: 'Spring' },
  { value: 'damper', label: 'Damper' },
];
const points = computed(() => props.body.points.map(({ id }) => ({ value: id, label: `${props.body.name}.${id}` })));
const others = computed(() => [
  { value: 'here', label: 'The ground, here' },
  ...board.mechanism!.ground.map(({ id }) => ({ value: `${GROUND}.${id}`, label: `Ground ${id}` })),
  ...board
    .mechanism!.bodies.filter(({ id }) => id !== props.body.id)
    .flatMap((b) => b.points.map((p) => ({ value: `${b.id}.${p.id}`, label: `${b.name}.${p.id}` }))),
]);

function tie(): void {
  const point = own.value || props.body.points[0]!.id;
  const b: Place = { body: props.body.id, point };
  const wanted = kind.value;
  if (other.value === 'here' && (wanted === 'cylinder' || wanted === 'spring' || wanted === 'damper')) {
    board.message = `A ${wanted} needs two ends: choose another point for the second.`;
    return;
  }
  board.draw(`add a ${wanted}`, (draft) => {
    const m = draft.mechanism as Mechanism;
    const [body, id] = other.value.split('.') as [string, string];
    const a = other.value === 'here' ? groundPoint(m, worldOf(m, b)) : { body, point: id };
    const [pa, pb] = [worldOf(m, a), worldOf(m, b)];
    const made =
      wanted === 'spring'
        ? addElement(m, { kind: wanted, a, b, rate: 1000, free: Math.hypot(pb[0] - pa[0], pb[1] - pa[1]) })
        : wanted === 'damper'
          ? addElement(m, { kind: wanted, a, b, rate: 50 })
          : addJoint(m, wanted, a, b);
    board.select(made.id);
  });
}
</script>

<template>
  <h3>Tie it</h3>
  <div class="fields">
    <ChoiceField :value="kind" label="By a" :options="KINDS" @choose="kind = $event" />
    <ChoiceField :value="own || points[0]!.value" label="Its point" :options="points" @choose="own = $event" />
    <ChoiceField class="wide" :value="other" label="To" :options="others" @choose="other = $event" />
  </div>
  <div class="actions"><ElButton size="small" @click="tie">Tie</ElButton></div>
</template>

<style scoped>
@import './panel.css';
</style>
