<script setup lang="ts">
import { AXIS_KINDS, type Axis, type AxisMotion } from '@yoke/core';
import { ElButton } from 'element-plus';
import { computed } from 'vue';
import { ChoiceField, QuantityField, SchemaFields } from '@/components/fields';
import { useAxisFields } from '@/composables/useAxisFields';
import { useUntilChanged } from '@/composables/useUntilChanged';
import { setOver, useMotionEdit, type SourceKind } from '@/composables/useMotionEdit';
import { useMachine } from '@/stores';
import EngageFields from './EngageFields.vue';

/** What tells an axis how to move, over what, at which level, and where it begins. */
const props = defineProps<{ axis: Axis }>();
const machine = useMachine();
const { edit, setSource } = useMotionEdit();
const { fields, change } = useAxisFields(() => props.axis);
/** What there is to say of the change made last. */
const said = useUntilChanged('');
const kinds = computed(() => AXIS_KINDS[props.axis.kind]);
const source = computed(() => props.axis.motion.source);

const SOURCES: { value: SourceKind; label: string; hint: string }[] = [
  { value: 'plan', label: 'Motion plan', hint: 'Rises, dwells and returns with laws, over time or master' },
  { value: 'moves', label: 'Servo moves', hint: 'A list of blocks under limits of velocity, acceleration and jerk' },
  { value: 'formula', label: 'Formula', hint: 'An expression with units, rises and other axes' },
  { value: 'points', label: 'Table of points', hint: 'Points to be passed, typed, pasted or read from a file' },
  { value: 'cues', label: 'Cues', hint: 'It stands where it is until a cue of the cue sheet moves it' },
  { value: 'follow', label: 'Following', hint: 'Along with the master or another axis at a fixed ratio' },
  { value: 'constant', label: 'Constant', hint: 'One position, velocity or acceleration' },
  { value: 'harmonic', label: 'Harmonic', hint: 'A sine about a mean' },
];
const hasLevel = computed(
  () =>
    ['plan', 'constant', 'harmonic', 'formula', 'points'].includes(source.value.kind) &&
    props.axis.motion.over === 'time',
);
const overAllowed = computed(() => ['plan', 'formula', 'points'].includes(source.value.kind));

const runOver = (over: AxisMotion['over']) =>
  machine.editAxis('what it runs over', (draft) => {
    const { master } = machine.document!;
    const { motion } = draft;
    setOver(draft as Axis, over, machine.cycle, master.wrap);
    // The share of the cycle becomes the share of a wrap.
    if (motion.source.kind === 'formula' && over === 'master')
      motion.source.text = motion.source.text.replace(
        /\bt\s*\/\s*T\b/g,
        master.kind === 'rotary' ? 'master / (360 deg)' : 'master / (1 m)',
      );
    motion.level = 'position';
    motion.engage = null;
  });

const oneTurn = () =>
  edit('one turn a cycle', (motion) => {
    if (motion.source.kind === 'constant')
      motion.source.value = (Math.sign(motion.source.value) || 1) * ((2 * Math.PI) / machine.cycle);
  });

const leaders = computed(() => [
  { value: '', label: 'The master' },
  ...machine.axes.filter(({ id }) => id !== props.axis.id).map(({ id, name }) => ({ value: id, label: name })),
]);
const setLeader = (id: string) =>
  machine.editAxis('what it follows', (draft) => {
    const { motion } = draft;
    if (motion.source.kind !== 'follow') return;
    motion.source.axis = id === '' ? null : id;
    if (id === '') return;
    setOver(draft as Axis, 'time', machine.cycle, machine.document!.master.wrap);
    motion.engage = null;
  });
/** Way of the follower for one unit of the leader: shown for a millimetre or a degree, whichever the leader moves in. */
const leaderKind = computed(() => {
  const { value } = source;
  if (value.kind !== 'follow') return 'linear';
  return value.axis === null
    ? machine.document!.master.kind
    : (machine.axes.find(({ id }) => id === value.axis)?.kind ?? 'linear');
});
const perLeader = computed(() => (leaderKind.value === 'rotary' ? 2 * Math.PI : 1e-3));
const follows = computed(() => (source.value.kind === 'follow' ? source.value : null));
const toMaster = computed(() =>
  source.value.kind === 'follow' ? source.value.axis === null : props.axis.motion.over === 'master',
);
</script>

<template>
  <div class="source">
    <ChoiceField :value="source.kind" label="Led by" :options="SOURCES" @choose="(kind) => (said = setSource(kind))" />
    <ChoiceField
      v-if="overAllowed"
      :value="axis.motion.over"
      label="Runs over"
      :options="{ time: 'Time', master: 'The master' }"
      @choose="runOver"
    />
    <ChoiceField
      v-if="hasLevel"
      :value="axis.motion.level"
      label="Its values are"
      :options="{ position: 'Positions', velocity: 'Velocities', acceleration: 'Accelerations' }"
      @choose="(level) => edit('level of the motion', (m) => void (m.level = level))"
    />
    <SchemaFields v-if="!follows" :fields="fields('motion.source', 'motion.initial')" :change />
    <template v-if="follows">
      <ChoiceField :value="follows.axis ?? ''" label="It follows" :options="leaders" @choose="setLeader" />
      <QuantityField
        :value="follows.ratio * perLeader"
        :kind="kinds.position"
        :label="leaderKind === 'rotary' ? 'Way for one turn' : 'Way for one millimetre'"
        :commit="
          (value) => edit('ratio', (m) => void (m.source.kind === 'follow' && (m.source.ratio = value! / perLeader)))
        "
      />
      <SchemaFields :fields="fields('motion.source', 'motion.initial')" :change />
    </template>
    <ElButton
      v-if="source.kind === 'constant' && axis.kind === 'rotary' && axis.motion.level === 'velocity'"
      size="small"
      @click="oneTurn"
      >One turn a cycle</ElButton
    >
    <EngageFields v-if="toMaster" :axis />
    <p v-if="said" class="said soft" role="status">{{ said }}</p>
  </div>
</template>

<style scoped>
.source {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(118px, 1fr));
  gap: 7px 10px;
  align-items: end;
  margin-bottom: 10px;
}
.said {
  grid-column: 1 / -1;
  margin: 0;
}
</style>
