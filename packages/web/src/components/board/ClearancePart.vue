<script setup lang="ts">
import { freeId, GROUND, type Monitor } from '@yoke/core';
import { ElButton } from 'element-plus';
import { computed } from 'vue';
import { QuantityField } from '@/components/fields';
import { useBoard, useMachine } from '@/stores';

/** The clearance of the two bodies that are chosen, or of one and the ground: watched over the run. */
const machine = useMachine();
const board = useBoard();
const pair = computed<[string, string] | null>(() => {
  const bodies = board.selection.filter((id) => board.mechanism?.bodies.some((body) => body.id === id));
  if (bodies.length !== board.selection.length || bodies.length < 1 || bodies.length > 2) return null;
  if (bodies.length === 2) return [bodies[0]!, bodies[1]!];
  // The ground has a shape where chutes, ramps or stops stand on it.
  return machine.document?.loose.surfaces.some(({ body }) => body === GROUND) ? [bodies[0]!, GROUND] : null;
});
/** What ties the two, so that they touch by design. */
const tied = computed(() => {
  const [a, b] = pair.value ?? [];
  return board.mechanism?.joints.find((joint) => {
    const ends = ['a' in joint ? joint.a.body : GROUND, joint.b.body];
    return a !== undefined && b !== undefined && ends.includes(a) && ends.includes(b);
  });
});
const nameOf = (id: string) => board.mechanism?.bodies.find((body) => body.id === id)?.name ?? 'the ground';
const monitor = computed(() => {
  const [a, b] = pair.value ?? [];
  return machine.document?.sequence.monitors.find((m) => (m.a === a && m.b === b) || (m.a === b && m.b === a));
});
function watchThem(): void {
  const [a, b] = pair.value!;
  board.draw('watch a clearance', ({ sequence }) => {
    const { monitors } = sequence;
    const made: Monitor = { id: freeId('w', monitors.map((m) => m.id)), name: freeId('Clearance ', monitors.map((m) => m.name)), a, b, shapes: 'exact', least: 0.005, stop: false }; // prettier-ignore
    monitors.push(made);
  });
}
const setLeast = (least: number) =>
  machine.edit('least clearance', ({ sequence }) => {
    sequence.monitors.find(({ id }) => id === monitor.value!.id)!.least = least;
  });
</script>

<template>
  <template v-if="pair && !(tied && pair[1] === GROUND)">
    <h3>Clearance</h3>
    <template v-if="monitor">
      <div class="fields">
        <QuantityField
          class="wide"
          :value="monitor.least"
          kind="length"
          label="At least (0: no touch)"
          :min="0"
          :commit="(value) => setLeast(value!)"
        />
      </div>
      <p class="note">
        {{ monitor.name }} watches {{ nameOf(pair[0]) }} and {{ nameOf(pair[1]) }} over the run: where they come nearer
        they light up in Run and Cue. What happens then is said in
        <RouterLink :to="`/machine/${machine.id}/cue`">Cue, Rules</RouterLink>.
      </p>
    </template>
    <p v-else-if="tied" class="note">{{ tied.name }} ties the two: they touch there by design.</p>
    <div v-else class="actions">
      <ElButton size="small" @click="watchThem"
        >Watch {{ nameOf(pair[0]) }} and {{ nameOf(pair[1]) }} for their clearance</ElButton
      >
    </div>
  </template>
</template>

<style scoped>
@import './panel.css';
</style>
