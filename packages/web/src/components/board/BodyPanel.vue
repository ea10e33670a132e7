<script setup lang="ts">
import {
  bodySchema,
  drawnFields,
  fieldsAt,
  formatQuantity,
  freeId,
  localOf,
  massOf,
  unweighedOf,
  setBarLength,
  worldOf,
  type Body,
  type Mechanism,
} from '@yoke/core';
import { ElButton } from 'element-plus';
import { computed } from 'vue';
import { ChoiceField, DeleteButton, NameField, QuantityField, SchemaFields } from '@/components/fields';
import { OTHER_MATERIAL, useDensities } from '@/composables/useDensities';
import { useThing } from '@/composables/useThing';
import { tidied, tidy } from '@/lib/ticks';
import { useBoard, useMachine } from '@/stores';
import TensorFields from './TensorFields.vue';

/** A body: shape, where it starts, its points, its mass. */
const props = defineProps<{ body: Body }>();
const board = useBoard();
const machine = useMachine();
const { edit, set } = useThing('bodies', () => props.body.id);
const mass = computed(() => massOf(props.body));
/** Solids by whose mass it goes although that is not known. */
const unweighed = computed(() => unweighedOf(props.body));
const mechanism = computed(() => board.mechanism as Mechanism);
const show = (value: number) => formatQuantity(tidy(value), 'length', machine.units, 4);
const centreText = computed(() => {
  const { x, y, angle } = props.body.pose;
  const [px, py] = mass.value.centre;
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  return `x ${show(x + c * px - s * py)}, y ${show(y + s * px + c * py)}`;
});
/** By the parallel-axis theorem. */
const aboutFirst = computed(() => {
  const [x, y] = props.body.points[0]!.at;
  const [cx, cy] = mass.value.centre;
  return mass.value.inertia + mass.value.mass * ((x - cx) ** 2 + (y - cy) ** 2);
});
const isBar = computed(() => props.body.shape.kind === 'bar' && props.body.points.length >= 2);
const barLength = computed(() => {
  const [a, b] = props.body.points;
  return a && b ? Math.hypot(b.at[0] - a.at[0], b.at[1] - a.at[1]) : 0;
});
const fields = computed(() => tidied(drawnFields(bodySchema, props.body, machine.document!)));
const change = (make: (body: Body) => void, label: string) => edit(label, make);

const { materials, materialOf } = useDensities();
const material = computed(() => materialOf(props.body.mass.given === 'shape' ? props.body.mass.density : null));
const setMaterial = (density: string) =>
  edit('material', (body) => {
    if (body.mass.given === 'shape' && density !== OTHER_MATERIAL) body.mass.density = Number(density);
  });

/** Points are shown where they are in the world; typed ones go back into the frame of the body. */
const setPoint = (id: string, axis: 0 | 1) => (value: number | null) =>
  edit('move a point', (body, m) => {
    const at = worldOf(m, { body: body.id, point: id });
    at[axis] = value!;
    body.points.find((p) => p.id === id)!.at = localOf(body, at);
  });
/** Heights set tilting moments: they count where a machine leaves its plane. */
const leavesPlane = computed(() => board.mechanism!.planes.length > 1);
const setHeight = (id: string) => (value: number | null) =>
  edit('height of a point', (body) => {
    const point = body.points.find((p) => p.id === id)!;
    if (value) point.height = value;
    else delete point.height;
  });
const addPoint = () =>
  edit('add a point', (body) => {
    const id = freeId('p', body.points.map((p) => p.id)); // prettier-ignore
    body.points.push({ id, at: [...mass.value.centre] });
  });
const removePoint = (id: string) =>
  edit('remove a point', (body) => void (body.points = body.points.filter((p) => p.id !== id)));
</script>

<template>
  <div class="fields">
    <NameField :value="body.name" :commit="set('name', 'rename')" class="wide" />
    <QuantityField
      v-if="isBar"
      :value="tidy(barLength)"
      kind="length"
      label="Length"
      :min="1e-6"
      :commit="(v) => edit('length', (_, m) => setBarLength(m, body.id, v!))"
    />
    <SchemaFields :fields="fieldsAt(fields, 'shape')" :change />
    <p v-if="body.shape.kind === 'plate'" class="note wide">
      Plate of {{ body.shape.outline.length }} corners{{
        body.shape.holes.length > 0
          ? `, ${body.shape.holes.length} ${body.shape.holes.length === 1 ? 'hole' : 'holes'}`
          : ''
      }}.
    </p>
  </div>
  <h3>Start pose</h3>
  <div class="fields">
    <SchemaFields :fields="fieldsAt(fields, 'pose')" :change />
    <SchemaFields :fields="fieldsAt(fields, 'level')" :change />
  </div>
  <h3>Mass</h3>
  <div class="fields">
    <ChoiceField
      v-if="body.mass.given === 'shape'"
      :value="material"
      label="Material"
      :options="materials"
      @choose="setMaterial"
    />
    <SchemaFields :fields="[...fieldsAt(fields, 'mass'), ...fieldsAt(fields, 'thickness')]" :change />
    <TensorFields :body />
  </div>
  <dl class="facts">
    <template v-if="body.mass.given !== 'typed'">
      <dt>Mass</dt>
      <dd>{{ formatQuantity(mass.mass, 'mass', machine.units, 4) }}</dd>
    </template>
    <dt>Centre of mass</dt>
    <dd>{{ centreText }}</dd>
    <dt>Inertia about it</dt>
    <dd>{{ formatQuantity(mass.inertia, 'inertia', machine.units, 4) }}</dd>
    <dt>Inertia about {{ body.points[0]!.id }}</dt>
    <dd>{{ formatQuantity(aboutFirst, 'inertia', machine.units, 4) }}</dd>
  </dl>
  <p v-if="unweighed.length > 0" class="bad" role="alert">
    The mass of {{ unweighed.join(', ') }} is not known, so this is too little: choose
    {{ unweighed.length === 1 ? 'it' : 'them' }} in Solids, there it says what can be done.
  </p>
  <p class="note">The centre of mass is drawn on the board; x and y are those of the drawing.</p>
  <h3>Points</h3>
  <div v-for="p in body.points" :key="p.id" class="point" :class="{ high: leavesPlane }">
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
    <QuantityField
      v-if="leavesPlane"
      bare
      :value="tidy(p.height ?? 0)"
      kind="length"
      :label="`${p.id} height`"
      hint="Over the middle of the body"
      :commit="setHeight(p.id)"
    />
    <DeleteButton :label="`Remove ${p.id}`" title="Remove a point nothing hangs on" @click="removePoint(p.id)" />
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
.point.high {
  grid-template-columns: 22px 1fr 1fr 1fr 28px;
}
</style>
