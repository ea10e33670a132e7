<script setup lang="ts">
import {
  addPath,
  addPlate,
  camOutline,
  formatQuantity,
  GROUND,
  LARGEST_PRESSURE_SLIDE,
  mechanismSamples,
  nameIn,
  tracedPath,
  writeCsv,
  writeDxf,
  type CamOutline,
  type Mechanism,
  type Place,
} from '@yoke/core';
import { ElButton } from 'element-plus';
import { computed, ref, shallowRef } from 'vue';
import { ChoiceField, QuantityField } from '@/components/fields';
import { download, fileName } from '@/lib/files';
import { useBoard, useRun } from '@/stores';

/** Traces go to files or back to the board; a joint's motion over the cycle becomes a cam outline. */
const results = useRun();
const board = useBoard();
const message = ref('');
const document = computed(() => results.document);
const traces = computed(() =>
  (document.value?.mechanism.traces ?? []).map((place) => ({
    place,
    name: `${nameIn(document.value!, place.body)}.${place.point}`,
  })),
);
const pointsOf = (place: Place) =>
  document.value && results.run ? tracedPath(document.value, results.run, place) : [];

function toCsv(place: Place, name: string): void {
  const points = pointsOf(place);
  const rows = points.map(([x, y], k) => [results.run!.times[k]!, x * 1000, y * 1000]);
  download(`${fileName(name)}.csv`, writeCsv(['t [s]', 'x [mm]', 'y [mm]'], rows), 'text/csv');
}
function toDxf(place: Place, name: string): void {
  const points = pointsOf(place);
  const closed = isClosed(points);
  download(
    `${fileName(name)}.dxf`,
    writeDxf([{ layer: name, closed, points: closed ? points.slice(0, -1) : points }]),
    'image/vnd.dxf',
  );
}
const isClosed = (points: [number, number][]) => {
  const [a, b] = [points[0], points.at(-1)];
  return !!a && !!b && Math.hypot(a[0] - b[0], a[1] - b[1]) < 1e-5;
};
/** A hundred points say enough of a smooth line; more make the spline no better. */
function thinned(points: [number, number][], most = 96): [number, number][] {
  const closed = isClosed(points);
  const list = closed ? points.slice(0, -1) : points;
  const step = Math.max(1, list.length / most);
  const picked: [number, number][] = [];
  for (let i = 0; i < list.length; i += step) picked.push(list[Math.floor(i)]!);
  if (!closed && list.length > 0) picked.push(list.at(-1)!);
  return picked.filter((p, i) => i === 0 || Math.hypot(p[0] - picked[i - 1]![0], p[1] - picked[i - 1]![1]) > 1e-7);
}
function toBoard(place: Place, name: string, as: 'path' | 'plate'): void {
  const points = pointsOf(place);
  const closed = isClosed(points);
  const corners = thinned(points);
  if (corners.length < 3) {
    message.value = `${name} does not move far enough to make a ${as} of it.`;
    return;
  }
  const problem = board.draw(`trace as ${as}`, (draft) => {
    const m = draft.mechanism as Mechanism;
    if (as === 'plate') addPlate(m, corners);
    else if (closed) addPath(m, GROUND, { kind: 'loop', through: corners });
    else
      addPath(m, GROUND, {
        kind: 'chain',
        start: corners[0]!,
        closed: false,
        pieces: [{ kind: 'spline', through: corners.slice(1) }],
      });
  });
  message.value = problem ?? `${name} is on the board now as a ${as}.`;
}

const joint = ref('');
const base = ref(0.04);
const roller = ref(0.01);
const sense = ref<'1' | '-1'>('1');
const result = shallowRef<CamOutline | null>(null);
const joints = computed(() =>
  (document.value?.mechanism.joints ?? [])
    .filter(({ kind }) => kind === 'slide' || kind === 'slot' || kind === 'cylinder')
    .map(({ id, name }) => ({ value: id, label: name })),
);
const axes = computed(() =>
  (document.value?.axes ?? [])
    .filter(({ kind }) => kind === 'linear')
    .map(({ id, name }) => ({ value: `axis:${id}`, label: `Axis ${name}` })),
);

/** The motion of a slide, over one cycle for one turn of the cam. */
function lift(): ((angle: number) => { value: number; slope: number }) | null {
  const run = results.run;
  if (!run || !document.value || !joint.value) return null;
  const axisId = joint.value.startsWith('axis:') ? joint.value.slice(5) : null;
  const samples = axisId
    ? run.axes.find((a) => a.axisId === axisId)?.channels.position
    : mechanismSamples(document.value, run, `joint:${joint.value}:position`);
  if (!samples) return null;
  const low = samples.reduce((least, v) => Math.min(least, v), Infinity);
  const at = (angle: number) => {
    const turn = angle / (2 * Math.PI);
    const time = (turn - Math.floor(turn)) * run.cycleTime;
    let k = 0;
    let high = run.times.length - 1;
    while (high - k > 1) {
      const middle = (k + high) >> 1;
      if (run.times[middle]! <= time) k = middle;
      else high = middle;
    }
    const span = run.times[k + 1]! - run.times[k]!;
    const share = span > 0 ? (time - run.times[k]!) / span : 0;
    return samples[k]! + share * (samples[k + 1]! - samples[k]!) - low;
  };
  return (angle) => ({ value: at(angle), slope: 0 });
}
function make(): void {
  const wanted = lift();
  result.value = null;
  if (!wanted) {
    message.value = 'Choose the slide or axis whose motion the cam shall give.';
    return;
  }
  if (Math.abs(wanted(0).value - wanted(2 * Math.PI * (1 - 1e-9)).value) > 1e-5) {
    message.value = 'The motion does not come back to its start within the cycle, so no closed cam can give it.';
    return;
  }
  message.value = '';
  result.value = camOutline(
    {
      follower: { kind: 'slide', offset: 0, base: base.value },
      roller: roller.value,
      sense: sense.value === '1' ? 1 : -1,
      lift: wanted,
    },
    240,
  );
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
function camToDxf(): void {
  if (result.value)
    download('cam.dxf', writeDxf([{ layer: 'cam', closed: true, points: result.value.outline }]), 'image/vnd.dxf');
}
function camToBoard(): void {
  const outline = result.value?.outline;
  if (!outline) return;
  message.value =
    board.draw('cam on the board', (draft) => {
      const m = draft.mechanism as Mechanism;
      const plate = addPlate(m, outline, m.bodies.some(({ name }) => name === 'Cam') ? undefined : 'Cam');
      // Its frame goes to the centre about which it turns.
      const [ox, oy] = [plate.pose.x, plate.pose.y];
      plate.pose = { x: 0, y: 0, angle: 0 };
      if (plate.shape.kind === 'plate') plate.shape.outline = plate.shape.outline.map(([x, y]) => [x + ox, y + oy]);
      plate.points = [{ id: 'p1', at: [0, 0] }];
      addPath(m, plate.id, { kind: 'loop', through: outline });
    }) ?? 'The cam and its outline are on the board now, about its origin.';
}
const put = (target: { value: number }) => (value: number | null) => {
  target.value = value!;
  return null;
};
const setBase = put(base);
const setRoller = put(roller);
</script>

<template>
  <div>
    <h3>Traces</h3>
    <p v-if="traces.length === 0" class="note">
      Take “Trace a point” from the palette in Build and click a point of a body.
    </p>
    <div v-for="{ place, name } in traces" :key="name" class="trace">
      <span>{{ name }}</span>
      <ElButton size="small" @click="toCsv(place, name)">CSV</ElButton>
      <ElButton size="small" @click="toDxf(place, name)">DXF</ElButton>
      <ElButton size="small" @click="toBoard(place, name, 'path')">As a path</ElButton>
      <ElButton size="small" @click="toBoard(place, name, 'plate')">As an outline</ElButton>
    </div>
    <h3>Cam from a motion</h3>
    <div class="fields">
      <ChoiceField :value="joint" label="Motion of" :options="[...axes, ...joints]" @choose="joint = $event" />
      <ChoiceField
        :value="sense"
        label="The cam turns"
        :options="{ '1': 'Anticlockwise', '-1': 'Clockwise' }"
        @choose="sense = $event"
      />
      <QuantityField
        :value="base"
        kind="length"
        label="Follower at rest, from the centre"
        :min="0.001"
        :commit="setBase"
      />
      <QuantityField :value="roller" kind="length" label="Roller radius" :min="0" :commit="setRoller" />
    </div>
    <ElButton size="small" @click="make">Make the outline</ElButton>
    <template v-if="result">
      <p v-for="line in verdict" :key="line" class="note">{{ line }}</p>
      <ElButton size="small" @click="camToDxf">DXF</ElButton>
      <ElButton size="small" @click="camToBoard">To the board</ElButton>
    </template>
    <p v-if="message" class="note" role="status">{{ message }}</p>
  </div>
</template>

<style scoped>
h3 {
  margin: 8px 0 4px;
}
.trace {
  display: flex;
  gap: 4px;
  align-items: center;
  margin-bottom: 4px;
}
.trace span {
  flex: 1;
  font: 14px var(--narrow);
}
.trace :deep(.el-button) {
  margin: 0;
}
.fields {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 6px 8px;
  align-items: end;
  margin-bottom: 6px;
}
.note {
  font-size: 12.5px;
  color: var(--ink-soft);
  margin: 4px 0;
}
</style>
