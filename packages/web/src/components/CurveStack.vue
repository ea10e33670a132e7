<script lang="ts">
import type { ChartSpan, Curve, CurveMark, CurvePoint, LimitBand } from './CurveChart.vue';

/** One chart of a stack. */
export interface CurvePanel {
  id: string;
  title: string;
  unit: string;
  curves: Curve[];
  limit?: LimitBand | undefined;
  marks?: CurveMark[];
  /** Places that the curve is to pass. */
  points?: CurvePoint[];
}
</script>

<script setup lang="ts">
import { formatNumber, valueAt } from '@yoke/core';
import { useElementSize } from '@vueuse/core';
import { computed, ref } from 'vue';
import { useCursor } from '@/stores';
import CurveChart from './CurveChart.vue';
import { RIGHT_PADDING, VALUE_AXIS_WIDTH } from './curve-theme';

/** Charts stacked on one time axis, with the cursor drawn through all of them and its values at the right. */
const props = defineProps<{ panels: CurvePanel[]; times: Float64Array; stale?: boolean; span?: ChartSpan }>();
const emit = defineEmits<{ drawn: [] }>();
const cursor = useCursor();
const stack = ref<HTMLElement>();
const { width } = useElementSize(stack);

/** Place of the cursor in px; moved apart from the charts, so that playing redraws no curve. */
const cursorLeft = computed(() => {
  if (props.span) return null;
  const from = cursor.zoom?.from ?? 0;
  const to = cursor.zoom?.to ?? cursor.span;
  if (cursor.time < from || cursor.time > to) return null;
  const room = width.value - VALUE_AXIS_WIDTH - RIGHT_PADDING;
  return VALUE_AXIS_WIDTH + ((cursor.time - from) / (to - from)) * room;
});

const readouts = computed(() =>
  props.panels.map(({ curves }) => curves.map(({ values }) => formatNumber(valueAt(props.times, values, cursor.time)))),
);
</script>

<template>
  <div ref="stack" class="stack" :class="{ stale }">
    <div v-for="(panel, i) in panels" :key="panel.id" class="slot" :class="{ last: i === panels.length - 1 }">
      <div
        v-if="cursorLeft !== null"
        class="cursor"
        :style="{ transform: `translateX(${cursorLeft}px)` }"
        aria-hidden="true"
      />
      <CurveChart
        :title="panel.title"
        :unit="panel.unit"
        :times
        :curves="panel.curves"
        :limit="panel.limit"
        :marks="panel.marks ?? []"
        :points="panel.points"
        :plain="panel.curves.length > 2 || span !== undefined"
        :span
        :time-axis="i === panels.length - 1"
        @drawn="i === panels.length - 1 && emit('drawn')"
      />
      <ul v-if="panel.curves.length > 2 || (span && panel.curves.length > 1)" class="keys" :class="{ below: span }">
        <li v-for="(curve, k) in panel.curves" :key="k" :style="{ color: `var(${curve.colour})` }">
          <b :class="{ dashed: curve.dashed }" /> {{ curve.label }}
          <span v-if="!span" class="figures">{{ readouts[i]![k] }}</span>
        </li>
      </ul>
      <span v-else-if="panel.curves.length === 1 && !span" class="readout figures"
        >{{ readouts[i]![0] }} {{ panel.unit }}</span
      >
      <span v-else-if="!span" class="readout low figures">{{ readouts[i]!.join(' | ') }} {{ panel.unit }}</span>
    </div>
    <button v-if="cursor.zoom && !span" type="button" class="fit" @click="cursor.zoom = null">Whole cycle</button>
  </div>
</template>

<style scoped>
.keys {
  position: absolute;
  top: 3px;
  right: 14px;
  max-width: 78%;
  margin: 0;
  padding: 0 4px;
  list-style: none;
  display: flex;
  flex-wrap: wrap;
  justify-content: flex-end;
  gap: 0 12px;
  font: 12px/1.3 var(--narrow);
  background: color-mix(in srgb, var(--panel) 88%, transparent);
  pointer-events: none;
}
.keys.below {
  top: 20px;
  max-width: 100%;
}
.keys b {
  display: inline-block;
  width: 16px;
  border-top: 2px solid currentcolor;
  vertical-align: middle;
}
.keys b.dashed {
  border-top-style: dashed;
}
.keys .figures {
  font-size: 11px;
}
.stack {
  position: relative;
  display: flex;
  flex-direction: column;
  height: 100%;
  background: var(--panel);
  border: 1px solid var(--line);
  border-radius: var(--radius);
  box-shadow: var(--shadow);
}
.slot {
  position: relative;
  flex: 1;
  min-height: 0;
  display: grid;
  border-bottom: 1px solid var(--line-soft);
}
.slot.last {
  flex: 1.18;
  border-bottom: 0;
}
.slot.last .cursor {
  bottom: 24px;
}
.slot > :deep(.curve) {
  position: relative;
}
.readout {
  position: absolute;
  right: 14px;
  top: 2px;
  font-size: 11px;
  color: var(--attention-ink);
  pointer-events: none;
}
.readout.low {
  top: 20px;
  background: var(--panel);
}
/* Below the title, and behind the canvas: labels of peaks on their ground stay in front of it. */
.cursor {
  position: absolute;
  top: 23px;
  bottom: 0;
  left: -1px;
  width: 2px;
  background: var(--attention);
  pointer-events: none;
}
.fit {
  position: absolute;
  right: 14px;
  bottom: 2px;
  border: 1px solid var(--line);
  border-radius: var(--radius);
  background: var(--panel);
  color: var(--primary);
  font: 12px var(--words);
  padding: 1px 8px;
  cursor: pointer;
}
/* What is there again within the blink of an eye does not flicker meanwhile. */
.stale {
  opacity: 0.75;
  transition: opacity 0s 150ms;
}
</style>
