<script setup lang="ts">
import { formatQuantity, GROUND, straightOn, wholeWay, type PathLead } from '@yoke/core';
import { ElButton } from 'element-plus';
import { computed } from 'vue';
import { ChoiceField, NameField, QuantityField } from '@/components/fields';
import { put, type KeyOf } from '@/lib/put';
import { useMachine } from '@/stores';
import FormulaEditor from './FormulaEditor.vue';
import SpacePathFields from './SpacePathFields.vue';

/** Which point goes along which path by which law, and the axes whose motions are found. */
const props = defineProps<{ lead: PathLead }>();
const machine = useMachine();
const mechanism = computed(() => machine.document!.mechanism);
const edit = (label: string, recipe: (lead: PathLead) => void) =>
  machine.edit(label, (draft) => {
    const found = draft.leads.find(({ id }) => id === props.lead.id);
    if (found) recipe(found as PathLead);
  });
const SPACE = ' in space';
const paths = computed(() => [
  ...mechanism.value.paths.map(({ id, name, body }) => ({
    value: id,
    label: body === GROUND ? name : `${name} (carried)`,
  })),
  { value: SPACE, label: 'In space, by its places' },
]);
const choosePath = (id: string) =>
  edit('path', (l) => {
    if (id === SPACE) l.space = straightOn(machine.document!, l.point);
    else {
      l.path = id;
      delete l.space;
    }
  });
/** What becomes of an axis meanwhile. */
type Part = 'found' | 'still' | 'own';
const partOf = (id: string): Part =>
  props.lead.axes.includes(id) ? 'found' : (props.lead.still?.includes(id) ?? false) ? 'still' : 'own';
const setPartOf = (id: string, part: Part) =>
  edit('axes of the led point', (l) => {
    const others = (list: readonly string[] = []) => list.filter((other) => other !== id);
    l.axes = part === 'found' ? [...others(l.axes), id] : others(l.axes);
    const still = part === 'still' ? [...others(l.still), id] : others(l.still);
    if (still.length > 0) l.still = still;
    else delete l.still;
  });
const bodies = computed(() => mechanism.value.bodies.map(({ id, name }) => ({ value: id, label: name })));
const points = computed(
  () =>
    mechanism.value.bodies
      .find(({ id }) => id === props.lead.point.body)
      ?.points.map(({ id }, i) => ({ value: id, label: `Point ${i + 1}` })) ?? [],
);
const law = computed(() => props.lead.law);
/** Where one move along the whole path ends, corners blended, m. */
const whole = computed(() => wholeWay(machine.document!, props.lead));
const setLaw = (kind: PathLead['law']['kind']) =>
  edit('law along the path', (lead) => {
    const speed = 'speed' in lead.law ? lead.law.speed : 0.2;
    if (kind === 'speed') lead.law = { kind, speed, ramp: 0.1 };
    else if (kind === 'there-and-back') lead.law = { kind, speed, turn: 0.1 };
    else if (kind === 'formula') lead.law = { kind, text: '150 mm/s + 50 mm/s * cos(2 pi arc / (200 mm))' };
    else
      lead.law = {
        kind,
        plan: {
          start: 0,
          segments: [
            { kind: 'move', id: 's1', duration: machine.cycle, to: whole.value ?? 0.2, law: { id: 'poly345' } },
          ],
        },
      };
  });
type LawKey = Exclude<KeyOf<PathLead['law']>, 'kind' | 'plan' | 'text'>;
const set = (key: LawKey) => (value: number | null) => edit('law along the path', (lead) => put(lead.law, key, value));
const positive = (key: LawKey) => (value: number | null) =>
  value! > 0 ? set(key)(value) : 'Must be greater than zero.';
const segment = computed(() => (law.value.kind === 'plan' ? law.value.plan.segments[0] : undefined));
const setPlan = (key: 'to' | 'duration') => (value: number | null) =>
  edit('law along the path', (lead) => {
    const found = lead.law.kind === 'plan' ? lead.law.plan.segments[0] : undefined;
    if (found?.kind === 'move') found[key] = value!;
  });
</script>

<template>
  <section class="panel" aria-label="Led point">
    <div class="fields">
      <NameField :value="lead.name" :commit="(name) => edit('rename', (l) => void (l.name = name))" />
      <ChoiceField
        :value="lead.space ? SPACE : lead.path"
        label="Along the path"
        :options="paths"
        @choose="choosePath"
      />
      <ChoiceField
        :value="lead.point.body"
        label="Tool point on"
        :options="bodies"
        @choose="
          (id) =>
            edit(
              'tool point',
              (l) => void (l.point = { body: id, point: mechanism.bodies.find((b) => b.id === id)!.points.at(-1)!.id }),
            )
        "
      />
      <ChoiceField
        :value="lead.point.point"
        label="Which point"
        :options="points"
        @choose="(id) => edit('tool point', (l) => void (l.point = { ...l.point, point: id }))"
      />
      <QuantityField
        :value="lead.blend"
        kind="length"
        label="Blend corners from"
        hint="Distance from a corner at which rounding begins; 0 keeps corners"
        :min="0"
        :commit="(v) => edit('blending', (l) => void (l.blend = v!))"
      />
      <QuantityField
        :value="lead.start"
        kind="length"
        label="Starts at"
        hint="Length along the path"
        :commit="(v) => edit('start', (l) => void (l.start = v!))"
      />
      <ChoiceField
        :value="law.kind"
        label="Law along it"
        :options="[
          { value: 'speed', label: 'Constant speed' },
          { value: 'there-and-back', label: 'There and back', hint: 'The sign of the speed is switched at the ends' },
          { value: 'formula', label: 'Speed by a formula' },
          { value: 'plan', label: 'One move by a law' },
        ]"
        @choose="setLaw"
      />
      <QuantityField
        v-if="'speed' in law"
        :value="law.speed"
        kind="velocity"
        label="Speed"
        :commit="positive('speed')"
      />
      <QuantityField
        v-if="law.kind === 'speed'"
        :value="law.ramp"
        kind="time"
        label="Starts and stops in"
        hint="0 runs at speed from the first moment"
        :min="0"
        :commit="set('ramp')"
      />
      <QuantityField
        v-if="law.kind === 'there-and-back'"
        :value="law.turn"
        kind="time"
        label="Turns round in"
        :min="0"
        :commit="set('turn')"
      />
      <template v-if="segment?.kind === 'move'">
        <div>
          <QuantityField :value="segment.to" kind="length" label="Up to" :commit="setPlan('to')" />
          <ElButton
            v-if="whole !== null && segment.to !== whole"
            size="small"
            text
            type="primary"
            @click="setPlan('to')(whole)"
            >Whole path: {{ formatQuantity(whole, 'length', machine.units, 5) }}</ElButton
          >
        </div>
        <QuantityField :value="segment.duration" kind="time" label="In" :commit="setPlan('duration')" />
      </template>
    </div>
    <FormulaEditor
      v-if="law.kind === 'formula'"
      :text="law.text"
      label="Speed along the path"
      :names="{ axes: [], constants: machine.document!.constants }"
      :error="null"
      example="150 mm/s + 0.5/s * arc"
      @change="(text) => edit('law along the path', (l) => void (l.law.kind === 'formula' && (l.law.text = text)))"
    />
    <p v-if="law.kind === 'formula'" class="soft">arc is the length along the path.</p>
    <SpacePathFields
      v-if="lead.space"
      :space="lead.space"
      @change="(label, space) => edit(label, (l) => void (l.space = space))"
    />
    <fieldset>
      <legend>The axes meanwhile</legend>
      <ChoiceField
        v-for="axis in machine.axes.filter(({ joint }) => joint !== null)"
        :key="axis.id"
        :value="partOf(axis.id)"
        :label="axis.name"
        :options="{ found: 'Motion is found', still: 'Stands still', own: 'Goes on as it does' }"
        @choose="(part) => setPartOf(axis.id, part)"
      />
    </fieldset>
  </section>
</template>

<style scoped>
.fields {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 8px 10px;
  margin-bottom: 8px;
}
fieldset {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 4px 10px;
  border: 1px solid var(--line-soft);
  border-radius: var(--radius);
  padding: 2px 10px 4px;
  margin: 8px 0 0;
}
legend {
  font-size: 12.5px;
  color: var(--ink-soft);
}
</style>
