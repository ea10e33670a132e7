<script setup lang="ts">
import { solidFrame, solidsOn, standingOf, type Body, type Mechanism } from '@yoke/core';
import { sectionOf, type SectionArea } from '@yoke/core/solid';
import { minus, timesRotation, turnedBack } from '@yoke/core/geometry';
import { ElButton } from 'element-plus';
import { ref } from 'vue';
import { QuantityField } from '@/components/fields';
import { tidy } from '@/lib/ticks';
import { useBoard, useGeometry, useSolids } from '@/stores';

/** The outline of a body on the board, cut from its solids level with its plane. */
const props = defineProps<{ body: Body }>();
const board = useBoard();
const geometry = useGeometry();
const solids = useSolids();
/** Over the middle of the body, m. */
const level = ref(0);
/** Most corners of an outline in a document. */
const MOST = 5000;

/** Areas of all its solids in the frame of the body, the largest first. */
function areas(m: Mechanism): SectionArea[] {
  const frame = standingOf(m).body(props.body.id);
  const found = solidsOn(m, props.body.id).flatMap((solid) => {
    const loaded = geometry.loadedOf(solid);
    if (!loaded) return [];
    const own = solidFrame(m, { carrier: props.body.id }, solid);
    // The plane of the cut, seen from the solid.
    const back = [0, 3, 6, 1, 4, 7, 2, 5, 8].map((k) => own.axes[k]!);
    const [x, y, z] = frame.at.map((part, k) => part + level.value * frame.axes[3 * k + 2]!) as [
      number,
      number,
      number,
    ];
    return sectionOf(loaded.mesh, turnedBack(own.axes, minus([x, y, z], own.at)), timesRotation(back, frame.axes));
  });
  const extent = ({ outline }: SectionArea) => {
    const [xs, ys] = [outline.map(([x]) => x), outline.map(([, y]) => y)];
    return (Math.max(...xs) - Math.min(...xs)) * (Math.max(...ys) - Math.min(...ys));
  };
  return found.sort((a, b) => extent(b) - extent(a));
}
function cut(): void {
  const [largest, ...others] = areas(board.mechanism as Mechanism);
  if (!largest) {
    solids.message = 'The cut passes beside all of its solids, or through an open skin: choose another height.';
    return;
  }
  if (largest.outline.length > MOST || largest.holes.some((hole) => hole.length > MOST)) {
    solids.message = `The outline would have more than ${MOST} corners: cut another height.`;
    return;
  }
  const plain = (corners: readonly (readonly [number, number])[]) => corners.map(([x, y]): [number, number] => [x, y]);
  const problem = solids.edit('outline from a section', (m) => {
    const own = m.bodies.find(({ id }) => id === props.body.id)!;
    own.shape = { kind: 'plate', outline: plain(largest.outline), holes: largest.holes.slice(0, 200).map(plain) };
  });
  if (problem !== null) return;
  const left = others.length === 0 ? '' : ` ${others.length === 1 ? 'One smaller area' : `${others.length} smaller areas`} of the cut left out: an outline is one.`; // prettier-ignore
  solids.message = `The board draws “${props.body.name}” as this section now.${left}`;
}
</script>

<template>
  <h3>Outline on the board</h3>
  <div class="row">
    <QuantityField
      :value="tidy(level)"
      kind="length"
      label="Cut above its middle"
      :commit="(v) => ((level = v!), null)"
    />
    <ElButton size="small" @click="cut">Take the section</ElButton>
  </div>
</template>

<style scoped>
@import '../board/panel.css';
.row {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 6px;
  align-items: end;
}
</style>
