<script setup lang="ts">
import { nameIn, placeAt, type Course, type Element } from '@yoke/core';
import { computed } from 'vue';
import NameField from '@/components/NameField.vue';
import QuantityField from '@/components/QuantityField.vue';
import ToggleField from '@/components/ToggleField.vue';
import { useThing } from '@/composables/useThing';
import { put, type KeyOf, type ValueOf } from '@/lib/put';
import { useBoard } from '@/stores/board';
import { useMachine } from '@/stores/machine';
import CourseFields from './CourseFields.vue';

/** A spring, damper, stop, force or torque. */
const props = defineProps<{ element: Element }>();
const board = useBoard();
const machine = useMachine();
const { edit, set } = useThing('elements', () => props.element.id);
const field =
  <K extends KeyOf<Element>>(key: K) =>
  (value: ValueOf<Element, K> | null): string | null =>
    edit(key, (element) => put(element, key, value));
const angular = computed(
  () =>
    'joint' in props.element &&
    board.mechanism!.joints.find(({ id }) => id === (props.element as { joint: string }).joint)?.kind === 'pin',
);
const length = computed(() => {
  const { element } = props;
  const q = board.shownState();
  if (!('a' in element) || !q || !board.model) return 0;
  const [a, b] = [placeAt(board.model, q, element.a), placeAt(board.model, q, element.b)];
  return Math.hypot(b[0] - a[0], b[1] - a[1]);
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
    <ToggleField :value="element.on" label="On" @change="set('on', 'switch')($event)" />
    <template v-if="element.kind === 'spring'">
      <QuantityField :value="element.rate" kind="springRate" label="Rate" :min="0" :commit="field('rate')" />
      <QuantityField :value="element.free" kind="length" label="Free length" :min="0" :commit="field('free')" />
      <QuantityField :value="length" kind="length" label="Length as drawn" disabled :commit="() => null" />
      <QuantityField
        :value="preload"
        kind="force"
        label="Force as drawn"
        hint="Negative presses; typing it sets the free length"
        :commit="setPreload"
      />
    </template>
    <template v-if="element.kind === 'torsion'">
      <QuantityField :value="element.rate" kind="torsionRate" label="Rate" :min="0" :commit="field('rate')" />
      <QuantityField :value="element.free" kind="angle" label="Free angle" :commit="field('free')" />
    </template>
    <QuantityField
      v-if="element.kind === 'damper'"
      :value="element.rate"
      kind="linearDamping"
      label="Damping"
      :min="0"
      :commit="field('rate')"
    />
    <template v-if="element.kind === 'stop'">
      <p class="note wide">Of {{ nameIn(machine.document!, element.joint) }}.</p>
      <QuantityField
        :value="element.min"
        :kind="angular ? 'angle' : 'length'"
        label="Not below"
        optional
        :commit="field('min')"
      />
      <QuantityField
        :value="element.max"
        :kind="angular ? 'angle' : 'length'"
        label="Not above"
        optional
        :commit="field('max')"
      />
      <QuantityField
        :value="element.restitution"
        kind="ratio"
        label="Rebound"
        :min="0"
        :max="1"
        hint="Share of the speed that comes back"
        :commit="field('restitution')"
      />
    </template>
    <template v-if="element.kind === 'force'">
      <QuantityField :value="element.angle" kind="angle" label="Direction" :commit="field('angle')" />
      <ToggleField
        :value="element.turns"
        label="Turns with the body"
        @change="
          (v) =>
            edit('direction', (e) => {
              if (e.kind === 'force') e.turns = v;
            })
        "
      />
    </template>
  </div>
  <p v-if="element.kind === 'torque'" class="note">
    Acts on {{ nameIn(machine.document!, element.body) }}; positive turns it anticlockwise.
  </p>
  <CourseFields
    v-if="element.kind === 'force' || element.kind === 'torque'"
    :course="element.course"
    :kind="element.kind === 'force' ? 'force' : 'torque'"
    :commit="setCourse"
  />
</template>

<style scoped>
@import './panel.css';
</style>
