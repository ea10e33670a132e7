<script setup lang="ts">
import {
  emptyCurvePoint,
  formatQuantity,
  leadShape,
  pathCurve,
  tracePoints,
  valueAt,
  type Curve,
  type LeadResult,
  type PathLead,
} from '@yoke/core';
import { useElementSize } from '@vueuse/core';
import { computed, ref } from 'vue';
import { polyline, project, viewOf } from '@/lib/board-view';
import { useCursor, useMachine } from '@/stores';

/** A path as it is drawn and as the tool point goes along it, with where it is now and where its peak is set. */
const props = defineProps<{ lead: PathLead; result: LeadResult }>();
const machine = useMachine();
const cursor = useCursor();
const box = ref<HTMLElement>();
const { width, height } = useElementSize(box);

const curveOf = (find: () => Parameters<typeof pathCurve>[0] | undefined): Curve | null => {
  try {
    const shape = find();
    return shape ? pathCurve(shape) : null;
  } catch {
    // What is wrong with it is said beside.
    return null;
  }
};
/** Points along a curve, so close that an arc looks round; a closed one ends where it began. */
const along = (curve: Curve | null) => {
  if (!curve) return [];
  const points = tracePoints(curve, 400);
  return curve.closed ? [...points, points[0]!] : points;
};
const drawn = computed(() =>
  along(curveOf(() => machine.document!.mechanism.paths.find(({ id }) => id === props.lead.path)?.shape)),
);
const led = computed(() => curveOf(() => leadShape(machine.document!, props.lead)));
const blended = computed(() => along(led.value));
const projection = computed(() => {
  const all = [...drawn.value, ...blended.value];
  const range = (k: 0 | 1) => [Math.min(...all.map((p) => p[k])), Math.max(...all.map((p) => p[k]))] as const;
  const [[left, right], [low, high]] = [range(0), range(1)];
  return project(viewOf(all.length > 0 ? { low: [left, low], high: [right, high] } : null, width.value, height.value), width.value, height.value); // prettier-ignore
});
const spotAt = (arc: number) => {
  const p = emptyCurvePoint();
  led.value!.at(arc, p);
  return { x: projection.value.x(p.x), y: projection.value.y(p.y) };
};
const tool = computed(() => {
  const { samples } = props.result;
  return samples && led.value ? spotAt(valueAt(samples.times, samples.arc, cursor.time)) : null;
});
const peak = computed(() => {
  const found = props.result.peak;
  if (!found || !led.value) return null;
  const spot = spotAt(found.arc);
  const text = formatQuantity(found.value, 'acceleration', machine.units, 4);
  return { ...spot, text, left: spot.x > width.value / 2 };
});
</script>

<template>
  <figure>
    <div ref="box" class="picture">
      <svg :width :height role="img" aria-label="The path, with the place of the greatest acceleration">
        <path class="drawn" :d="polyline(drawn, projection)" />
        <path class="blended" :d="polyline(blended, projection)" />
        <circle v-if="tool" class="tool" :cx="tool.x" :cy="tool.y" r="5" />
        <g v-if="peak" class="peak">
          <path
            :d="`M${peak.x - 5} ${peak.y - 5}L${peak.x + 5} ${peak.y + 5}M${peak.x - 5} ${peak.y + 5}L${peak.x + 5} ${peak.y - 5}`"
          />
          <text :x="peak.left ? peak.x - 9 : peak.x + 9" :y="peak.y - 7" :text-anchor="peak.left ? 'end' : 'start'">
            {{ peak.text }}
          </text>
        </g>
      </svg>
    </div>
    <figcaption class="soft">
      <template v-if="lead.blend > 0">Dashed as drawn, </template>full as it is led along; the dot is the tool at the
      cursor<template v-if="peak">, the cross where it accelerates most</template>.
    </figcaption>
  </figure>
</template>

<style scoped>
figure {
  margin: 0 0 4px;
}
.picture {
  height: 132px;
  background: var(--sunken);
  border-radius: var(--radius);
}
svg {
  display: block;
}
path {
  fill: none;
}
.drawn {
  stroke: var(--ink-soft);
  stroke-dasharray: 4 3;
}
.blended {
  stroke: var(--primary);
  stroke-width: 2;
}
.tool {
  fill: var(--attention);
}
.peak path {
  stroke: var(--bad);
  stroke-width: 2;
}
.peak text {
  fill: var(--ink);
  font: 12px var(--words);
  paint-order: stroke;
  stroke: var(--sunken);
  stroke-width: 3px;
}
figcaption {
  font-size: 12.5px;
}
</style>
