<script setup lang="ts">
import { useEventListener } from '@vueuse/core';
import { ElSegmented } from 'element-plus';
import 'element-plus/theme-chalk/el-segmented.css';
import { computed, ref } from 'vue';
import { UNASSIGNED, type SolidRef } from '@yoke/core';
import SpaceView from '@/components/space/SpaceView.vue';
import { useMechanismColours } from '@/composables/useMechanismColours';
import type { Hit } from '@/lib/space/scene';
import { useBoard, useGeometry, useMachine, useSolids } from '@/stores';
import FacePanel from './FacePanel.vue';
import FilesPanel from './FilesPanel.vue';
import SolidPanel from './SolidPanel.vue';
import SolidsList from './SolidsList.vue';

/** The solids of the machine: files of geometry, what moves together, what is placed by a hole, a shaft or a face. */
const machine = useMachine();
const board = useBoard();
const solids = useSolids();
const geometry = useGeometry();
const missing = ref(false);
const how = ref<'press' | 'band'>('press');
const HOW = [
  { value: 'press', label: 'Press' },
  { value: 'band', label: 'Rectangle' },
];
const colours = useMechanismColours(
  () => machine.document,
  () => 'body',
  () => new Set<string>(),
);
const face = computed(() => {
  const last = solids.faces.at(-1);
  return last ? { solid: last.solid, triangles: last.face.triangles } : null;
});
const counts = computed(() => {
  const all = geometry.all;
  const open = all.filter(({ carrier }) => carrier === UNASSIGNED).length;
  return all.length === 0 ? '' : `${all.length} ${all.length === 1 ? 'solid' : 'solids'}, ${open} not assigned`;
});

function press(_id: string | null, more: boolean, hit: Hit | null): void {
  if (!hit?.solid) return solids.choose([], more);
  const { carrier, id, triangle } = hit.solid;
  const ref: SolidRef = { carrier, id };
  solids.choose([ref], more);
  void solids.press(ref, triangle, more);
}
useEventListener(window, 'keydown', (event) => {
  if ((event.target as HTMLElement).closest('input, textarea, select, [role="combobox"]')) return;
  if (event.key === 'Escape') solids.choose([]);
  else if ((event.key === 'Delete' || event.key === 'Backspace') && solids.chosen.length > 0) solids.drop();
});
/** A file that is dropped anywhere here is opened. */
function dropped(event: DragEvent): void {
  const [file] = event.dataTransfer?.files ?? [];
  if (file) void solids.open(file, null);
}
</script>

<template>
  <div class="workspace" @dragover.prevent @drop.prevent="dropped">
    <div class="left">
      <FilesPanel />
      <SolidsList />
    </div>
    <section class="panel middle" aria-label="Solids in depth">
      <header>
        <span class="soft">{{ counts }}</span>
        <ElSegmented v-model="how" size="small" aria-label="Choose by" :options="HOW" />
      </header>
      <p v-if="missing" class="soft empty">
        This browser has no WebGL: solids are chosen in the list, faces cannot be pressed.
      </p>
      <div v-else class="view">
        <SpaceView
          :machine="machine.document!"
          :poses="board.poses"
          :colours
          :run="null"
          :time="0"
          :selection="[]"
          :solids="solids.chosen"
          :face
          :band="how === 'band'"
          @select="press"
          @banded="(refs, more) => solids.choose(refs, more)"
          @missing="missing = true"
        />
        <p class="hint" role="status">
          {{
            solids.message ||
            (geometry.all.length === 0
              ? 'Drop a file of geometry here, or add a solid of your own at the left.'
              : how === 'band'
                ? 'Drag a rectangle over solids; with Shift they come to those chosen.'
                : 'Press a solid to choose it and the face under the pointer; Shift adds. Drag to turn the view.')
          }}
        </p>
        <p v-for="own in geometry.missing" :key="own" class="bad gone">
          {{ own }} <button type="button" class="plain link" @click="geometry.again()">Try again</button>
        </p>
        <p v-if="geometry.loading" class="soft loading">Loading shapes …</p>
      </div>
    </section>
    <div class="right">
      <FacePanel v-if="solids.faces.length > 0" />
      <SolidPanel />
    </div>
  </div>
</template>

<style scoped>
.workspace {
  display: grid;
  grid-template: minmax(0, 1fr) / 236px minmax(0, 1fr) 318px;
  gap: 10px;
  height: 100%;
  min-height: 0;
}
.left {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  gap: 10px;
  min-height: 0;
}
.right {
  display: flex;
  flex-direction: column;
  gap: 10px;
  min-height: 0;
  overflow: auto;
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
  padding: 4px 8px;
  border-bottom: 1px solid var(--line);
}
.view {
  position: relative;
  min-height: 0;
}
.hint,
.gone,
.loading {
  position: absolute;
  left: 10px;
  margin: 0;
  max-width: calc(100% - 20px);
  font-size: 12.5px;
  background: color-mix(in srgb, var(--panel) 80%, transparent);
}
.hint {
  top: 6px;
  color: var(--ink-soft);
  pointer-events: none;
}
.gone {
  top: 26px;
}
.loading {
  top: 46px;
}
.empty {
  padding: 24px;
}
@media (min-width: 1700px) {
  .workspace {
    grid-template-columns: 300px minmax(0, 1fr) 380px;
  }
}
</style>
