<script setup lang="ts">
import { motionAt, planMotion } from '@yoke/core';
import { computed } from 'vue';
import AxisSketch from '@/components/AxisSketch.vue';
import AxisFacts from '@/components/build/AxisFacts.vue';
import AxisPanel from '@/components/build/AxisPanel.vue';
import DriveTrainPanel from '@/components/build/DriveTrainPanel.vue';
import LoadPanel from '@/components/build/LoadPanel.vue';
import MachinePanel from '@/components/build/MachinePanel.vue';
import { useCursor } from '@/stores/cursor';
import { useMachine } from '@/stores/machine';

const machine = useMachine();
const cursor = useCursor();
const position = computed(() =>
  machine.axis ? motionAt(planMotion(machine.axis.plan, machine.cycle), cursor.time).position : 0,
);
</script>

<template>
  <div class="stage build">
    <MachinePanel />
    <div v-if="machine.axis" :key="machine.axis.id" class="forms">
      <AxisPanel :axis="machine.axis" />
      <DriveTrainPanel :axis="machine.axis" />
      <LoadPanel :axis="machine.axis" />
    </div>
    <div v-if="machine.axis" class="side">
      <section class="panel drawing" aria-label="Drawing">
        <AxisSketch :axis="machine.axis" :position="position" />
      </section>
      <AxisFacts :axis="machine.axis" />
    </div>
    <section v-else class="panel empty">
      <h2>Begin with what moves</h2>
      <p>
        Add a slide (a carriage on a rail, driven by a screw, belt or rack) or a table (turned directly or through a
        gearbox) at the left. It comes with a rise, a dwell and a return, so that it moves at once.
      </p>
      <p class="soft">Or open one of the demonstration machines on the <RouterLink to="/">start page</RouterLink>.</p>
    </section>
  </div>
</template>

<style scoped>
.build {
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
