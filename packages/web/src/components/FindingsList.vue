<script lang="ts">
/** One finding in words; a click leads the cursor to it. */
export interface ShownFinding {
  severity: 'error' | 'warning' | 'info';
  text: string;
  time?: number | undefined;
  /** Remedies in one click. */
  remedies?: readonly { label: string; apply: () => void }[] | undefined;
}
</script>

<script setup lang="ts">
import { Info, OctagonAlert, TriangleAlert } from '@lucide/vue';
import { TimeLink } from './fields';

defineProps<{ findings: ShownFinding[]; fine: string }>();
const ICONS = { error: OctagonAlert, warning: TriangleAlert, info: Info };
</script>

<template>
  <ul class="findings" aria-label="Findings">
    <li v-if="findings.length === 0" class="fine">{{ fine }}</li>
    <li v-for="(finding, i) in findings" :key="i" :class="finding.severity">
      <component :is="ICONS[finding.severity]" :size="15" class="icon" aria-hidden="true" />
      <TimeLink v-if="finding.time !== undefined" :time="finding.time">{{ finding.text }}</TimeLink>
      <span v-else>{{ finding.text }}</span>
      <span v-if="finding.remedies?.length" class="remedies">
        <button
          v-for="remedy in finding.remedies"
          :key="remedy.label"
          type="button"
          class="plain remedy"
          @click="remedy.apply()"
        >
          {{ remedy.label }}
        </button>
      </span>
    </li>
  </ul>
</template>

<style scoped>
.findings {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 5px;
}
li {
  display: flex;
  gap: 7px;
  align-items: flex-start;
  line-height: 1.3;
}
li button {
  text-align: left;
}
li button:not(.remedy):hover {
  text-decoration: underline;
}
.icon {
  flex: none;
  margin-top: 1px;
}
.error .icon {
  color: var(--bad);
}
.warning .icon {
  color: var(--attention-ink);
}
.info .icon,
.fine {
  color: var(--ink-soft);
}
.remedies {
  margin-left: auto;
  flex: none;
  max-width: 45%;
  display: flex;
  flex-wrap: wrap;
  justify-content: flex-end;
  gap: 2px 10px;
}
.remedy {
  color: var(--primary);
  font-weight: 500;
  text-decoration: underline;
}
</style>
