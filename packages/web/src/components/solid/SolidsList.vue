<script setup lang="ts">
import { GROUND, UNASSIGNED, type BodySolid, type SolidRef } from '@yoke/core';
import { ElInput } from 'element-plus';
import { computed, ref } from 'vue';
import { useGeometry, useMachine, useSolids } from '@/stores';

/** All solids by what they move with, and within that by the branches of their files. */
const geometry = useGeometry();
const machine = useMachine();
const solids = useSolids();
const wanted = ref('');
/** Rows of one group that are shown at once. */
const MOST = 300;

interface Row {
  ref: SolidRef;
  name: string;
  problem: boolean;
}
const branchOf = ({ shape }: BodySolid) =>
  shape.kind === 'file' ? shape.key.split(' / ').slice(0, -1).join(' / ') : '';

const groups = computed(() => {
  const search = wanted.value.trim().toLowerCase();
  const bodies = machine.document?.mechanism.bodies ?? [];
  const carriers = [
    { id: UNASSIGNED, name: 'Not assigned' },
    { id: GROUND, name: 'Ground' },
    ...bodies.filter(({ solids: own }) => own?.length).map(({ id, name }) => ({ id, name })),
  ];
  return carriers.flatMap(({ id: carrier, name }) => {
    const own = geometry.all.filter((all) => all.carrier === carrier);
    const shown = own.filter(({ solid }) => search === '' || solid.name.toLowerCase().includes(search) || branchOf(solid).toLowerCase().includes(search)); // prettier-ignore
    if (shown.length === 0) return [];
    const branches = new Map<string, Row[]>();
    for (const { solid } of shown.slice(0, MOST)) {
      const rows = branches.get(branchOf(solid)) ?? [];
      branches.set(branchOf(solid), rows);
      const problem = solid.shape.kind === 'file' && solid.shape.problem !== null;
      rows.push({ ref: { carrier, id: solid.id }, name: solid.name, problem });
    }
    return [{ carrier, name, count: own.length, shown: shown.length, refs: shown.map(({ solid }) => ({ carrier, id: solid.id })), branches: [...branches] }]; // prettier-ignore
  });
});
const keyOf = ({ carrier, id }: SolidRef) => `${carrier}/${id}`;
const chosen = computed(() => new Set(solids.chosen.map(keyOf)));
const found = computed(() => groups.value.flatMap(({ refs }) => refs));
/** All of a branch, whatever it moves with by now. */
const ofBranch = (branch: string): SolidRef[] =>
  geometry.all.flatMap(({ carrier, solid }) => {
    const own = branchOf(solid);
    return own === branch || own.startsWith(`${branch} / `) ? [{ carrier, id: solid.id }] : [];
  });
const lastOf = (branch: string) => branch.split(' / ').at(-1);
</script>

<template>
  <section class="panel list" aria-label="Solids">
    <div v-if="geometry.all.length > 0" class="search">
      <ElInput v-model="wanted" size="small" placeholder="Name or branch" aria-label="Find solids" clearable />
      <button
        v-if="wanted.trim() !== ''"
        type="button"
        class="plain link"
        @click="solids.choose(found, $event.shiftKey)"
      >
        Choose {{ found.length }}
      </button>
    </div>
    <template v-for="group in groups" :key="group.carrier">
      <h3>
        <span class="swatch" :class="group.carrier === UNASSIGNED ? 'open' : group.carrier === GROUND ? 'still' : ''" />
        <button type="button" class="plain" @click="solids.choose(group.refs, $event.shiftKey)">
          {{ group.name }} <span class="soft">{{ group.count }}</span>
        </button>
      </h3>
      <template v-for="[branch, rows] in group.branches" :key="branch">
        <button
          v-if="branch !== ''"
          type="button"
          class="plain branch"
          :title="`All of the branch ${branch}`"
          @click="solids.choose(ofBranch(branch), $event.shiftKey)"
        >
          {{ lastOf(branch) }}
        </button>
        <ul>
          <li v-for="row in rows" :key="row.ref.id">
            <button
              type="button"
              class="plain"
              :class="{ on: chosen.has(keyOf(row.ref)) }"
              @click="solids.choose([row.ref], $event.shiftKey)"
            >
              {{ row.name }}<span v-if="row.problem" class="bad"> !</span>
            </button>
          </li>
        </ul>
      </template>
      <p v-if="group.shown > MOST" class="soft more">… and {{ group.shown - MOST }} more: find them by name.</p>
    </template>
    <p v-if="geometry.all.length > 0 && groups.length === 0" class="soft">No solid has that in its name or branch.</p>
    <p v-if="geometry.all.length === 0" class="soft">
      No solids yet. Import a STEP, STL, OBJ or glTF file, or add a box, cylinder, tube or ball of your own.
    </p>
  </section>
</template>

<style scoped>
.list {
  overflow: auto;
  min-height: 0;
  padding: 8px 10px;
}
.search {
  display: flex;
  gap: 6px;
  align-items: center;
}
.search .link {
  flex: none;
  font: 13.5px var(--narrow);
  color: var(--primary);
  text-decoration: underline;
}
h3 {
  display: flex;
  align-items: center;
  gap: 6px;
  margin: 10px 0 2px;
}
h3 button {
  font: inherit;
}
.swatch {
  width: 9px;
  height: 9px;
  border: 1px solid var(--ink);
  background: var(--panel);
}
.swatch.open {
  background: var(--attention);
}
.swatch.still {
  background: var(--ink-soft);
}
ul {
  list-style: none;
  margin: 0;
  padding: 0 0 0 6px;
}
.branch {
  display: block;
  padding: 1px 6px;
  font: 12.5px var(--narrow);
  color: var(--primary);
}
li button {
  width: 100%;
  text-align: left;
  padding: 1px 6px;
  border-radius: var(--radius);
  font: 13.5px var(--narrow);
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
li button:hover {
  background: var(--sunken);
}
li button.on {
  background: var(--primary-soft);
}
.more {
  font-size: 12.5px;
}
</style>
