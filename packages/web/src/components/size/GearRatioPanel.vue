<script setup lang="ts">
import { bestRatio, formatNumber, formatQuantity, gearboxOf, percent, toDisplay, type SweptRatio } from '@yoke/core';
import { ElButton } from 'element-plus';
import { computed, ref, shallowRef } from 'vue';
import CurveStack, { type CurvePanel } from '@/components/CurveStack.vue';
import { useMachine } from '@/stores/machine';
import { useWork } from '@/stores/work';

/** The gear ratio swept on what the axis moves: mass, inertia ratio and margin of the motor that ranks first at each. */
const machine = useMachine();
const work = useWork();
const busy = ref(false);
const message = ref('');
const swept = shallowRef<readonly SweptRatio[]>([]);
/** The document that was swept: what is said holds for it alone. */
const sweptFor = shallowRef<unknown>(null);

async function sweep(): Promise<void> {
  const asked = machine.document;
  busy.value = true;
  message.value = '';
  try {
    const found = await work.sweepRatios(machine.axis!.id);
    if (asked !== machine.document) message.value = 'The machine was changed meanwhile: sweep again.';
    else if (typeof found === 'string') message.value = found;
    else {
      swept.value = found;
      sweptFor.value = asked;
    }
  } catch (error) {
    message.value = (error as Error).message;
  } finally {
    busy.value = false;
  }
}
const current = computed(() => (sweptFor.value === machine.document ? swept.value : []));
const best = computed(() => bestRatio(current.value, machine.axis!.sizing.rankBy));
/** Ratios with a motor that fits, and those next to them. */
const shown = computed(() => {
  const all = current.value;
  return all.filter(
    ({ best: own, isPresent }, i) =>
      own.fits || isPresent || (all[i - 1]?.best.fits ?? false) || (all[i + 1]?.best.fits ?? false),
  );
});
const panels = computed<CurvePanel[]>(() => {
  if (shown.value.length < 2) return [];
  const of = (value: (row: SweptRatio) => number) =>
    Float64Array.from(shown.value, (row) => (row.best.fits ? value(row) : NaN));
  const colour = `--axis-${machine.axis!.colour}`;
  const panel = (title: string, unit: string, values: Float64Array): CurvePanel => ({
    id: title,
    title,
    unit,
    curves: [{ label: title, colour, values }],
  });
  return [
    panel('Mass of the motor', machine.units === 'inch' ? 'lb' : 'kg', of(({ best: own }) => toDisplay(own.mass, 'mass', machine.units))), // prettier-ignore
    panel(
      'Load to motor inertia',
      '',
      of(({ inertiaRatio }) => inertiaRatio),
    ),
    panel(
      'Least margin over what is wanted',
      '%',
      of(({ margin }) => 100 * Math.min(margin, 3)),
    ),
  ];
});
const times = computed(() => Float64Array.from(shown.value, ({ ratio }) => ratio));
const span = computed(() => ({ from: times.value[0] ?? 1, to: times.value.at(-1) ?? 2, name: 'gear ratio', unit: 'motor : output', log: true })); // prettier-ignore

function take({ ratio, best: own }: SweptRatio): void {
  message.value =
    machine.editAxis('take a gear ratio', (draft) => {
      if (draft.gearbox || ratio !== 1) draft.gearbox = gearboxOf(draft, ratio);
      draft.sizing.motor = own.motor.type;
    }) ?? '';
  if (message.value === '') message.value = `Taken: ratio ${formatNumber(ratio)} with ${own.motor.type}.`;
}
</script>

<template>
  <div class="ratio">
    <p class="soft intro">
      Sweeps the gear ratio on all that {{ machine.axis!.name }} moves, and ranks the catalogue at each.
      <template v-if="!machine.axis!.gearbox"> The axis has no gearbox: one as it begins in Build is tried.</template>
    </p>
    <div class="head">
      <ElButton type="primary" :loading="busy" @click="sweep">Sweep the gear ratio</ElButton>
      <ElButton v-if="best && !best.isPresent" @click="take(best)">
        Take {{ formatNumber(best.ratio) }} with {{ best.best.motor.type }}
      </ElButton>
      <span v-else-if="best" class="soft">The ratio the axis has is the best of those tried.</span>
    </div>
    <p v-if="message" class="said" role="status">{{ message }}</p>
    <p v-if="current.length > 0 && !best" class="bad" role="alert">
      No motor of the catalogue fits at any ratio tried, 1 to 100.
    </p>
    <div v-if="shown.length > 0" class="found">
      <div class="table">
        <table class="rows" aria-label="Gear ratios">
          <thead>
            <tr>
              <th scope="col" class="number">Ratio</th>
              <th scope="col">Motor</th>
              <th scope="col" class="number">mass</th>
              <th scope="col" class="number" data-word="Inertia ratio">inertia</th>
              <th scope="col" class="number" data-word="Margin">margin</th>
              <th scope="col" />
            </tr>
          </thead>
          <tbody>
            <tr v-for="row in shown" :key="row.ratio" :class="{ best: row === best, fails: !row.best.fits }">
              <td class="number">{{ formatNumber(row.ratio) }}</td>
              <td>{{ row.best.fits ? row.best.motor.type : 'none fits' }}</td>
              <td class="number">
                {{ row.best.fits ? formatQuantity(row.best.mass, 'mass', machine.units, 3) : '' }}
              </td>
              <td class="number">{{ row.best.fits ? formatNumber(Number(row.inertiaRatio.toPrecision(3))) : '' }}</td>
              <td class="number">
                {{ row.best.fits ? (row.margin > 9.99 ? '> 10 ×' : `+${percent(row.margin)}`) : '' }}
              </td>
              <td>
                <span v-if="row.isPresent" class="soft">now</span>
                <ElButton
                  v-else-if="row.best.fits"
                  size="small"
                  :aria-label="`Take ${formatNumber(row.ratio)} with ${row.best.motor.type}`"
                  @click="take(row)"
                  >Take</ElButton
                >
              </td>
            </tr>
          </tbody>
        </table>
      </div>
      <CurveStack v-if="panels.length > 0" :panels :times :span />
    </div>
  </div>
</template>

<style scoped>
.ratio {
  display: grid;
  grid-template-rows: auto auto auto auto minmax(0, 1fr);
  gap: 6px;
  min-height: 0;
  flex: 1;
}
.intro {
  font-size: 12.5px;
}
.head {
  display: flex;
  gap: 8px;
  align-items: center;
}
.head :deep(.el-button) {
  margin: 0;
}
.found {
  grid-row: 5;
  display: grid;
  grid-template: minmax(0, 1fr) / minmax(300px, 1.1fr) minmax(0, 1fr);
  gap: 10px;
  min-height: 0;
}
.table {
  overflow: auto;
  min-height: 0;
}
td {
  padding: 1px 4px;
}
tr.best {
  background: var(--good-soft);
}
tr.fails {
  color: var(--ink-soft);
}
.said {
  font-size: 12.5px;
}
</style>
