<script setup lang="ts">
import { indexOfPlace, nameIn, placeAtSample } from '@/lib/mechanism-run';
import { explainMechanismFinding, formatQuantity, posesAt, tracedPath, type Pose } from '@yoke/core';
import { computed, ref } from 'vue';
import LooseDrawing from '@/components/loose/LooseDrawing.vue';
import BehindDrawing from '@/components/mechanism/BehindDrawing.vue';
import GapDrawing from '@/components/mechanism/GapDrawing.vue';
import MechanismDrawing from '@/components/mechanism/MechanismDrawing.vue';
import { useMechanismColours } from '@/composables/useMechanismColours';
import { useMachineView } from '@/composables/useMachineView';
import { usePosesAtCursor } from '@/composables/usePosesAtCursor';
import { useTooClose } from '@/composables/useTooClose';
import { extent, intoWorld, placeIn, polyline } from '@/lib/board-view';
import { fromFront } from '@/lib/plane-slice';
import { spreadLabels } from '@/lib/spread-labels';
import { useCursor, useRun, useSeeing } from '@/stores';

/** The mechanism at the cursor, with traces, velocities along them, forces to scale, and a trail of ghosts. */
const results = useRun();
const cursor = useCursor();
const seeing = useSeeing();
const box = ref<HTMLElement>();

const whole = computed(() => results.document);
const run = computed(() => results.run);
const all = usePosesAtCursor();
const front = computed(() => (whole.value ? fromFront(whole.value.mechanism) : null));
/** The machine as far as it is drawn in the front plane. */
const document = computed(() =>
  whole.value && front.value
    ? front.value.mechanism === whole.value.mechanism
      ? whole.value
      : { ...whole.value, mechanism: front.value.mechanism }
    : null,
);
const pick = (some: readonly Pose[]) => front.value?.pick(some) ?? [];
const poses = computed(() => pick(all.value));
/** The rest of it, as it looks from there. */
const others = computed(() => front.value?.beside(all.value) ?? []);
const colours = useMechanismColours(
  () => whole.value,
  () => 'axis',
  () => new Set<string>(),
);

/** Traced paths, and everything that is ever reached, so that the view stands still while it plays. */
const traces = computed(() => {
  if (!whole.value || !run.value?.mechanism) return [];
  return whole.value.mechanism.traces.map((place) => ({
    place,
    key: `${place.body}.${place.point}`,
    points: tracedPath(whole.value!, run.value!, place),
  }));
});
const bounds = computed(() => {
  const machine = document.value;
  const current = run.value;
  if (!machine || !current?.mechanism) return null;
  const reached = Math.max(1, current.mechanism.reached);
  const some = Array.from({ length: 24 }, (_, i) =>
    posesAt(current, current.times[Math.floor(((reached - 1) * i) / 23)] ?? 0),
  );
  const boxes = some
    .map((p) =>
      extent(
        machine.mechanism,
        pick(p),
        front.value?.beside(p).flatMap(({ points }) => points),
      ),
    )
    .filter((b) => b !== null);
  if (boxes.length === 0) return null;
  return {
    low: [Math.min(...boxes.map((b) => b.low[0])), Math.min(...boxes.map((b) => b.low[1]))] as const,
    high: [Math.max(...boxes.map((b) => b.high[0])), Math.max(...boxes.map((b) => b.high[1]))] as const,
  };
});
const { width, height, projection, wheel, pan, fit, zoomBy, moved } = useMachineView(box, () => bounds.value);
const { close, words: tooClose } = useTooClose(
  () => document.value,
  () => results.record,
);

const ghosts = computed(() => {
  const current = run.value;
  if (!current || seeing.ghosts === 0) return [];
  return Array.from({ length: seeing.ghosts }, (_, i) =>
    pick(posesAt(current, (current.cycleTime * i) / seeing.ghosts)),
  );
});

const sample = computed(() => (run.value ? indexOfPlace(run.value, cursor.time) : 0));
const ARROW_PX = 60;

/** Speed arrows at even places of each trace, the largest as long as {@link ARROW_PX}. */
const speeds = computed(() => {
  const current = run.value;
  if (!seeing.velocities || !current?.mechanism || !document.value) return { list: [], most: 0 };
  const { x, y } = projection.value;
  const found = traces.value.flatMap(({ place }) =>
    Array.from({ length: 24 }, (_, i) => {
      const k = Math.floor(((current.mechanism!.reached - 1) * i) / 24);
      return placeAtSample(whole.value!, current, place, k);
    }),
  );
  const most = Math.max(...found.map(({ vx, vy }) => Math.hypot(vx, vy)), 1e-12);
  const list = found.map(({ x: px, y: py, vx, vy }) => ({
    x: x(px),
    y: y(py),
    dx: (vx / most) * ARROW_PX,
    dy: (-vy / most) * ARROW_PX,
  }));
  return { list, most: found.length > 0 ? most : 0 };
});

/** Reactions on the second body of every joint, and applied forces, at the cursor, to one scale over the whole run. */
const forces = computed(() => {
  const current = run.value?.mechanism;
  const machine = document.value;
  if (!seeing.arrows || !current || !machine || sample.value >= current.reached) return { list: [], most: 0 };
  const k = sample.value;
  let most = 0;
  const vectors = [...current.joints.map(({ reaction }) => reaction.force), ...current.elements.map(({ vector }) => vector)]; // prettier-ignore
  for (const [fx, fy] of vectors)
    for (let i = 0; i < current.reached; i += Math.max(1, Math.floor(current.reached / 60)))
      most = Math.max(most, Math.hypot(fx[i]!, fy[i]!));
  if (!(most > 0)) return { list: [], most: 0 };
  const { x, y } = projection.value;
  const arrow = (
    at: readonly [number, number],
    [fx, fy]: readonly [Float64Array, Float64Array, ...Float64Array[]],
  ) => ({
    x: x(at[0]),
    y: y(at[1]),
    dx: (fx[k]! / most) * ARROW_PX,
    dy: (-fy[k]! / most) * ARROW_PX,
  });
  const list = machine.mechanism.joints.flatMap((joint) => {
    const own = current.joints.find(({ id }) => id === joint.id);
    const at = placeIn(machine.mechanism, poses.value, joint.b);
    if (!own || !at) return [];
    return [{ id: joint.id, ...arrow(at, own.reaction.force), load: false }];
  });
  const loads = machine.mechanism.elements.flatMap((element) => {
    if (element.kind !== 'force' || !element.on) return [];
    const own = current.elements.find(({ id }) => id === element.id);
    const at = placeIn(machine.mechanism, poses.value, element.at);
    if (!own || !at) return [];
    return [{ id: element.id, ...arrow(at, own.vector), load: true }];
  });
  return { list: [...list, ...loads], most };
});

/** Torques of rotary drives as an arc that opens with their size. */
const torques = computed(() => {
  const current = run.value?.mechanism;
  const machine = document.value;
  if (!seeing.arrows || !current || !machine || sample.value >= current.reached) return [];
  return current.drives.flatMap((drive) => {
    const axis = machine.axes.find(({ id }) => id === drive.axisId);
    const joint = machine.mechanism.joints.find(({ id }) => id === drive.jointId);
    if (axis?.kind !== 'rotary' || !joint) return [];
    const at = placeIn(machine.mechanism, poses.value, joint.b);
    if (!at) return [];
    const most = drive.effort.subarray(0, current.reached).reduce((m, v) => Math.max(m, Math.abs(v)), 0) || 1;
    const value = (axis.reversed ? -1 : 1) * drive.effort[sample.value]!;
    const angle = (value / most) * 2.4;
    const r = 24;
    const [px, py] = [projection.value.x(at[0]), projection.value.y(at[1])];
    const end = [px + r * Math.cos(angle), py - r * Math.sin(angle)];
    const sweep = angle > 0 ? 0 : 1;
    return [
      {
        id: axis.id,
        d: `M${px + r} ${py}A${r} ${r} 0 ${Math.abs(angle) > Math.PI ? 1 : 0} ${sweep} ${end[0]} ${end[1]}`,
        tip: { x: end[0]!, y: end[1]!, turn: (-angle * 180) / Math.PI + (angle > 0 ? -90 : 90) },
        colour: colours.value[joint.id],
      },
    ];
  });
});

const lifted = computed(() => {
  const current = run.value?.mechanism;
  return current
    ? current.joints.filter(({ contact }) => contact && contact[sample.value]! < -1e-9).map(({ id }) => id)
    : [];
});
const beyond = computed(() => {
  const current = run.value;
  if (!current?.mechanism || !document.value) return null;
  const broken = current.mechanism.findings.find(({ severity }) => severity === 'error');
  if (current.mechanism.mode !== 'none' && sample.value < current.mechanism.reached) return null;
  return broken ? explainMechanismFinding(broken, document.value) : null;
});
const words = computed(() =>
  document.value
    ? `${document.value.name} at ${formatQuantity(cursor.time, 'time', document.value.units)}`
    : 'The run is being computed',
);
/** Names of the bodies, none over another; each stays where it stood as long as it can. */
const labels = computed<ReturnType<typeof spreadLabels>>((before) =>
  spreadLabels(
    (document.value?.mechanism.bodies ?? []).flatMap((body, i) => {
      const pose = poses.value[i];
      const mass = run.value?.mechanism?.bodies.find(({ id }) => id === body.id);
      if (!pose || !mass) return [];
      const [px, py] = intoWorld(pose, mass.centre);
      return [
        { id: body.id, text: nameIn(document.value!, body.id), x: projection.value.x(px), y: projection.value.y(py) },
      ];
    }),
    before ?? [],
  ),
);
</script>

<template>
  <div ref="box" class="view" @wheel.prevent="wheel" @pointerdown="pan" @dblclick="fit">
    <svg v-if="document && width > 0" role="img" :aria-label="words" :width :height>
      <BehindDrawing :others :projection :colours :close />
      <MechanismDrawing
        v-for="(ghost, i) in ghosts"
        :key="i"
        faint
        :mechanism="document.mechanism"
        :poses="ghost"
        :projection
        :colours
      />
      <path v-for="trace in traces" :key="trace.key" class="trace" :d="polyline(trace.points, projection)" />
      <line
        v-for="(s, i) in speeds.list"
        :key="`s${i}`"
        class="speed"
        :x1="s.x"
        :y1="s.y"
        :x2="s.x + s.dx"
        :y2="s.y + s.dy"
        marker-end="url(#speed-tip)"
      />
      <MechanismDrawing :mechanism="document.mechanism" :poses :projection :colours :lifted :close />
      <LooseDrawing :machine="document" :poses :projection :time="cursor.time" :record="results.record" />
      <GapDrawing :run :projection />
      <g v-for="label in labels" :key="label.id">
        <line v-if="label.moved" class="leader" :x1="label.at.x" :y1="label.at.y" :x2="label.x" :y2="label.y - 4" />
        <text class="label" :x="label.x" :y="label.y">{{ label.text }}</text>
      </g>
      <line
        v-for="f in forces.list"
        :key="f.id"
        class="force"
        :class="{ load: f.load }"
        :x1="f.x"
        :y1="f.y"
        :x2="f.x + f.dx"
        :y2="f.y + f.dy"
        marker-end="url(#force-tip)"
      />
      <g v-for="t in torques" :key="t.id" :style="{ color: t.colour }">
        <path class="torque" :d="t.d" />
        <path
          class="torque-tip"
          d="M-4 -4L4 0L-4 4Z"
          :transform="`translate(${t.tip.x} ${t.tip.y}) rotate(${t.tip.turn})`"
        />
      </g>
      <defs>
        <marker id="force-tip" viewBox="0 0 8 8" refX="6" refY="4" markerWidth="6" markerHeight="6" orient="auto">
          <path d="M0 0L8 4L0 8Z" class="tip" />
        </marker>
        <marker id="speed-tip" viewBox="0 0 8 8" refX="6" refY="4" markerWidth="5" markerHeight="5" orient="auto">
          <path d="M0 0L8 4L0 8Z" class="soft-tip" />
        </marker>
      </defs>
    </svg>
    <div class="zoom" role="group" aria-label="Size of the picture" @pointerdown.stop @dblclick.stop>
      <button type="button" title="Larger (wheel)" aria-label="Zoom in" @click="zoomBy(1.4)">+</button>
      <button type="button" title="Smaller (wheel)" aria-label="Zoom out" @click="zoomBy(1 / 1.4)">−</button>
      <button v-if="moved" type="button" title="All of it (double click)" @click="fit">Fit</button>
    </div>
    <p v-if="tooClose" class="too-close" role="status">{{ tooClose }}</p>
    <div v-if="document" class="scale">
      <p v-if="seeing.velocities && speeds.most > 0">
        <span class="bar soft" /> {{ formatQuantity(speeds.most, 'velocity', document.units, 3) }} of traced points
      </p>
      <p v-if="seeing.arrows && forces.most > 0">
        <span class="bar" /> {{ formatQuantity(forces.most, 'force', document.units, 3) }} on the second body of each
        joint
      </p>
    </div>
    <p v-if="beyond" class="beyond" role="alert">{{ beyond }}</p>
    <p v-if="lifted.length > 0" class="beyond" role="alert">
      {{ lifted.map((id) => nameIn(document!, id)).join(', ') }}: contact is lost here.
    </p>
  </div>
</template>

<style scoped>
@import '@/style/zoom.css';
.view {
  position: relative;
  height: 100%;
  min-height: 0;
  overflow: hidden;
  touch-action: none;
  cursor: move;
}
svg {
  display: block;
}
.trace {
  fill: none;
  stroke: var(--primary);
  stroke-width: 1.6;
}
.speed {
  stroke: var(--primary);
  stroke-width: 1.1;
}
.soft-tip {
  fill: var(--primary);
}
.force {
  stroke: var(--attention);
  stroke-width: 2;
}
.force.load {
  stroke-dasharray: 4 2;
}
.tip {
  fill: var(--attention);
}
.torque {
  fill: none;
  stroke: currentcolor;
  stroke-width: 3;
}
.torque-tip {
  fill: currentcolor;
}
.label {
  font: 12px var(--narrow);
  fill: var(--ink);
  text-anchor: middle;
  paint-order: stroke;
  stroke: var(--panel);
  stroke-width: 3px;
}
.leader {
  stroke: var(--ink-soft);
  stroke-width: 0.8;
}
.zoom {
  position: absolute;
  right: 8px;
  top: 6px;
}
.scale {
  position: absolute;
  right: 10px;
  bottom: 4px;
  font: 12px var(--narrow);
  color: var(--ink-soft);
}
.bar {
  display: inline-block;
  width: 60px;
  border-top: 2px solid var(--attention);
  vertical-align: middle;
  margin-right: 4px;
}
.bar.soft {
  border-color: var(--primary);
}
.scale p {
  margin: 0;
}
.beyond {
  position: absolute;
  left: 10px;
  right: 10px;
  top: 6px;
  max-width: calc(100% - 110px);
  width: fit-content;
  padding: 4px 8px;
  background: var(--bad-soft);
  color: var(--bad);
  border-radius: var(--radius);
  font-size: 12.5px;
}
</style>
