<script setup lang="ts">
import { camCentres, camFromAxis, camFromPoint, camPlaces, drawCam, formatQuantity, LARGEST_PRESSURE_SLIDE, nameIn, writeDxf, type CamOutline, type Machine, type Place } from '@yoke/core'; // prettier-ignore
import { ElButton } from 'element-plus';
import { computed, ref, shallowRef, watch } from 'vue';
import { ChoiceField, QuantityField } from '@/components/fields';
import { useUntilChanged } from '@/composables/useUntilChanged';
import { download } from '@/lib/files';
import { useBoard, useMachine, useRun } from '@/stores';

/** A cam from a motion: that of an axis, on a slide or a lever, or the way a drawn point goes. */
const results = useRun();
const board = useBoard();
const machine = useMachine();
const motion = ref('');
const centre = ref('');
const sense = ref<'1' | '-1'>('1');
const base = ref<number | null>(0.04);
const roller = ref<number | null>(0.01);
const pivot = ref<number | null>(0.08);
const arm = ref<number | null>(0.07);
const result = shallowRef<CamOutline | null>(null);
const message = useUntilChanged('');

const document = computed(() => results.document);
const axis = computed(() => document.value?.axes.find(({ id }) => `axis:${id}` === motion.value));
const place = computed<Place | null>(() => {
  const [body, point] = motion.value.startsWith('point:') ? motion.value.slice(6).split('.') : [];
  return body && point ? { body, point } : null;
});
/** A turning axis swings its follower on a pivot. */
const swings = computed(() => axis.value?.kind === 'rotary');
const options = computed(() => {
  if (!document.value) return [];
  const { axes, mechanism } = document.value;
  return [
    ...axes.filter(({ joint }) => joint === null).map(({ id, name }) => ({ value: `axis:${id}`, label: `Axis ${name}` })), // prettier-ignore
    ...camPlaces(mechanism).map(({ body, point }) => ({ value: `point:${body}.${point}`, label: `${nameIn(document.value!, body)}.${point}, as it goes` })), // prettier-ignore
    ...axes.filter(({ joint }) => joint !== null).map(({ id, name }) => ({ value: `axis:${id}`, label: `${name}, on a follower of its own` })), // prettier-ignore
  ];
});
const ORIGIN = 'origin';
const centres = computed(() => {
  const found = document.value ? camCentres(document.value.mechanism) : [];
  const length = (v: number) => formatQuantity(v, 'length', results.units, 4);
  return [
    ...found.map(({ id, at }) => ({ value: id, label: `Ground ${id} at ${length(at[0])}, ${length(at[1])}`, at })),
    { value: ORIGIN, label: 'The origin of the board', at: [0, 0] as [number, number] },
  ];
});
const about = computed(
  () => centres.value.find(({ value }) => value === (centre.value || ORIGIN))?.at ?? ([0, 0] as [number, number]),
);
// An outline is of what it was made with.
watch([motion, centre, sense, base, roller, pivot, arm, () => results.run], () => (result.value = null));

function make(): void {
  const { run } = results;
  result.value = null;
  message.value = '';
  if (!run || !document.value || (!axis.value && !place.value)) {
    message.value = 'Choose the axis or the point whose motion the cam shall give.';
    return;
  }
  const size = { roller: roller.value!, sense: sense.value === '1' ? (1 as const) : (-1 as const) };
  const lever = swings.value ? { distance: pivot.value!, length: arm.value! } : null;
  const found = place.value
    ? camFromPoint(document.value, run, place.value, about.value, size)
    : camFromAxis(run, axis.value!.id, { ...size, base: base.value!, lever });
  if (typeof found === 'string') message.value = found;
  else result.value = found;
}
const verdict = computed(() => {
  const r = result.value;
  if (!r) return [];
  const angle = (v: number) => formatQuantity(v, 'angle', results.units, 3);
  const length = (v: number) => formatQuantity(v, 'length', results.units, 4);
  return [
    `Largest pressure angle ${angle(r.pressure.angle)}, at ${angle(r.pressure.at)} of the cam${r.pressure.angle > LARGEST_PRESSURE_SLIDE ? ': more than 30°, a slide tends to jam. Take a larger base circle.' : '.'}`,
    Number.isFinite(r.smallestRadius.radius)
      ? `Smallest radius of curvature ${length(Math.max(0, r.smallestRadius.radius))}, at ${angle(r.smallestRadius.at)}.`
      : 'It bulges nowhere.',
    ...(r.undercut.length > 0
      ? [
          `Undercut at ${angle(r.undercut[0]!)}: the roller is too large there. Take a smaller roller or a larger base circle.`,
        ]
      : []),
  ];
});
function toDxf(): void {
  if (result.value)
    download('cam.dxf', writeDxf([{ layer: 'cam', closed: true, points: result.value.outline }]), 'image/vnd.dxf');
}
function toBoard(): void {
  const made = result.value;
  const { run } = results;
  if (!made || !run) return;
  if (results.stale) {
    message.value = 'The machine has changed since the run: make the outline again when it has run.';
    return;
  }
  const leads = place.value && { place: place.value, run, roller: roller.value!, sense: sense.value === '1' ? (1 as const) : (-1 as const) }; // prettier-ignore
  let off: string[] = [];
  const problem = board.draw('cam on the board', (draft) => {
    ({ off } = drawCam(draft as Machine, made, about.value, leads));
  });
  const name = place.value ? nameIn(machine.document!, place.value.body) : '';
  const taken = off.length > 0 ? ` ${off.join(' and ')} led it before and ${off.length === 1 ? 'is' : 'are'} taken off.` : ''; // prettier-ignore
  message.value =
    problem ??
    (leads
      ? `The cam is on the board, pinned, driven one turn a cycle, and leads ${name}.${taken} Undo takes all of it back.`
      : 'The cam and its outline are on the board now, about the chosen centre.');
}
const into = (target: { value: number | null }) => (value: number | null) => {
  target.value = value;
  return null;
};
const [setBase, setRoller, setPivot, setArm] = [into(base), into(roller), into(pivot), into(arm)];
</script>

<template>
  <h3>Cam from a motion</h3>
  <div class="fields">
    <ChoiceField class="wide" :value="motion" label="Motion of" :options @choose="motion = $event" />
    <ChoiceField :value="centre || ORIGIN" label="Turns about" :options="centres" @choose="centre = $event" />
    <ChoiceField
      :value="sense"
      label="The cam turns"
      :options="{ '1': 'Anticlockwise', '-1': 'Clockwise' }"
      @choose="sense = $event"
    />
    <QuantityField :value="roller" kind="length" label="Roller radius" :min="0" :commit="setRoller" />
    <template v-if="axis">
      <QuantityField :value="base" kind="length" label="At rest, from the centre" :min="0.001" :commit="setBase" />
      <template v-if="swings">
        <QuantityField :value="pivot" kind="length" label="Pivot from the centre" :min="0.001" :commit="setPivot" />
        <QuantityField :value="arm" kind="length" label="Pivot to roller" :min="0.001" :commit="setArm" />
      </template>
    </template>
  </div>
  <ElButton size="small" @click="make">Make the outline</ElButton>
  <template v-if="result">
    <p v-for="line in verdict" :key="line" class="note">{{ line }}</p>
    <ElButton size="small" @click="toDxf">DXF</ElButton>
    <ElButton size="small" @click="toBoard">{{ place ? 'To the board, leading it' : 'To the board' }}</ElButton>
  </template>
  <p v-if="message" class="note" role="status">{{ message }}</p>
</template>

<style scoped>
h3 {
  margin: 8px 0 4px;
}
.fields {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 6px 8px;
  align-items: end;
  margin-bottom: 6px;
}
.wide {
  grid-column: 1 / -1;
}
.note {
  font-size: 12.5px;
  color: var(--ink-soft);
  margin: 4px 0;
}
</style>
