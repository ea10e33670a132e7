<script setup lang="ts">
import { motionAt } from '@yoke/core';
import { useRoute, useRouter } from 'vue-router';
import { computed, defineAsyncComponent } from 'vue';
import BoardWorkspace from '@/components/board/BoardWorkspace.vue';
import AxisSketch from '@/components/AxisSketch.vue';
import AxisFacts from '@/components/build/AxisFacts.vue';
import AxisPanel from '@/components/build/AxisPanel.vue';
import CylinderPanel from '@/components/build/CylinderPanel.vue';
import DriveTrainPanel from '@/components/build/DriveTrainPanel.vue';
import LoadPanel from '@/components/build/LoadPanel.vue';
import MachinePanel from '@/components/build/MachinePanel.vue';
import MachinePicture from '@/components/space/MachinePicture.vue';
import { useCursor, useMachine, useMotions } from '@/stores';

const machine = useMachine();
const cursor = useCursor();
const motions = useMotions();
const route = useRoute();
const router = useRouter();
/** The board where there is a mechanism, the axes where there are only axes, until the user chooses. */
const part = computed(() => {
  const { part: wanted } = route.query;
  if (wanted === 'board' || wanted === 'axes' || wanted === 'solids') return wanted;
  return (machine.document?.mechanism.bodies.length ?? 0) > 0 ? 'board' : 'axes';
});
const SolidsWorkspace = defineAsyncComponent(() => import('@/components/solid/SolidsWorkspace.vue'));
const choose = (wanted: 'board' | 'axes' | 'solids') => void router.replace({ query: { part: wanted } });
const position = computed(() =>
  machine.axis ? motionAt(motions.of(machine.axis.id).motion, cursor.time).position : 0,
);
</script>

<template>
  <div class="stage whole">
    <nav class="parts" aria-label="Parts of Build">
      <button type="button" :aria-pressed="part === 'board'" @click="choose('board')">Mechanism</button>
      <button type="button" :aria-pressed="part === 'solids'" @click="choose('solids')">Solids</button>
      <button type="button" :aria-pressed="part === 'axes'" @click="choose('axes')">
        Cycle, axes and drive trains
      </button>
    </nav>
    <BoardWorkspace v-if="part === 'board'" />
    <SolidsWorkspace v-else-if="part === 'solids'" />
    <div v-else class="build">
      <MachinePanel />
      <div v-if="machine.axis" :key="machine.axis.id" class="forms">
        <AxisPanel :key="`axis ${machine.axis.id}`" :axis="machine.axis" />
        <DriveTrainPanel :key="`train ${machine.axis.id}`" :axis="machine.axis" />
        <LoadPanel :key="`load ${machine.axis.id}`" :axis="machine.axis" />
        <CylinderPanel :key="`cylinder ${machine.axis.id}`" :axis="machine.axis" />
      </div>
      <div v-if="machine.axis" class="side">
        <section class="panel drawing" aria-label="Drawing">
          <MachinePicture v-if="machine.axis.joint !== null" />
          <AxisSketch v-else :axis="machine.axis" :position />
        </section>
        <AxisFacts :axis="machine.axis" />
      </div>
      <section v-else class="panel empty">
        <h2>Begin with what moves</h2>
        <p>
          Add a slide (a carriage on a rail, driven by a screw, belt or rack) or a table (turned directly or through a
          gearbox) at the left. It comes with a rise, a dwell and a return, so that it moves at once. Or draw a
          mechanism:
          <button type="button" class="plain link" @click="choose('board')">open the drawing board</button>.
        </p>
        <p class="soft">Or open one of the demonstration machines on the <RouterLink to="/">start page</RouterLink>.</p>
      </section>
    </div>
  </div>
</template>

<style scoped>
@import '@/style/parts.css';
.whole {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  gap: 8px;
  overflow: hidden;
}
.build {
  overflow: auto;
  min-height: 0;
  display: grid;
  grid-template-columns: 250px minmax(420px, 1fr) 400px;
  gap: 10px;
  align-items: start;
}
.forms,
.side {
  display: grid;
  gap: 10px;
}
.drawing {
  height: 300px;
  padding: 4px;
}
.empty {
  grid-column: span 2;
  padding: 32px;
  display: grid;
  gap: 10px;
}
@media (min-width: 1700px) {
  .build {
    grid-template-columns: 300px minmax(600px, 1fr) 620px;
  }
  .drawing {
    height: 460px;
  }
}
</style>
