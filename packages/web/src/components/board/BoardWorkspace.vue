<script setup lang="ts">
import { computed, defineAsyncComponent, ref, watch } from 'vue';
import { ChoiceField, ToggleField } from '@/components/fields';
import { useBoard, useSeeing } from '@/stores';
import BoardList from './BoardList.vue';
import BoardPalette from './BoardPalette.vue';
import BoardView from './BoardView.vue';
import MobilityStrip from './MobilityStrip.vue';
import OutlinePanel from './OutlinePanel.vue';
import StrokePanel from './StrokePanel.vue';
import ThingPanel from './ThingPanel.vue';

const BoardDepth = defineAsyncComponent(() => import('./BoardDepth.vue'));
/** The drawing board with its palette, the list of what is drawn, and the panel of what is chosen. */
const board = useBoard();
const view = ref<InstanceType<typeof BoardView>>();
const seeing = useSeeing();
/** On the board one draws flat, unless depth is asked for. */
const inDepth = computed(() => seeing.depth === true && board.mechanism !== null);
function sayMissing(): void {
  seeing.depth = false;
  board.message = 'This browser has no WebGL: the machine is seen flat. Everything else works as it does.';
}
// Drawing is done flat: who takes a tool to draw with is taken there.
watch(
  () => board.tool,
  (tool) => {
    if (inDepth.value && tool !== 'choose' && tool !== 'hand') seeing.depth = false;
  },
);
const side = ref<'properties' | 'stroke' | 'outline'>('properties');
</script>

<template>
  <div class="workspace">
    <BoardList />
    <div class="middle panel">
      <header>
        <BoardPalette />
        <div class="sides" role="group" aria-label="How the machine is seen">
          <button type="button" :aria-pressed="!inDepth" title="Draw in one plane" @click="seeing.depth = false">
            Flat
          </button>
          <button type="button" :aria-pressed="inDepth" title="See all of it in depth" @click="seeing.depth = true">
            Depth
          </button>
        </div>
        <button v-if="!inDepth" type="button" class="fit" title="Show all of it" @click="view?.fit()">Fit</button>
      </header>
      <BoardView v-if="!inDepth" ref="view" />
      <BoardDepth v-else @missing="sayMissing" />
    </div>
    <div class="side">
      <div class="switches">
        <ChoiceField
          bare
          :value="side"
          label="Panel"
          :options="{ properties: 'What is chosen', stroke: 'Stroke finder', outline: 'Outline from a drawing' }"
          @choose="side = $event"
        />
        <ChoiceField
          bare
          :value="board.colouring"
          label="Colour by"
          :options="{ axis: 'Colour by axis', body: 'Colour by body', driven: 'Driven or free' }"
          @choose="board.colouring = $event"
        />
        <ToggleField :value="board.snapping" label="Snap" @change="board.snapping = $event" />
      </div>
      <MobilityStrip @whole="side = 'properties'" />
      <ThingPanel v-if="side === 'properties'" />
      <StrokePanel v-else-if="side === 'stroke'" />
      <OutlinePanel v-else />
    </div>
  </div>
</template>

<style scoped>
@import '@/style/sides.css';
.workspace {
  display: grid;
  grid-template: minmax(0, 1fr) / 168px minmax(0, 1fr) 318px;
  gap: 10px;
  height: 100%;
  min-height: 0;
}
.middle {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  padding: 0;
  min-height: 0;
  overflow: hidden;
}
header {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 8px;
  padding: 4px 8px;
  border-bottom: 1px solid var(--line);
}
.fit {
  border: 1px solid var(--line);
  border-radius: var(--radius);
  background: var(--panel);
  color: var(--ink);
  font: 12.5px var(--words);
  cursor: pointer;
  padding: 2px 10px;
}
.side {
  display: grid;
  grid-template-rows: auto auto minmax(0, 1fr);
  gap: 8px;
  min-height: 0;
}
.switches {
  display: grid;
  grid-template-columns: 1fr 1fr auto;
  gap: 8px;
  align-items: end;
}
@media (min-width: 1700px) {
  .workspace {
    grid-template-columns: 230px minmax(0, 1fr) 380px;
  }
}
</style>
