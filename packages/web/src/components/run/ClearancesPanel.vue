<script setup lang="ts">
import { formatQuantity, GROUND, type PairClearance } from '@yoke/core';
import { ElButton } from 'element-plus';
import { computed, ref } from 'vue';
import { ChoiceField, ManyField, NameField, QuantityField, ToggleField } from '@/components/fields';
import { useBoard, useClearance, useMachine, useRun } from '@/stores';
import GapCurve from './GapCurve.vue';

/** How near bodies come to each other on their true shapes: what is watched, all pairs in one action, what touches by design. */
const clearance = useClearance();
const machine = useMachine();
const results = useRun();
const board = useBoard();
const how = ref<'exact' | 'quick'>('exact');
const refused = ref('');
const bodies = computed(() => machine.document?.mechanism.bodies ?? []);
const choices = computed(() => [
  ...(clearance.skins?.has(GROUND) ? [{ id: GROUND, name: 'Ground' }] : []),
  ...bodies.value.map(({ id, name }) => ({ id, name })),
]);
const first = ref<string[]>([]);
const second = ref<string[]>([]);
/** What is chosen on the board comes in. */
function fromBoard(): void {
  const chosen = board.selection.filter((id) => bodies.value.some((own) => own.id === id));
  first.value = chosen.slice(0, 1);
  second.value = chosen.slice(1);
}
if (board.selection.length > 0) fromBoard();
const long = (value: number) => formatQuantity(value, 'length', machine.units, 4);
const when = (value: number) => formatQuantity(value, 'time', machine.units);
const say = (problem: string | null) => void (refused.value = problem ?? '');
function watchThem(): void {
  say(clearance.addWatch([...first.value], [...second.value]));
  first.value = [];
  second.value = [];
}
const watchPair = ({ a, b }: PairClearance) => say(clearance.addWatch([a], [b]));
const plain = (id: string) => (id === GROUND ? 'Ground' : (bodies.value.find((own) => own.id === id)?.name ?? id));
const all = computed(() => {
  const found = clearance.all;
  if (!found) return null;
  const there = (id: string) => id === GROUND || bodies.value.some((own) => own.id === id);
  const open = found.pairs.filter(({ a, b }) => there(a) && there(b) && !clearance.kept.byDesign.some((pair) => pair.includes(a) && pair.includes(b))); // prettier-ignore
  return { open, how: found.how, old: found.run !== results.run || found.skins !== clearance.skins || results.stale };
});
const isWatched = ({ a, b }: PairClearance) =>
  clearance.kept.watches.some((own) => (own.a.includes(a) && own.b.includes(b)) || (own.a.includes(b) && own.b.includes(a))); // prettier-ignore
const resultOf = (id: string) => clearance.watched.find(({ watch }) => watch.id === id);
const timeOf = (found: PairClearance) => found.meetsFrom ?? found.least.time;
/** Rows that are shown at once. */
const MOST = 60;
</script>

<template>
  <div class="clearances">
    <p v-if="clearance.progress !== null" role="status" class="busy">
      Clearances are computed: {{ Math.round(clearance.progress * 100) }} %
      <ElButton size="small" @click="clearance.stop()">Stop</ElButton>
    </p>
    <p v-if="clearance.failure" class="bad" role="alert">
      {{ clearance.failure }}
      <ElButton v-if="clearance.kept.watches.length > 0" size="small" @click="clearance.again()"
        >Compute again</ElButton
      >
    </p>
    <p v-if="refused" class="bad" role="alert">{{ refused }}</p>
    <section
      v-for="watch in clearance.kept.watches"
      :key="watch.id"
      class="watch"
      :aria-label="`Watched: ${watch.name}`"
    >
      <div class="row">
        <NameField
          class="name"
          :value="watch.name"
          label="Name"
          :commit="(name: string) => clearance.changeWatch(watch.id, (own) => void (own.name = name))"
        />
        <QuantityField
          :value="watch.least"
          kind="length"
          label="At least"
          :min="0"
          :commit="(value) => clearance.changeWatch(watch.id, (own) => void (own.least = value!))"
        />
        <ToggleField
          :value="watch.stop"
          label="Collision ends the run"
          @change="(on) => say(clearance.changeWatch(watch.id, (own) => void (own.stop = on)))"
        />
        <ElButton size="small" @click="say(clearance.dropWatch(watch.id))">Watch no more</ElButton>
      </div>
      <p class="pair soft">{{ watch.a.map(plain).join(', ') }} against {{ watch.b.map(plain).join(', ') }}</p>
      <GapCurve
        v-if="resultOf(watch.id)"
        :found="resultOf(watch.id)!"
        @look="(time) => clearance.look([resultOf(watch.id)!.nearest.a, resultOf(watch.id)!.nearest.b], time)"
      />
    </section>
    <div class="row new">
      <ManyField :value="first" label="Bodies" :options="choices" @choose="first = $event" />
      <ManyField :value="second" label="against" :options="choices" @choose="second = $event" />
      <ElButton size="small" :disabled="first.length === 0 || second.length === 0" @click="watchThem">
        Watch them
      </ElButton>
    </div>
    <div class="row new">
      <ChoiceField
        :value="how"
        label="All pairs"
        :options="{ exact: 'On true shapes (exact)', quick: 'On hulls (quick, never larger)' }"
        @choose="how = $event"
      />
      <ElButton
        size="small"
        :disabled="results.stale || !results.run || clearance.progress !== null"
        @click="clearance.searchAll(how)"
      >
        Search all pairs
      </ElButton>
    </div>
    <template v-if="all">
      <p v-if="all.old" class="soft">The machine has changed since: search again.</p>
      <table v-else class="rows" aria-label="All pairs">
        <thead>
          <tr>
            <th>Pair ({{ all.how === 'exact' ? 'true shapes' : 'hulls' }})</th>
            <th class="number">Least</th>
            <th class="number">At</th>
            <th />
          </tr>
        </thead>
        <tbody>
          <tr v-for="found in all.open.slice(0, MOST)" :key="`${found.a} ${found.b}`">
            <td>
              <button type="button" class="plain link" @click="clearance.look([found.a, found.b], timeOf(found))">
                {{ plain(found.a) }} – {{ plain(found.b) }}
              </button>
            </td>
            <td class="number" :class="{ bad: found.meetsFrom !== null }">
              {{ found.meetsFrom !== null ? 'touch' : long(found.least.distance) }}
            </td>
            <td class="number">{{ when(timeOf(found)) }}</td>
            <td>
              <div class="acts">
                <ElButton v-if="!isWatched(found)" size="small" @click="watchPair(found)">Watch</ElButton>
                <ElButton
                  v-if="found.meetsFrom !== null"
                  size="small"
                  title="They touch by design: left out from here on"
                  @click="say(clearance.leaveOut([found.a, found.b]))"
                >
                  By design
                </ElButton>
              </div>
            </td>
          </tr>
        </tbody>
      </table>
      <p v-if="!all.old" class="soft more">
        Pairs that a joint ties are looked at now and then here; watched, they are followed all the way.
      </p>
      <p v-if="!all.old && all.open.length > MOST" class="soft">… and {{ all.open.length - MOST }} farther apart.</p>
    </template>
    <p v-if="clearance.kept.byDesign.length > 0" class="design">
      Touch by design, left out:
      <span v-for="pair in clearance.kept.byDesign" :key="pair.join(' ')" class="tag">
        {{ plain(pair[0]) }} – {{ plain(pair[1]) }}
        <button
          type="button"
          class="plain"
          :aria-label="`Look at ${plain(pair[0])} and ${plain(pair[1])} again`"
          @click="say(clearance.takeIn(pair))"
        >
          ×
        </button>
      </span>
    </p>
  </div>
</template>

<style scoped>
.clearances {
  display: grid;
  gap: 8px;
  padding-top: 8px;
}
.watch {
  display: grid;
  gap: 4px;
  padding-bottom: 8px;
  border-bottom: 1px solid var(--line-soft);
}
.row {
  display: grid;
  grid-template-columns: minmax(0, 1.2fr) 110px auto auto;
  gap: 8px;
  align-items: end;
}
.row.new {
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr) auto;
}
.row.new > :first-child:nth-last-child(2) {
  grid-column: span 2;
}
.pair,
.busy,
.design {
  margin: 0;
  font-size: 12.5px;
}
.acts {
  display: flex;
  gap: 4px;
  justify-content: flex-end;
}
.acts :deep(.el-button) {
  margin: 0;
  height: 22px;
  padding: 0 7px;
}
.link {
  color: var(--primary);
}
.tag {
  margin-left: 6px;
  padding: 0 5px;
  border: 1px solid var(--line);
  border-radius: var(--radius);
  white-space: nowrap;
}
</style>
