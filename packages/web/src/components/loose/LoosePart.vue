<script setup lang="ts">
import { everydayDensity, everydayPair, HANDLERS, isPair, LOOSE_LISTS, type LooseList } from '@yoke/core';
import { PenLine, Plus } from '@lucide/vue';
import { computed, ref } from 'vue';
import { DeleteButton, IconButton, NameField, QuantityField } from '@/components/fields';
import { useLoose, useMachine } from '@/stores';
import LooseFields from './LooseFields.vue';
import SolidsTable from './SolidsTable.vue';

/** Loose parts: what they are, where they come from and go to, and what they touch. */
const machine = useMachine();
const store = useLoose();
const message = ref('');
const loose = computed(() => machine.document!.loose);
const items = (list: LooseList) => loose.value[list] as readonly { id: string; name: string }[];
const say = (problem: string | null) => (message.value = problem ?? '');

/** Lets parts move in space, or in the front plane alone again. */
const move = (how: string) =>
  say(
    store.edit('how parts move', (l) => {
      if (how === 'space') l.space = true;
      else delete l.space;
    }),
  );
const nameOf = (id: string) => loose.value.materials.find((m) => m.id === id)?.name ?? '';
/** A new material brings its pairs with the others, with everyday values where they are known. */
const addMaterial = () =>
  say(
    store.edit('a new material', (l) => {
      const id = `m${Math.max(0, ...l.materials.map((m) => Number(/^\D*(\d+)$/.exec(m.id)?.[1] ?? 0))) + 1}`;
      l.materials.push({ id, name: `material ${l.materials.length + 1}` });
    }),
  );
function rename(id: string, name: string): string | null {
  return store.edit('name of a material', (l) => {
    const material = l.materials.find((m) => m.id === id)!;
    material.name = name;
    const density = everydayDensity(name);
    if (material.density === undefined && density !== null) material.density = density;
    for (const other of l.materials) {
      const known = everydayPair(name, other.name);
      if (known && !l.pairs.some((p) => isPair(p, id, other.id)))
        l.pairs.push({
          id: `p${l.pairs.length + 1}x${id}`,
          a: id,
          b: other.id,
          friction: known.friction,
          restitution: known.restitution,
        });
    }
  });
}
const setDensity = (id: string, value: number | null) =>
  store.edit('density of a material', (l) => {
    const material = l.materials.find((m) => m.id === id)!;
    if (value === null) delete material.density;
    else material.density = value;
  });
/** A material that something is made of stays. */
function removeMaterial(id: string): void {
  const { kinds, surfaces, belts, platforms, solids } = loose.value;
  const users = [...kinds, ...surfaces, ...belts, ...platforms].filter(({ material }) => material === id);
  if (users.length > 0 || solids.some(({ material }) => material === id)) {
    say(`${nameOf(id)} stays: ${users.map(({ name }) => name).join(', ') || 'a body'} is made of it.`);
    return;
  }
  say(
    store.edit('a material less', (l) => {
      l.materials = l.materials.filter((m) => m.id !== id);
      l.pairs = l.pairs.filter(({ a, b }) => a !== id && b !== id);
    }),
  );
}
function addPair(): void {
  const { materials, pairs } = loose.value;
  const free = materials
    .flatMap((a, i) => materials.slice(i).map((b) => [a.id, b.id] as const))
    .find(([a, b]) => !pairs.some((p) => isPair(p, a, b)));
  if (!free) {
    say('Every pair of materials has its values already.');
    return;
  }
  const known = everydayPair(nameOf(free[0]), nameOf(free[1]));
  say(
    store.edit(
      'a new pair',
      (l) =>
        void l.pairs.push({
          id: `p${Date.now().toString(36)}`,
          a: free[0],
          b: free[1],
          friction: known?.friction ?? 0.3,
          restitution: known?.restitution ?? 0.2,
        }),
    ),
  );
}
</script>

<template>
  <section class="panel parts-panel" aria-label="Loose parts">
    <p v-if="message" class="bad" role="alert">{{ message }}</p>
    <div class="columns">
      <div class="lists">
        <template v-for="key in LOOSE_LISTS" :key>
          <h3>
            {{ HANDLERS[key].many }}
            <IconButton
              :icon="Plus"
              :size="14"
              :aria-label="`Add: ${HANDLERS[key].many}`"
              :title="`Add: ${HANDLERS[key].many}`"
              @click="say(store.add(key))"
            />
            <IconButton
              v-if="key === 'surfaces'"
              :icon="PenLine"
              :size="14"
              aria-label="Draw a chute, ramp or stop in the picture"
              title="Draw it in the picture: click its corners"
              :aria-pressed="store.drawn !== null"
              @click="store.drawn === null ? store.beginDrawing() : store.giveUp()"
            />
          </h3>
          <ul>
            <li v-for="item in items(key)" :key="item.id">
              <button
                type="button"
                class="plain"
                :class="{ chosen: store.chosen?.id === item.id && store.chosen.list === key }"
                @click="store.chosen = { list: key, id: item.id }"
              >
                {{ item.name }}
              </button>
            </li>
          </ul>
        </template>
      </div>
      <div class="details">
        <p class="moves">
          <label>
            Parts move
            <select
              :value="loose.space ? 'space' : 'plane'"
              aria-label="Parts move"
              @change="move(($event.target as HTMLSelectElement).value)"
            >
              <option value="plane">in the front plane</option>
              <option value="space">in space</option>
            </select>
          </label>
          <span class="soft">{{
            loose.space
              ? 'They tumble, roll off sideways and meet bodies of every plane; runs take about twice as long.'
              : 'Quick, and enough where nothing leaves the plane: what has a depth counts as flat.'
          }}</span>
        </p>
        <LooseFields v-if="store.chosen" :key="store.chosen.id" @problem="say($event)" />
        <p v-else class="soft">
          Choose something on the left or in the picture, or add it with +. Parts come from sources, ride on belts,
          slide on chutes, and end in sinks.
        </p>
        <h3>
          Materials
          <IconButton :icon="Plus" :size="14" aria-label="Add a material" title="Add a material" @click="addMaterial" />
        </h3>
        <div class="materials">
          <div v-for="m in loose.materials" :key="m.id" class="material">
            <NameField bare :value="m.name" label="Material" :commit="(name) => rename(m.id, name)" />
            <QuantityField
              bare
              optional
              class="density"
              :value="m.density ?? null"
              kind="density"
              :label="`Density of ${m.name}`"
              placeholder="density"
              :min="1e-3"
              :commit="(value) => setDensity(m.id, value)"
            />
            <DeleteButton :label="`Delete ${m.name}`" @click="removeMaterial(m.id)" />
          </div>
        </div>
        <h3>
          Pairs of materials
          <IconButton :icon="Plus" :size="14" aria-label="Add a pair" title="Add a pair" @click="addPair" />
        </h3>
        <table v-if="loose.pairs.length > 0" class="rows">
          <thead>
            <tr>
              <th>Between</th>
              <th class="number">Friction</th>
              <th class="number">Bounce</th>
              <th />
            </tr>
          </thead>
          <tbody>
            <tr v-for="(pair, i) in loose.pairs" :key="pair.id">
              <td>{{ nameOf(pair.a) }} – {{ nameOf(pair.b) }}</td>
              <td>
                <QuantityField
                  bare
                  :value="pair.friction"
                  kind="number"
                  label="Friction"
                  :min="0"
                  :max="10"
                  :commit="(v) => store.edit('friction', (l) => void (l.pairs[i]!.friction = v!))"
                />
              </td>
              <td>
                <QuantityField
                  bare
                  :value="pair.restitution"
                  kind="number"
                  label="Bounce"
                  :min="0"
                  :max="1"
                  :commit="(v) => store.edit('bounce', (l) => void (l.pairs[i]!.restitution = v!))"
                />
              </td>
              <td class="number">
                <DeleteButton
                  label="Delete the pair"
                  @click="say(store.edit('a pair less', (l) => void l.pairs.splice(i, 1)))"
                />
              </td>
            </tr>
          </tbody>
        </table>
        <p class="note">
          A pair without values counts with 0.3 and 0.2. Everyday pairs (steel, rubber, wood, polyethylene, cardboard …)
          and densities are filled in from handbooks when a material gets such a name; measure what matters.
        </p>
        <SolidsTable @problem="say($event)" />
      </div>
    </div>
  </section>
</template>

<style scoped>
.parts-panel {
  padding: 8px 10px;
  min-height: 0;
  overflow: hidden;
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
}
.columns {
  grid-row: 2;
  display: grid;
  grid-template-columns: 190px minmax(0, 1fr);
  gap: 14px;
  min-height: 0;
}
.lists,
.details {
  overflow: auto;
  min-height: 0;
}
h3 {
  display: flex;
  align-items: center;
  gap: 4px;
  margin: 6px 0 1px;
}
h3 .icon-button {
  width: 22px;
  height: 22px;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li button {
  width: 100%;
  text-align: left;
  padding: 2px 8px;
  font: 13.5px var(--narrow);
  border-radius: 3px;
}
li button.chosen {
  background: var(--sunken);
  box-shadow: inset 3px 0 var(--primary);
}
.moves {
  display: flex;
  gap: 10px;
  align-items: baseline;
  margin: 2px 0 8px;
}
.moves label {
  white-space: nowrap;
}
.moves select {
  font: 13px var(--narrow);
  color: inherit;
  background: var(--panel);
  border: 1px solid var(--line);
  border-radius: var(--radius);
  padding: 2px 4px;
}
.materials {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(250px, 1fr));
  gap: 6px;
}
.material {
  display: flex;
  align-items: center;
}
.material > :first-child {
  flex: 1;
}
.density {
  width: 120px;
}
.note {
  font-size: 12.5px;
  color: var(--ink-soft);
  margin: 4px 0;
}
td :deep(.el-input) {
  max-width: 110px;
}
</style>
