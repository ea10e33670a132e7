<script setup lang="ts">
import type { formatQuantity } from '@yoke/core';
import {
  AXIS_KINDS,
  displayUnit,
  formatNumber,
  lawText,
  makeLaw,
  planKnees,
  proposalProblem,
  residualSpectrum,
  toDisplay,
  vibrationResponse,
  type JudgedCandidate,
  type ProposalGoal,
  type ProposalTask,
} from '@yoke/core';
import { ElButton, ElProgress } from 'element-plus';
import 'element-plus/theme-chalk/el-progress.css';
import { computed, ref, shallowRef, watch } from 'vue';
import { ChoiceField, QuantityField } from '@/components/fields';
import CurveStack, { type CurvePanel } from '@/components/CurveStack.vue';
import { useCatalogue, useMachine, useWork, type Proposals } from '@/stores';

/** Plans found by search, each with its price; and what a law leaves swinging on an elastic drive train. */
const machine = useMachine();
const catalogue = useCatalogue();
const work = useWork();
const axis = computed(() => machine.axis!);
const problem = computed(() => proposalProblem(axis.value));
const goal = ref<ProposalGoal>('peak');
const frequency = ref(12);
const damping = ref(0.02);
const found = shallowRef<(Proposals & { axisId: string; goal: ProposalGoal }) | null>(null);
const said = ref<string | null>(null);
const motor = computed(() => catalogue.motors.find(({ type }) => type === axis.value.sizing.motor) ?? null);
const task = computed((): ProposalTask => ({
  axisId: axis.value.id,
  goal: goal.value,
  oscillator: { frequency: frequency.value, damping: damping.value },
  motor: motor.value,
}));
watch(
  () => axis.value.id,
  () => (found.value = null),
);

async function search(): Promise<void> {
  said.value = null;
  const asked = task.value;
  try {
    const proposals = await work.propose(asked);
    if (!proposals) said.value = 'Given up; what was found before stays.';
    else if (proposals.list.length === 0)
      said.value =
        asked.goal === 'time'
          ? 'Nothing holds this axis back: give it limits in Build, or choose its motor in Size.'
          : 'No law keeps the limits of the axis in these times: give the moves more time, or look for the shortest time.';
    else found.value = { ...proposals, axisId: asked.axisId, goal: asked.goal };
  } catch (error) {
    said.value = (error as Error).message;
  }
}

const kinds = computed(() => AXIS_KINDS[axis.value.kind]);
const show = (value: number, kind: Parameters<typeof formatQuantity>[1]) =>
  Number.isFinite(value) ? formatNumber(toDisplay(value, kind, machine.units), 4) : '∞';
const unit = (kind: Parameters<typeof displayUnit>[0]) => displayUnit(kind, machine.units).symbol;
const change = (value: number, now: number) => {
  if (!(now > 0) || !Number.isFinite(value) || !Number.isFinite(now)) return '';
  const percent = (value / now - 1) * 100;
  return Math.abs(percent) < 0.5 ? '=' : `${percent > 0 ? '+' : '−'}${Math.abs(percent).toFixed(0)} %`;
};
const columns = computed(
  () =>
    [
      { key: 'time', label: 'Time', kind: 'time' },
      { key: 'peakTorque', label: 'Peak torque', kind: 'torque' },
      { key: 'rmsTorque', label: 'RMS torque', kind: 'torque' },
      { key: 'velocity', label: 'Velocity', kind: kinds.value.velocity },
      { key: 'acceleration', label: 'Accel.', kind: kinds.value.acceleration },
      { key: 'vibration', label: 'Left swinging', kind: kinds.value.position },
    ] as const,
);
function take(candidate: JudgedCandidate): void {
  machine.editAxis('take a proposal', (draft) => {
    draft.plan = JSON.parse(JSON.stringify(candidate.plan)) as typeof draft.plan;
  });
}

/** The move whose oscillation is looked at: the quickest for its stroke. */
const moves = computed(() => {
  const knees = planKnees(axis.value.plan);
  return axis.value.plan.segments.flatMap((segment, i) => {
    const stroke = knees[i + 1]!.position - knees[i]!.position;
    return segment.kind === 'move' && stroke !== 0 && segment.law.id !== 'straight'
      ? [{ id: segment.id, number: i + 1, segment, stroke }]
      : [];
  });
});
const wanted = ref<string | null>(null);
const move = computed(() => moves.value.find(({ id }) => id === wanted.value) ?? moves.value[0] ?? null);
const rivals = computed(() => {
  if (!move.value) return [];
  const own = { name: 'As it is', law: move.value.segment.law };
  const others = (['poly345', 'modifiedSine', 'cycloidal', 'poly4567'] as const).map((id) => ({
    name: lawText({ id }),
    law: { id },
  }));
  return [own, ...others.filter(({ law }) => law.id !== own.law.id)];
});
const MOST_PERIODS = 8;
const spectrum = computed(() => {
  const curves = rivals.value.map(({ name, law }, i) => {
    const { periods, amplitude } = residualSpectrum(
      makeLaw(law.id, 'parameters' in law ? (law.parameters ?? {}) : {}),
      damping.value,
      MOST_PERIODS,
    );
    return { name, colour: `--axis-${i % 8}`, periods, amplitude };
  });
  const panel: CurvePanel = {
    id: 'spectrum',
    title: 'Left swinging',
    unit: '% of the stroke',
    curves: curves.map(({ name, colour, amplitude }) => ({
      label: name,
      colour,
      values: amplitude.map((a) => a * 100),
    })),
  };
  const at = move.value ? frequency.value * move.value.segment.duration : 0;
  if (at > 0 && at <= MOST_PERIODS && curves[0])
    panel.marks = [
      {
        time: at,
        value: (curves[0].amplitude[Math.min(159, Math.round((at / MOST_PERIODS) * 160) - 1)] ?? 0) * 100,
        text: `here: ${formatNumber(at, 3)} periods in the move`,
      },
    ];
  return { times: curves[0]?.periods ?? new Float64Array(), panel };
});
const response = computed(() => {
  if (!move.value) return null;
  const { segment, stroke } = move.value;
  const { factor, symbol } = displayUnit(kinds.value.position, machine.units);
  const grid = Float64Array.from({ length: 401 }, (_, i) => (2 * segment.duration * i) / 400);
  const curves = rivals.value.map(({ name, law }, i) => {
    const { times, deflection } = vibrationResponse(
      makeLaw(law.id, 'parameters' in law ? (law.parameters ?? {}) : {}),
      segment.duration,
      stroke,
      task.value.oscillator!,
    );
    let k = 0;
    const values = grid.map((time) => {
      while (k + 1 < times.length && times[k + 1]! <= time) k++;
      const next = Math.min(times.length - 1, k + 1);
      const width = times[next]! - times[k]!;
      const share = width > 0 ? (time - times[k]!) / width : 0;
      return (deflection[k]! + (deflection[next]! - deflection[k]!) * share) / factor;
    });
    return { label: name, colour: `--axis-${i % 8}`, values };
  });
  const panel: CurvePanel = {
    id: 'response',
    title: 'Load against its drive',
    unit: symbol,
    curves,
  };
  return { times: grid, panel, to: 2 * segment.duration };
});
</script>

<template>
  <div class="propose">
    <div class="left">
      <section class="panel" aria-label="Proposals">
        <h2>Proposals for {{ axis.name }}</h2>
        <p v-if="problem" class="soft">{{ problem }}</p>
        <template v-else>
          <div class="wish">
            <ChoiceField
              :value="goal"
              label="Look for"
              :options="[
                {
                  value: 'peak',
                  label: 'Least peak torque',
                  hint: 'Same time in all; law and split of time are searched',
                },
                { value: 'rms', label: 'Least RMS torque' },
                { value: 'time', label: 'Shortest time', hint: 'Under the limits of the axis and of its motor' },
              ]"
              @choose="goal = $event"
            />
            <QuantityField
              :value="frequency"
              kind="frequency"
              label="Natural frequency"
              hint="Of the load on its elastic drive train"
              :commit="(v) => (v! > 0 ? ((frequency = v!), null) : 'Must be greater than zero.')"
            />
            <QuantityField
              :value="damping"
              kind="ratio"
              label="Damping ratio"
              :min="0"
              :max="0.9"
              :commit="(v) => ((damping = v!), null)"
            />
          </div>
          <div class="line">
            <ElButton v-if="work.progress === null" type="primary" @click="search">Search</ElButton>
            <template v-else>
              <ElProgress class="bar" :percentage="Math.round(work.progress * 100)" aria-label="Candidates judged" />
              <ElButton @click="work.cancel()">Give up</ElButton>
            </template>
            <span class="soft">{{
              motor ? `with the motor ${motor.type}` : 'no motor chosen: its rotor and limits are left out'
            }}</span>
          </div>
          <p v-if="said" class="bad" role="alert">{{ said }}</p>
          <table v-if="found && found.axisId === axis.id" class="rows" aria-label="Proposals found">
            <thead>
              <tr>
                <th scope="col">Law and split</th>
                <th v-for="column in columns" :key="column.key" scope="col" class="number">
                  {{ column.label }}<br /><span class="soft">{{ unit(column.kind) }}</span>
                </th>
                <th scope="col"><span class="visually-hidden">Take it</span></th>
              </tr>
            </thead>
            <tbody>
              <tr>
                <th scope="row">As it was</th>
                <td v-for="column in columns" :key="column.key" class="number figures">
                  {{ show(found.now[column.key] ?? NaN, column.kind) }}
                </td>
                <td />
              </tr>
              <tr v-for="candidate in found.list" :key="lawText(candidate.law)">
                <th scope="row">
                  {{ lawText(candidate.law) }}
                  <span v-if="candidate.shift !== 1" class="soft">rises × {{ formatNumber(candidate.shift, 3) }}</span>
                  <span v-if="candidate.bound" class="soft">held back by the {{ candidate.bound }}</span>
                </th>
                <td v-for="column in columns" :key="column.key" class="number figures">
                  {{ show(candidate.price[column.key] ?? NaN, column.kind) }}
                  <span class="soft change">{{
                    change(candidate.price[column.key] ?? NaN, found.now[column.key] ?? NaN)
                  }}</span>
                </td>
                <td>
                  <ElButton size="small" :aria-label="`Take ${lawText(candidate.law)}`" @click="take(candidate)"
                    >Take</ElButton
                  >
                </td>
              </tr>
            </tbody>
          </table>
          <p v-if="found && found.axisId === axis.id" class="soft">
            Best of each law, of {{ found.judged }} candidates that keep all limits.
          </p>
        </template>
      </section>
    </div>
    <section v-if="!problem && move && response" class="panel right" aria-label="Residual vibration">
      <div class="line">
        <h2>Residual vibration</h2>
        <ChoiceField
          v-if="moves.length > 1"
          bare
          :value="move.id"
          label="Move looked at"
          :options="
            moves.map(({ id, number, stroke }) => ({
              value: id,
              label: `Segment ${number} (${stroke > 0 ? 'rise' : 'return'})`,
            }))
          "
          @choose="wanted = $event"
        />
      </div>
      <div class="charts">
        <CurveStack
          :panels="[spectrum.panel]"
          :times="spectrum.times"
          :span="{ from: 0, to: MOST_PERIODS, name: 'natural frequency × move time', unit: 'periods' }"
        />
        <CurveStack
          :panels="[response.panel]"
          :times="response.times"
          :span="{ from: 0, to: response.to, name: 'time since the move began', unit: 's' }"
        />
      </div>
    </section>
  </div>
</template>

<style scoped>
.propose {
  display: grid;
  grid-template: minmax(0, 1fr) / 620px minmax(0, 1fr);
  gap: 10px;
  min-height: 0;
}
.left {
  min-height: 0;
  overflow: auto;
}
.right {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  min-height: 0;
}
.charts {
  display: grid;
  grid-template-rows: 1fr 1fr;
  gap: 8px;
  min-height: 0;
}
.wish {
  display: grid;
  grid-template-columns: 170px 130px 110px;
  gap: 10px;
}
.line {
  display: flex;
  gap: 8px;
  align-items: center;
  margin: 8px 0;
}
.line :deep(.choice) {
  width: 170px;
}
.bar {
  width: 220px;
}
th[scope='row'] {
  font-weight: 500;
  text-align: left;
}
th[scope='row'] .soft {
  display: block;
  font: 12px var(--narrow);
}
.change {
  display: block;
  font: 11.5px var(--narrow);
}
</style>
