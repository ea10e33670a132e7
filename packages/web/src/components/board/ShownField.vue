<script setup lang="ts">
import { ChoiceField } from '@/components/fields';
import { useSeeing } from '@/stores';

/** How a body, or all of a plane, is shown in depth. */
const props = defineProps<{ id: string }>();
const seeing = useSeeing();
type Shown = 'whole' | 'faint' | 'hidden';
function show(how: Shown): void {
  const others = Object.entries(seeing.faded).filter(([id]) => id !== props.id);
  seeing.faded = Object.fromEntries(how === 'whole' ? others : [...others, [props.id, how]]);
}
</script>

<template>
  <ChoiceField
    :value="(seeing.faded[id] ?? 'whole') as Shown"
    label="Shown in depth"
    :options="{ whole: 'Whole', faint: 'Faintly', hidden: 'Not at all' }"
    @choose="show"
  />
</template>
