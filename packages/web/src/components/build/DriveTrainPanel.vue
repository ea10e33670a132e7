<script setup lang="ts">
import { GEARBOX_DEFAULT, TRANSMISSION_DEFAULTS, type Axis } from '@yoke/core';
import { ElSwitch } from 'element-plus';
import { computed } from 'vue';
import ChoiceField from '@/components/ChoiceField.vue';
import QuantityField from '@/components/QuantityField.vue';
import { useMachine } from '@/stores/machine';
import LossFields from './LossFields.vue';

/** From motor shaft to axis: a gearbox or none, then a screw, belt or rack, or straight on. */
const props = defineProps<{ axis: Axis }>();
const machine = useMachine();
const transmission = computed(() => props.axis.transmission);
const KINDS = [
  { value: 'screw', label: 'Screw' },
  { value: 'belt', label: 'Belt' },
  { value: 'rack', label: 'Rack' },
] as const;
const SHAFTS = { screw: 'the screw', belt: 'the pulley', rack: 'the pinion', direct: '' } as const;

const setKind = (kind: (typeof KINDS)[number]['value']) =>
  machine.editAxis('change the drive train', (draft) => void (draft.transmission = { ...TRANSMISSION_DEFAULTS[kind] }));
const setGearbox = (there: boolean) =>
  machine.editAxis('change the gearbox', (draft) => void (draft.gearbox = there ? { ...GEARBOX_DEFAULT } : null));
</script>

<template>
  <section class="panel" aria-label="Drive train">
    <h2>Drive train</h2>
    <div class="fields">
      <div>
        <span class="label">Gearbox at the motor</span>
        <ElSwitch :model-value="axis.gearbox !== null" aria-label="Gearbox" @change="setGearbox(Boolean($event))" />
      </div>
    </div>
    <div v-if="axis.gearbox" class="fields below">
      <QuantityField
        :value="axis.gearbox.ratio"
        kind="number"
        label="Ratio (motor : output)"
        :commit="(v) => machine.editAxis('gear ratio', (draft) => void (draft.gearbox!.ratio = v!))"
      />
      <LossFields
        :part="axis.gearbox"
        shaft="its input"
        :set="(key, value) => machine.editAxis('gearbox', (draft) => void (draft.gearbox![key] = value))"
      />
    </div>
    <template v-if="transmission.kind !== 'direct'">
      <h3>To the slide</h3>
      <div class="fields">
        <ChoiceField :value="transmission.kind" label="By" :options="KINDS" @choose="setKind" />
        <QuantityField
          v-if="transmission.kind === 'screw'"
          :value="transmission.lead"
          kind="length"
          label="Lead per turn"
          :commit="
            (v) =>
              machine.editAxis(
                'lead',
                (draft) => void (draft.transmission.kind === 'screw' && (draft.transmission.lead = v!)),
              )
          "
        />
        <QuantityField
          v-else
          :value="transmission.radius"
          kind="length"
          :label="transmission.kind === 'belt' ? 'Pulley radius' : 'Pinion pitch radius'"
          :commit="
            (v) =>
              machine.editAxis(
                'radius',
                (draft) => void ('radius' in draft.transmission && (draft.transmission.radius = v!)),
              )
          "
        />
        <LossFields
          :part="transmission"
          :shaft="SHAFTS[transmission.kind]"
          :set="
            (key, value) =>
              machine.editAxis(
                'drive train',
                (draft) => void (draft.transmission.kind !== 'direct' && (draft.transmission[key] = value)),
              )
          "
        />
      </div>
    </template>
    <p v-else class="note">
      {{ axis.gearbox ? 'The gearbox output turns the table.' : 'The motor shaft turns the table directly.' }}
    </p>
  </section>
</template>

<style scoped>
@import './fields.css';
.below {
  margin-top: 8px;
}
</style>
