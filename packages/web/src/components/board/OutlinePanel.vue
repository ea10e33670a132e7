<script setup lang="ts">
import { addPlate, DRAWING_MOST, polygonArea, type Mechanism, type OutlineDrawing } from '@yoke/core';
import { ElButton } from 'element-plus';
import { computed, ref, shallowRef } from 'vue';
import { ChoiceField, FileButton } from '@/components/fields';
import ReadingNote from '@/components/ReadingNote.vue';
import { useAside } from '@/stores/aside';
import { useBoard } from '@/stores';

/** Outlines from DXF and SVG become plates. */
const board = useBoard();
const aside = useAside();
const drawing = shallowRef<OutlineDrawing | null>(null);
const name = ref('');
const layer = ref('');
const unit = ref('1');
const problem = ref('');
const UNITS = [
  { value: '1', label: 'Millimetre' },
  { value: '10', label: 'Centimetre' },
  { value: '1000', label: 'Metre' },
  { value: '25.4', label: 'Inch' },
  { value: String(25.4 / 96), label: 'Pixel (96 to the inch)' },
];

/** The usual units, and the one of the file where it is another. */
const units = computed(() => {
  const own = drawing.value?.unit;
  return typeof own !== 'number' || UNITS.some(({ value }) => Number(value) === own)
    ? UNITS
    : [{ value: String(own), label: `As the file says: ${Number(own.toPrecision(4))} mm` }, ...UNITS];
});

async function open(text: string, fileName: string): Promise<void> {
  problem.value = '';
  try {
    drawing.value = await aside.readDrawing(text, fileName);
    name.value = fileName.replace(/\.\w+$/, '').slice(0, 60);
    layer.value = drawing.value.layers[0]!;
    unit.value = units.value.find(({ value }) => Number(value) === drawing.value!.unit)?.value ?? '1';
  } catch (error) {
    drawing.value = null;
    problem.value = (error as Error).message;
  }
}
const closed = computed(() => drawing.value?.outlines.filter((o) => o.layer === layer.value && o.closed) ?? []);
const open_ = computed(() => drawing.value?.outlines.filter((o) => o.layer === layer.value && !o.closed).length ?? 0);
const ignored = computed(() => drawing.value?.ignored.map(({ what, count }) => `${count} × ${what}`).join(', ') ?? '');

/** The largest closed line is the plate, those inside it are its holes. */
function take(): void {
  const factor = Number(unit.value) / 1000;
  const scaled = closed.value
    .map(({ points }) => points.map(([x, y]): [number, number] => [x * factor, y * factor]))
    .sort((a, b) => polygonArea(b).area - polygonArea(a).area);
  const [outline, ...holes] = scaled;
  if (!outline) return;
  const base = name.value;
  const taken = new Set(board.mechanism!.bodies.map((b) => b.name));
  const free = taken.has(base) ? undefined : base;
  const made = board.draw('plate from a drawing', (draft) => {
    board.select(addPlate(draft.mechanism as Mechanism, outline, free, holes, board.plane).id);
  });
  if (made === null) {
    board.view = null;
    drawing.value = null;
  } else problem.value = made;
}
</script>

<template>
  <section class="panel" aria-label="Outline from a drawing">
    <h2>Outline from a drawing</h2>
    <FileButton accept=".dxf,.svg" :most="DRAWING_MOST.characters" @read="open">Open DXF or SVG</FileButton>
    <ReadingNote />
    <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
    <template v-if="drawing">
      <div class="fields gap">
        <ChoiceField
          :value="layer"
          label="Layer"
          :options="drawing.layers.map((l) => ({ value: l, label: l }))"
          @choose="layer = $event"
        />
        <ChoiceField :value="unit" label="Unit of the file" :options="units" @choose="unit = $event" />
      </div>
      <p class="note">
        {{ closed.length }} closed {{ closed.length === 1 ? 'line' : 'lines'
        }}<template v-if="open_ > 0">, {{ open_ }} open, left out</template>.
        <template v-if="ignored">Not understood: {{ ignored }}.</template>
      </p>
      <ElButton size="small" type="primary" :disabled="closed.length === 0" @click="take">Make a plate of it</ElButton>
    </template>
  </section>
</template>

<style scoped>
@import './panel.css';
</style>
