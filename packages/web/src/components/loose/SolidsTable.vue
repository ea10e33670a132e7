<script setup lang="ts">
import { GROUND, hasSolidsOfFiles } from '@yoke/core';
import { computed } from 'vue';
import { useLoose, useMachine } from '@/stores';

/** Bodies of the mechanism that touch parts, their material, and how exactly their shape counts. */
const emit = defineEmits<{ problem: [text: string | null] }>();
const machine = useMachine();
const store = useLoose();
const loose = computed(() => machine.document!.loose);
/** Where parts move in space, what stands on the ground may touch them too. */
const bodies = computed(() => {
  const { mechanism } = machine.document!;
  const stands = loose.value.space && (mechanism.shapes?.ground.length ?? 0) > 0;
  return stands ? [...mechanism.bodies, { id: GROUND, name: 'Solids on the ground' }] : mechanism.bodies;
});
/** Bodies that touch otherwise than one would think: their shapes come from files. */
const drawn = computed(() => {
  const { mechanism } = machine.document!;
  return loose.value.space ? loose.value.solids.filter(({ body }) => hasSolidsOfFiles(mechanism, body)) : [];
});
const nameOf = (body: string) => bodies.value.find(({ id }) => id === body)?.name ?? body;
const solidOf = (body: string) => loose.value.solids.find((s) => s.body === body);
function set(body: string, choice: string): void {
  emit(
    'problem',
    store.edit('what touches parts', (l) => {
      const i = l.solids.findIndex((s) => s.body === body);
      if (choice === 'none') {
        if (i >= 0) l.solids.splice(i, 1);
        return;
      }
      const as = choice as 'hull' | 'exact';
      if (i >= 0) l.solids[i]!.as = as;
      else l.solids.push({ body, material: l.materials[0]!.id, as });
    }),
  );
}
const setMaterial = (body: string, material: string) =>
  emit(
    'problem',
    store.edit('material of a body', (l) => void (l.solids.find((s) => s.body === body)!.material = material)),
  );
</script>

<template>
  <template v-if="bodies.length > 0 && loose.materials.length > 0">
    <h3>Bodies that touch parts</h3>
    <table class="rows">
      <tbody>
        <tr v-for="body in bodies" :key="body.id">
          <td>{{ body.name }}</td>
          <td>
            <select
              :value="solidOf(body.id)?.as ?? 'none'"
              :aria-label="`Contact of ${body.name}`"
              @change="set(body.id, ($event.target as HTMLSelectElement).value)"
            >
              <option value="none">passes through parts</option>
              <option value="hull">touches with its hull (quick)</option>
              <option value="exact">touches exactly as drawn</option>
            </select>
          </td>
          <td>
            <select
              v-if="solidOf(body.id)"
              :value="solidOf(body.id)!.material"
              :aria-label="`Material of ${body.name}`"
              @change="setMaterial(body.id, ($event.target as HTMLSelectElement).value)"
            >
              <option v-for="m in loose.materials" :key="m.id" :value="m.id">{{ m.name }}</option>
            </select>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-if="drawn.length > 0" class="soft">
      Shapes of files do not touch parts yet: {{ drawn.map(({ body }) => nameOf(body)).join(', ') }} touch with
      outlines, or with solids of their own alone on the ground.
    </p>
  </template>
</template>

<style scoped>
h3 {
  margin: 10px 0 2px;
}
select {
  font: 13px var(--narrow);
  color: inherit;
  background: var(--panel);
  border: 1px solid var(--line);
  border-radius: var(--radius);
}
</style>
