<script setup lang="ts">
import { partMass, type Loose } from '@yoke/core';
import { formatQuantity } from '@yoke/core';
import { ElButton } from 'element-plus';
import { computed } from 'vue';
import ChoiceField from '@/components/ChoiceField.vue';
import NameField from '@/components/NameField.vue';
import QuantityField from '@/components/QuantityField.vue';
import ToggleField from '@/components/ToggleField.vue';
import { LOOSE_LISTS, useLoose } from '@/stores/loose';
import { useMachine } from '@/stores/machine';

/** The chosen kind of part, source, belt … in full. */
const emit = defineEmits<{ problem: [text: string | null] }>();
const machine = useMachine();
const store = useLoose();
const loose = computed(() => machine.document!.loose);
const list = (items: readonly { id: string; name: string }[]) =>
  items.map(({ id, name }) => ({ value: id, label: name }));
const materials = computed(() => list(loose.value.materials));
const bodies = computed(() => [{ value: 'ground', label: 'Ground' }, ...list(machine.document!.mechanism.bodies)]);
const one = computed(() => LOOSE_LISTS.find(({ key }) => key === store.chosen?.list)?.one ?? '');
const pick = <K extends keyof Loose>(key: K) =>
  computed(() =>
    store.chosen?.list === key
      ? ((loose.value[key] as readonly { id: string }[]).find(
          ({ id }) => id === store.chosen!.id,
        ) as Loose[K] extends readonly (infer T)[] ? T : never)
      : null,
  );
const kind = pick('kinds');
const source = pick('sources');
const sink = pick('sinks');
const belt = pick('belts');
const surface = pick('surfaces');
const platform = pick('platforms');
const gripper = pick('grippers');
const any = computed(() =>
  store.chosen
    ? (loose.value[store.chosen.list] as readonly { id: string; name: string }[]).find(
        ({ id }) => id === store.chosen!.id,
      )
    : undefined,
);

/** Sets a value at a path of the chosen item, as `at.0`. */
const put = (path: string, value: unknown) =>
  store.edit('a loose part', (l) => {
    const { list, id } = store.chosen!;
    const items: readonly object[] = l[list];
    let target = items.find((item) => 'id' in item && item.id === id)!;
    const keys = path.split('.');
    for (const key of keys.slice(0, -1)) target = Reflect.get(target, key) as object;
    Reflect.set(target, keys.at(-1)!, value);
  });
const positive = (path: string) => (v: number | null) => (v! > 0 ? put(path, v) : 'Must be greater than zero.');
const plain = (path: string) => (v: number | null) => put(path, v!);
const mass = computed(() => (kind.value ? partMass(kind.value) : null));

const SHAPES = {
  circle: { kind: 'circle', radius: 0.02 },
  box: { kind: 'box', width: 0.06, height: 0.04 },
  outline: { kind: 'outline', points: [[-0.03, -0.02], [0.03, -0.02], [0.02, 0.02], [-0.02, 0.02]], as: 'hull', tolerance: 0.0005 }, // prettier-ignore
} as const;
const setShape = (next: keyof typeof SHAPES) => {
  put('shape', JSON.parse(JSON.stringify(SHAPES[next])));
  if (next !== 'circle' && kind.value?.mass.given === 'ball') put('mass', { given: 'typed', mass: 0.2 });
};
const setMass = (given: string) =>
  put(
    'mass',
    given === 'typed'
      ? { given, mass: mass.value?.mass ?? 0.2 }
      : given === 'ball'
        ? { given, density: 1000 }
        : { given, thickness: 0.02, density: 1000 },
  );
const corners = computed(() =>
  (kind.value?.shape.kind === 'outline' ? kind.value.shape.points : (surface.value?.line ?? []))
    .map(([x, y]) => `${+(x * 1000).toFixed(3)} ${+(y * 1000).toFixed(3)}`)
    .join(', '),
);
function setCorners(path: string) {
  return (text: string): string | null => {
    const points = text.split(/[,;]/).map((pair) => pair.trim().split(/\s+/).map(Number));
    if (points.some((p) => p.length !== 2 || p.some((v) => !Number.isFinite(v))))
      return 'Write corners in mm as “0 0, 100 0, 100 50”.';
    return put(
      path,
      points.map(([x, y]) => [x! / 1000, y! / 1000]),
    );
  };
}
const setRelease = (how: string) =>
  put(
    'release',
    how === 'cue'
      ? { how }
      : how === 'times'
        ? { how, times: [0.2, 2.2] }
        : { how, first: 0.2, interval: 2, count: null },
  );
function setTimes(text: string): string | null {
  const times = text
    .split(/[,;\s]+/)
    .filter(Boolean)
    .map(Number);
  return times.some((t) => !(t >= 0)) || times.length === 0
    ? 'Write times in seconds, as “0.2, 2.2, 4”.'
    : put('release.times', times);
}
const remove = () => emit('problem', store.remove(store.chosen!.list, store.chosen!.id));
</script>

<template>
  <div v-if="any" class="loose-fields">
    <NameField :value="any.name" :label="one" :commit="(name) => put('name', name)" />
    <template v-if="kind">
      <ChoiceField :value="kind.material" label="Material" :options="materials" @choose="put('material', $event)" />
      <ChoiceField
        :value="kind.shape.kind"
        label="Shape"
        :options="[
          { value: 'circle', label: 'Circle' },
          { value: 'box', label: 'Box' },
          { value: 'outline', label: 'Outline' },
        ]"
        @choose="setShape"
      />
      <QuantityField
        v-if="kind.shape.kind === 'circle'"
        :value="kind.shape.radius"
        kind="length"
        label="Radius"
        :commit="positive('shape.radius')"
      />
      <template v-else-if="kind.shape.kind === 'box'">
        <QuantityField :value="kind.shape.width" kind="length" label="Width" :commit="positive('shape.width')" />
        <QuantityField :value="kind.shape.height" kind="length" label="Height" :commit="positive('shape.height')" />
      </template>
      <template v-else>
        <NameField
          class="wide"
          :value="corners"
          label="Corners in mm, in order"
          :most="4000"
          :commit="setCorners('shape.points')"
        />
        <ChoiceField
          :value="kind.shape.as"
          label="Touches with"
          :options="[
            { value: 'hull', label: 'its hull', hint: 'Quick; hollows count as filled' },
            { value: 'exact', label: 'exact pieces', hint: 'Hollows count; the more corners, the slower' },
            {
              value: 'simplified',
              label: 'a simpler outline',
              hint: 'Hollows count within a tolerance; between the two',
            },
          ]"
          @choose="put('shape.as', $event)"
        />
        <QuantityField
          v-if="kind.shape.as === 'simplified'"
          :value="kind.shape.tolerance"
          kind="length"
          label="Tolerance"
          :min="0"
          :commit="plain('shape.tolerance')"
        />
      </template>
      <ChoiceField
        :value="kind.mass.given"
        label="Mass"
        :options="[
          { value: 'typed', label: 'typed' },
          { value: 'shape', label: 'from its shape' },
          ...(kind.shape.kind === 'circle' ? [{ value: 'ball', label: 'of a full ball' }] : []),
        ]"
        @choose="setMass"
      />
      <QuantityField
        v-if="kind.mass.given === 'typed'"
        :value="kind.mass.mass"
        kind="mass"
        label="Mass"
        :commit="positive('mass.mass')"
      />
      <template v-else>
        <QuantityField
          v-if="kind.mass.given === 'shape'"
          :value="kind.mass.thickness"
          kind="length"
          label="Thickness"
          :commit="positive('mass.thickness')"
        />
        <QuantityField :value="kind.mass.density" kind="density" label="Density" :commit="positive('mass.density')" />
      </template>
      <p v-if="mass" class="soft wide">{{ formatQuantity(mass.mass, 'mass', machine.units) }} a part</p>
    </template>
    <template v-else-if="source">
      <ChoiceField :value="source.kind" label="Gives" :options="list(loose.kinds)" @choose="put('kind', $event)" />
      <ChoiceField :value="source.body" label="Sits on" :options="bodies" @choose="put('body', $event)" />
      <QuantityField :value="source.at[0]" kind="length" label="x" :commit="plain('at.0')" />
      <QuantityField :value="source.at[1]" kind="length" label="y" :commit="plain('at.1')" />
      <QuantityField :value="source.angle" kind="angle" label="Turned by" :commit="plain('angle')" />
      <QuantityField :value="source.velocity[0]" kind="velocity" label="Speed along x" :commit="plain('velocity.0')" />
      <QuantityField :value="source.velocity[1]" kind="velocity" label="Speed along y" :commit="plain('velocity.1')" />
      <ChoiceField
        :value="source.release.how"
        label="Releases"
        :options="[
          { value: 'interval', label: 'at intervals' },
          { value: 'times', label: 'at times' },
          { value: 'cue', label: 'by a cue' },
        ]"
        @choose="setRelease"
      />
      <template v-if="source.release.how === 'interval'">
        <QuantityField
          :value="source.release.first"
          kind="time"
          label="First at"
          :min="0"
          :commit="plain('release.first')"
        />
        <QuantityField
          :value="source.release.interval"
          kind="time"
          label="Then every"
          :commit="positive('release.interval')"
        />
        <QuantityField
          :value="source.release.count"
          kind="number"
          label="How many"
          optional
          placeholder="no end"
          :commit="(v) => put('release.count', v === null ? null : Math.round(v))"
        />
      </template>
      <NameField
        v-else-if="source.release.how === 'times'"
        class="wide"
        :value="source.release.times.join(', ')"
        label="At (s)"
        :most="4000"
        :commit="setTimes"
      />
      <QuantityField
        :value="source.scatter.time"
        kind="time"
        label="Scatter of time (σ)"
        :min="0"
        :commit="plain('scatter.time')"
      />
      <QuantityField
        :value="source.scatter.place"
        kind="length"
        label="Scatter of place (±)"
        :min="0"
        :commit="plain('scatter.place')"
      />
      <QuantityField
        :value="source.scatter.angle"
        kind="angle"
        label="Scatter of turn (±)"
        :min="0"
        :commit="plain('scatter.angle')"
      />
    </template>
    <template v-else-if="surface">
      <ChoiceField :value="surface.material" label="Material" :options="materials" @choose="put('material', $event)" />
      <ChoiceField :value="surface.body" label="Sits on" :options="bodies" @choose="put('body', $event)" />
      <NameField
        class="wide"
        :value="corners"
        label="Corners in mm; parts touch the left side of the way"
        :most="4000"
        :commit="setCorners('line')"
      />
      <QuantityField :value="surface.thickness" kind="length" label="Thickness" :commit="positive('thickness')" />
    </template>
    <template v-else-if="gripper">
      <ChoiceField
        :value="gripper.body"
        label="Sits on"
        :options="list(machine.document!.mechanism.bodies)"
        @choose="put('body', $event)"
      />
      <QuantityField :value="gripper.at[0]" kind="length" label="x on the body" :commit="plain('at.0')" />
      <QuantityField :value="gripper.at[1]" kind="length" label="y on the body" :commit="plain('at.1')" />
      <QuantityField :value="gripper.reach" kind="length" label="Reach" :commit="positive('reach')" />
      <QuantityField :value="gripper.force" kind="force" label="Holds at most" :commit="positive('force')" />
    </template>
    <template v-else>
      <ChoiceField
        v-if="belt || platform"
        :value="(belt ?? platform)!.material"
        label="Material"
        :options="materials"
        @choose="put('material', $event)"
      />
      <template v-if="belt ?? platform ?? sink">
        <QuantityField
          :value="(belt ?? platform ?? sink)!.from[0]"
          kind="length"
          label="From x"
          :commit="plain('from.0')"
        />
        <QuantityField
          :value="(belt ?? platform ?? sink)!.from[1]"
          kind="length"
          label="From y"
          :commit="plain('from.1')"
        />
        <QuantityField :value="(belt ?? platform ?? sink)!.to[0]" kind="length" label="To x" :commit="plain('to.0')" />
        <QuantityField :value="(belt ?? platform ?? sink)!.to[1]" kind="length" label="To y" :commit="plain('to.1')" />
      </template>
      <template v-if="belt">
        <QuantityField :value="belt.thickness" kind="length" label="Thickness" :commit="positive('thickness')" />
        <ChoiceField
          :value="belt.drive.by"
          label="Driven"
          :options="[
            { value: 'speed', label: 'at a speed' },
            ...(machine.axes.length > 0 ? [{ value: 'axis', label: 'by an axis' }] : []),
          ]"
          @choose="
            put(
              'drive',
              $event === 'speed'
                ? { by: 'speed', speed: 0.2, running: true }
                : { by: 'axis', axis: machine.axes[0]!.id, radius: machine.axes[0]!.kind === 'linear' ? 1 : 0.05 },
            )
          "
        />
        <template v-if="belt.drive.by === 'speed'">
          <QuantityField :value="belt.drive.speed" kind="velocity" label="Speed" :commit="plain('drive.speed')" />
          <ToggleField :value="belt.drive.running" label="Runs from the start" @change="put('drive.running', $event)" />
        </template>
        <template v-else>
          <ChoiceField
            :value="belt.drive.axis"
            label="Axis"
            :options="list(machine.axes)"
            @choose="put('drive.axis', $event)"
          />
          <QuantityField
            v-if="
              machine.axes.find(({ id }) => belt!.drive.by === 'axis' && id === belt!.drive.axis)?.kind === 'rotary'
            "
            :value="belt.drive.radius"
            kind="length"
            label="Drum radius"
            :commit="positive('drive.radius')"
          />
        </template>
      </template>
      <template v-else-if="platform">
        <QuantityField :value="platform.thickness" kind="length" label="Thickness" :commit="positive('thickness')" />
        <QuantityField :value="platform.angle" kind="angle" label="Gives way along" :commit="plain('angle')" />
        <QuantityField :value="platform.travel" kind="length" label="Travel" :commit="positive('travel')" />
        <QuantityField :value="platform.rate" kind="springRate" label="Spring rate" :commit="positive('rate')" />
        <QuantityField :value="platform.preload" kind="force" label="Preload" :min="0" :commit="plain('preload')" />
        <QuantityField
          :value="platform.damping"
          kind="linearDamping"
          label="Damping"
          :min="0"
          :commit="plain('damping')"
        />
        <QuantityField :value="platform.mass" kind="mass" label="Mass" :commit="positive('mass')" />
      </template>
      <ChoiceField
        v-else-if="sink"
        :value="sink.counts"
        label="Parts here are"
        :options="[
          { value: 'done', label: 'done' },
          { value: 'missed', label: 'missed' },
        ]"
        @choose="put('counts', $event)"
      />
    </template>
    <div class="wide"><ElButton @click="remove">Delete</ElButton></div>
  </div>
</template>

<style scoped>
.loose-fields {
  display: grid;
  grid-template-columns: repeat(3, 1fr);
  gap: 7px 8px;
  align-items: start;
}
.wide {
  grid-column: 1 / -1;
}
</style>
