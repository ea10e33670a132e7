<script setup lang="ts">
import { describeProblems, newAxis, newMachine, type Machine, type MachineSummary } from '@yoke/core';
import { Copy, Download, Pencil, Trash2 } from '@lucide/vue';
import { ElButton } from 'element-plus';
import { nextTick, onMounted, ref } from 'vue';
import { useRouter } from 'vue-router';
import { api } from '@/api/client';
import AppHeader from '@/components/AppHeader.vue';
import FileButton from '@/components/fields/FileButton.vue';
import IconButton from '@/components/fields/IconButton.vue';
import KeySheet from '@/components/KeySheet.vue';
import ReadingNote from '@/components/ReadingNote.vue';
import { useMachineList } from '@/composables/useMachineList';
import { axisColour } from '@/lib/axis-look';
import { download, fileName, MACHINE_ZIP } from '@/lib/files';
import { machineText } from '@yoke/core';
import { useAside } from '@/stores/aside';
import { useGeometry } from '@/stores/geometry';
import { usePreferences } from '@/stores/preferences';

const router = useRouter();
const preferences = usePreferences();
const aside = useAside();
const geometry = useGeometry();
const { machines, more, deleted, state, failure, trouble, attempt, refresh, showMore, toggleDeleted, restore, duplicate, remove } = useMachineList(); // prettier-ignore
const renaming = ref<string | null>(null);
const newName = ref('');
const help = ref(false);

onMounted(async () => {
  document.title = 'Yoke';
  await refresh();
  welcome();
});

/** The machine that opens on first start: it shows the most of what can be done. */
const FIRST = 'Seedling transplanter';
function welcome(): void {
  if (preferences.welcomed || state.value !== 'ready') return;
  preferences.welcomed = true;
  const first = machines.value.find(({ name }) => name === FIRST);
  if (first) void router.push(`/machine/${first.id}/cue?part=time`);
}

const createFrom = (machine: Machine, part = '') =>
  attempt(async () => {
    const { id } = await api.createMachine(machine);
    await router.push(`/machine/${id}/build${part}`);
  });

function create(kind: 'linear' | 'rotary' | null): Promise<void> {
  const machine = newMachine('New machine');
  if (kind) machine.axes.push(newAxis(kind, [], 2));
  return createFrom(machine);
}

const createMechanism = () => createFrom(newMachine('New mechanism'), '?part=board');

/** Largest document, and largest file of a machine with its shapes, bytes. */
const MOST_TEXT = 8_000_000;
const MOST_ZIP = 600_000_000;
const megabytes = (bytes: number) => `${Number((bytes / 1e6).toPrecision(2))} MB`;

/** The file whose shapes are being handed to the server. */
const keeping = ref<string | null>(null);
/** Takes a machine in: its document alone, or with its shapes, which are kept first. */
const importFile = (file: File) =>
  attempt(async () => {
    const isZip = /\.zip$/i.test(file.name);
    if (!isZip && file.size > MOST_TEXT)
      throw new Error(`${file.name} has ${megabytes(file.size)}; ${megabytes(MOST_TEXT)} are read at most.`);
    const { document: text, geometry } = isZip
      ? await aside.readZip(file)
      : { document: await file.text(), geometry: new Map<string, Uint8Array<ArrayBuffer>>() };
    const result = await aside.readMachine(text, file.name);
    if (!result.ok) throw new Error(`${file.name} was not imported: ${describeProblems(result.problems)}`);
    keeping.value = geometry.size > 0 ? file.name : null;
    try {
      for (const content of geometry.values()) await api.keepGeometry(new Uint8Array(content));
    } finally {
      keeping.value = null;
    }
    await createFrom(result.machine);
  });

const exportFile = (id: string) =>
  attempt(async () => {
    const { machine } = await api.readMachine(id);
    const name = fileName(machine.name);
    if ((machine.mechanism.shapes?.files.length ?? 0) > 0)
      download(`${name}${MACHINE_ZIP}`, await geometry.packed(machine), 'application/zip');
    else download(`${name}.yoke.json`, machineText(machine), 'application/json');
  });

async function startRename(machine: MachineSummary): Promise<void> {
  renaming.value = machine.id;
  newName.value = machine.name;
  await nextTick();
  document.querySelector<HTMLInputElement>('.rename')?.select();
}

function rename(): Promise<void> | void {
  const id = renaming.value;
  const name = newName.value.trim();
  renaming.value = null;
  const before = machines.value.find((machine) => machine.id === id)?.name;
  if (!id || name === '' || name === before) return;
  return attempt(async () => {
    const { machine, revision } = await api.readMachine(id);
    await api.saveMachine(id, { ...machine, name }, revision);
    await refresh();
  });
}

function rateOf({ cycle }: MachineSummary): string {
  const rate = cycle.given === 'rate' ? cycle.rate : 1 / cycle.time;
  return `${Number((rate * 60).toPrecision(3))} cycles a minute`;
}
const when = new Intl.DateTimeFormat('en-GB', { dateStyle: 'medium', timeStyle: 'short' });
</script>

<template>
  <div class="start">
    <AppHeader @help="help = !help" />
    <KeySheet v-if="help" @close="help = false" />
    <main>
      <section class="begin">
        <h1>From what must move to the motor that moves it</h1>
        <p>
          Draw a mechanism or describe an axis, lay out the motion over one machine cycle, read the torque in every
          pose, and see which motor fits and why the others do not.
        </p>
        <div class="ways">
          <ElButton type="primary" @click="create('linear')">New machine with a slide</ElButton>
          <ElButton @click="create('rotary')">… with a turning table</ElButton>
          <ElButton @click="createMechanism">… with a mechanism to draw</ElButton>
          <ElButton @click="create(null)">… empty</ElButton>
          <FileButton raw accept=".json,.zip" :most="MOST_ZIP" @file="importFile">Import a file</FileButton>
        </div>
        <ReadingNote />
        <p v-if="keeping" class="soft" role="status">The shapes of {{ keeping }} are handed over …</p>
        <p v-if="trouble" class="bad" role="alert">{{ trouble }}</p>
      </section>
      <p v-if="state === 'loading'" class="soft">Reading the machines …</p>
      <p v-else-if="state === 'failed'" class="bad" role="alert">
        {{ failure }} <button type="button" class="plain again" @click="refresh()">Try again</button>
      </p>
      <p v-else-if="machines.length === 0" class="soft">
        There are no machines yet. Begin with a slide or a turning table above, or import a file; the project’s folder
        “demo” holds some.
      </p>
      <ul v-else class="list" aria-label="Machines">
        <li v-for="machine in machines" :key="machine.id" class="machine">
          <span class="bands" aria-hidden="true">
            <i v-for="(axis, i) in machine.axes" :key="i" :style="{ background: axisColour(axis) }" />
          </span>
          <div class="body">
            <input
              v-if="renaming === machine.id"
              v-model="newName"
              class="rename"
              maxlength="80"
              aria-label="New name"
              @blur="rename()"
              @keydown.enter="rename()"
              @keydown.esc="renaming = null"
            />
            <RouterLink v-else :to="`/machine/${machine.id}/build`" class="title">{{ machine.name }}</RouterLink>
            <p class="notes">{{ machine.notes || 'No notes.' }}</p>
            <p class="facts soft">
              {{ machine.axes.map(({ name }) => name).join(', ') || 'no axes yet' }} · {{ rateOf(machine) }} · changed
              {{ when.format(new Date(machine.updatedAt)) }}
            </p>
          </div>
          <div class="actions">
            <IconButton
              :icon="Pencil"
              :aria-label="`Rename ${machine.name}`"
              title="Rename"
              @click="startRename(machine)"
            />
            <IconButton
              :icon="Copy"
              :aria-label="`Duplicate ${machine.name}`"
              title="Duplicate"
              @click="duplicate(machine.id)"
            />
            <IconButton
              :icon="Download"
              :aria-label="`Export ${machine.name}`"
              title="Export as a file"
              @click="exportFile(machine.id)"
            />
            <IconButton :icon="Trash2" :aria-label="`Delete ${machine.name}`" title="Delete" @click="remove(machine)" />
          </div>
        </li>
      </ul>
      <p v-if="more"><ElButton @click="showMore">Show more machines</ElButton></p>
      <section v-if="state === 'ready'" class="deleted" aria-label="Deleted machines">
        <button type="button" class="plain again" :aria-expanded="deleted !== null" @click="toggleDeleted">
          {{ deleted ? 'Hide deleted machines' : 'Deleted machines …' }}
        </button>
        <p v-if="deleted?.length === 0" class="soft">Nothing is deleted.</p>
        <ul v-else-if="deleted">
          <li v-for="machine in deleted" :key="machine.id">
            <span class="gone">{{ machine.name }}</span>
            <span class="facts soft"
              >deleted {{ when.format(new Date(machine.deletedAt!)) }}, goes for good
              {{ when.format(new Date(machine.purgedAt!)) }}</span
            >
            <ElButton size="small" :aria-label="`Restore ${machine.name}`" @click="restore(machine.id)"
              >Restore</ElButton
            >
          </li>
        </ul>
      </section>
    </main>
  </div>
</template>

<style scoped>
.start {
  height: 100%;
  display: flex;
  flex-direction: column;
}
main {
  flex: 1;
  overflow: auto;
  padding: 28px max(24px, calc((100% - 960px) / 2));
}
h1 {
  font: 600 24px/1.2 var(--words);
  margin-bottom: 6px;
}
.begin {
  margin-bottom: 24px;
}
.ways {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  margin: 14px 0 8px;
}
.ways :deep(.el-button + .el-button) {
  margin-left: 0;
}
.list {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 10px;
}
.machine {
  display: flex;
  gap: 14px;
  background: var(--panel);
  border: 1px solid var(--line);
  border-radius: var(--radius);
  box-shadow: var(--shadow);
  padding: 12px 12px 12px 0;
}
.bands {
  width: 5px;
  margin: -12px 0;
  display: flex;
  flex-direction: column;
  border-radius: 3px 0 0 3px;
  overflow: hidden;
  background: var(--line);
}
.bands i {
  flex: 1;
}
.body {
  flex: 1;
  min-width: 0;
}
.title {
  font: 600 15px var(--words);
  color: var(--ink);
  text-decoration: none;
}
.title:hover {
  color: var(--primary);
  text-decoration: underline;
}
.notes {
  max-width: 78ch;
}
.facts {
  font: 13.5px var(--narrow);
  margin-top: 2px;
}
.rename {
  font: 600 15px var(--words);
  color: var(--ink);
  background: var(--panel);
  border: 1px solid var(--primary);
  border-radius: var(--radius);
  padding: 1px 6px;
  width: 320px;
}
.deleted {
  margin: 18px 0 8px;
}
.deleted ul {
  list-style: none;
  margin: 8px 0 0;
  padding: 0;
}
.deleted li {
  display: flex;
  align-items: baseline;
  gap: 12px;
  padding: 4px 0;
  border-bottom: 1px solid var(--line);
}
.deleted .facts {
  flex: 1;
}
.gone {
  font-weight: 600;
}
.again {
  color: var(--primary);
  text-decoration: underline;
}
</style>

<style>
.el-message .undo {
  font-weight: 600;
  text-decoration: underline;
  margin-left: 6px;
}
</style>
