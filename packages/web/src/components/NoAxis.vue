<script setup lang="ts">
import { useMachine } from '@/stores';

const machine = useMachine();
</script>

<template>
  <div class="stage">
    <section class="panel none">
      <h2>There is no axis yet</h2>
      <p>
        This stage works on an axis.
        <RouterLink :to="`/machine/${machine.id}/build`">Add a slide or a table in Build</RouterLink>, or open a
        demonstration machine on the <RouterLink to="/">start page</RouterLink>.
      </p>
    </section>
  </div>
</template>

<style scoped>
.none {
  padding: 32px;
  display: grid;
  gap: 10px;
}
</style>
