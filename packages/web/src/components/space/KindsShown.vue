<script setup lang="ts">
import { onClickOutside } from '@vueuse/core';
import { ElSegmented } from 'element-plus';
import 'element-plus/theme-chalk/el-segmented.css';
import { computed, ref } from 'vue';
import { KINDS, type Kind, type Showing } from '@/lib/space/showing';
import { useSeeing } from '@/stores/seeing';

/** Which kinds of things are shown in depth: whole, faintly or not at all. */
defineProps<{ kinds: readonly Kind[] }>();
const seeing = useSeeing();
const all = ref<HTMLElement>();
const open = ref(false);
onClickOutside(all, () => (open.value = false));
const SHOWN: { value: Showing; label: string }[] = [
  { value: 'whole', label: 'Whole' },
  { value: 'faint', label: 'Faint' },
  { value: 'hidden', label: 'Not' },
];
const off = computed(() => Object.keys(seeing.kinds).length);
function show(kind: Kind, how: Showing): void {
  const { [kind]: _, ...others } = seeing.kinds;
  seeing.kinds = how === 'whole' ? others : { ...others, [kind]: how };
}
</script>

<template>
  <div ref="all" class="shown" @keydown.esc.stop="open = false">
    <button
      type="button"
      title="Show kinds of things whole, faintly or not at all"
      :aria-pressed="off > 0"
      :aria-expanded="open"
      @click="open = !open"
    >
      Shown{{ off > 0 ? ` (${off} less)` : '' }}
    </button>
    <div v-if="open" class="kinds panel">
      <template v-for="kind in kinds" :key="kind">
        <span>{{ KINDS[kind] }}</span>
        <ElSegmented
          size="small"
          :model-value="seeing.kinds[kind] ?? 'whole'"
          :aria-label="KINDS[kind]"
          :options="SHOWN"
          @change="(how: Showing) => show(kind, how)"
        />
      </template>
    </div>
  </div>
</template>

<style scoped>
.shown {
  position: relative;
}
.kinds {
  position: absolute;
  left: 0;
  bottom: calc(100% + 6px);
  display: grid;
  grid-template-columns: max-content auto;
  gap: 6px 10px;
  align-items: center;
  padding: 10px 12px;
  background: var(--panel);
  border: 1px solid var(--line);
  border-radius: var(--radius);
}
</style>
