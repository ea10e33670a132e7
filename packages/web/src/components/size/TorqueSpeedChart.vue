<script setup lang="ts">
import type { Chart as ChartType } from 'chart.js';
import { displayUnit, envelopes, formatNumber, valueAt, type AxisRun, type Candidate, type Run } from '@yoke/core';
import { computed, onBeforeUnmount, onMounted, ref, watch } from 'vue';
import { Chart, curveColours, FIGURES, WORDS } from '@/components/curve-theme';
import { withAlpha } from '@/lib/axis-look';
import { useCursor, useMachine, usePreferences } from '@/stores';

/** Torque against speed at the motor shaft: both envelopes, the duty loop of the cycle, its RMS point, the cursor. */
const props = defineProps<{ candidate: Candidate; run: Run; axisRun: AxisRun; colour: string }>();
const machine = useMachine();
const cursor = useCursor();
const preferences = usePreferences();
const canvas = ref<HTMLCanvasElement>();
let chart: ChartType<'line'> | undefined;

const torqueUnit = computed(() => displayUnit('torque', machine.units));
const speedUnit = displayUnit('shaftSpeed', 'metric');

/** Duty with this candidate's own inertia. */
const duty = computed(() => {
  const { shaftTorque, motorSpeed } = props.axisRun.channels;
  const { motorAcceleration } = props.axisRun;
  const torque = shaftTorque.map(
    (value, k) => (value + props.candidate.inertia * motorAcceleration[k]!) / torqueUnit.value.factor,
  );
  return { torque, speed: motorSpeed.map((value) => value / speedUnit.factor) };
});

const now = computed(() => ({
  x: valueAt(props.run.times, duty.value.speed, cursor.time),
  y: valueAt(props.run.times, duty.value.torque, cursor.time),
}));

/** An envelope in the quadrants that the duty visits. */
function outline(speed: Float64Array, torque: Float64Array): { x: number; y: number }[] {
  const points = Array.from(speed, (omega, i) => ({
    x: omega / speedUnit.factor,
    y: torque[i]! / torqueUnit.value.factor,
  }));
  points.push({ x: points.at(-1)!.x, y: 0 });
  const left = points.map(({ x, y }) => ({ x: -x, y })).reverse();
  const below = [...points].reverse().map(({ x, y }) => ({ x, y: -y }));
  const leftBelow = left.map(({ x, y }) => ({ x, y: -y })).reverse();
  return [...left, ...points, ...below, ...leftBelow, left[0]!];
}

function draw(): void {
  if (!chart) return;
  const colours = curveColours();
  const { speed, peak, continuous } = envelopes(props.candidate.motor);
  const rms = props.candidate.checks.find(({ code }) => code === 'rms')!;
  const ownColour = getComputedStyle(document.documentElement).getPropertyValue(props.colour).trim();
  const base = { pointRadius: 0, tension: 0, borderWidth: 1.6 };
  chart.data.datasets = [
    {
      ...base,
      label: 'now',
      data: [now.value],
      pointRadius: 6,
      pointBackgroundColor: colours.attention,
      pointBorderColor: colours.panel,
      pointBorderWidth: 2,
      showLine: false,
    },
    {
      ...base,
      label: 'RMS',
      data: [{ x: (rms.speed ?? 0) / speedUnit.factor, y: rms.required / torqueUnit.value.factor }],
      pointRadius: 5,
      pointStyle: 'rectRot',
      pointBackgroundColor: colours.panel,
      pointBorderColor: colours.ink,
      pointBorderWidth: 2,
      showLine: false,
    },
    {
      ...base,
      label: 'duty',
      data: Array.from(duty.value.speed, (x, k) => ({ x, y: duty.value.torque[k]! })),
      borderColor: ownColour,
    },
    {
      ...base,
      label: 'continuous',
      data: outline(speed, continuous),
      borderColor: colours.good,
      backgroundColor: withAlpha(colours.good, 0.13),
      fill: true,
    },
    {
      ...base,
      label: 'peak',
      data: outline(speed, peak),
      borderColor: colours.ink,
      borderDash: [6, 3],
      backgroundColor: withAlpha(colours.primary, 0.05),
      fill: true,
    },
  ];
  fitScales();
  const { scales } = chart.options;
  for (const scale of [scales!.x!, scales!.y!]) {
    scale.grid!.color = (context) => (context.tick.value === 0 ? colours.soft : colours.line);
    scale.border!.color = colours.axis;
    scale.ticks!.color = colours.soft;
  }
  const title = (axis: 'x' | 'y', text: string) => {
    Object.assign((scales![axis] as { title: object }).title, {
      display: true,
      text,
      color: colours.soft,
      font: WORDS,
    });
  };
  title('x', `motor speed [${speedUnit.symbol}]`);
  title('y', `torque [${torqueUnit.value.symbol}]`);
  chart.update('none');
}

/** Shows all of the peak envelope, and all of a duty beyond it, in the quadrants that the duty visits. */
function fitScales(): void {
  const { motor } = props.candidate;
  const reach = (values: Float64Array) => ({ low: Math.min(0, ...values), high: Math.max(0, ...values) });
  const speed = reach(duty.value.speed);
  const torque = reach(duty.value.torque);
  const span = (range: { low: number; high: number }, full: number) => {
    const most = Math.max(full, range.high, -range.low) * 1.06;
    return { min: range.low < 0 ? -most : 0, max: range.high > 0 || range.low === 0 ? most : most * 0.15 };
  };
  const scales = chart!.options.scales!;
  Object.assign(scales.x!, span(speed, motor.maxSpeed / speedUnit.factor));
  Object.assign(scales.y!, span(torque, motor.peakTorque / torqueUnit.value.factor));
}

onMounted(() => {
  const axis = () => ({
    type: 'linear' as const,
    grid: {},
    border: {},
    title: { display: true, text: '' },
    ticks: {
      font: FIGURES,
      maxTicksLimit: 8,
      includeBounds: false,
      maxRotation: 0,
      callback: (value: string | number) => formatNumber(Number(value)),
    },
  });
  chart = new Chart(canvas.value!, {
    type: 'line',
    data: { datasets: [] },
    options: {
      animation: false,
      parsing: false,
      responsive: true,
      maintainAspectRatio: false,
      events: [],
      scales: { x: axis(), y: axis() },
      plugins: { legend: { display: false }, tooltip: { enabled: false }, zoom: {} },
    },
  });
  draw();
});
onBeforeUnmount(() => chart?.destroy());
watch([() => props.candidate, () => props.axisRun, torqueUnit], draw);
watch(now, (point) => {
  if (!chart) return;
  chart.data.datasets[0]!.data = [point];
  chart.update('none');
});
watch(
  () => preferences.dark,
  () => requestAnimationFrame(draw),
);
</script>

<template>
  <div class="duty">
    <p class="legend">
      <span><i class="dash" />peak envelope</span><span><i class="good" />continuous envelope</span>
      <span><i :style="{ borderColor: `var(${colour})` }" />duty of the cycle, rotor included</span
      ><span><b class="rms" />RMS</span>
      <span><b class="now" />cursor</span>
    </p>
    <div class="canvas">
      <canvas
        ref="canvas"
        role="img"
        :aria-label="`Torque against speed of ${candidate.motor.type} with the duty of the cycle; at the cursor ${formatNumber(now.y)} ${torqueUnit.symbol} at ${formatNumber(now.x)} rpm`"
      />
    </div>
  </div>
</template>

<style scoped>
.duty {
  display: flex;
  flex-direction: column;
  height: 100%;
  min-height: 0;
}
.canvas {
  position: relative;
  flex: 1;
  min-height: 0;
}
.legend {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 14px;
  font: 12.5px var(--narrow);
  color: var(--ink-soft);
}
i {
  display: inline-block;
  width: 20px;
  border-top: 2px solid;
  vertical-align: middle;
  margin-right: 5px;
}
.dash {
  border-top-style: dashed;
  border-color: var(--ink);
}
.good {
  border-color: var(--good);
}
b {
  display: inline-block;
  width: 9px;
  height: 9px;
  margin-right: 6px;
}
.now {
  border-radius: 50%;
  background: var(--attention);
}
.rms {
  border: 2px solid var(--ink);
  transform: rotate(45deg);
}
</style>
