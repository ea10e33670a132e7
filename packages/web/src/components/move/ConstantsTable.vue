<script setup lang="ts">
import { describeDimension, machineConstants } from '@yoke/core';
import { ElButton } from 'element-plus';
import { computed } from 'vue';
import { DeleteButton, NameField } from '@/components/fields';
import { useMachine } from '@/stores';

/** Named constants of the machine, for all its formulas. */
const machine = useMachine();
const list = computed(() => machine.document!.constants);
const found = computed(() => machineConstants(list.value));
const remarks = computed(() => list.value.map(({ name }) => found.value.wrong.get(name) ?? null));
const kinds = computed(() =>
  list.value.map(({ name }) => {
    const constant = found.value.constants.get(name);
    return constant ? describeDimension(constant.dimension) : '';
  }),
);

function add(): void {
  const taken = new Set(list.value.map(({ name }) => name));
  let n = 1;
  while (taken.has(`c${n}`)) n++;
  machine.edit('add a constant', (draft) => void draft.constants.push({ name: `c${n}`, text: '10 mm' }));
}
const set = (i: number, key: 'name' | 'text', value: string) =>
  machine.edit('constant', (draft) => void (draft.constants[i]![key] = value.trim()));
const remove = (i: number) => machine.edit('delete a constant', (draft) => void draft.constants.splice(i, 1));
</script>

<template>
  <div class="constants">
    <table v-if="list.length > 0" class="rows">
      <thead>
        <tr>
          <th scope="col">Constant</th>
          <th scope="col">Value with unit</th>
          <th scope="col">Is</th>
          <th scope="col"><span class="visually-hidden">Actions</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(constant, i) in list" :key="i">
          <td>
            <NameField
              bare
              :most="40"
              :value="constant.name"
              :label="`Name of constant ${i + 1}`"
              :commit="(value) => set(i, 'name', value)"
            />
          </td>
          <td>
            <NameField
              bare
              :most="400"
              :value="constant.text"
              :label="`Value of ${constant.name}`"
              :commit="(value) => set(i, 'text', value)"
            />
          </td>
          <td :class="remarks[i] ? 'bad' : 'soft'">{{ remarks[i] ?? kinds[i] }}</td>
          <td>
            <DeleteButton :label="`Delete ${constant.name}`" @click="remove(i)" />
          </td>
        </tr>
      </tbody>
    </table>
    <ElButton size="small" @click="add">Add a constant</ElButton>
  </div>
</template>

<style scoped>
.constants {
  margin-top: 8px;
  display: grid;
  gap: 6px;
  justify-items: start;
}
table {
  width: 100%;
}
td {
  padding: 2px 3px;
}
td :deep(.el-input__inner) {
  font-size: 13.5px;
}
</style>
