<script setup lang="ts">
import { addBar, addCoupling, addDisc, type Body, type Coupling, type Mechanism } from '@yoke/core';
import { ElButton } from 'element-plus';
import { computed, ref } from 'vue';
import ChoiceField from '@/components/ChoiceField.vue';
import QuantityField from '@/components/QuantityField.vue';
import ToggleField from '@/components/ToggleField.vue';
import { useBoard } from '@/stores/board';
import MobilityPanel from './MobilityPanel.vue';

/** The mechanism as a whole: mobility, gravity, couplings to be added. */
const board = useBoard();
const gravity = computed(() => board.mechanism!.gravity);
const wanted = ref<Coupling['kind']>('gear');

/** A body in the middle of what is seen, for those who type rather than draw. */
function add(label: string, make: (m: Mechanism, x: number, y: number, size: number) => Body): void {
  const { x, y, scale } = board.view ?? { x: 0, y: 0, scale: 1000 };
  const snap = (v: number) => Number((Math.round(v / board.grid) * board.grid).toPrecision(12));
  board.draw(label, (draft) =>
    board.select(make(draft.mechanism as Mechanism, snap(x), snap(y), snap(100 / scale)).id),
  );
}
const addABar = () => add('add a bar', (m, x, y, size) => addBar(m, [x - size / 2, y], [x + size / 2, y]));
const addADisc = () => add('add a disc', (m, x, y, size) => addDisc(m, [x, y], size / 2));

const COUPLINGS: { value: Coupling['kind']; label: string }[] = [
  { value: 'gear', label: 'Gear pair' },
  { value: 'belt', label: 'Belt' },
  { value: 'rack', label: 'Rack and pinion' },
  { value: 'screw', label: 'Screw' },
  { value: 'ratio', label: 'Ratio' },
  { value: 'indexer', label: 'Indexing wheel' },
];

function couple(): void {
  const pins = board.mechanism!.joints.filter(({ kind }) => kind === 'pin');
  const slides = board.mechanism!.joints.filter(({ kind }) => kind === 'slide' || kind === 'slot' || kind === 'guide');
  const moving = board.mechanism!.joints.filter(({ kind }) => kind !== 'weld');
  const kind = wanted.value;
  const chosen = board.selection.filter((id) => moving.some((j) => j.id === id));
  const first = pins.find(({ id }) => chosen.includes(id)) ?? pins[0] ?? moving[0];
  const seconds = kind === 'rack' || kind === 'screw' ? slides : kind === 'ratio' ? moving : pins;
  const second =
    seconds.find(({ id }) => id !== first?.id && chosen.includes(id)) ?? seconds.find(({ id }) => id !== first?.id);
  if (!first || !second) {
    board.message = `${COUPLINGS.find(({ value }) => value === kind)!.label}: two joints are needed, ${kind === 'rack' || kind === 'screw' ? 'a pin and a slide' : kind === 'ratio' ? 'of any kind' : 'both pins'}.`;
    return;
  }
  const pair = { first: first.id, second: second.id };
  board.draw('add a coupling', (draft) => {
    const m = draft.mechanism as Mechanism;
    const crank = m.bodies.find(({ id }) => id === first.b.body);
    const made = addCoupling(
      m,
      kind === 'gear'
        ? { kind, ...pair, radius1: 0.02, radius2: 0.04, inside: false }
        : kind === 'belt'
          ? { kind, ...pair, radius1: 0.02, radius2: 0.02, crossed: false }
          : kind === 'rack'
            ? { kind, ...pair, radius: 0.02 }
            : kind === 'screw'
              ? { kind, ...pair, lead: 0.005 }
              : kind === 'ratio'
                ? { kind, ...pair, ratio: 1 }
                : { kind, ...pair, pin: crank?.points.at(-1)?.id ?? 'p1', slots: 6 },
    );
    board.select(made.id);
  });
}
</script>

<template>
  <MobilityPanel />
  <h3>Add by numbers</h3>
  <div class="actions">
    <ElButton size="small" @click="addABar">Add a bar</ElButton>
    <ElButton size="small" @click="addADisc">Add a disc</ElButton>
  </div>
  <h3>Gravity</h3>
  <div class="fields three">
    <ToggleField
      :value="gravity.on"
      label="On"
      @change="(v) => board.draw('gravity', (d) => void (d.mechanism.gravity.on = v))"
    />
    <QuantityField
      :value="gravity.magnitude"
      kind="gravity"
      label="Strength"
      :commit="(v) => board.draw('gravity', (d) => void (d.mechanism.gravity.magnitude = v!))"
    />
    <QuantityField
      :value="gravity.angle"
      kind="angle"
      label="Direction"
      :commit="(v) => board.draw('gravity', (d) => void (d.mechanism.gravity.angle = v!))"
    />
  </div>
  <h3>Couplings</h3>
  <div class="couple">
    <ChoiceField bare :value="wanted" label="Kind of coupling" :options="COUPLINGS" @choose="wanted = $event" />
    <ElButton size="small" @click="couple">Add a coupling</ElButton>
  </div>
  <p class="note">Choose two joints first (Shift adds to the choice) to couple them.</p>
</template>

<style scoped>
@import './panel.css';
.couple {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 8px;
  align-items: center;
  margin-bottom: 4px;
}
</style>
