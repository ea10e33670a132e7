<script setup lang="ts">
import { formatNumber, formatQuantity, percent, type Candidate, type CheckCode } from '@yoke/core';
import { Check, X } from '@lucide/vue';
import { useMachine } from '@/stores';

/** Candidates in the order of the ranking, each check as a margin. */
defineProps<{ ranking: Candidate[]; shown: string | null; chosen: string | null }>();
const emit = defineEmits<{ show: [type: string] }>();
const machine = useMachine();
const COLUMNS: { code: CheckCode; label: string }[] = [
  { code: 'peak', label: 'peak' },
  { code: 'rms', label: 'RMS' },
  { code: 'speed', label: 'speed' },
];

const checkOf = (candidate: Candidate, code: CheckCode) => candidate.checks.find((check) => check.code === code);
function margin(candidate: Candidate, code: CheckCode): string {
  const value = checkOf(candidate, code)!.margin;
  return value > 9.99 ? '> 10 ×' : `${value < 0 ? '' : '+'}${percent(value).replace('-', '−')}`;
}
</script>

<template>
  <div class="under-head">
    <table class="rows">
      <thead>
        <tr>
          <th scope="col" class="number">#</th>
          <th scope="col">Motor</th>
          <th scope="col" class="number">mass</th>
          <th v-for="column in COLUMNS" :key="column.code" scope="col" class="number">{{ column.label }}</th>
          <th scope="col" class="number" data-word="Inertia ratio">inertia</th>
        </tr>
      </thead>
      <tbody>
        <tr
          v-for="(candidate, i) in ranking"
          :key="candidate.motor.type"
          :class="{ fails: !candidate.fits, shown: candidate.motor.type === shown }"
          @click="emit('show', candidate.motor.type)"
        >
          <td class="number">{{ i + 1 }}</td>
          <td class="type">
            <Check v-if="candidate.fits" :size="14" class="good" aria-label="fits" /><X
              v-else
              :size="14"
              class="bad"
              aria-label="fails"
            />
            <button type="button" class="plain" :aria-pressed="candidate.motor.type === shown">
              {{ candidate.motor.type }}
            </button>
            <span v-if="candidate.withBrake" class="tag" title="Taken with its brake">brake</span>
            <span v-if="candidate.motor.type === chosen" class="tag chosen">chosen</span>
          </td>
          <td class="number">{{ formatQuantity(candidate.mass, 'mass', machine.units, 3) }}</td>
          <td
            v-for="column in COLUMNS"
            :key="column.code"
            class="number"
            :class="{ bad: !checkOf(candidate, column.code)!.ok }"
          >
            {{ margin(candidate, column.code) }}
          </td>
          <td class="number" :class="{ bad: !checkOf(candidate, 'inertia')!.ok }">
            {{ formatNumber(checkOf(candidate, 'inertia')!.required, 3) }}
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
tbody tr:hover {
  background: var(--sunken);
}
tr.shown {
  background: var(--primary-soft);
}
.type {
  white-space: nowrap;
}
.type svg {
  vertical-align: -2px;
  margin-right: 5px;
}
.good {
  color: var(--good);
}
.fails .plain,
.fails .number:not(.bad) {
  color: var(--ink-soft);
}
.tag {
  font: 11px var(--narrow);
  border: 1px solid var(--line);
  border-radius: 3px;
  padding: 0 4px;
  margin-left: 6px;
  color: var(--ink-soft);
}
.tag.chosen {
  border-color: var(--primary);
  color: var(--primary);
}
</style>
