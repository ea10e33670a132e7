<script setup lang="ts">
import { ElButton } from 'element-plus';
import { computed } from 'vue';
import { useBoard } from '@/stores';
import BodyPanel from './BodyPanel.vue';
import BodyPlane from './BodyPlane.vue';
import ClearancePart from './ClearancePart.vue';
import CopyPanel from './CopyPanel.vue';
import CouplePanel from './CouplePanel.vue';
import CouplingPanel from './CouplingPanel.vue';
import ElementPanel from './ElementPanel.vue';
import JointPanel from './JointPanel.vue';
import MechanismPanel from './MechanismPanel.vue';
import PathPanel from './PathPanel.vue';
import PlanePanel from './PlanePanel.vue';
import TiePanel from './TiePanel.vue';

/** Edits whatever is chosen; with nothing chosen, the mechanism as a whole. */
const board = useBoard();
const only = computed(() => (board.selection.length === 1 ? board.selection[0]! : null));
const find = <T extends { id: string }>(list: readonly T[] | undefined) => list?.find(({ id }) => id === only.value);
const plane = computed(() => find(board.mechanism?.planes));
const body = computed(() => find(board.mechanism?.bodies));
const joint = computed(() => find(board.mechanism?.joints));
const coupling = computed(() => find(board.mechanism?.couplings));
const element = computed(() => find(board.mechanism?.elements));
const path = computed(() => find(board.mechanism?.paths));
/** The plane of the world stays. */
const isWorld = computed(() => plane.value !== undefined && plane.value.id === board.mechanism!.planes[0]!.id);
const title = computed(
  () =>
    (plane.value ?? body.value ?? joint.value ?? coupling.value ?? element.value ?? path.value)?.name ?? 'Mechanism',
);
const twoJoints = computed(
  () => board.selection.length === 2 && board.selection.every((id) => board.mechanism?.joints.some((j) => j.id === id)),
);
const anyBody = computed(() => board.selection.some((id) => board.mechanism?.bodies.some((b) => b.id === id)));
</script>

<template>
  <section class="panel thing" aria-label="Properties">
    <h2>{{ board.selection.length > 1 ? `${board.selection.length} chosen` : title }}</h2>
    <PlanePanel v-if="plane" :key="plane.id" :plane />
    <BodyPanel v-else-if="body" :key="body.id" :body />
    <JointPanel v-else-if="joint" :key="joint.id" :joint />
    <CouplingPanel v-else-if="coupling" :key="coupling.id" :coupling />
    <ElementPanel v-else-if="element" :key="element.id" :element />
    <PathPanel v-else-if="path" :key="path.id" :path />
    <MechanismPanel v-else-if="board.selection.length === 0" />
    <CouplePanel v-else-if="twoJoints" />
    <BodyPlane v-if="body" :key="`plane ${body.id}`" :body />
    <TiePanel v-if="body" :key="`tie ${body.id}`" :body />
    <ClearancePart v-if="anyBody" />
    <CopyPanel v-if="anyBody" />
    <div v-if="board.selection.length > 0" class="delete">
      <p v-if="board.hangsOn.length > 0" class="note">Deleting it takes {{ board.hangsOn.join(', ') }} too.</p>
      <ElButton v-if="!isWorld" size="small" @click="board.remove()">Delete</ElButton>
    </div>
  </section>
</template>

<style scoped>
@import './panel.css';
.thing {
  overflow: auto;
  min-height: 0;
}
.delete {
  margin-top: 12px;
  border-top: 1px solid var(--line-soft);
  padding-top: 8px;
}
.delete .note {
  margin-bottom: 6px;
}
</style>
