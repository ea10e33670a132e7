<script setup lang="ts">
import { freeId, type Axis } from '@yoke/core';
import { ElButton, ElInput } from 'element-plus';
import { computed, ref } from 'vue';
import { DeleteButton } from '@/components/fields';
import { useMachine } from '@/stores';

/** Motions of an axis put aside: to be compared under Laws, or taken again. */
const props = defineProps<{ axis: Axis }>();
const machine = useMachine();
const name = ref('');
const NAMES = {
  plan: 'Plan',
  moves: 'Servo moves',
  formula: 'Formula',
  points: 'Table',
  follow: 'Following',
  constant: 'Constant',
  harmonic: 'Harmonic',
  cues: 'Cues',
};
const suggestion = computed(() => {
  const base = NAMES[props.axis.motion.source.kind];
  const taken = props.axis.alternatives.map((other) => other.name);
  return taken.includes(base) ? freeId(`${base} `, taken) : base;
});
const copy = <T,>(value: T): T => JSON.parse(JSON.stringify(value)) as T;

function putAside(): void {
  const id = freeId('m', props.axis.alternatives.map((other) => other.id)); // prettier-ignore
  machine.editAxis('put a motion aside', (draft) => {
    draft.alternatives.push(
      copy({
        id,
        name: name.value.trim() || suggestion.value,
        plan: props.axis.plan,
        motion: props.axis.motion,
      }) as (typeof draft.alternatives)[number],
    );
  });
  name.value = '';
}
const take = (id: string) =>
  machine.editAxis('take a motion', (draft) => {
    const found = props.axis.alternatives.find((other) => other.id === id)!;
    draft.plan = copy(found.plan) as typeof draft.plan;
    draft.motion = copy(found.motion) as typeof draft.motion;
  });
const drop = (id: string) =>
  machine.editAxis(
    'forget a motion',
    (draft) => void (draft.alternatives = draft.alternatives.filter((other) => other.id !== id)),
  );
</script>

<template>
  <div class="aside">
    <span class="soft">Put aside:</span>
    <span v-for="other in axis.alternatives" :key="other.id" class="kept">
      <button type="button" class="plain" :title="`Take “${other.name}” again`" @click="take(other.id)">
        {{ other.name }}
      </button>
      <DeleteButton :size="12" :label="`Forget ${other.name}`" title="Forget" @click="drop(other.id)" />
    </span>
    <span v-if="axis.alternatives.length === 0" class="soft">nothing yet</span>
    <ElInput
      v-model="name"
      size="small"
      class="name"
      maxlength="60"
      :placeholder="suggestion"
      aria-label="Name of the motion put aside"
      @keydown.enter="putAside"
    />
    <ElButton
      size="small"
      title="Keeps this motion beside the one in use, to compare and to take again"
      @click="putAside"
      >Put this motion aside</ElButton
    >
  </div>
</template>

<style scoped>
.aside {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  align-items: center;
  margin-top: 10px;
  padding-top: 8px;
  border-top: 1px solid var(--line-soft);
}
.kept {
  display: inline-flex;
  align-items: center;
  background: var(--primary-soft);
  border-radius: var(--radius);
  padding: 0 2px 0 8px;
}
.kept .plain {
  color: var(--primary);
  font-weight: 500;
}
.name {
  width: 110px;
}
</style>
