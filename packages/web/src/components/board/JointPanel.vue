<script setup lang="ts">
import {
  addElement,
  addStop,
  bodiesOf,
  carriersOf,
  carryJoint,
  directionName,
  drawnFields,
  formatQuantity,
  GROUND,
  hasCarrier,
  hasPosition,
  JOINTS,
  jointSchema,
  nameIn,
  pathLength,
  turns,
  type Joint,
  type Machine,
  type Mechanism,
} from '@yoke/core';
import { ElButton } from 'element-plus';
import { computed, ref } from 'vue';
import { ChoiceField, NameField, QuantityField, SchemaFields } from '@/components/fields';
import { closesOtherwise, useClosures } from '@/composables/useClosures';
import { useThing } from '@/composables/useThing';
import { useAdditions } from '@/composables/useAdditions';
import { useUntilChanged } from '@/composables/useUntilChanged';
import { tidy } from '@/lib/ticks';
import { useBoard, useMachine, useRun, useWork } from '@/stores';

/** A joint: what it ties, its friction, its drive, its stops. */
const props = defineProps<{ joint: Joint }>();
const board = useBoard();
const machine = useMachine();
const results = useRun();
const work = useWork();
const { edit, set } = useThing('joints', () => props.joint.id);

const fields = computed(() => drawnFields(jointSchema, props.joint, machine.document!));
const ties = computed(() =>
  bodiesOf(board.mechanism!, props.joint)
    .map((id) => nameIn(machine.document!, id))
    .join(' – '),
);
const angular = computed(() => turns(props.joint));
const axis = computed(() => machine.axes.find(({ joint }) => joint === props.joint.id));
const { positionOf, driveJoint } = useAdditions();
const position = computed(() => positionOf(props.joint));
const wholePath = computed(() => pathLength(board.mechanism!, props.joint));

/** The drawn pose shall read as this position. */
const setPosition = (value: number | null) =>
  edit('position at the start', (joint) => {
    if (hasPosition(joint)) joint.zero += position.value - value!;
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

const driveIt = () => driveJoint(props.joint);

/** Where the joint goes in the run, as far as it is of what is drawn. */
const seen = computed<[number, number]>(() => {
  const found = results.stale ? undefined : results.run?.mechanism?.joints.find(({ id }) => id === props.joint.id);
  const reached = found?.position?.subarray(0, results.run!.mechanism!.reached) ?? new Float64Array();
  return reached.length === 0 ? [position.value, position.value] : [reached.reduce((m, v) => Math.min(m, v)), reached.reduce((m, v) => Math.max(m, v))]; // prettier-ignore
});
const addAStop = () =>
  board.draw('add a stop', (draft) => {
    const room = angular.value ? Math.PI / 18 : (board.model?.scale ?? 0.1) * 0.1;
    board.select(addStop(draft.mechanism as Mechanism, props.joint, position.value, room, seen.value).id);
  });
const carriers = computed(() =>
  carriersOf(board.mechanism!, props.joint).map((id) => ({
    value: id,
    label: id === GROUND ? 'The ground' : nameIn(machine.document!, id),
  })),
);
const carry = (to: string) =>
  board.draw('carrier of a joint', (draft) => {
    const own = draft.mechanism.joints.find(({ id }) => id === props.joint.id) as Joint;
    if (hasCarrier(own)) carryJoint(draft as Machine, own, to);
  });

const lifting = ref(false);
const liftOff = useUntilChanged('');
async function findLiftOff(): Promise<void> {
  lifting.value = true;
  liftOff.value = '';
  const asked = machine.document;
  try {
    const found = await work.liftOff(props.joint.id);
    const time = (value: number) => formatQuantity(value, 'time', machine.units, 4);
    // An answer to a machine that has been changed since is none.
    if (asked !== machine.document) liftOff.value = 'The machine was changed meanwhile: search again.';
    else if (typeof found === 'string') liftOff.value = found;
    else
      liftOff.value = `Contact is lost from ${found.speed.toPrecision(4)} times the present speed on, that is with a cycle of ${time(found.cycle)} or less, first at ${time(found.time)} of it. At the present speed it is ${found.now}.`;
  } catch (error) {
    liftOff.value = (error as Error).message;
  } finally {
    lifting.value = false;
  }
}
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
const { searching, words: closure, next: closeOtherwise } = useClosures(() => props.joint);
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
      v-if="hasPosition(joint)"
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
      :hint="`It counts up going ${directionName(direction)}`"
      :commit="setDirection"
    />
    <ChoiceField
      v-if="hasCarrier(joint) && carriers.length > 0"
      :value="joint.a.body"
      label="Carried by"
      :options="carriers"
      @choose="carry"
    />
    <SchemaFields :fields :change="(change, label) => edit(label, change)" />
  </div>
  <template v-if="joint.kind === 'cam' && joint.closure === 'spring'">
    <div class="actions">
      <ElButton size="small" :loading="lifting" @click="findLiftOff">At what speed does it lift off?</ElButton>
    </div>
    <p v-if="liftOff" class="note" role="status">{{ liftOff }}</p>
  </template>
  <p v-if="wholePath !== null" class="note">
    The path is {{ formatQuantity(wholePath, 'length', machine.units, 5) }} long.
  </p>
  <template v-if="hasPosition(joint)">
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
      <ElButton size="small" @click="addAStop">Add a stop</ElButton>
      <ElButton v-if="joint.kind === 'pin'" size="small" @click="addTorsion">Add a torsion spring</ElButton>
    </div>
  </template>
  <template v-if="closesOtherwise(joint)">
    <div class="actions">
      <ElButton
        size="small"
        title="Put the loops at this joint together in another way, while what is driven stays"
        :loading="searching"
        @click="closeOtherwise"
        >Other closure</ElButton
      >
    </div>
    <p v-if="closure" class="note" role="status">{{ closure }}</p>
  </template>
</template>

<style scoped>
@import './panel.css';
</style>
