<script setup lang="ts">
import { addJoint, addPath, addPlate, bodyPoint, firstPlane, GROUND, groundPoint, leavesFront, nameIn, tracedPath, wayInSpace, worldOf, writeCsv, writeDxf, type Mechanism, type Place } from '@yoke/core'; // prettier-ignore
import { ElButton } from 'element-plus';
import { computed, shallowRef } from 'vue';
import { ChoiceField } from '@/components/fields';
import { useUntilChanged } from '@/composables/useUntilChanged';
import { download, fileName } from '@/lib/files';
import { useBoard, useMachine, useRun } from '@/stores';
import CamPart from './CamPart.vue';

/** Traces go to files or back to the board; a motion over the cycle becomes a cam. */
const results = useRun();
const board = useBoard();
const machine = useMachine();
const message = useUntilChanged('');
const document = computed(() => results.document);
const traces = computed(() =>
  (document.value?.mechanism.traces ?? []).map((place) => ({
    place,
    name: `${nameIn(document.value!, place.body)}.${place.point}`,
  })),
);
const pointsOf = (place: Place) =>
  document.value && results.run ? tracedPath(document.value, results.run, place) : [];

/** Whether places have a third number: the machine does not lie in the front plane alone. */
const inSpace = computed(() => document.value !== null && leavesFront(document.value.mechanism));

function toCsv(place: Place, name: string): void {
  if (inSpace.value) {
    const way = wayInSpace(document.value!.mechanism, results.run!.mechanism!, place, Infinity);
    const rows = way.map((at, k) => [results.run!.times[k]!, ...at.map((part) => part * 1000)]);
    download(`${fileName(name)}.csv`, writeCsv(['t [s]', 'x [mm]', 'y [mm]', 'z [mm]'], rows), 'text/csv');
    return;
  }
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
    if (as === 'plate') {
      const plate = addPlate(m, corners);
      made.value = { id: plate.id, point: plate.points[0]!.id, name: plate.name };
    } else if (closed) addPath(m, GROUND, { kind: 'loop', through: corners });
    else
      addPath(m, GROUND, {
        kind: 'chain',
        start: corners[0]!,
        closed: false,
        pieces: [{ kind: 'spline', through: corners.slice(1) }],
      });
  });
  message.value =
    problem ??
    `${name} is on the board now as a ${as}.${as === 'plate' ? ' Nothing holds it yet: weld it to what shall carry it.' : ''}`;
}
/** The outline made last, until it is tied to something, or taken back. */
const made = shallowRef<{ id: string; point: string; name: string } | null>(null);
const loose = computed(() =>
  machine.document?.mechanism.bodies.some(({ id }) => id === made.value?.id) ? made.value : null,
);
const holders = computed(() => [
  { value: GROUND, label: 'The ground' },
  ...(machine.document?.mechanism.bodies ?? []).flatMap(({ id, name, plane }) =>
    id === loose.value?.id || plane !== firstPlane(machine.document!.mechanism) ? [] : [{ value: id, label: name }],
  ),
]);
function tie(to: string): void {
  const own = loose.value;
  if (!own) return;
  const problem = board.draw('weld the outline', (draft) => {
    const m = draft.mechanism as Mechanism;
    const place = { body: own.id, point: own.point };
    const at = worldOf(m, place);
    addJoint(m, 'weld', to === GROUND ? groundPoint(m, at) : bodyPoint(m, to, at), place);
  });
  message.value =
    problem ?? `${own.name} is welded to ${to === GROUND ? 'the ground' : nameIn(machine.document!, to)}.`;
  if (problem === null) made.value = null;
}
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
    <p v-if="inSpace && traces.length > 0" class="note">
      CSV has x, y and z. DXF, path and outline show ways as they are seen from the front.
    </p>
    <p v-if="message" class="note" role="status">{{ message }}</p>
    <ChoiceField
      v-if="loose && holders.length > 0"
      value=""
      :label="`Weld ${loose.name} to`"
      :options="holders"
      @choose="tie"
    />
    <CamPart />
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
.note {
  font-size: 12.5px;
  color: var(--ink-soft);
  margin: 4px 0;
}
</style>
