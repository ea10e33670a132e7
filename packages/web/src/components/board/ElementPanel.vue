<script setup lang="ts">
import { distanceAt, drawnFields, elementSchema, fieldsAt, nameIn, type Course, type Element } from '@yoke/core';
import { computed } from 'vue';
import { NameField, QuantityField, SchemaFields } from '@/components/fields';
import { useThing } from '@/composables/useThing';
import { useBoard, useMachine } from '@/stores';
import CourseFields from './CourseFields.vue';

/** A spring, damper, stop, force or torque. */
const props = defineProps<{ element: Element }>();
const board = useBoard();
const machine = useMachine();
const { edit, set } = useThing('elements', () => props.element.id);
const fields = computed(() => drawnFields(elementSchema, props.element, machine.document!));
const own = computed(() => fields.value.filter(({ key }) => !key.startsWith('course')));
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
