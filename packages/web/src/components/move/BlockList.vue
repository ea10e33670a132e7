<script setup lang="ts">
import { BLOCKS, blockSchema, drawnFields, newBlock, type Axis, type ServoBlock } from '@yoke/core';
import { Copy } from '@lucide/vue';
import { ElButton } from 'element-plus';
import { computed } from 'vue';
import { IconButton, RowActions, RowGrip, SchemaFields } from '@/components/fields';
import { useBlockOutcomes } from '@/composables/useBlockOutcomes';
import { useMotionEdit } from '@/composables/useMotionEdit';
import { useRowDrag } from '@/composables/useRowDrag';
import { useMachine } from '@/stores';
import BlockLimits from './BlockLimits.vue';

/** Servo moves: blocks carried out in order from the home position, each with what it turned out to do. */
const props = defineProps<{ axis: Axis }>();
const machine = useMachine();
const { editSource } = useMotionEdit();
const blocks = computed(() => (props.axis.motion.source.kind === 'moves' ? props.axis.motion.source.blocks : []));
const { outcomes, current, shares, failed } = useBlockOutcomes(() => props.axis, () => blocks.value); // prettier-ignore

const edit = (label: string, recipe: (list: ServoBlock[]) => void) =>
  editSource('moves', label, (source) => recipe(source.blocks));
const change = (i: number) => (make: (block: ServoBlock) => void, label: string) =>
  edit(label, (list) => make(list[i]!));
const fresh = (kind: ServoBlock['kind']) => newBlock(machine.document!, props.axis, kind);

const fields = computed(() =>
  blocks.value.map((block) => {
    const all = drawnFields(blockSchema, block, machine.document!, { axis: props.axis.id });
    const limits = all.filter(({ key }) => ['acceleration', 'deceleration', 'jerk'].includes(key));
    return { own: all.filter((field) => !limits.includes(field)), limits };
  }),
);

const add = (kind: ServoBlock['kind']) =>
  edit(`add ${BLOCKS[kind].label.toLowerCase()}`, (list) => void list.push(fresh(kind)));
const move = (from: number, to: number) =>
  edit('reorder blocks', (list) => {
    const [taken] = list.splice(from, 1);
    list.splice(to, 0, taken!);
  });
const copy = (i: number) =>
  edit('copy a block', (list) => void list.splice(i + 1, 0, { ...list[i]!, id: fresh('wait').id }));
const remove = (i: number) => edit('delete a block', (list) => void list.splice(i, 1));
const { dragging, drop } = useRowDrag(move);
</script>

<template>
  <div class="blocks">
    <p v-if="blocks.length === 0" class="soft">No blocks yet: the axis rests at its home position. Add a travel.</p>
    <ol>
      <li
        v-for="(block, i) in blocks"
        :key="block.id"
        :class="{ current: block.id === current, wrong: block.id === failed }"
        @dragover.prevent
        @drop.prevent="drop(i)"
      >
        <RowGrip class="grip" @take="dragging = i" @release="dragging = null" />
        <div class="what">
          <b>{{ i + 1 }} {{ BLOCKS[block.kind].label }}</b>
          <span class="outcome">{{ outcomes[i] }}</span>
        </div>
        <div class="fields">
          <SchemaFields :fields="fields[i]!.own" :change="change(i)" :of="`block ${i + 1}`" />
          <BlockLimits
            v-if="fields[i]!.limits.length > 0"
            :fields="fields[i]!.limits"
            :change="change(i)"
            :of="`block ${i + 1}`"
          />
        </div>
        <div class="actions">
          <RowActions
            :row="`block ${i + 1}`"
            :index="i"
            :count="blocks.length"
            @move="move(i, $event)"
            @remove="remove(i)"
          >
            <IconButton :icon="Copy" :size="14" :aria-label="`Copy block ${i + 1}`" title="Copy" @click="copy(i)" />
          </RowActions>
        </div>
      </li>
    </ol>
    <p v-if="shares" class="soft total">{{ shares }}</p>
    <div class="add">
      <ElButton v-for="({ label }, kind) in BLOCKS" :key="kind" size="small" @click="add(kind)">{{ label }}</ElButton>
    </div>
  </div>
</template>

<style scoped>
@import '@/style/row-buttons.css';
ol {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 4px;
}
li {
  display: grid;
  grid-template: auto auto / 14px 1fr auto;
  gap: 2px 6px;
  padding: 4px 4px 5px;
  border: 1px solid var(--line-soft);
  border-radius: var(--radius);
}
li.current {
  box-shadow: inset 2px 0 0 var(--attention);
}
li.wrong {
  border-color: var(--bad);
}
.grip {
  grid-row: span 2;
}
.what {
  display: flex;
  gap: 8px;
  align-items: baseline;
  flex-wrap: wrap;
}
.what b {
  font-weight: 500;
}
.outcome {
  font: 12.5px var(--narrow);
  color: var(--ink-soft);
}
.fields {
  grid-column: 2 / 4;
  display: flex;
  flex-wrap: wrap;
  gap: 5px;
  align-items: start;
}
.fields > :deep(.quantity),
.fields > :deep(.choice) {
  width: 104px;
}
.fields > :deep(.choice.wide) {
  width: 190px;
}
.fields :deep(.el-input__wrapper) {
  padding: 0 6px;
}
.actions {
  grid-area: 1 / 3;
  white-space: nowrap;
}
.total {
  margin: 6px 0 0;
}
</style>
