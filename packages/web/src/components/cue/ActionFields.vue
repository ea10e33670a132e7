<script setup lang="ts">
import { cueSchema, drawnFields, fieldsAt, letCuesLead, withAction, type Cue, type Machine } from '@yoke/core';
import { computed } from 'vue';
import { SchemaFields } from '@/components/fields';
import { useCues, useMachine } from '@/stores';

/** What a cue does. */
const props = defineProps<{ cue: Cue }>();
const machine = useMachine();
const cues = useCues();
const axis = computed(() => {
  const { action } = props.cue;
  return 'axis' in action ? machine.axes.find(({ id }) => id === action.axis) : undefined;
});
const fields = computed(() =>
  fieldsAt(drawnFields(cueSchema, props.cue, machine.document!, { axis: machine.axis?.id }), 'action'),
);
/** A name that only says what the cue does goes along with it. */
const change = (make: (cue: Cue) => void) =>
  cues.edit('what the cue does', (sequence) => withAction({ ...machine.document!, sequence } as Machine, props.cue.id, make)); // prettier-ignore
</script>

<template>
  <div class="pairs">
    <SchemaFields :fields :change="change" />
    <p v-if="axis && cue.action.do !== 'load' && axis.motion.source.kind !== 'cues'" class="note wide" role="status">
      {{ axis.name }} goes by a motion of its own.
      <button
        type="button"
        class="plain link"
        @click="cues.editMachine('cues lead the axis', (m) => letCuesLead(m, axis!.id))"
      >
        Let cues lead it
      </button>
    </p>
  </div>
</template>

<style scoped>
@import '@/style/pairs.css';
.note {
  font-size: 12.5px;
  color: var(--attention-ink);
}
.link {
  color: var(--primary);
  text-decoration: underline;
}
</style>
