<script setup lang="ts">
import { GROUND, nameIn, type Place } from '@yoke/core';
import { computed } from 'vue';
import { DeleteButton } from '@/components/fields';
import { useBoard, useMachine } from '@/stores';

/** Everything on the board by name; a click chooses it, Shift adds to the choice. */
const board = useBoard();
const machine = useMachine();
const groups = computed(() => {
  const m = board.mechanism;
  if (!m) return [];
  const plain = (list: readonly { id: string; name: string }[]) => list.map(({ id, name }) => ({ id, name, note: '' }));
  return [
    {
      title: 'Planes',
      items:
        m.planes.length < 2
          ? []
          : m.planes.map(({ id, name, on }) => ({
              id,
              name,
              note: id === board.plane ? 'drawn in' : on === GROUND ? '' : `on ${nameIn(machine.document!, on)}`,
            })),
    },
    { title: 'Bodies', items: plain(m.bodies) },
    {
      title: 'Joints',
      items: m.joints.map(({ id, name }) => {
        const axis = machine.axes.find(({ joint }) => joint === id);
        return { id, name, note: axis ? `driven by ${axis.name}` : '' };
      }),
    },
    { title: 'Paths', items: plain(m.paths) },
    { title: 'Couplings', items: plain(m.couplings) },
    {
      title: 'Springs, stops, loads',
      items: m.elements.map(({ id, name, on }) => ({ id, name, note: on ? '' : 'off' })),
    },
    {
      title: 'Traces',
      items: m.traces.map(({ body, point }) => ({
        id: body,
        name: `${nameIn(machine.document!, body)}.${point}`,
        note: '',
        drop: { body, point },
      })),
    },
  ].filter(({ items }) => items.length > 0);
});

const untrace = ({ body, point }: Place) =>
  board.draw('trace a point no more', (draft) => {
    const { traces } = draft.mechanism;
    draft.mechanism.traces = traces.filter((trace) => trace.body !== body || trace.point !== point);
  });
</script>

<template>
  <section class="panel list" aria-label="On the board">
    <template v-for="group in groups" :key="group.title">
      <h3>{{ group.title }}</h3>
      <ul>
        <li v-for="item in group.items" :key="`${item.id} ${item.name}`">
          <button
            type="button"
            class="plain"
            :class="{ on: board.selection.includes(item.id) }"
            @click="board.select(item.id, $event.shiftKey)"
          >
            {{ item.name }} <span class="soft">{{ item.note }}</span>
          </button>
          <DeleteButton
            v-if="'drop' in item"
            :label="`Trace ${item.name} no more`"
            @click="untrace(item.drop as Place)"
          />
        </li>
      </ul>
    </template>
    <p v-if="groups.length === 0" class="soft">
      Nothing is drawn yet. Take the bar from the palette, press on the board, and drag.
    </p>
  </section>
</template>

<style scoped>
.list {
  overflow: auto;
  min-height: 0;
  padding: 8px 10px;
}
ul {
  list-style: none;
  margin: 2px 0 8px;
  padding: 0;
}
li {
  display: flex;
  align-items: center;
}
li button.plain {
  flex: 1;
  min-width: 0;
  text-align: left;
  padding: 2px 6px;
  border-radius: var(--radius);
  font: 14px var(--narrow);
}
li button.plain:hover {
  background: var(--sunken);
}
li button.on {
  background: var(--primary-soft);
}
</style>
