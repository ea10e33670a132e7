<script setup lang="ts">
import {
  addElement,
  addJoint,
  GROUND,
  groundPoint,
  spaceOf,
  worldOf,
  type Body,
  type Mechanism,
  type Place,
} from '@yoke/core';
import { ElButton } from 'element-plus';
import { computed, ref, watch } from 'vue';
import { ChoiceField } from '@/components/fields';
import { useBoard } from '@/stores';

/** Ties a point of the chosen body to another point or to the ground, without the pointer. */
const props = defineProps<{ body: Body }>();
const board = useBoard();
type Kind = 'pin' | 'slide' | 'slot' | 'weld' | 'cylinder' | 'rod' | 'ball' | 'spring' | 'damper';
/** What ties points of one plane alone, and what those of two alone. */
const WITHIN: readonly Kind[] = ['pin', 'slide', 'slot', 'weld'];
const kind = ref<Kind>('pin');
const own = ref('');
const other = ref('here');

const KINDS: { value: Kind; label: string }[] = [
  { value: 'pin', label: 'Pin' },
  { value: 'slide', label: 'Slide' },
  { value: 'slot', label: 'Slot' },
  { value: 'weld', label: 'Weld' },
  { value: 'cylinder', label: 'Cylinder' },
  { value: 'rod', label: 'Rod with ball ends' },
  { value: 'ball', label: 'Ball joint (between planes)' },
  { value: 'spring', label: 'Spring' },
  { value: 'damper', label: 'Damper' },
];
const points = computed(() => props.body.points.map(({ id }) => ({ value: id, label: `${props.body.name}.${id}` })));
/** Points that a tie of this kind can reach: a pin stays in its plane, a ball joint leaves it. */
const others = computed(() => {
  const m = board.mechanism!;
  const fits = (plane: string) => {
    if (WITHIN.includes(kind.value)) return plane === props.body.plane;
    return kind.value !== 'ball' || plane !== props.body.plane;
  };
  const named = (plane: string) => (m.planes.length > 1 ? ` (${m.planes.find(({ id }) => id === plane)?.name})` : '');
  return [
    ...(kind.value === 'ball' ? [] : [{ value: 'here', label: 'The ground, here' }]),
    ...m.ground
      .filter(({ plane }) => fits(plane))
      .map(({ id, plane }) => ({ value: `${GROUND}.${id}`, label: `Ground ${id}${named(plane)}` })),
    ...m.bodies
      .filter(({ id, plane }) => id !== props.body.id && fits(plane))
      .flatMap((b) => b.points.map((p) => ({ value: `${b.id}.${p.id}`, label: `${b.name}.${p.id}${named(b.plane)}` }))),
  ];
});
watch(kind, () => {
  if (!others.value.some(({ value }) => value === other.value)) other.value = others.value[0]?.value ?? 'here';
});

function tie(): void {
  const point = own.value || props.body.points[0]!.id;
  const b: Place = { body: props.body.id, point };
  const wanted = kind.value;
  if (other.value === 'here' && !WITHIN.includes(wanted)) {
    board.message = `A ${wanted === 'ball' ? 'ball joint' : wanted} needs two ends: choose another point for the second.`;
    return;
  }
  board.draw(`add a ${wanted}`, (draft) => {
    const m = draft.mechanism as Mechanism;
    const [body, id] = other.value.split('.') as [string, string];
    const a = other.value === 'here' ? groundPoint(m, worldOf(m, b), props.body.plane) : { body, point: id };
    const [pa, pb] = [spaceOf(m, a), spaceOf(m, b)];
    const free = Math.hypot(pb[0] - pa[0], pb[1] - pa[1], pb[2] - pa[2]);
    const made =
      wanted === 'spring'
        ? addElement(m, { kind: wanted, a, b, rate: 1000, free })
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
