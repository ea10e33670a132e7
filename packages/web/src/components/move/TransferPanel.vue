<script setup lang="ts">
import { AXIS_KINDS, counted, formatQuantity, LAWS, type LawId, type TransferMove } from '@yoke/core';
import { ElButton } from 'element-plus';
import { computed } from 'vue';
import ConditionField from '@/components/cue/ConditionField.vue';
import { ChoiceField, QuantityField, ToggleField } from '@/components/fields';
import { axisColour } from '@/lib/axis-look';
import { useMachine, useTransfer } from '@/stores';

/** The way from one marked pose to another: order, overlap and time of its moves, written as plans or as cues. */
const machine = useMachine();
const transfer = useTransfer();
const settings = computed(() => transfer.settings);
const options = computed(() => [
  { value: '', label: 'none yet' },
  ...transfer.marks.map(({ id, name }) => ({ value: id, label: name })),
]);
const found = computed(() => transfer.transfer);
const out = computed(() => found.value?.moves.filter(({ back }) => !back) ?? []);
const take =
  <K extends keyof typeof transfer.settings>(key: K) =>
  (value: (typeof transfer.settings)[K] | null): null => {
    transfer.settings = { ...transfer.settings, [key]: value };
    return null;
  };
/** Laws by which a move begins and ends at rest. */
const laws = LAWS.filter(({ id }) => id !== 'straight').map(({ id, name, advice }) => ({
  value: id as LawId,
  label: name,
  hint: advice,
}));
const nameOf = (id: string) => machine.axes.find((axis) => axis.id === id)?.name ?? '';
const place = ({ axis }: TransferMove, value: number) => {
  const kind = machine.axes.find(({ id }) => id === axis)!.kind;
  return formatQuantity(value, AXIS_KINDS[kind].position, machine.units, 4);
};
const share = (time: number) => `${(100 * time) / found.value!.there}%`;
const steps = computed(() => {
  const most = Math.max(1, ...out.value.map(({ step }) => step));
  return Array.from({ length: most + 1 }, (_, i) => ({ value: String(i + 1), label: String(i + 1) }));
});
const setStep = ({ key }: TransferMove, step: string) =>
  take('steps')({ ...transfer.settings.steps, [key]: Number(step) });
const seconds = (time: number) => formatQuantity(time, 'time', machine.units, 4);
const grippers = computed(() => machine.document!.loose.grippers);
</script>

<template>
  <section v-if="transfer.marks.length > 0" class="panel" aria-label="From pose to pose">
    <h2>From pose to pose</h2>
    <div class="fields">
      <ChoiceField
        :value="transfer.ends.from ?? ''"
        label="From"
        :options="options"
        @choose="(id) => (transfer.ends = { ...transfer.ends, from: id || null })"
      />
      <ChoiceField
        :value="transfer.ends.to ?? ''"
        label="To"
        :options="options"
        @choose="(id) => (transfer.ends = { ...transfer.ends, to: id || null })"
      />
      <QuantityField
        :value="settings.clear"
        kind="length"
        label="Raised by"
        hint="Over the higher of both places, before it goes across; 0 goes straight"
        :min="0"
        :commit="(v) => take('clear')(v!)"
      />
      <QuantityField
        :value="settings.overlap"
        kind="number"
        label="Overlap of steps"
        hint="Share of the shorter one: 0 one after the other, 1 at once"
        :min="0"
        :max="1"
        :commit="(v) => take('overlap')(v!)"
      />
      <ChoiceField
        :value="settings.law.id"
        label="Law"
        :options="laws"
        @choose="(id) => take('law')({ id: id as LawId })"
      />
      <QuantityField
        :value="settings.time"
        kind="time"
        label="Way there in"
        optional
        placeholder="under the limits"
        :min="0.001"
        :commit="take('time')"
      />
      <ToggleField :value="settings.back" label="And back, mirrored" @change="take('back')($event)" />
      <QuantityField
        v-if="settings.back"
        :value="settings.stay"
        kind="time"
        label="Stays there for"
        :min="0"
        :commit="(v) => take('stay')(v!)"
      />
      <ChoiceField
        :value="settings.others"
        label="All other axes"
        :options="{ stand: 'Stand still', 'go on': 'Go on as they do' }"
        @choose="(v) => take('others')(v)"
      />
    </div>
    <p v-if="!found" class="soft">Choose where the way begins and where it ends.</p>
    <template v-else>
      <p v-if="found.problem" class="bad" role="alert">{{ found.problem }}</p>
      <p v-for="note in found.notes" :key="note" class="note">{{ note }}</p>
      <table v-if="out.length > 0" class="rows">
        <thead>
          <tr>
            <th>Step</th>
            <th>Axis</th>
            <th>From</th>
            <th>To</th>
            <th>Starts</th>
            <th>Takes</th>
            <th class="bars">Of {{ seconds(found.there) }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="move in out" :key="move.key">
            <td>
              <ChoiceField
                bare
                :value="String(move.step)"
                label="Step"
                :of="`${nameOf(move.axis)} ${move.leg}`"
                :options="steps"
                @choose="(step) => setStep(move, step)"
              />
            </td>
            <th scope="row">{{ nameOf(move.axis) }}</th>
            <td class="number figures">{{ place(move, move.from) }}</td>
            <td class="number figures">{{ place(move, move.to) }}</td>
            <td class="number figures">{{ seconds(move.start) }}</td>
            <td class="number figures">{{ seconds(move.time) }}</td>
            <td class="bars">
              <span
                class="bar"
                :style="{
                  left: share(move.start),
                  width: share(move.time),
                  background: axisColour(machine.axes.find(({ id }) => id === move.axis)!),
                }"
              />
            </td>
          </tr>
        </tbody>
      </table>
      <template v-if="out.length > 0">
        <p class="soft">{{ seconds(found.time) }} in all{{ settings.back ? ', there, stay and back' : '' }}.</p>
        <div v-if="transfer.rivals.length > 0" class="rivals">
          <ToggleField :value="settings.hush" label="Switch the old cues off" @change="take('hush')($event)" />
          <span>
            {{ counted(transfer.rivals.length, 'cue moves', 'cues move') }} these axes already ({{
              transfer.rivals.slice(0, 3).join(', ')
            }}{{ transfer.rivals.length > 3 ? ', …' : '' }}){{
              settings.hush ? '.' : ': they would go on beside what is written.'
            }}
          </span>
        </div>
        <div class="line">
          <ElButton type="primary" size="small" @click="transfer.write('plans')">Write as plans</ElButton>
          <ElButton type="primary" size="small" @click="transfer.write('cues')">Write as cues</ElButton>
          <ConditionField
            :value="settings.when"
            label="Cues begin when"
            placeholder="at the start"
            :commit="take('when')"
          />
          <ChoiceField
            v-if="grippers.length > 0"
            :value="settings.gripper ?? ''"
            label="Cues take and let go with"
            :options="[
              { value: '', label: 'nothing' },
              ...grippers.map(({ id, name }) => ({ value: id, label: name })),
            ]"
            @choose="(id) => take('gripper')(id || null)"
          />
        </div>
        <p v-if="transfer.written" class="note" role="status">{{ transfer.written }}</p>
      </template>
    </template>
  </section>
</template>

<style scoped>
.fields {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 6px 10px;
  margin-bottom: 8px;
}
.rows {
  width: 100%;
}
.rows :deep(.choice) {
  width: 58px;
}
.bars {
  position: relative;
  width: 130px;
}
.bar {
  position: absolute;
  top: 50%;
  height: 8px;
  margin-top: -4px;
  border-radius: 2px;
  min-width: 2px;
}
.line {
  display: flex;
  flex-wrap: wrap;
  align-items: end;
  gap: 8px;
}
.rivals {
  display: flex;
  gap: 10px;
  align-items: center;
  margin-bottom: 8px;
  font-size: 13px;
}
.rivals :deep(.toggle) {
  flex: none;
}
.note {
  font-size: 13px;
  color: var(--attention-ink);
}
</style>
