<script setup lang="ts">
import { AXIS_KINDS, formatQuantity, type Axis } from '@yoke/core';
import { computed } from 'vue';
import { ChoiceField, SchemaFields } from '@/components/fields';
import { useAxisFields } from '@/composables/useAxisFields';
import { setOver } from '@/composables/useMotionEdit';
import { useMachine, useMotions } from '@/stores';

/** When a follower engages with the master and leaves it, and what becomes of the jump that this would make. */
const props = defineProps<{ axis: Axis }>();
const machine = useMachine();
const motions = useMotions();
const { fields, change } = useAxisFields(() => props.axis);
const engage = computed(() => props.axis.motion.engage);
const kinds = computed(() => AXIS_KINDS[props.axis.kind]);

const setMode = (mode: 'always' | 'engages') =>
  machine.editAxis('engaging', (draft) => {
    const { wrap } = machine.document!.master;
    const { motion } = draft;
    if (mode === 'always') motion.engage = null;
    else {
      setOver(draft as Axis, 'master', machine.cycle, wrap);
      motion.engage = { at: wrap / 12, leave: null, waits: props.axis.home, lead: { how: 'refuse' }, restsAt: null };
    }
  });
const jump = computed(() => motions.of(props.axis.id).jump);
const said = computed(() => {
  const { value } = jump;
  if (!value) return '';
  const show = (v: number, kind: Parameters<typeof formatQuantity>[1]) => formatQuantity(v, kind, machine.units);
  if (value.time === null) return 'The master does not get to this position within the cycle.';
  // What is far below any drive's resolution is the noise of rounding.
  const still = (v: number) => (Math.abs(v) < 1e-8 ? 0 : v);
  const size = `${show(still(value.position), kinds.value.position)} and ${show(still(value.velocity), kinds.value.velocity)}`;
  const none = Math.abs(value.position) < 1e-7 && Math.abs(value.velocity) < 1e-6;
  if (none) return `Engages at ${show(value.time, 'time')} without a jump.`;
  return engage.value?.lead.how === 'bridge'
    ? `At ${show(value.time, 'time')} a jump of ${size} is bridged.`
    : `At ${show(value.time, 'time')} it would jump by ${size}.`;
});
</script>

<template>
  <ChoiceField
    :value="engage ? 'engages' : 'always'"
    label="Engaged"
    :options="{ always: 'From the start', engages: 'At a position' }"
    @choose="setMode"
  />
  <template v-if="engage">
    <SchemaFields :fields="fields('motion.engage')" :change />
    <p class="said" role="status">{{ said }}</p>
  </template>
</template>

<style scoped>
.said {
  grid-column: 1 / -1;
  margin: 0;
  font-size: 12.5px;
  color: var(--ink-soft);
}
</style>
