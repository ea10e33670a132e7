<script setup lang="ts">
import { X } from '@lucide/vue';
import IconButton from '@/components/fields/IconButton.vue';
import { useWalk } from '@/composables/useWalk';

/** A walk through one job beside the work: it follows what has been done, and leads to where the next step is. */
const { WALKS, preferences, walk, done, at, step, target, isThere } = useWalk();
</script>

<template>
  <section class="guide" aria-label="Guide">
    <template v-if="walk">
      <b class="title">{{ walk.title }}</b>
      <ol>
        <li
          v-for="(one, i) in walk.steps"
          :key="i"
          :class="{ done: done[i], at: i === at }"
          :title="one.text"
          :aria-label="`Step ${i + 1}${done[i] ? ', done' : i === at ? ', now' : ''}`"
        >
          {{ done[i] ? '✓' : i + 1 }}
        </li>
      </ol>
      <p role="status">
        <template v-if="step">{{ step.text }}</template>
        <template v-else>All of it is done. Take another walk, or go on as you like.</template>
        <RouterLink v-if="step && !isThere" :to="target">Go there</RouterLink>
      </p>
      <button type="button" class="plain link" @click="preferences.walk = 'choose'">Other walks</button>
    </template>
    <template v-else>
      <b class="title">Guide</b>
      <button v-for="one in WALKS" :key="one.id" type="button" class="choice" @click="preferences.walk = one.id">
        {{ one.title }}
      </button>
      <p class="soft">Each walk follows what you do in this machine.</p>
    </template>
    <IconButton :icon="X" class="close" aria-label="Close the guide" @click="preferences.walk = null" />
  </section>
</template>

<style scoped>
.guide {
  display: flex;
  align-items: center;
  gap: 12px;
  min-height: 44px;
  padding: 4px 14px;
  border-top: 1px solid var(--line);
  background: var(--panel);
  font-size: 13.5px;
}
.title {
  white-space: nowrap;
}
ol {
  display: flex;
  gap: 4px;
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  width: 22px;
  height: 22px;
  border: 1px solid var(--line);
  border-radius: 50%;
  font: 12px/20px var(--words);
  text-align: center;
  color: var(--ink-soft);
}
li.done {
  border-color: var(--good);
  color: var(--good);
}
li.at {
  border-color: var(--primary);
  background: var(--primary);
  color: var(--panel);
}
p {
  flex: 1;
  margin: 0;
}
p a {
  margin-left: 8px;
}
.choice {
  border: 1px solid var(--line);
  border-radius: var(--radius);
  background: var(--panel);
  color: var(--ink);
  font: 13px var(--words);
  padding: 3px 10px;
  cursor: pointer;
}
.choice:hover {
  border-color: var(--primary);
}
.link {
  color: var(--primary);
  text-decoration: underline;
  white-space: nowrap;
}
</style>
