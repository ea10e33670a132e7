<script setup lang="ts">
import { counted, writeCatalogue } from '@yoke/core';
import { ElButton } from 'element-plus';
import { ref } from 'vue';
import { FileButton } from '@/components/fields';
import { download } from '@/lib/files';
import { useCatalogue } from '@/stores';

/** The catalogue itself: taking motors in, writing them out, bringing the invented ones back. */
const catalogue = useCatalogue();
const note = ref<string | null>(null);
const wrong = ref(false);

async function tell(action: Promise<string | null>, done: () => string): Promise<void> {
  const refusal = await action;
  wrong.value = refusal !== null;
  note.value = refusal ?? done();
}
const count = () => `The catalogue now holds ${counted(catalogue.motors.length, 'motor')}.`;
const take = (mode: 'extend' | 'replace') => (text: string, name: string) =>
  tell(catalogue.importCsv(text, mode), () => `${name} was read. ${count()}`);
</script>

<template>
  <section class="panel catalogue" aria-label="Catalogue">
    <h2>
      Catalogue <span class="soft">{{ counted(catalogue.motors.length, 'motor') }}</span>
    </h2>
    <div class="row">
      <FileButton accept=".csv,text/csv" :most="8_000_000" @read="take('extend')($event, 'The file')"
        >Add from CSV</FileButton
      >
      <FileButton accept=".csv,text/csv" :most="8_000_000" @read="take('replace')($event, 'The file')"
        >Replace by CSV</FileButton
      >
      <ElButton @click="download('motors.csv', writeCatalogue(catalogue.motors), 'text/csv')">Save as CSV</ElButton>
      <ElButton @click="tell(catalogue.reset(), () => `The invented motors are back. ${count()}`)"
        >Invented motors</ElButton
      >
      <ElButton
        v-if="catalogue.former !== null"
        :title="`Brings back the ${counted(catalogue.former, 'motor')} from before the last change`"
        @click="tell(catalogue.undo(), () => `The catalogue is as it was before. ${count()}`)"
        >Undo the last change</ElButton
      >
    </div>
    <p v-if="note" :class="wrong ? 'bad' : 'soft'" role="status">{{ note }}</p>
    <p v-else-if="catalogue.state === 'failed'" class="bad" role="alert">{{ catalogue.message }}</p>
    <p v-else class="soft">
      The motors that ship with Yoke are invented. Saved as CSV, the catalogue shows the columns wanted.
    </p>
  </section>
</template>

<style scoped>
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  margin-bottom: 6px;
}
.row :deep(.el-button + .el-button) {
  margin-left: 0;
}
</style>
