<script setup lang="ts">
import { AXIS_KINDS, formatQuantity, freeId, LAWS, type Axis, type LawId, type ServoBlock } from '@yoke/core';
import { ArrowDown, ArrowUp, Copy, Trash2 } from '@lucide/vue';
import { ElButton } from 'element-plus';
import { computed, ref } from 'vue';
import ChoiceField from '@/components/ChoiceField.vue';
import IconButton from '@/components/IconButton.vue';
import QuantityField from '@/components/QuantityField.vue';
import { useMotionEdit } from '@/composables/useMotionEdit';
import { put } from '@/lib/put';
import { useCursor } from '@/stores/cursor';
import { useMachine } from '@/stores/machine';
import { useMotions } from '@/stores/motions';
import BlockLimits from './BlockLimits.vue';

/** Servo moves: blocks carried out in order from the home position, each with what it turned out to do. */
const props = defineProps<{ axis: Axis }>();
const machine = useMachine();
const motions = useMotions();
const cursor = useCursor();
const { editSource } = useMotionEdit();
const kinds = computed(() => AXIS_KINDS[props.axis.kind]);
const blocks = computed(() => (props.axis.motion.source.kind === 'moves' ? props.axis.motion.source.blocks : []));
const made = computed(() => motions.of(props.axis.id));
const dragging = ref<number | null>(null);
const laws = LAWS.filter(({ id }) => id !== 'straight').map(({ id, name }) => ({ value: id as LawId, label: name }));

const NAMES: Record<ServoBlock['kind'], string> = {
  travel: 'Travel',
  work: 'Constant speed',
  wait: 'Wait',
  oscillate: 'Oscillate',
  repeat: 'Repeat',
  home: 'Return home',
};
const BOUNDS = {
  velocity: 'its velocity',
  acceleration: 'its acceleration',
  jerk: 'its jerk',
  time: 'the wanted time',
};
const none = { velocity: null, acceleration: null, deceleration: null, jerk: null };

const edit = (label: string, recipe: (list: ServoBlock[]) => void) =>
  editSource('moves', label, (source) => recipe(source.blocks as ServoBlock[]));
const set = (i: number, recipe: (block: ServoBlock) => void) => edit('change a block', (list) => recipe(list[i]!));

function fresh(kind: ServoBlock['kind']): ServoBlock {
  const id = freeId('b', blocks.value.map((block) => block.id)); // prettier-ignore
  const way = props.axis.kind === 'linear' ? 0.1 : Math.PI / 2;
  switch (kind) {
    case 'travel':
      return { id, kind, given: 'by', value: way, time: null, ...none };
    case 'work':
      return { id, kind, length: way / 2, ...none };
    case 'wait':
      return { id, kind, time: machine.cycle / 10 };
    case 'oscillate':
      return { id, kind, peakToPeak: way / 10, frequency: 10 / machine.cycle, cycles: 2, law: 'poly345' };
    case 'repeat':
      return { id, kind, blocks: 1, times: 2 };
    case 'home':
      return { id, kind, ...none };
  }
}
const add = (kind: ServoBlock['kind']) =>
  edit(`add ${NAMES[kind].toLowerCase()}`, (list) => void list.push(fresh(kind)));
const move = (from: number, to: number) =>
  edit('reorder blocks', (list) => {
    const [taken] = list.splice(from, 1);
    list.splice(to, 0, taken!);
  });
const copy = (i: number) =>
  edit('copy a block', (list) => void list.splice(i + 1, 0, { ...list[i]!, id: fresh('wait').id }));
function drop(to: number): void {
  const from = dragging.value;
  dragging.value = null;
  if (from !== null && from !== to) move(from, to);
}

const show = (value: number, kind: Parameters<typeof formatQuantity>[1]) =>
  formatQuantity(value, kind, machine.units, 4);
/** What each block did, in words; the first pass where it is repeated. */
const outcomes = computed(() =>
  blocks.value.map((block) => {
    const passes = made.value.blocks.filter(({ id }) => id === block.id);
    const [first] = passes;
    if (!first) return '';
    const time = show(first.to - first.from, 'time');
    const reached = first.speed > 0 ? `, ${show(first.speed, kinds.value.velocity)}` : '';
    const short = first.wanted === null ? '' : ` of ${show(first.wanted, kinds.value.velocity)}: too short for more`;
    const bound = first.bound && first.wanted === null ? ` (held back by ${BOUNDS[first.bound]})` : '';
    const runs =
      first.runUp > 0
        ? `, run-up ${show(first.runUp, kinds.value.position)}, run-out ${show(first.runOut, kinds.value.position)}`
        : '';
    const swing =
      block.kind === 'oscillate'
        ? `${show(block.peakToPeak, kinds.value.position)} to and fro ${block.cycles} times, ${show(block.frequency, 'frequency')}: `
        : '';
    return `${swing}${time}${reached}${short}${bound}${runs}${passes.length > 1 ? ` · ${passes.length} passes` : ''}`;
  }),
);
const current = computed(
  () => made.value.blocks.find(({ from, to }) => from <= cursor.time && cursor.time < to)?.id ?? null,
);
/** Where the time goes: moving, at working speed, waiting. */
const shares = computed(() => {
  const total = made.value.blocksTime ?? 0;
  if (total <= 0) return '';
  const by = new Map<string, number>();
  for (const { kind, from, to } of made.value.blocks) by.set(kind, (by.get(kind) ?? 0) + to - from);
  const parts = [...by].map(
    ([kind, time]) => `${NAMES[kind as ServoBlock['kind']].toLowerCase()} ${Math.round((100 * time) / total)} %`,
  );
  return `${show(total, 'time')} in all: ${parts.join(', ')}.`;
});
const failed = computed(() => made.value.problems.find(({ code }) => code === 'motion'));
</script>

<template>
  <div class="blocks">
    <p v-if="blocks.length === 0" class="soft">No blocks yet: the axis rests at its home position. Add a travel.</p>
    <ol>
      <li
        v-for="(block, i) in blocks"
        :key="block.id"
        :class="{ current: block.id === current, wrong: failed?.code === 'motion' && failed.blockId === block.id }"
        @dragover.prevent
        @drop.prevent="drop(i)"
      >
        <span
          class="grip"
          draggable="true"
          title="Drag to another place"
          @dragstart="dragging = i"
          @dragend="dragging = null"
          >⠿</span
        >
        <div class="what">
          <b>{{ i + 1 }} {{ NAMES[block.kind] }}</b>
          <span class="outcome">{{ outcomes[i] }}</span>
        </div>
        <div class="fields">
          <template v-if="block.kind === 'travel'">
            <ChoiceField
              bare
              :value="block.given"
              :label="`How block ${i + 1} is given`"
              :options="[
                { value: 'by', label: 'by' },
                { value: 'to', label: 'to' },
              ]"
              @choose="(given) => set(i, (b) => void (b.kind === 'travel' && (b.given = given)))"
            />
            <QuantityField
              bare
              :value="block.value"
              :kind="kinds.position"
              :label="`Way of block ${i + 1}`"
              :commit="(v) => set(i, (b) => void (b.kind === 'travel' && (b.value = v!)))"
            />
            <QuantityField
              bare
              optional
              placeholder="quickest"
              :value="block.time"
              kind="time"
              :label="`Wanted time of block ${i + 1}`"
              hint="Empty: the quickest under the limits. A time: the gentlest move that takes it."
              :commit="(v) => set(i, (b) => void (b.kind === 'travel' && (b.time = v)))"
            />
          </template>
          <QuantityField
            v-if="block.kind === 'work'"
            bare
            :value="block.length"
            :kind="kinds.position"
            :label="`Working length of block ${i + 1}`"
            hint="At constant speed; run-up and run-out come on top"
            :commit="(v) => set(i, (b) => void (b.kind === 'work' && (b.length = v!)))"
          />
          <QuantityField
            v-if="block.kind === 'wait'"
            bare
            :value="block.time"
            kind="time"
            :label="`Time of block ${i + 1}`"
            :commit="(v) => set(i, (b) => void (b.kind === 'wait' && (b.time = v!)))"
          />
          <template v-if="block.kind === 'oscillate'">
            <QuantityField
              bare
              :value="block.peakToPeak"
              :kind="kinds.position"
              :label="`Peak to peak of block ${i + 1}`"
              hint="Peak to peak"
              :commit="(v) => set(i, (b) => void (b.kind === 'oscillate' && (b.peakToPeak = v!)))"
            />
            <QuantityField
              bare
              :value="block.frequency"
              kind="frequency"
              :label="`Frequency of block ${i + 1}`"
              :commit="(v) => set(i, (b) => void (b.kind === 'oscillate' && (b.frequency = v!)))"
            />
            <QuantityField
              bare
              :value="block.cycles"
              kind="number"
              :min="1"
              :max="1000"
              :label="`Cycles of block ${i + 1}`"
              hint="How many times to and fro"
              :commit="(v) => set(i, (b) => void (b.kind === 'oscillate' && (b.cycles = Math.round(v!))))"
            />
            <ChoiceField
              bare
              :value="block.law"
              :label="`Law of block ${i + 1}`"
              :options="laws"
              @choose="(law) => set(i, (b) => void (b.kind === 'oscillate' && (b.law = law)))"
            />
          </template>
          <template v-if="block.kind === 'repeat'">
            <QuantityField
              bare
              :value="block.blocks"
              kind="number"
              :min="1"
              :max="100"
              :label="`How many blocks before block ${i + 1}`"
              hint="Blocks before this one"
              :commit="(v) => set(i, (b) => void (b.kind === 'repeat' && (b.blocks = Math.round(v!))))"
            />
            <span class="soft word">blocks before, in all</span>
            <QuantityField
              bare
              :value="block.times"
              kind="number"
              :min="2"
              :max="1000"
              :label="`Passes of block ${i + 1}`"
              hint="Passes, the first included"
              :commit="(v) => set(i, (b) => void (b.kind === 'repeat' && (b.times = Math.round(v!))))"
            />
            <span class="soft word">times</span>
          </template>
          <BlockLimits
            v-if="'velocity' in block"
            :axis="axis"
            :block="block"
            :number="i + 1"
            @change="(key, v) => set(i, (b) => put(b, key, v))"
          />
        </div>
        <div class="actions">
          <IconButton
            :icon="ArrowUp"
            :size="14"
            :disabled="i === 0"
            :aria-label="`Block ${i + 1} up`"
            title="Earlier"
            @click="move(i, i - 1)"
          />
          <IconButton
            :icon="ArrowDown"
            :size="14"
            :disabled="i === blocks.length - 1"
            :aria-label="`Block ${i + 1} down`"
            title="Later"
            @click="move(i, i + 1)"
          />
          <IconButton :icon="Copy" :size="14" :aria-label="`Copy block ${i + 1}`" title="Copy" @click="copy(i)" />
          <IconButton
            :icon="Trash2"
            :size="14"
            :aria-label="`Delete block ${i + 1}`"
            title="Delete"
            @click="edit('delete a block', (list) => void list.splice(i, 1))"
          />
        </div>
      </li>
    </ol>
    <p v-if="shares" class="soft total">{{ shares }}</p>
    <div class="add">
      <ElButton v-for="(label, kind) in NAMES" :key="kind" size="small" @click="add(kind)">{{ label }}</ElButton>
    </div>
  </div>
</template>

<style scoped>
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
  cursor: grab;
  color: var(--ink-soft);
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
.fields :deep(.el-input__wrapper) {
  padding: 0 6px;
}
.word {
  padding-top: 5px;
}
.actions {
  grid-area: 1 / 3;
  white-space: nowrap;
}
.total {
  margin: 6px 0 0;
}
.add {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  margin-top: 8px;
}
.add :deep(.el-button + .el-button) {
  margin-left: 0;
}
</style>
