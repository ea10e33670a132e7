<script setup lang="ts">
import {
  CHECK_LABELS,
  CRITERION_LABELS,
  explainCandidate,
  explainRanking,
  formatQuantity,
  type RankingCriterion,
  type SizingWishes,
} from '@yoke/core';
import { ElButton } from 'element-plus';
import { computed, ref, watch } from 'vue';
import BrokenNote from '@/components/BrokenNote.vue';
import { ChoiceField, QuantityField } from '@/components/fields';
import NoAxis from '@/components/NoAxis.vue';
import CataloguePanel from '@/components/size/CataloguePanel.vue';
import GearRatioPanel from '@/components/size/GearRatioPanel.vue';
import RankingTable from '@/components/size/RankingTable.vue';
import TorqueSpeedChart from '@/components/size/TorqueSpeedChart.vue';
import { useCatalogue, useMachine, useRun } from '@/stores';

const machine = useMachine();
const results = useRun();
const catalogue = useCatalogue();
const shownType = ref<string | null>(null);
/** Whether the gear ratio is looked at rather than a motor. */
const sweeping = ref(false);
const wishes = computed(() => machine.axis!.sizing);

const shown = computed(
  () =>
    results.ranking.find(({ motor }) => motor.type === shownType.value) ??
    results.ranking.find(({ motor }) => motor.type === wishes.value.motor) ??
    results.ranking[0],
);
watch(
  () => machine.axis?.id,
  () => (shownType.value = null),
);

const broken = computed(() => results.brokenFor(machine.axis ?? undefined));

const criteria = (Object.entries(CRITERION_LABELS) as [RankingCriterion, string][]).map(([value, label]) => ({
  value,
  label,
}));
const brakes = [
  { value: 'auto', label: 'if it sinks' },
  { value: 'always', label: 'always' },
  { value: 'never', label: 'never' },
] as const;

const set = <K extends keyof SizingWishes>(key: K, value: SizingWishes[K]) =>
  machine.editAxis('change the wishes', (draft) => void Object.assign(draft.sizing, { [key]: value }));
const choose = (type: string | null) =>
  machine.editAxis(type ? 'choose a motor' : 'choose no motor', (draft) => void (draft.sizing.motor = type));
const show = (value: number, kind: Parameters<typeof formatQuantity>[1]) =>
  formatQuantity(value, kind, machine.units, 3);
</script>

<template>
  <NoAxis v-if="!machine.axis" />
  <div v-else class="stage size">
    <div class="left">
      <section class="panel wishes" aria-label="Wishes">
        <QuantityField
          :value="wishes.torqueReserve"
          kind="ratio"
          label="Torque reserve"
          :min="0"
          :max="5"
          :commit="(v) => set('torqueReserve', v!)"
        />
        <QuantityField
          :value="wishes.speedReserve"
          kind="ratio"
          label="Speed reserve"
          :min="0"
          :max="5"
          :commit="(v) => set('speedReserve', v!)"
        />
        <QuantityField
          :value="wishes.inertiaRatio"
          kind="number"
          label="Inertia ratio to"
          :commit="(v) => set('inertiaRatio', v!)"
        />
        <ChoiceField :value="wishes.brake" label="Brake" :options="brakes" @choose="set('brake', $event)" />
        <ChoiceField
          class="by"
          :value="wishes.rankBy"
          label="Rank by"
          :options="criteria"
          @choose="set('rankBy', $event)"
        />
      </section>
      <section class="panel ranking" aria-label="Ranking">
        <BrokenNote :axis="machine.axis" what="ranked" />
        <p
          v-if="catalogue.state === 'ready' && (results.ranking.length > 0 || !(results.rankingStale || broken))"
          class="why"
        >
          {{ explainRanking(results.ranking, wishes.rankBy, machine.units) }}
        </p>
        <p v-else-if="catalogue.state === 'failed'" class="bad">{{ catalogue.message }}</p>
        <p v-else-if="!broken" class="soft">Reading the catalogue …</p>
        <RankingTable
          :ranking="results.ranking"
          :shown="shown?.motor.type ?? null"
          :chosen="wishes.motor"
          @show="shownType = $event"
        />
      </section>
      <CataloguePanel />
    </div>
    <section v-if="shown && results.run && results.axisRun" class="panel detail" aria-label="Motor">
      <nav class="tabs" aria-label="Motor or gear ratio">
        <button type="button" :aria-pressed="!sweeping" @click="sweeping = false">Motor</button>
        <button type="button" :aria-pressed="sweeping" @click="sweeping = true">Gear ratio</button>
      </nav>
      <GearRatioPanel v-if="sweeping" :key="machine.axis.id" />
      <template v-else>
        <header>
          <h2>
            {{ shown.motor.type }} <span class="soft">family {{ shown.motor.family }}</span>
          </h2>
          <ElButton v-if="wishes.motor === shown.motor.type" size="small" @click="choose(null)">Choose none</ElButton>
          <ElButton
            v-else
            size="small"
            type="primary"
            title="Its rotor is then included in the run"
            @click="choose(shown.motor.type)"
            >Choose this motor</ElButton
          >
        </header>
        <p class="verdict" :class="{ fails: !shown.fits }">{{ explainCandidate(shown, machine.units) }}</p>
        <div class="chart">
          <TorqueSpeedChart
            :candidate="shown"
            :run="results.run"
            :axis-run="results.axisRun"
            :colour="`--axis-${machine.axis.colour}`"
          />
        </div>
        <dl>
          <div>
            <dt>Rated</dt>
            <dd>{{ show(shown.motor.ratedTorque, 'torque') }} at {{ show(shown.motor.ratedSpeed, 'shaftSpeed') }}</dd>
          </div>
          <div>
            <dt>Peak</dt>
            <dd>{{ show(shown.motor.peakTorque, 'torque') }}</dd>
          </div>
          <div>
            <dt>Maximum speed</dt>
            <dd>{{ show(shown.motor.maxSpeed, 'shaftSpeed') }}</dd>
          </div>
          <div>
            <dt>Rotor{{ shown.withBrake ? ' and brake' : '' }}</dt>
            <dd>{{ show(shown.inertia, 'inertia') }}</dd>
          </div>
          <div>
            <dt>Torque constant</dt>
            <dd>{{ show(shown.motor.torqueConstant, 'torqueConstant') }}</dd>
          </div>
          <div>
            <dt>Copper loss, mean</dt>
            <dd>{{ show(shown.loss, 'power') }}</dd>
          </div>
          <div>
            <dt>Thermal time</dt>
            <dd>{{ show(shown.motor.thermalTime, 'time') }}</dd>
          </div>
          <div>
            <dt>{{ CHECK_LABELS.brake }}</dt>
            <dd>{{ shown.motor.brakeTorque === null ? 'not offered' : show(shown.motor.brakeTorque, 'torque') }}</dd>
          </div>
        </dl>
      </template>
    </section>
    <section v-else class="panel soft">
      {{
        catalogue.motors.length === 0
          ? 'No motors to compare.'
          : results.ask
            ? 'Not computed yet: the run asks first, above.'
            : broken
              ? 'No motor is shown: the run is broken.'
              : 'Computing …'
      }}
    </section>
  </div>
</template>

<style scoped>
@import '@/style/parts.css';
.size {
  display: grid;
  grid-template: minmax(0, 1fr) / minmax(0, 560px) minmax(0, 1fr);
  gap: 10px;
  overflow: hidden;
}
.left {
  display: grid;
  grid-template-rows: auto minmax(120px, 1fr) auto;
  gap: 10px;
  min-height: 0;
}
.wishes {
  display: grid;
  grid-template-columns: repeat(3, 82px) 1fr 1.15fr;
  gap: 8px;
  padding: 8px 12px;
  align-items: start;
}
.ranking {
  display: flex;
  flex-direction: column;
  min-height: 0;
  padding: 8px 12px;
}
.why {
  margin-bottom: 6px;
  font-weight: 500;
}
.detail {
  display: flex;
  flex-direction: column;
  gap: 6px;
  min-height: 0;
}
.detail header {
  display: flex;
  justify-content: space-between;
  align-items: center;
}
.detail h2 .soft {
  font-weight: 400;
  font-size: 13px;
  margin-left: 6px;
}
.verdict {
  padding: 6px 10px;
  border-left: 3px solid var(--good);
  background: var(--good-soft);
}
.verdict.fails {
  border-color: var(--bad);
  background: var(--bad-soft);
}
.chart {
  flex: 1;
  min-height: 180px;
}
dl {
  display: grid;
  grid-template-columns: repeat(4, auto);
  gap: 4px 14px;
  margin: 0;
}
dt {
  font: 12px var(--narrow);
  color: var(--ink-soft);
}
dd {
  margin: 0;
  font: 12.5px var(--words);
}
</style>
