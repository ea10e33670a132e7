<script lang="ts">
/** One curve of a chart; values are in the chart's display unit. */
export interface Curve {
  label: string;
  /** Name of a CSS variable, for example `--axis-0`. */
  colour: string;
  values: Float64Array;
  dashed?: boolean;
}

/** A limit drawn as a band beyond which values must not go. */
export interface LimitBand {
  low: number;
  high: number;
}

/** A range other than the cycle along a chart, with what it is called. */
export interface ChartSpan {
  from: number;
  to: number;
  name: string;
  unit: string;
  /** Whether it is drawn by its logarithm. */
  log?: boolean;
}

/** A place on a chart. */
export interface CurvePoint {
  time: number;
  value: number;
}

/** A place worth marking. */
export interface CurveMark extends CurvePoint {
  text: string;
}
</script>

<script setup lang="ts">
import type { Chart as ChartType, Point } from 'chart.js';
import { formatNumber, writeCsv } from '@yoke/core';
import { computed, onBeforeUnmount, onMounted, ref, watch } from 'vue';
import { withAlpha } from '@/lib/axis-look';
import { download, downloadUrl, fileName } from '@/lib/files';
import { useCursor, useMachine, usePreferences } from '@/stores';
import { marksPlugin, type CurveMarks } from './curve-marks';
import { Chart, curveColours, FIGURES, RIGHT_PADDING, VALUE_AXIS_WIDTH } from './curve-theme';

/** Curves of one quantity over cycle time: drag to zoom, double click to fit, click to set the cursor. */
const props = defineProps<{
  title: string;
  unit: string;
  times: Float64Array;
  curves: Curve[];
  limit?: LimitBand | undefined;
  marks?: CurveMark[];
  points?: CurvePoint[] | undefined;
  /** Leaves the key of the curves to its surroundings. */
  plain?: boolean;
  /** Shows the numbers of the time axis. */
  timeAxis?: boolean;
  /** What runs along the chart where it is not cycle time; then the cursor does not belong to it. */
  span?: ChartSpan | undefined;
}>();
const emit = defineEmits<{ drawn: [] }>();

const machine = useMachine();
const cursor = useCursor();
const preferences = usePreferences();
const canvas = ref<HTMLCanvasElement>();
let chart: ChartType<'line'> | undefined;
let drawn: CurveMarks = { limit: undefined, marks: [], points: [], colours: curveColours() };
const pressedAt = ref<number>();
/** All points of each curve: what a dataset gives back is what is left of them where they are more than pixels. */
let pointLists: Point[][] = [];

/** Puts values into points that exist already where their number fits: an edit a frame must not make garbage. */
function fillPoints(points: Point[], times: Float64Array, values: Float64Array): Point[] {
  const filled = points.length === values.length ? points : Array.from(values, () => ({ x: 0, y: 0 }));
  for (let k = 0; k < values.length; k++) {
    filled[k]!.x = times[k]!;
    filled[k]!.y = values[k]!;
  }
  return filled;
}

/** Value range with some air; limits are shown where the curve comes near them. */
const range = computed(() => {
  let low = 0;
  let high = 0;
  for (const { values } of props.curves)
    for (const value of values) {
      if (value < low) low = value;
      if (value > high) high = value;
    }
  for (const { value } of props.points ?? []) [low, high] = [Math.min(low, value), Math.max(high, value)];
  const size = high - low || 1;
  if (props.limit && props.limit.high < high + size * 0.6) high = Math.max(high, props.limit.high);
  if (props.limit && props.limit.low > low - size * 0.6) low = Math.min(low, props.limit.low);
  const air = (high - low || 1) * 0.14;
  return { low: low === 0 && high > 0 ? -air * 0.3 : low - air, high: high === 0 && low < 0 ? air * 0.3 : high + air };
});

function draw(): void {
  if (!chart) return;
  const colours = curveColours();
  const { datasets } = chart.data;
  const style = getComputedStyle(document.documentElement);
  datasets.length = Math.min(datasets.length, props.curves.length);
  props.curves.forEach((curve, i) => {
    datasets[i] ??= { data: [], borderWidth: 1.6, pointRadius: 0, tension: 0 };
    datasets[i].label = curve.label;
    datasets[i].borderColor = style.getPropertyValue(curve.colour).trim();
    datasets[i].borderDash = curve.dashed ? [5, 3] : [];
    datasets[i].data = pointLists[i] = fillPoints(pointLists[i] ?? [], props.times, curve.values);
  });
  pointLists = pointLists.slice(0, props.curves.length);
  const { scales } = chart.options;
  Object.assign(scales!.x!, {
    min: props.span?.from ?? cursor.zoom?.from ?? 0,
    max: props.span?.to ?? cursor.zoom?.to ?? cursor.span,
  });
  Object.assign(scales!.y!, { min: range.value.low, max: range.value.high });
  for (const scale of [scales!.x!, scales!.y!]) {
    scale.grid!.color = colours.line;
    scale.border!.color = colours.axis;
    scale.ticks!.color = colours.soft;
  }
  drawn = { limit: props.limit, marks: props.marks ?? [], points: props.points ?? [], colours };
  chart.update('none');
  emit('drawn');
}

const file = computed(() => fileName(`${machine.document?.name ?? ''} ${props.title}`));

/** The curves of this chart alone, as CSV. */
function saveCsv(): void {
  const header = [
    props.span ? `${props.span.name} [${props.span.unit}]` : 't [s]',
    ...props.curves.map(({ label }) => `${label} [${props.unit}]`),
  ];
  const rows = Array.from(props.times, (time, k) => [time, ...props.curves.map(({ values }) => values[k]!)]);
  download(`${file.value}.csv`, writeCsv(header, rows), 'text/csv');
}

function savePicture(): void {
  if (chart) downloadUrl(`${file.value}.png`, chart.toBase64Image());
}

function click(event: MouseEvent): void {
  // A drag that zooms ends in a click too.
  if (!chart || props.span || pressedAt.value === undefined || Math.abs(event.clientX - pressedAt.value) > 4) return;
  const time = chart.scales.x!.getValueForPixel(event.offsetX);
  if (time !== undefined) {
    cursor.stopAt(time);
  }
}

function keys(event: KeyboardEvent): void {
  const steps: Record<string, number> = { ArrowLeft: -1, ArrowRight: 1 };
  const step = steps[event.key];
  if (step === undefined || props.span) return;
  event.preventDefault();
  cursor.step(step * (event.shiftKey ? 10 : 1));
}

onMounted(() => {
  chart = new Chart(canvas.value!, {
    type: 'line',
    data: { datasets: [] },
    plugins: [marksPlugin(() => drawn)],
    options: {
      animation: false,
      parsing: false,
      normalized: true,
      responsive: true,
      maintainAspectRatio: false,
      events: [],
      layout: { padding: { right: RIGHT_PADDING, top: 4 } },
      scales: {
        x: {
          type: props.span?.log ? 'logarithmic' : 'linear',
          grid: {},
          border: {},
          ticks: {
            display: props.timeAxis ?? false,
            font: FIGURES,
            maxRotation: 0,
            minRotation: 0,
            // By the logarithm 1, 2, 5 and their tens are enough.
            callback: (value) =>
              props.span?.log && !/^[125]0*$/.test(String(value)) ? null : formatNumber(Number(value)),
          },
          title: {
            display: props.span !== undefined,
            font: { family: 'Barlow', size: 12 },
            text: props.span ? `${props.span.name} [${props.span.unit}]` : '',
          },
        },
        y: {
          type: 'linear',
          grid: {},
          border: {},
          afterFit: (scale) => void (scale.width = VALUE_AXIS_WIDTH),
          ticks: {
            font: FIGURES,
            maxTicksLimit: 8,
            includeBounds: false,
            autoSkip: false,
            callback: (value) => formatNumber(Number(value)),
          },
        },
      },
      plugins: {
        legend: { display: false },
        // No peak is lost between pixels.
        decimation: { enabled: true, algorithm: 'min-max' },
        tooltip: { enabled: false },
        zoom: {
          zoom: {
            mode: 'x',
            drag: { enabled: !props.span, threshold: 6, backgroundColor: withAlpha(curveColours().attention, 0.2) },
            onZoomComplete: ({ chart: zoomed }) => {
              const { min, max } = zoomed.scales.x!;
              cursor.zoom = { from: Math.max(0, min), to: Math.min(cursor.span, max) };
            },
          },
        },
      },
    },
  });
  draw();
});
onBeforeUnmount(() => chart?.destroy());

watch(
  [
    () => props.curves,
    () => props.times,
    () => props.limit,
    () => props.marks,
    () => props.points,
    () => props.span,
    () => cursor.zoom,
  ],
  draw,
);
// The theme changes CSS variables; they are read anew once the page has taken them over.
watch(
  () => preferences.dark,
  () => requestAnimationFrame(draw),
);
</script>

<template>
  <figure class="curve">
    <figcaption>
      <span class="title">{{ title }}</span> <span class="unit">{{ unit }}</span>
      <span v-if="curves.length > 1 && !plain" class="legend"
        ><i v-for="curve in curves" :key="curve.label" :style="{ color: `var(${curve.colour})` }"
          ><b :class="{ dashed: curve.dashed }" />{{ curve.label }}</i
        ></span
      >
      <span class="take">
        <button type="button" class="plain" :aria-label="`${title} as CSV`" @click="saveCsv">CSV</button>
        <button type="button" class="plain" :aria-label="`${title} as a picture`" @click="savePicture">PNG</button>
      </span>
    </figcaption>
    <div class="canvas">
      <canvas
        ref="canvas"
        tabindex="0"
        role="img"
        :aria-label="
          span
            ? `${title} in ${unit} over ${span.name}`
            : `${title} in ${unit} over cycle time; arrow keys move the cursor`
        "
        @pointerdown="pressedAt = $event.clientX"
        @click="click"
        @dblclick="cursor.zoom = null"
        @keydown="keys"
      />
    </div>
  </figure>
</template>

<style scoped>
.curve {
  margin: 0;
  display: flex;
  flex-direction: column;
  min-height: 0;
}
figcaption {
  display: flex;
  gap: 6px;
  align-items: baseline;
  font: 500 13px/1.2 var(--narrow);
  padding: 3px 14px 0 10px;
}
.title {
  white-space: nowrap;
}
.unit {
  color: var(--ink-soft);
  font-weight: 400;
}
.legend {
  order: 1;
  margin-left: auto;
  margin-right: 110px;
  display: flex;
  gap: 12px;
}
.legend i {
  font-style: normal;
  font-weight: 400;
}
.legend b {
  display: inline-block;
  width: 18px;
  border-top: 2px solid currentcolor;
  vertical-align: middle;
  margin-right: 4px;
}
.legend b.dashed {
  border-top-style: dashed;
}
.take {
  display: flex;
  gap: 8px;
  margin-left: 10px;
  color: var(--primary);
  opacity: 0;
}
.curve:hover .take,
.take:focus-within {
  opacity: 1;
}
.canvas {
  flex: 1;
  position: relative;
  min-height: 0;
}
canvas {
  cursor: crosshair;
}
</style>
