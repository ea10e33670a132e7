<script setup lang="ts">
import { AXIS_KINDS, formatQuantity, loadFacts, type Axis } from '@yoke/core';
import { computed } from 'vue';
import { useMachine, useRun } from '@/stores';

/** What the motor of an axis has behind it: drive train, load, and the mechanism that it moves, as the run found them. */
const props = defineProps<{ axis: Axis }>();
const machine = useMachine();
const results = useRun();

/** The axis as it was when the run was computed, so that both fit each other. */
const facts = computed(() => {
  const own = results.document?.axes.find(({ id }) => id === props.axis.id);
  return own && results.begun === null ? loadFacts(own, results.run) : null;
});
const rows = computed(() => {
  const known = facts.value;
  if (!known) return [];
  const kinds = AXIS_KINDS[props.axis.kind];
  const show = (value: number, kind: Parameters<typeof formatQuantity>[1]) =>
    formatQuantity(value, kind, machine.units, 4);
  const { worst, mean } = known.inertia;
  const varies = Math.abs(worst - mean) > 1e-3 * worst;
  const pull = known.gravityAtHome;
  return [
    ['Motor turn moves the axis', show(known.perTurn, kinds.position)],
    [`Inertia at the motor shaft${varies ? ', at most' : ''}`, show(worst, 'inertia')],
    ...(varies ? [['… on average', show(mean, 'inertia')]] : []),
    ...(props.axis.joint === null
      ? [
          [
            'Gravity asks at home',
            pull === 0
              ? 'nothing'
              : `${show(Math.abs(pull), kinds.effort)} ${pull > 0 ? 'in + direction' : 'in − direction'}`,
          ],
        ]
      : [['Mechanism asks at rest, at most', show(known.mechanismHolding, kinds.effort)]]),
    ['Held at rest by the motor shaft, at most', show(known.holding, 'torque')],
  ];
});
/** Why nothing can be said. */
const silence = computed(() => {
  if (results.stale || results.run === null) return 'The run that tells is being computed.';
  const broken = results.brokenFor(props.axis);
  return broken ? `Not known: ${broken.text}` : 'Not known: the run of this axis cannot be relied on; see Move.';
});
</script>

<template>
  <section class="panel" aria-label="What follows" :aria-busy="results.stale">
    <h2>What follows</h2>
    <dl v-if="rows.length > 0" :class="{ stale: results.stale }">
      <template v-for="[label, value] in rows" :key="label">
        <dt>{{ label }}</dt>
        <dd class="figures">{{ value }}</dd>
      </template>
    </dl>
    <p v-else class="soft">{{ silence }}</p>
    <p v-if="axis.joint !== null && rows.length > 0" class="soft">
      Over one cycle, with all that the axis moves; the picture is that of the run.
    </p>
  </section>
</template>

<style scoped>
dl {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 4px 12px;
  margin: 0;
}
dl.stale {
  opacity: 0.6;
}
dt {
  color: var(--ink-soft);
}
dd {
  margin: 0;
  text-align: right;
}
p {
  margin: 6px 0 0;
}
</style>
