<script setup lang="ts">
import { computed } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import LawsPart from '@/components/move/LawsPart.vue';
import LeadPart from '@/components/move/LeadPart.vue';
import MasterPart from '@/components/move/MasterPart.vue';
import MotionPart from '@/components/move/MotionPart.vue';
import PosePart from '@/components/move/PosePart.vue';
import ProposePart from '@/components/move/ProposePart.vue';
import NoAxis from '@/components/NoAxis.vue';
import { useMachine } from '@/stores';

/** Move: how each axis moves, held against other laws, searched for, hung on a master, or found from a path. */
const machine = useMachine();
const route = useRoute();
const router = useRouter();
const PARTS = [
  { id: 'motion', name: 'Motion', is: MotionPart },
  { id: 'laws', name: 'Laws and comparison', is: LawsPart },
  { id: 'proposals', name: 'Proposals', is: ProposePart },
  { id: 'master', name: 'Master and constants', is: MasterPart },
  { id: 'paths', name: 'Paths', is: LeadPart },
  { id: 'poses', name: 'Pose to pose', is: PosePart },
] as const;
const part = computed(() => PARTS.find(({ id }) => id === route.query.part) ?? PARTS[0]);
const choose = (id: string) => void router.replace({ query: id === 'motion' ? {} : { part: id } });
</script>

<template>
  <NoAxis v-if="!machine.axis" />
  <div v-else class="stage whole move">
    <nav class="parts" aria-label="Parts of Move">
      <button v-for="{ id, name } in PARTS" :key="id" type="button" :aria-pressed="part.id === id" @click="choose(id)">
        {{ name }}
      </button>
    </nav>
    <component :is="part.is" class="part" />
  </div>
</template>

<style scoped>
@import '@/style/parts.css';
.move {
  display: grid;
  grid-template: auto minmax(0, 1fr) / minmax(0, 1fr);
  gap: 6px;
  overflow: hidden;
}
.part {
  min-height: 0;
}
</style>
