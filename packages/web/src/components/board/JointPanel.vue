<script setup lang="ts">
import {
  addElement,
  bodiesOf,
  drawnFields,
  driveName,
  formatQuantity,
  JOINTS,
  jointSchema,
  nameIn,
  newAxis,
  otherClosure,
  pathLength,
  turns,
  type Axis,
  type Joint,
  type Machine,
  type Mechanism,
} from '@yoke/core';
import { ElButton } from 'element-plus';
import { computed } from 'vue';
import { NameField, QuantityField, SchemaFields } from '@/components/fields';
import { useThing } from '@/composables/useThing';
import { tidy } from '@/lib/ticks';
import { useBoard, useMachine } from '@/stores';

/** A joint: what it ties, its friction, its drive, its stops. */
const props = defineProps<{ joint: Joint }>();
const board = useBoard();
const machine = useMachine();
const { edit, set } = useThing('joints', () => props.joint.id);

const fields = computed(() => drawnFields(jointSchema, props.joint, machine.document!));
const ties = computed(() =>
  bodiesOf(board.mechanism!, props.joint)
    .map((id) => nameIn(machine.document!, id))
    .join(' – '),
);
const angular = computed(() => turns(props.joint));
const axis = computed(() => machine.axes.find(({ joint }) => joint === props.joint.id));
const position = computed(() => {
  const found = board.model?.joint(props.joint.id);
  const q = board.shownState();
  return found?.coordinate && q ? found.coordinate.value(q) : 0;
});
const wholePath = computed(() => pathLength(board.mechanism!, props.joint));

/** The drawn pose shall read as this position. */
const setPosition = (value: number | null) =>
  edit('position at the start', (joint) => {
    if (joint.kind !== 'weld') joint.zero += position.value - value!;
  });
const setDirection = (value: number | null) =>
  edit('direction', (joint, m) => {
    if (joint.kind !== 'slide' && joint.kind !== 'slot') return;
    const a = m.bodies.find(({ id }) => id === joint.a.body);
    joint.angle = value! - (a?.pose.angle ?? 0);
  });
const direction = computed(() => {
  const { joint } = props;
  if (joint.kind !== 'slide' && joint.kind !== 'slot') return 0;
  return joint.angle + (board.mechanism!.bodies.find(({ id }) => id === joint.a.body)?.pose.angle ?? 0);
});

/** An axis that leads this joint: one turn a cycle, or a stroke there and back. */
function driveIt(): void {
  const made: Axis = newAxis(angular.value ? 'rotary' : 'linear', machine.axes, machine.cycle);
  made.joint = props.joint.id;
  made.travel = null;
  made.gearbox = null;
  made.load = { ...made.load, inertia: 0 };
  made.name = driveName(machine.axes, props.joint);
  const begin = position.value;
  if (angular.value)
    made.motion = {
      ...made.motion,
      level: 'velocity',
      source: { kind: 'constant', value: (2 * Math.PI) / machine.cycle },
      initial: { position: begin, velocity: 0 },
    };
  else {
    const stroke = (board.model?.scale ?? 0.1) * 0.1;
    made.plan.start = begin;
    for (const segment of made.plan.segments)
      if (segment.kind === 'move') segment.to = segment.id === 's1' ? begin + stroke : begin;
  }
  const problem = board.draw(`drive ${props.joint.name}`, (draft) => void draft.axes.push(structuredClone(made)));
  if (problem === null) machine.selectedAxisId = made.id;
}

const addStop = () =>
  board.draw('add a stop', (draft) => {
    const reach = angular.value ? 1 : (board.model?.scale ?? 0.1) * 0.2;
    const stop = addElement(draft.mechanism as Mechanism, {
      kind: 'stop',
      joint: props.joint.id,
      min: position.value - reach,
      max: position.value + reach,
      restitution: 0.3,
    });
    board.select(stop.id);
  });
const addTorsion = () =>
  board.draw('add a torsion spring', (draft) => {
    const spring = addElement(draft.mechanism as Mechanism, {
      kind: 'torsion',
      joint: props.joint.id,
      rate: 1,
      free: position.value,
    });
    board.select(spring.id);
  });
function flip(): void {
  const poses = otherClosure(board.mechanism!, props.joint.id);
  if (typeof poses === 'string') board.message = poses;
  else board.placeBodies('close the loop the other way', poses);
}
const unDrive = () =>
  machine.edit('take the drive off', (draft) => {
    (draft as Machine).axes = draft.axes.filter(({ id }) => id !== axis.value?.id) as Machine['axes'];
  });
</script>

<template>
  <p class="note">{{ JOINTS[joint.kind].hint }}: {{ ties }}.</p>
  <div class="fields">
    <NameField :value="joint.name" :commit="set('name', 'rename')" class="wide" />
    <QuantityField
      v-if="joint.kind !== 'weld'"
      :value="tidy(position)"
      :kind="angular ? 'angle' : 'length'"
      :label="joint.kind === 'guide' || joint.kind === 'cam' ? 'Place on the path' : 'Position as drawn'"
      hint="What the axis reads at the drawn pose"
      :commit="setPosition"
    />
    <QuantityField
      v-if="joint.kind === 'slide' || joint.kind === 'slot'"
      :value="tidy(direction)"
      kind="angle"
      label="Direction"
      :commit="setDirection"
    />
    <SchemaFields :fields :change="(change, label) => edit(label, change)" />
  </div>
  <p v-if="wholePath !== null" class="note">
    The path is {{ formatQuantity(wholePath, 'length', machine.units, 5) }} long.
  </p>
  <template v-if="joint.kind !== 'weld'">
    <h3>Drive</h3>
    <p v-if="axis" class="note">
      Driven by the axis <b>{{ axis.name }}</b>.
      <RouterLink :to="`/machine/${machine.id}/move`" @click="machine.selectedAxisId = axis.id"
        >How it moves</RouterLink
      >
    </p>
    <div class="actions">
      <ElButton v-if="!axis" size="small" type="primary" @click="driveIt">Drive this joint</ElButton>
      <ElButton v-else size="small" @click="unDrive">Take the drive off</ElButton>
      <ElButton size="small" @click="addStop">Add a stop</ElButton>
      <ElButton v-if="joint.kind === 'pin'" size="small" @click="addTorsion">Add a torsion spring</ElButton>
      <ElButton v-if="joint.kind === 'pin'" size="small" title="Mirror the two bodies that meet here" @click="flip"
        >Other closure</ElButton
      >
    </div>
  </template>
</template>

<style scoped>
@import './panel.css';
</style>
