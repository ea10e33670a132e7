<script setup lang="ts">
import { formatQuantity, localOf, massOf, setBarLength, STEEL, worldOf, type Body, type Mechanism } from '@yoke/core';
import { ElButton } from 'element-plus';
import { Trash2 } from '@lucide/vue';
import { computed } from 'vue';
import ChoiceField from '@/components/ChoiceField.vue';
import IconButton from '@/components/IconButton.vue';
import NameField from '@/components/NameField.vue';
import QuantityField from '@/components/QuantityField.vue';
import { useThing } from '@/composables/useThing';
import { tidy } from '@/lib/ticks';
import { useBoard } from '@/stores/board';
import { useMachine } from '@/stores/machine';

/** A body: shape, where it starts, its points, its mass. */
const props = defineProps<{ body: Body }>();
const board = useBoard();
const machine = useMachine();
const { edit, set } = useThing('bodies', () => props.body.id);
const mass = computed(() => massOf(props.body));
const mechanism = computed(() => board.mechanism as Mechanism);
const isBar = computed(() => props.body.shape.kind === 'bar' && props.body.points.length >= 2);
const barLength = computed(() => {
  const [a, b] = props.body.points;
  return a && b ? Math.hypot(b.at[0] - a.at[0], b.at[1] - a.at[1]) : 0;
});

const setPose = (key: 'x' | 'y' | 'angle') => (value: number | null) =>
  edit('start pose', (body) => void (body.pose[key] = value!));
const setMass = (key: 'mass' | 'inertia' | 'thickness' | 'density') => (value: number | null) =>
  edit('mass', (body) => void ((body.mass as Record<string, unknown>)[key] = value));
const setCentre = (axis: 0 | 1) => (value: number | null) =>
  edit('centre of mass', (body) => {
    if (body.mass.given === 'typed') body.mass.centre[axis] = value!;
  });
const setGiven = (given: 'typed' | 'shape') =>
  edit('mass', (body) => {
    const { mass: m, centre, inertia } = mass.value;
    body.mass =
      given === 'typed'
        ? { given, mass: m, centre: [...centre], inertia }
        : { given, thickness: 0.008, density: STEEL };
  });
const MATERIALS = [
  { value: '7850', label: 'Steel' },
  { value: '2700', label: 'Aluminium' },
  { value: '1410', label: 'Acetal (POM)' },
  { value: '700', label: 'Plywood' },
  { value: 'other', label: 'Other' },
];
const material = computed(() => {
  const density = props.body.mass.given === 'shape' ? String(props.body.mass.density) : 'other';
  return MATERIALS.some(({ value }) => value === density) ? density : 'other';
});
const setShape = (key: 'width' | 'radius') => (value: number | null) =>
  edit('shape', (body) => void ((body.shape as Record<string, unknown>)[key] = value));

/** Points are shown where they are in the world; typed ones go back into the frame of the body. */
const setPoint = (id: string, axis: 0 | 1) => (value: number | null) =>
  edit('move a point', (body, m) => {
    const at = worldOf(m, { body: body.id, point: id });
    at[axis] = value!;
    body.points.find((p) => p.id === id)!.at = localOf(body, at);
  });
const addPoint = () =>
  edit('add a point', (body) => {
    const taken = new Set(body.points.map(({ id }) => id));
    let n = 1;
    while (taken.has(`p${n}`)) n++;
    body.points.push({ id: `p${n}`, at: [...mass.value.centre] });
  });
const removePoint = (id: string) =>
  edit('remove a point', (body) => void (body.points = body.points.filter((p) => p.id !== id)));
</script>

<template>
  <div class="fields">
    <NameField :value="body.name" :commit="set('name', 'rename')" class="wide" />
    <template v-if="isBar">
      <QuantityField
        :value="tidy(barLength)"
        kind="length"
        label="Length"
        :min="1e-6"
        :commit="(v) => edit('length', (_, m) => setBarLength(m, body.id, v!))"
      />
      <QuantityField
        :value="body.shape.kind === 'bar' ? body.shape.width : 0"
        kind="length"
        label="Width"
        :commit="setShape('width')"
      />
    </template>
    <QuantityField
      v-if="body.shape.kind === 'disc'"
      :value="body.shape.radius"
      kind="length"
      label="Radius"
      :commit="setShape('radius')"
    />
    <p v-if="body.shape.kind === 'plate'" class="note wide">
      Plate of {{ body.shape.outline.length }} corners{{
        body.shape.holes.length > 0 ? `, ${body.shape.holes.length} holes` : ''
      }}.
    </p>
  </div>
  <h3>Start pose</h3>
  <div class="fields">
    <QuantityField :value="tidy(body.pose.x)" kind="length" label="x" :commit="setPose('x')" />
    <QuantityField :value="tidy(body.pose.y)" kind="length" label="y" :commit="setPose('y')" />
    <QuantityField :value="tidy(body.pose.angle)" kind="angle" label="Angle" :commit="setPose('angle')" />
  </div>
  <h3>Mass</h3>
  <div class="fields">
    <ChoiceField
      :value="body.mass.given"
      label="Mass"
      :options="[
        { value: 'shape', label: 'From its shape' },
        { value: 'typed', label: 'Typed' },
      ]"
      @choose="setGiven"
    />
    <template v-if="body.mass.given === 'shape'">
      <ChoiceField
        :value="material"
        label="Material"
        :options="MATERIALS"
        @choose="$event !== 'other' && setMass('density')(Number($event))"
      />
      <QuantityField :value="body.mass.thickness" kind="length" label="Thickness" :commit="setMass('thickness')" />
      <QuantityField :value="body.mass.density" kind="density" label="Density" :commit="setMass('density')" />
    </template>
    <template v-else>
      <QuantityField :value="body.mass.mass" kind="mass" label="Mass of the body" :commit="setMass('mass')" />
      <QuantityField
        :value="body.mass.inertia"
        kind="inertia"
        label="Inertia"
        hint="About the centre of mass"
        :commit="setMass('inertia')"
      />
      <QuantityField :value="body.mass.centre[0]" kind="length" label="Centre along" :commit="setCentre(0)" />
      <QuantityField :value="body.mass.centre[1]" kind="length" label="Centre across" :commit="setCentre(1)" />
    </template>
  </div>
  <dl v-if="body.mass.given === 'shape'" class="facts">
    <dt>Mass</dt>
    <dd>{{ formatQuantity(mass.mass, 'mass', machine.units, 4) }}</dd>
    <dt>Inertia</dt>
    <dd>{{ formatQuantity(mass.inertia, 'inertia', machine.units, 4) }}</dd>
  </dl>
  <h3>Points</h3>
  <div v-for="p in body.points" :key="p.id" class="point">
    <span class="figures">{{ p.id }}</span>
    <QuantityField
      bare
      :value="tidy(worldOf(mechanism, { body: body.id, point: p.id })[0])"
      kind="length"
      :label="`${p.id} x`"
      :commit="setPoint(p.id, 0)"
    />
    <QuantityField
      bare
      :value="tidy(worldOf(mechanism, { body: body.id, point: p.id })[1])"
      kind="length"
      :label="`${p.id} y`"
      :commit="setPoint(p.id, 1)"
    />
    <IconButton
      :icon="Trash2"
      :size="14"
      :aria-label="`Remove ${p.id}`"
      title="Remove a point nothing hangs on"
      @click="removePoint(p.id)"
    />
  </div>
  <ElButton size="small" @click="addPoint">Add a point</ElButton>
</template>

<style scoped>
@import './panel.css';
.point {
  display: grid;
  grid-template-columns: 22px 1fr 1fr 28px;
  gap: 6px;
  align-items: center;
  margin-bottom: 4px;
}
</style>
