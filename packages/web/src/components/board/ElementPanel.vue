<script setup lang="ts">
import {
  distanceAt,
  drawnFields,
  elementSchema,
  fieldsAt,
  leavesFront,
  nameIn,
  planeFrame,
  planeOf,
  turned,
  type Course,
  type Element,
} from '@yoke/core';
import { computed } from 'vue';
import { NameField, QuantityField, SchemaFields, ToggleField } from '@/components/fields';
import { useThing } from '@/composables/useThing';
import { useBoard, useMachine } from '@/stores';
import CourseFields from './CourseFields.vue';

/** A spring, damper, stop, force or torque. */
const props = defineProps<{ element: Element }>();
const board = useBoard();
const machine = useMachine();
const { edit, set } = useThing('elements', () => props.element.id);
const fields = computed(() => drawnFields(elementSchema, props.element, machine.document!));
const course = computed(() => fieldsAt(fields.value, 'course'));
const change = (make: (element: Element) => void, label: string) => edit(label, make);
const length = computed(() => {
  const { element } = props;
  const q = board.shownState();
  if (!('a' in element) || !q || !board.model) return 0;
  return distanceAt(board.model, q, element.a, element.b);
});
/** Force at the drawn pose, positive in pull; typing it sets the free length. */
const preload = computed(() =>
  props.element.kind === 'spring' ? props.element.rate * (length.value - props.element.free) : 0,
);
const setPreload = (value: number | null) =>
  edit('preload', (element) => {
    if (element.kind === 'spring' && element.rate > 0) element.free = Math.max(0, length.value - value! / element.rate);
  });
/** Whether a force may point out of its plane: where the machine does not lie in the front one alone. */
const inSpace = computed(
  () =>
    props.element.kind === 'force' && (props.element.along !== undefined || leavesFront(machine.document!.mechanism)),
);
const own = computed(() =>
  fields.value.filter(
    ({ key }) => !key.startsWith('course') && !(key === 'angle' && 'along' in props.element && props.element.along),
  ),
);
const setInSpace = (on: boolean) =>
  edit('direction in space', (element) => {
    if (element.kind !== 'force') return;
    if (!on) {
      delete element.along;
      return;
    }
    // As it points now: in the frame of what it turns with, else in the world.
    const { mechanism } = machine.document!;
    const flat: [number, number, number] = [Math.cos(element.angle), Math.sin(element.angle), 0];
    const plane = planeOf(mechanism, element.at);
    const way = element.turns || plane === undefined ? flat : turned(planeFrame(mechanism, plane).axes, flat);
    element.along = way.map((part) => Number(part.toFixed(6)) || 0) as [number, number, number];
  });
const setAlong = (k: number) => (value: number | null) => {
  const { element } = props;
  if (element.kind !== 'force' || !element.along) return null;
  const next = element.along.map((part, i) => (i === k ? value! : part)) as [number, number, number];
  if (Math.hypot(...next) < 1e-9) return 'One of the three must be other than 0.';
  return edit('direction in space', (own) => {
    if (own.kind === 'force') own.along = next;
  });
};
const setCourse = (course: Course) =>
  edit('strength', (element) => {
    if (element.kind === 'force' || element.kind === 'torque') element.course = course;
  });
</script>

<template>
  <div class="fields">
    <NameField :value="element.name" :commit="set('name', 'rename')" />
    <SchemaFields :fields="own" :change />
    <template v-if="element.kind === 'spring'">
      <QuantityField :value="length" kind="length" label="Length as drawn" disabled :commit="() => null" />
      <QuantityField
        :value="preload"
        kind="force"
        label="Force as drawn"
        hint="Negative presses; typing it sets the free length"
        :commit="setPreload"
      />
    </template>
    <template v-if="element.kind === 'force' && inSpace">
      <ToggleField :value="element.along !== undefined" label="Direction in space" @change="setInSpace" />
      <template v-if="element.along">
        <QuantityField
          v-for="(part, k) in ['x', 'y', 'z']"
          :key="part"
          :value="element.along[k]!"
          kind="number"
          :label="`Along ${part}`"
          :min="-1"
          :max="1"
          :hint="element.turns ? 'In the frame of its body' : 'Of the world; the length does not count'"
          :commit="setAlong(k)"
        />
      </template>
    </template>
    <p v-if="element.kind === 'stop'" class="note wide">Of {{ nameIn(machine.document!, element.joint) }}.</p>
  </div>
  <p v-if="element.kind === 'torque'" class="note">
    Acts on {{ nameIn(machine.document!, element.body) }}; positive turns it anticlockwise.
  </p>
  <CourseFields
    v-if="element.kind === 'force' || element.kind === 'torque'"
    :course="element.course"
    :kind="element.kind"
    :fields="course"
    :change
    :commit="setCourse"
  />
</template>

<style scoped>
@import './panel.css';
</style>
