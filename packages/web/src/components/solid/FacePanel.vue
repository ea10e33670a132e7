<script setup lang="ts">
import {
  formatQuantity,
  GROUND,
  hasPosition,
  placeCircle,
  placeForce,
  placeJoint,
  placePlane,
  placeRim,
  placeSensor,
  placeSpring,
  solidFrame,
  spotOn,
  UNASSIGNED,
  type Machine,
  type Mechanism,
} from '@yoke/core';
import { plus, turned, type Point3 } from '@yoke/core/geometry';
import { measured, rimsOf, type Face } from '@yoke/core/solid';
import { ElButton } from 'element-plus';
import { computed, ref, watch } from 'vue';
import { useRouter } from 'vue-router';
import { ChoiceField } from '@/components/fields';
import { useAdditions } from '@/composables/useAdditions';
import { useBoard, useMachine, useSolids } from '@/stores';

/** What was pressed on a solid: which face it is, how it stands to the one before, and what can be placed there. */
const machine = useMachine();
const board = useBoard();
const solids = useSolids();
const router = useRouter();
const { driveJoint } = useAdditions();
const chosen = computed(() => solids.faces.at(-1)!);
const before = computed(() => (solids.faces.length > 1 ? solids.faces[0]! : null));
const KINDS: Record<Face['kind'], string> = {
  flat: 'Flat face',
  hole: 'Hole',
  shaft: 'Shaft',
  ball: 'Ball',
  hollow: 'Round hollow',
};
const long = (value: number) => formatQuantity(Math.abs(value) < 5e-10 ? 0 : value, 'length', machine.units, 4);
function wordsOf(face: Face): string {
  const round = 'radius' in face ? ` Ø ${long(2 * face.radius)}` : '';
  const reach = 'length' in face ? `, ${long(face.length)} long` : '';
  const fit = face.residual < 1e-9 ? '' : `, fits within ${Number((face.residual * 1e6).toPrecision(2))} µm`;
  return `${KINDS[face.kind]}${round}${reach}${fit}`;
}
const carrier = computed(() => chosen.value.solid.carrier);
const nameOf = (id: string) => (id === GROUND ? 'ground' : (board.mechanism?.bodies.find((own) => own.id === id)?.name ?? 'not assigned')); // prettier-ignore
const others = computed(
  () =>
  [{ value: GROUND, label: 'Ground' }, ...(board.mechanism?.bodies ?? []).map(({ id, name }) => ({ value: id, label: name }))].filter(({ value }) => value !== carrier.value), // prettier-ignore
);
/** What it is joined to: what carries the face before, where there is one. */
const other = ref('');
watch(
  [chosen, before, others],
  () => {
    const wanted = before.value?.solid.carrier;
    const can = (id: string | undefined) => others.value.some(({ value }) => value === id);
    if (can(wanted)) other.value = wanted!;
    else if (!can(other.value)) other.value = others.value[0]?.value ?? '';
  },
  { immediate: true },
);
const measure = computed(() => (before.value ? measured(before.value.line, chosen.value.line) : null));
const isFlat = computed(() => chosen.value.face.kind === 'flat');
const isRound = computed(() => chosen.value.face.kind === 'hole' || chosen.value.face.kind === 'shaft');
const spot = computed(() => ({ at: chosen.value.line.at, axis: chosen.value.line.axis ?? ([0, 0, 1] as Point3) }));
/** Half the length of what a sensor at the face looks along, m. */
const reach = computed(() => {
  const { face } = chosen.value;
  return Math.max(0.005, 'length' in face ? face.length : Math.sqrt(face.area) / 2);
});
/** The joint that was placed last. */
const made = ref<string | null>(null);
const joint = computed(() => board.mechanism?.joints.find(({ id }) => id === made.value) ?? null);
const driven = computed(() => machine.axes.some((axis) => axis.joint === made.value));
watch(chosen, (now, was) => {
  if (now.face !== was?.face) made.value = null;
});

function put(label: string, make: (m: Mechanism, whole: Machine) => { id: string; name: string } | string): void {
  made.value = solids.place(label, make);
  if (made.value !== null) board.select(made.value);
}
const place = (kind: 'pin' | 'slide' | 'ball') =>
  put(`place a ${kind}`, (m) => placeJoint(m, kind, carrier.value, other.value, spot.value, solids.bodyCorners(m)));
function toBoard(): void {
  if (carrier.value !== GROUND) board.select(made.value ?? carrier.value);
  void router.replace({ query: { part: 'board' } });
}
const spring = () =>
  put(
    'place a spring',
    (m) =>
    placeSpring(m, { carrier: before.value!.solid.carrier, at: before.value!.line.at }, { carrier: carrier.value, at: spot.value.at }), // prettier-ignore
  );
/** The outer rim of a flat face as a path. */
function rim(m: Mechanism): { id: string; name: string } | string {
  const { solid: ref, mesh, face } = chosen.value;
  const solid = solids.find(ref)!;
  const { at, axes } = solidFrame(m, ref, solid);
  const [outer] = rimsOf(mesh, face.triangles);
  return placeRim(m, carrier.value, spot.value.axis, (outer ?? []).map((own) => plus(at, turned(axes, own)))); // prettier-ignore
}
const point = () =>
  put('place a point', (m) => {
    const { point: id } = spotOn(m, carrier.value, spot.value.at);
    return { id: carrier.value, name: `Point ${id} of ${nameOf(carrier.value)}` };
  });
</script>

<template>
  <section class="panel" aria-label="Chosen face">
    <h2>{{ wordsOf(chosen.face) }}</h2>
    <p class="note">
      of {{ solids.find(chosen.solid)?.name }} ({{ nameOf(carrier) }}), middle at
      {{ spot.at.map((part) => long(part)).join(', ') }}
    </p>
    <dl v-if="measure && before" class="facts" aria-label="Measured">
      <dt>From {{ wordsOf(before.face) }}</dt>
      <dd>middle to middle {{ long(measure.middles) }}</dd>
      <template v-if="measure.apart !== null">
        <dt>Distance</dt>
        <dd>{{ long(measure.apart) }}</dd>
      </template>
      <template v-if="measure.angle !== null">
        <dt>Angle</dt>
        <dd>{{ formatQuantity(measure.angle, 'angle', machine.units, 5) }}</dd>
      </template>
    </dl>
    <p v-else class="note">Press another face with Shift to measure between the two, or to join them.</p>
    <p v-if="carrier === UNASSIGNED" class="note">
      Say first what this solid moves with: then pins, slides and planes are placed here.
    </p>
    <template v-else>
      <ChoiceField
        v-if="others.length > 0"
        :value="other"
        label="Joined to"
        :options="others"
        @choose="other = $event"
      />
      <div v-if="others.length > 0" class="actions">
        <ElButton v-if="!('radius' in chosen.face) || isRound" size="small" type="primary" @click="place('pin')">
          Pin {{ isFlat ? 'square to it' : 'here' }}
        </ElButton>
        <ElButton v-if="isFlat || isRound" size="small" type="primary" @click="place('slide')">
          Slide {{ isFlat ? 'square to it' : 'along it' }}
        </ElButton>
        <ElButton size="small" @click="place('ball')">Ball joint</ElButton>
      </div>
      <div class="actions">
        <ElButton
          v-if="isFlat || isRound"
          size="small"
          title="To draw in, square to the axis or level with the face"
          @click="put('place a plane', (m) => placePlane(m, carrier, spot))"
        >
          Plane
        </ElButton>
        <ElButton v-if="carrier !== GROUND" size="small" @click="point">Point</ElButton>
        <ElButton v-if="before && before.solid.carrier !== UNASSIGNED" size="small" @click="spring"
          >Spring between</ElButton
        >
        <ElButton
          v-if="carrier !== GROUND && (isFlat || isRound)"
          size="small"
          @click="put('place a force', (m) => placeForce(m, carrier, spot, isFlat))"
        >
          Force
        </ElButton>
        <ElButton
          v-if="isFlat || isRound"
          size="small"
          @click="put('place a sensor', (_m, whole) => placeSensor(whole, carrier, spot, isFlat, reach))"
        >
          {{ isFlat ? 'Proximity switch' : 'Light beam' }}
        </ElButton>
        <ElButton
          v-if="isRound && 'radius' in chosen.face"
          size="small"
          title="A path for guides and cams"
          @click="
            put('place a path', (m) => placeCircle(m, carrier, spot, 'radius' in chosen.face ? chosen.face.radius : 0))
          "
        >
          Circle as path
        </ElButton>
        <ElButton
          v-if="isFlat"
          size="small"
          title="A path of lines and arcs for guides and cams"
          @click="put('place a path', rim)"
        >
          Rim as path
        </ElButton>
      </div>
    </template>
    <div v-if="joint" class="actions" role="group" aria-label="What was placed">
      <ElButton v-if="hasPosition(joint) && !driven" size="small" type="primary" @click="driveJoint(joint)">
        Drive this joint
      </ElButton>
      <ElButton size="small" @click="toBoard">Edit it on the board</ElButton>
    </div>
  </section>
</template>

<style scoped>
@import '../board/panel.css';
</style>
