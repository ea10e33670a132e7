<script setup lang="ts">
import {
  CHANNEL_IDS,
  channelSpec,
  findPeak,
  formatQuantity,
  type Axis,
  type AxisRun,
  type ChannelId,
  type Run,
} from '@yoke/core';
import { computed } from 'vue';
import { TimeLink } from '@/components/fields';
import { useMachine, useRun } from '@/stores';

/** Largest value of every channel with its time and direction, and the RMS where it says something. */
const props = defineProps<{ axis: Axis; run: Run; axisRun: AxisRun }>();
const machine = useMachine();
const results = useRun();
const RMS: Partial<Record<ChannelId, keyof AxisRun['rms']>> = {
  effort: 'effort',
  motorSpeed: 'motorSpeed',
  shaftTorque: 'shaftTorque',
  motorTorque: 'motorTorque',
};

const rows = computed(() =>
  CHANNEL_IDS.filter((id) => id !== 'position' && (id !== 'motorTorque' || props.axis.sizing.motor !== null)).map(
    (id) => {
      const spec = channelSpec(id, props.axis.kind);
      const peak = findPeak(props.run.times, props.axisRun.channels[id]);
      const rms = RMS[id];
      return {
        id,
        label: spec.label,
        time: peak.time,
        value: formatQuantity(Math.abs(peak.value), spec.kind, machine.units),
        at: formatQuantity(peak.time, 'time', machine.units),
        direction: peak.value === 0 ? '' : peak.value > 0 ? '+' : '−',
        meaning: `${peak.value >= 0 ? '+' : '−'}: ${peak.value >= 0 ? '' : 'against what is '}${spec.positive}`,
        rms: rms ? formatQuantity(props.axisRun.rms[rms], spec.kind, machine.units) : '',
      };
    },
  ),
);
</script>

<template>
  <table class="rows">
    <thead>
      <tr>
        <th scope="col">
          Peaks<span v-if="results.coarse" class="bad" :title="results.coarse.text"> · step too coarse</span>
        </th>
        <th scope="col" class="number">largest</th>
        <th scope="col" title="Direction: + as defined for the axis, the motor, or power towards the load">dir.</th>
        <th scope="col" class="number">at</th>
        <th scope="col" class="number" data-word="RMS">RMS</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="row in rows" :key="row.id">
        <td>
          <TimeLink class="peak" title="Cursor to this peak" :time="row.time">{{ row.label }}</TimeLink>
        </td>
        <td class="number">{{ row.value }}</td>
        <td :title="row.meaning" class="figures">{{ row.direction }}</td>
        <td class="number">{{ row.at }}</td>
        <td class="number">{{ row.rms }}</td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.peak {
  text-align: left;
}
.peak:hover {
  color: var(--primary);
  text-decoration: underline;
}
</style>
