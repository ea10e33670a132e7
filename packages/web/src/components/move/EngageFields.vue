<script setup lang="ts">
import { AXIS_KINDS, formatQuantity, type Axis, type AxisMotion } from '@yoke/core';
import { computed } from 'vue';
import ChoiceField from '@/components/ChoiceField.vue';
import QuantityField from '@/components/QuantityField.vue';
import { setOver, useMotionEdit } from '@/composables/useMotionEdit';
import { useMachine } from '@/stores/machine';
import { useMotions } from '@/stores/motions';

/** When a follower engages with the master and leaves it, and what becomes of the jump that this would make. */
const props = defineProps<{ axis: Axis }>();
const machine = useMachine();
const motions = useMotions();
const { edit } = useMotionEdit();
type Engage = NonNullable<AxisMotion['engage']>;
const engage = computed(() => props.axis.motion.engage);
const kinds = computed(() => AXIS_KINDS[props.axis.kind]);
const masterKind = computed(() => AXIS_KINDS[machine.document!.master.kind].position);

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
const set = (recipe: (engage: Engage) => void) =>
  edit('engaging', (motion) => void (motion.engage && recipe(motion.engage)));
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
    :options="[
      { value: 'always', label: 'From the start' },
      { value: 'engages', label: 'At a position' },
    ]"
    @choose="setMode"
  />
  <template v-if="engage">
    <QuantityField
      :value="engage.at"
      :kind="masterKind"
      label="Engages at"
      hint="Position of the master, counted on without wrapping"
      :commit="(v) => set((e) => void (e.at = v!))"
    />
    <QuantityField
      :value="engage.leave"
      :kind="masterKind"
      optional
      placeholder="never"
      label="Leaves at"
      :commit="(v) => set((e) => void (e.leave = v))"
    />
    <QuantityField
      :value="engage.waits"
      :kind="kinds.position"
      label="Waits at"
      :commit="(v) => set((e) => void (e.waits = v!))"
    />
    <ChoiceField
      :value="engage.lead.how"
      label="A jump is"
      :options="[
        { value: 'refuse', label: 'Refused' },
        { value: 'bridge', label: 'Bridged' },
      ]"
      @choose="
        (how) =>
          set((e) => void (e.lead = how === 'refuse' ? { how } : { how, over: machine.document!.master.wrap / 6 }))
      "
    />
    <QuantityField
      v-if="engage.lead.how === 'bridge'"
      :value="engage.lead.over"
      :kind="masterKind"
      label="Lead-in over"
      hint="Length of the master in which it catches up; also for leaving"
      :commit="(v) => set((e) => void (e.lead.how === 'bridge' && (e.lead.over = v!)))"
    />
    <QuantityField
      v-if="engage.leave !== null && engage.lead.how === 'bridge'"
      :value="engage.restsAt"
      :kind="kinds.position"
      optional
      placeholder="gentle stop"
      label="Then rests at"
      :commit="(v) => set((e) => void (e.restsAt = v))"
    />
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
