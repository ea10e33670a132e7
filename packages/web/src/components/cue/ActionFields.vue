<script setup lang="ts">
import { AXIS_KINDS, LAWS, letCuesLead, type ActionKind, type Cue, type CueAction, type LawId } from '@yoke/core';
import { computed } from 'vue';
import ChoiceField from '@/components/ChoiceField.vue';
import NameField from '@/components/NameField.vue';
import QuantityField from '@/components/QuantityField.vue';
import ToggleField from '@/components/ToggleField.vue';
import { ACTIONS } from '@/lib/cue-words';
import { put, type KeyOf, type ValueOf } from '@/lib/put';
import { useCues } from '@/stores/cues';
import { useMachine } from '@/stores/machine';

/** What a cue does. */
const props = defineProps<{ cue: Cue }>();
const machine = useMachine();
const cues = useCues();
const action = computed(() => props.cue.action);
const axis = computed(() =>
  'axis' in action.value ? machine.axes.find(({ id }) => id === (action.value as { axis: string }).axis) : undefined,
);
const kinds = computed(() => AXIS_KINDS[axis.value?.kind ?? 'linear']);
const list = (items: readonly { id: string; name: string }[]) =>
  items.map(({ id, name }) => ({ value: id, label: name }));
const axes = computed(() => list(machine.axes));
const cylinders = computed(() => list(machine.axes.filter(({ cylinder }) => cylinder !== null)));
const loose = computed(() => machine.document!.loose);
const sequence = computed(() => machine.document!.sequence);
const laws = [
  { value: 'servo', label: 'Servo move, limited jerk' },
  ...LAWS.filter(({ id }) => id !== 'straight').map(({ id, name, advice }) => ({
    value: id as string,
    label: name,
    hint: advice,
  })),
];

const set = (change: (action: CueAction) => void, key?: string) =>
  cues.editCue(props.cue.id, 'what the cue does', (cue) => change(cue.action), key);
const putField = <K extends KeyOf<CueAction>>(key: K, value: ValueOf<CueAction, K> | null) =>
  set((a) => put(a, key, value));

/** The first content of each kind of action, with what the machine has. */
function firstOf(kind: ActionKind): CueAction | string {
  const axisId = axis.value?.id ?? machine.axis?.id ?? machine.axes[0]?.id;
  const need = (id: string | undefined, what: string) => id ?? `There is no ${what} yet.`;
  const first = (items: readonly { id: string }[]) => items[0]?.id;
  const asked: Partial<Record<ActionKind, string>> = {
    release: need(first(loose.value.sources), 'source of parts'),
    take: need(first(loose.value.grippers), 'gripper'),
    letGo: need(first(loose.value.grippers), 'gripper'),
    belt: need(first(loose.value.belts.filter(({ drive }) => drive.by === 'speed')), 'belt with a speed of its own'),
    cylinder: need(cylinders.value[0]?.value, 'cylinder: make an axis one in Build'),
    flag: need(first(sequence.value.flags), 'flag: add one beside the sensors'),
    reset: need(
      first(sequence.value.sensors.filter(({ sensing }) => sensing.kind === 'count')),
      'count among the sensors',
    ),
  };
  for (const kindOf of ['move', 'speed', 'load', 'engage', 'leave'] as const)
    asked[kindOf] = need(axisId, 'axis: add one in Build');
  const id = asked[kind] ?? '';
  if (id.startsWith('There is no')) return id;
  switch (kind) {
    case 'move':
      return {
        do: 'move',
        axis: id,
        given: 'to',
        value: machine.axes.find((a) => a.id === id)?.kind === 'rotary' ? Math.PI / 2 : 0.1,
        time: 0.5,
        law: { id: 'modifiedSine' },
        velocity: null,
        acceleration: null,
        jerk: null,
      };
    case 'speed':
      return { do: 'speed', axis: id, speed: 0.1, ramp: 0.2 };
    case 'cylinder':
      return { do: 'cylinder', axis: id, to: 'out' };
    case 'belt':
      return { do: 'belt', belt: id, speed: 0.2, ramp: 0.1 };
    case 'load':
      return { do: 'load', axis: id, force: 10 };
    case 'engage':
      return { do: 'engage', axis: id, to: null, ratio: 0.1, over: 0.2 };
    case 'leave':
      return { do: 'leave', axis: id, over: 0.2 };
    case 'release':
      return { do: 'release', source: id };
    case 'take':
      return { do: 'take', gripper: id };
    case 'letGo':
      return { do: 'letGo', gripper: id };
    case 'flag':
      return { do: 'flag', flag: id, set: true };
    case 'reset':
      return { do: 'reset', sensor: id };
    case 'wait':
      return { do: 'wait', time: 0.2 };
    case 'alarm':
      return { do: 'alarm', text: 'Look here' };
    case 'stop':
      return { do: 'stop' };
  }
}
const kindsOffered = computed(() =>
  ACTIONS.map((offered) => {
    const first = offered.value === action.value.do ? null : firstOf(offered.value);
    return typeof first === 'string'
      ? { ...offered, label: `${offered.label} (${first.replace('There is no ', 'no ').split(/[.:]/)[0]})` }
      : offered;
  }),
);
function setKind(kind: ActionKind): void {
  const first = firstOf(kind);
  if (typeof first === 'string') return;
  cues.editCue(props.cue.id, 'what the cue does', (cue) => void (cue.action = first));
}
const setLaw = (id: string) =>
  set((a) => void (a.do === 'move' && (a.law = id === 'servo' ? null : { id: id as LawId })));
</script>

<template>
  <div class="action">
    <ChoiceField class="wide" :value="action.do" label="Do" :options="kindsOffered" @choose="setKind" />
    <ChoiceField
      v-if="axis && action.do !== 'cylinder'"
      :value="axis.id"
      label="Axis"
      :options="axes"
      @choose="putField('axis', $event)"
    />
    <p v-if="axis && action.do !== 'load' && axis.motion.source.kind !== 'cues'" class="note wide" role="status">
      {{ axis.name }} goes by a motion of its own.
      <button
        type="button"
        class="plain link"
        @click="cues.editMachine('cues lead the axis', (m) => letCuesLead(m, axis!.id))"
      >
        Let cues lead it
      </button>
    </p>
    <template v-if="action.do === 'move'">
      <ChoiceField
        :value="action.given"
        label="Given as"
        :options="[
          { value: 'to', label: 'Place reached' },
          { value: 'by', label: 'Way covered' },
        ]"
        @choose="putField('given', $event)"
      />
      <QuantityField
        :value="action.value"
        :kind="kinds.position"
        :label="action.given === 'to' ? 'Moves to' : 'Moves by'"
        :commit="(v) => putField('value', v!)"
      />
      <QuantityField
        :value="action.time"
        kind="time"
        label="In"
        optional
        placeholder="under its limits"
        :commit="(v) => (v !== null && v <= 0 ? 'Must be greater than zero.' : putField('time', v))"
      />
      <ChoiceField class="wide" :value="action.law?.id ?? 'servo'" label="Law" :options="laws" @choose="setLaw" />
      <template v-if="action.time === null">
        <QuantityField
          :value="action.velocity"
          :kind="kinds.velocity"
          label="Velocity at most"
          optional
          :placeholder="axis?.limits.velocity === null ? 'none' : 'as the axis'"
          :commit="(v) => putField('velocity', v)"
        />
        <QuantityField
          :value="action.acceleration"
          :kind="kinds.acceleration"
          label="Acceleration at most"
          optional
          :placeholder="axis?.limits.acceleration === null ? 'none' : 'as the axis'"
          :commit="(v) => putField('acceleration', v)"
        />
        <QuantityField
          v-if="!action.law"
          :value="action.jerk"
          :kind="kinds.jerk"
          label="Jerk at most"
          optional
          :placeholder="axis?.limits.jerk === null ? 'none' : 'as the axis'"
          :commit="(v) => putField('jerk', v)"
        />
      </template>
    </template>
    <template v-else-if="action.do === 'speed'">
      <QuantityField
        :value="action.speed"
        :kind="kinds.velocity"
        label="Speed (0 stops)"
        :commit="(v) => putField('speed', v!)"
      />
      <QuantityField :value="action.ramp" kind="time" label="Ramp" :min="0" :commit="(v) => putField('ramp', v!)" />
    </template>
    <template v-else-if="action.do === 'cylinder'">
      <ChoiceField :value="action.axis" label="Cylinder" :options="cylinders" @choose="putField('axis', $event)" />
      <ChoiceField
        :value="action.to"
        label="Goes"
        :options="[
          { value: 'out', label: 'Out' },
          { value: 'in', label: 'In' },
        ]"
        @choose="putField('to', $event)"
      />
    </template>
    <template v-else-if="action.do === 'belt'">
      <ChoiceField :value="action.belt" label="Belt" :options="list(loose.belts)" @choose="putField('belt', $event)" />
      <QuantityField
        :value="action.speed"
        kind="velocity"
        label="Speed (0 stops)"
        :commit="(v) => putField('speed', v!)"
      />
      <QuantityField :value="action.ramp" kind="time" label="Ramp" :min="0" :commit="(v) => putField('ramp', v!)" />
    </template>
    <QuantityField
      v-else-if="action.do === 'load'"
      :value="action.force"
      :kind="kinds.effort"
      label="Along the positive direction"
      :commit="(v) => putField('force', v!)"
    />
    <template v-else-if="action.do === 'engage'">
      <ChoiceField
        :value="action.to ?? ''"
        label="Follows"
        :options="[{ value: '', label: 'The master' }, ...axes.filter(({ value }) => value !== axis?.id)]"
        @choose="putField('to', $event === '' ? null : $event)"
      />
      <QuantityField
        :value="action.ratio"
        kind="number"
        label="Ratio (SI units)"
        :commit="(v) => putField('ratio', v!)"
      />
      <QuantityField
        :value="action.over"
        kind="time"
        label="Up to speed in"
        :min="0"
        :commit="(v) => putField('over', v!)"
      />
    </template>
    <QuantityField
      v-else-if="action.do === 'leave'"
      :value="action.over"
      kind="time"
      label="At rest in"
      :commit="(v) => (v! > 0 ? putField('over', v) : 'Must be greater than zero.')"
    />
    <ChoiceField
      v-else-if="action.do === 'release'"
      :value="action.source"
      label="Source"
      :options="list(loose.sources)"
      @choose="putField('source', $event)"
    />
    <ChoiceField
      v-else-if="action.do === 'take' || action.do === 'letGo'"
      :value="action.gripper"
      label="Gripper"
      :options="list(loose.grippers)"
      @choose="putField('gripper', $event)"
    />
    <template v-else-if="action.do === 'flag'">
      <ChoiceField
        :value="action.flag"
        label="Flag"
        :options="list(sequence.flags)"
        @choose="putField('flag', $event)"
      />
      <ToggleField :value="action.set" label="Set" @change="putField('set', $event)" />
    </template>
    <ChoiceField
      v-else-if="action.do === 'reset'"
      :value="action.sensor"
      label="Count"
      :options="list(sequence.sensors.filter(({ sensing }) => sensing.kind === 'count'))"
      @choose="putField('sensor', $event)"
    />
    <QuantityField
      v-else-if="action.do === 'wait'"
      :value="action.time"
      kind="time"
      label="For"
      :min="0"
      :commit="(v) => putField('time', v!)"
    />
    <NameField
      v-else-if="action.do === 'alarm'"
      class="wide"
      :value="action.text"
      label="Message"
      :most="200"
      :commit="(v) => putField('text', v)"
    />
  </div>
</template>

<style scoped>
.action {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 7px 8px;
  align-items: start;
}
.wide {
  grid-column: 1 / -1;
}
.note {
  font-size: 12.5px;
  color: var(--attention-ink);
}
.link {
  color: var(--primary);
  text-decoration: underline;
}
</style>
