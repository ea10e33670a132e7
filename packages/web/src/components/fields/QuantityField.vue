<script setup lang="ts">
import { displayUnit, formatEntry, parseQuantity, type QuantityKind } from '@yoke/core';
import { ElInput } from 'element-plus';
import { computed, ref, useId, watch } from 'vue';
import { useMachine } from '@/stores';
import FieldLabel from './FieldLabel.vue';

/** A number with its unit, typed in any unit of its kind. What was typed wrong stays, with the reason below. */
const props = defineProps<{
  /** SI value; null where none is set. */
  value: number | null;
  kind: QuantityKind;
  label: string;
  of?: string | undefined;
  /** Hides the label from sight, for cells of a table. */
  bare?: boolean;
  /** May be left empty. */
  optional?: boolean;
  placeholder?: string;
  min?: number;
  max?: number;
  disabled?: boolean;
  hint?: string;
  /** Takes the new SI value; answers with what is wrong, or null. */
  commit: (value: number | null) => string | null;
}>();

const machine = useMachine();
const id = useId();
const text = ref('');
const error = ref<string | null>(null);
const editing = ref(false);
const unit = computed(() => displayUnit(props.kind, machine.units).symbol);
const shown = computed(() => (props.value === null ? '' : formatEntry(props.value, props.kind, machine.units)));

watch(
  [shown, () => machine.units],
  () => {
    if (!editing.value || error.value === null) text.value = shown.value;
    if (!editing.value) error.value = null;
  },
  { immediate: true },
);

function read(): { value: number | null } | { message: string } {
  if (text.value.trim() === '' && props.optional) return { value: null };
  const parsed = parseQuantity(text.value, props.kind, machine.units);
  if (!parsed.ok) return parsed;
  const bound = (value: number) => `${formatEntry(value, props.kind, machine.units)} ${unit.value}`.trim();
  if (props.min !== undefined && parsed.value < props.min)
    return { message: `At least ${bound(props.min)} is needed.` };
  if (props.max !== undefined && parsed.value > props.max)
    return { message: `At most ${bound(props.max)} is possible.` };
  return parsed;
}

function take(): void {
  if (text.value === shown.value) {
    error.value = null;
    return;
  }
  const result = read();
  error.value = 'message' in result ? result.message : props.commit(result.value);
  if (error.value === null) text.value = shown.value;
}

function leave(): void {
  take();
  editing.value = false;
}

function restore(): void {
  text.value = shown.value;
  error.value = null;
}

/** Steps the second figure of the number; the first with Shift. */
function step(direction: 1 | -1, event: Event): void {
  const number = Number(text.value);
  if (!Number.isFinite(number)) return;
  const size =
    number === 0
      ? 1
      : 10 ** (Math.floor(Math.log10(Math.abs(number)) + 1e-9) - ((event as KeyboardEvent).shiftKey ? 0 : 1));
  text.value = String(Number((number + direction * size).toPrecision(12)));
  take();
}
</script>

<template>
  <div class="quantity" :class="{ wrong: error }">
    <FieldLabel :for="id" :label :of :bare />
    <ElInput
      :id
      v-model="text"
      :placeholder="placeholder ?? (optional ? 'none' : '')"
      :disabled
      :title="hint"
      :aria-invalid="error !== null"
      :aria-describedby="error ? `${id}-error` : undefined"
      autocomplete="off"
      spellcheck="false"
      @focus="editing = true"
      @blur="leave"
      @keydown.enter="take"
      @keydown.esc="restore"
      @keydown.up.prevent="step(1, $event)"
      @keydown.down.prevent="step(-1, $event)"
    >
      <template #suffix
        ><span class="unit">{{ unit }}</span></template
      >
    </ElInput>
    <p v-if="error" :id="`${id}-error`" class="error" role="alert">{{ error }}</p>
  </div>
</template>

<style scoped>
.quantity :deep(.el-input__inner) {
  font-size: 13px;
  text-align: right;
}
.quantity :deep(.el-input__wrapper) {
  padding: 0 8px;
}
.unit {
  font-family: var(--narrow);
  font-size: 13px;
  color: var(--ink-soft);
}
.wrong :deep(.el-input__wrapper) {
  box-shadow: 0 0 0 1px var(--bad) inset;
}
.error {
  color: var(--bad);
  font-size: 12px;
  line-height: 1.25;
  margin-top: 2px;
}
</style>
