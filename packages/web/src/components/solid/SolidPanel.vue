<script setup lang="ts">
import {
  drawnFields,
  fieldsAt,
  formatQuantity,
  GROUND,
  massOfSolids,
  solidSchema,
  solidsOn,
  solidVolume,
  STEEL,
  turnSolid,
  UNASSIGNED,
  unweighedOf,
  type BodySolid,
  type Mechanism,
} from '@yoke/core';
import { minus, plus } from '@yoke/core/geometry';
import { boundsOf, meshVolume, soundnessOf } from '@yoke/core/solid';
import { ElButton } from 'element-plus';
import { computed, ref } from 'vue';
import { ChoiceField, NameField, QuantityField, SchemaFields } from '@/components/fields';
import { OTHER_MATERIAL, useDensities } from '@/composables/useDensities';
import { tidy } from '@/lib/ticks';
import { useBoard, useGeometry, useMachine, useSolids } from '@/stores';
import SectionPart from './SectionPart.vue';

/** What is chosen among the solids: what it moves with, what it is of, where it stands, what it weighs. */
const machine = useMachine();
const solids = useSolids();
const geometry = useGeometry();
const board = useBoard();
const { materials, materialOf, keep } = useDensities();
const chosen = computed(() => solids.chosen.flatMap((own) => solids.find(own) ?? []));
const only = computed(() => (chosen.value.length === 1 ? chosen.value[0]! : null));
const carriers = computed(() => [...new Set(solids.chosen.map(({ carrier }) => carrier))]);
const bodies = computed(() => board.mechanism?.bodies ?? []);
const nameOf = (carrier: string) =>
  carrier === UNASSIGNED ? 'not assigned' : carrier === GROUND ? 'ground' : (bodies.value.find(({ id }) => id === carrier)?.name ?? carrier); // prettier-ignore
const carrier = computed(() => (carriers.value.length === 1 ? carriers.value[0]! : ''));
const body = computed(() => bodies.value.find(({ id }) => id === carrier.value) ?? null);
const moves = computed(() => [
  ...(carrier.value === '' ? [{ value: '', label: 'several', disabled: true }] : []),
  { value: UNASSIGNED, label: 'Not assigned' },
  { value: GROUND, label: 'Ground' },
  ...bodies.value.map(({ id, name }) => ({ value: id, label: name })),
]);

/** Changes every chosen solid. */
const edit = (label: string, recipe: (solid: BodySolid) => void): string | null =>
  solids.edit(label, (m) => {
    for (const { carrier: on, id } of solids.chosen) {
      const own = solidsOn(m, on).find((solid) => solid.id === id);
      if (own) recipe(own);
    }
  });
const fields = computed(() => (only.value ? fieldsAt(drawnFields(solidSchema, only.value, machine.document!), 'shape') : [])); // prettier-ignore
const isOwn = computed(() => only.value !== null && only.value.shape.kind !== 'file');
const density = computed(() => {
  const [first, ...rest] = chosen.value.map((own) => own.density);
  return rest.every((other) => other === first) ? (first ?? STEEL) : null;
});
const setMaterial = (value: string) => {
  if (value !== OTHER_MATERIAL) edit('material', (own) => void (own.density = Number(value)));
};
const fresh = ref('');
function keepMaterial(): void {
  if (fresh.value.trim() === '' || density.value === null) return;
  const problem = keep(fresh.value.slice(0, 80), density.value);
  if (problem === null) fresh.value = '';
  else solids.message = problem;
}

const weight = computed(() => massOfSolids(chosen.value));
const volume = computed(() => chosen.value.reduce((sum, own) => sum + (solidVolume(own)?.volume ?? 0), 0));
/** Corners of files are kept in single precision: what is shown of places goes no further, m. */
const FINE = 1e-7;
const show = (value: number, kind: 'mass' | 'length' | 'inertia') => formatQuantity(tidy(value), kind, machine.units, 4); // prettier-ignore
const unweighed = computed(() => unweighedOf({ mass: { given: 'solids' }, solids: chosen.value }));
const troubled = computed(
  () =>
  chosen.value.flatMap(({ shape, name }) => (shape.kind === 'file' && shape.problem ? [{ name, problem: shape.problem, counts: shape.counts }] : [])), // prettier-ignore
);
const COUNTS = { skin: 'What its skin holds', hull: 'The hull about it', nothing: 'Nothing' };
const counts = computed(() => (only.value?.shape.kind === 'file' ? only.value.shape.counts : null));
/** By what a solid with a faulty skin is weighed. */
async function count(how: keyof typeof COUNTS): Promise<void> {
  const [own] = solids.chosen;
  const mesh = only.value && geometry.loadedOf({ shape: only.value.shape })?.mesh;
  if (!own || !mesh) return;
  const held = how === 'hull' ? await geometry.hullVolume(mesh) : how === 'skin' && soundnessOf(mesh).closed ? meshVolume(mesh) : null; // prettier-ignore
  solids.edit('what it counts', (m) => {
    const shape = solidsOn(m, own.carrier).find(({ id }) => id === own.id)?.shape;
    if (shape?.kind !== 'file') return;
    shape.counts = how;
    if (how !== 'nothing') shape.holds = held;
  });
}

const setAt = (k: 0 | 1 | 2) => (value: number | null) => edit('where a solid stands', (own) => void (own.at[k] = value!)); // prettier-ignore
const by = ref(Math.PI / 2);
/** Turns the solid about an axis of its carrier; the middle of the box about it stays. */
function turn(k: 0 | 1 | 2): void {
  const box = boundsOf(geometry.loadedOf(only.value!)?.mesh ?? { points: new Float64Array() });
  const middle = box ? plus(box.low, minus(box.high, box.low), 0.5) : ([0, 0, 0] as const);
  edit('turn a solid', (own) => turnSolid(own, k, by.value, middle));
}
/** Chooses all that moves with the same. */
const whole = () => solids.choose(solidsOn(board.mechanism as Mechanism, carrier.value).map(({ id }) => ({ carrier: carrier.value, id }))); // prettier-ignore
</script>

<template>
  <section class="panel" aria-label="Chosen solids">
    <h2>{{ chosen.length === 0 ? 'Solids' : only ? only.name : `${chosen.length} solids` }}</h2>
    <p v-if="chosen.length === 0" class="note">
      Choose solids in the picture, by a rectangle, by name or by a branch of their file; then say what they move with.
      What does not move is ground.
    </p>
    <template v-else>
      <div class="actions first">
        <ElButton size="small" type="primary" @click="solids.makeBody(false)">Make a body</ElButton>
        <ElButton v-if="chosen.length > 1" size="small" @click="solids.makeBody(true)">A body of each</ElButton>
        <ElButton v-if="carrier !== GROUND" size="small" @click="solids.assign(GROUND)">Ground</ElButton>
        <ElButton v-if="body" size="small" title="Choose all that moves with it" @click="whole"
          >All of its body</ElButton
        >
        <ElButton size="small" @click="solids.drop()">Delete</ElButton>
      </div>
      <div class="fields gap">
        <NameField
          v-if="body"
          class="wide"
          label="Name of the body"
          :value="body.name"
          :commit="
            (name: string) =>
              solids.edit('rename a body', (m) => void (m.bodies.find(({ id }) => id === body!.id)!.name = name))
          "
        />
        <NameField
          v-if="only"
          class="wide"
          :label="body ? 'Name of the solid' : 'Name'"
          :value="only.name"
          :commit="(name: string) => edit('rename a solid', (own) => void (own.name = name))"
        />
        <ChoiceField class="wide" :value="carrier" label="Moves with" :options="moves" @choose="solids.assign" />
        <SchemaFields v-if="isOwn" :fields :change="(make, label) => edit(label, (own) => make(own))" />
      </div>
      <template v-if="only">
        <h3>Stands at ({{ body ? `in ${nameOf(carrier)}` : 'in the world' }})</h3>
        <div class="fields three">
          <QuantityField
            v-for="(axis, k) in ['x', 'y', 'z']"
            :key="axis"
            :value="tidy(only.at[k]!)"
            kind="length"
            :label="axis"
            :commit="setAt(k as 0 | 1 | 2)"
          />
        </div>
        <div class="turning">
          <QuantityField :value="by" kind="angle" label="Turn by" :commit="(v) => ((by = v!), null)" />
          <ElButton
            v-for="(axis, k) in ['x', 'y', 'z']"
            :key="axis"
            size="small"
            title="Its middle stays where it is"
            @click="turn(k as 0 | 1 | 2)"
          >
            about {{ axis }}
          </ElButton>
        </div>
      </template>
      <h3>Mass</h3>
      <div class="fields">
        <ChoiceField :value="materialOf(density)" label="Material" :options="materials" @choose="setMaterial" />
        <QuantityField
          :value="density"
          optional
          kind="density"
          label="Density"
          :min="1e-3"
          placeholder="several"
          :commit="(v) => (v === null ? null : edit('density', (own) => void (own.density = v)))"
        />
        <template v-if="density !== null && materialOf(density) === OTHER_MATERIAL">
          <NameField :value="fresh" label="Keep it as" :commit="(v: string) => ((fresh = v), null)" />
          <ElButton class="keep" size="small" :disabled="fresh.trim() === ''" @click="keepMaterial">
            Keep as a material
          </ElButton>
        </template>
        <ChoiceField
          v-if="counts !== null && (troubled.length > 0 || counts !== 'skin')"
          class="wide"
          :value="counts"
          label="What counts as its mass"
          :options="COUNTS"
          @choose="count"
        />
      </div>
      <p v-for="own in troubled.slice(0, 4)" :key="own.name" class="bad">{{ own.name }}: {{ own.problem }}</p>
      <p v-if="troubled.length > 4" class="bad">… and {{ troubled.length - 4 }} more with faulty skins.</p>
      <dl class="facts">
        <dt>Mass</dt>
        <dd>
          {{ show(weight.mass, 'mass')
          }}<span v-if="unweighed.length > 0" class="bad"> without {{ unweighed.join(', ') }}</span>
        </dd>
        <dt>Volume</dt>
        <dd>{{ Number((volume * 1e6).toPrecision(4)) }} cm³</dd>
        <template v-if="weight.mass > 0 && carrier !== ''">
          <dt>Centre</dt>
          <dd>{{ weight.centre.map((part) => show(Math.round(part / FINE) * FINE, 'length')).join(', ') }}</dd>
          <dt>Inertia xx, yy, zz</dt>
          <dd>
            {{ [weight.tensor.xx, weight.tensor.yy, weight.tensor.zz].map((part) => show(part, 'inertia')).join(', ') }}
          </dd>
          <dt>… xy, xz, yz</dt>
          <dd>
            {{ [weight.tensor.xy, weight.tensor.xz, weight.tensor.yz].map((part) => show(part, 'inertia')).join(', ') }}
          </dd>
        </template>
      </dl>
      <SectionPart v-if="body" :key="body.id" :body />
    </template>
  </section>
</template>

<style scoped>
@import '../board/panel.css';
.actions.first {
  margin-top: 0;
}
.turning {
  display: grid;
  grid-template-columns: 1fr auto auto auto;
  gap: 6px;
  align-items: end;
  margin-top: 6px;
}
.turning :deep(.el-button) {
  margin: 0;
}
.keep {
  align-self: end;
}
</style>
