<script setup lang="ts">
import { useTransfer } from '@/stores';
import PoseList from './PoseList.vue';
import PosePicture from './PosePicture.vue';
import TransferPanel from './TransferPanel.vue';

/** From one pose to another: poses marked by hand or by numbers, and the motions that lead from one to the next. */
const transfer = useTransfer();
</script>

<template>
  <div class="halves">
    <div class="left">
      <p v-if="typeof transfer.poses === 'string'" class="panel bad" role="alert">{{ transfer.poses }}</p>
      <template v-else>
        <PoseList />
        <TransferPanel />
      </template>
    </div>
    <PosePicture v-if="transfer.solver" />
  </div>
</template>

<style scoped>
.halves {
  --left: 560px;
}
</style>
