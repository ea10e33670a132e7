<script setup lang="ts">
import dagre from '@dagrejs/dagre';
import { actionWords, conditionText } from '@yoke/core';
import { Handle, MarkerType, Position, useVueFlow, VueFlow, type Edge, type Node } from '@vue-flow/core';
import '@vue-flow/core/dist/style.css';
import { computed, watch } from 'vue';
import { useCues, useCursor, useMachine } from '@/stores';

/** Who starts whom: the cue sheet as a graph that lays itself out, and follows the cursor. */
const flow = useVueFlow();
const cursor = useCursor();
const machine = useMachine();
const cues = useCues();
const WIDTH = 190;
const HEIGHT = 62;
/** Least size at which a graph is shown at first: smaller it cannot be read. */
const READABLE = 0.75;
const onChain = computed(
  () => new Set(cues.chain?.links.filter(({ what }) => what === 'action').map(({ subject }) => subject) ?? []),
);

const graph = computed(() => {
  const document = machine.document!;
  const { sequence } = document;
  const layout = new dagre.graphlib.Graph();
  layout.setGraph({ rankdir: 'TB', nodesep: 14, ranksep: 34 });
  layout.setDefaultEdgeLabel(() => ({}));
  for (const { id } of sequence.cues) layout.setNode(id, { width: WIDTH, height: HEIGHT });
  const edges: Edge[] = sequence.cues.flatMap((cue) => [
    ...cue.after.map((from) => ({
      id: `${from} ${cue.id}`,
      source: from,
      target: cue.id,
      label: cue.choice ?? (cue.join === 'any' && cue.after.length > 1 ? 'or' : ''),
      markerEnd: MarkerType.ArrowClosed,
      class: cue.choice ? 'choice' : '',
    })),
    ...(cue.timeOut?.then === 'cue' && cue.timeOut.cue
      ? [
          {
            id: `${cue.id} late ${cue.timeOut.cue}`,
            source: cue.id,
            target: cue.timeOut.cue,
            label: 'too late',
            markerEnd: MarkerType.ArrowClosed,
            class: 'late',
          },
        ]
      : []),
  ]);
  for (const { source, target } of edges) layout.setEdge(source, target);
  dagre.layout(layout);
  const nodes: Node[] = sequence.cues.map((cue) => {
    const at = layout.node(cue.id) as { x: number; y: number };
    return {
      id: cue.id,
      type: 'cue',
      position: { x: at.x - WIDTH / 2, y: at.y - HEIGHT / 2 },
      data: {
        name: cue.name,
        does: actionWords(cue.action, document),
        when: conditionText(cue.when, document),
        on: cue.on,
        chain: onChain.value.has(cue.id),
        chosen: cues.chosen.includes(cue.id),
      },
    };
  });
  return { nodes, edges };
});
/** The whole graph where it can be read so; else as wide as fits, from the top. */
let seen = false;
function showAll(): void {
  // Once: later the view is where the hand has put it.
  if (seen) return;
  const { width, height } = flow.dimensions.value;
  const right = Math.max(...graph.value.nodes.map(({ position }) => position.x + WIDTH));
  const left = Math.min(...graph.value.nodes.map(({ position }) => position.x));
  const bottom = Math.max(...graph.value.nodes.map(({ position }) => position.y + HEIGHT));
  if (!(width > 0) || !(right > left)) return;
  const all = Math.min((width - 24) / (right - left), (height - 24) / bottom, 1.2);
  const zoom = all >= READABLE ? all : Math.max(READABLE, Math.min(1, (width - 24) / (right - left)));
  seen = true;
  void flow.setViewport({ x: (width - (left + right) * zoom) / 2, y: 12, zoom });
}

/** The cue that began last at the cursor and has not ended. */
const now = computed(() => {
  const open: string[] = [];
  for (const { kind, subject, time } of cues.record?.events ?? []) {
    if (time > cursor.time + 1e-9) break;
    if (kind === 'cue') open.push(subject);
    if (kind === 'ended' && open.includes(subject)) open.splice(open.indexOf(subject), 1);
  }
  return open;
});
watch(now, (ids) => {
  const at = graph.value.nodes.find(({ id }) => id === ids.at(-1))?.position;
  if (!at) return;
  const { x, y, zoom } = flow.viewport.value;
  const { width, height } = flow.dimensions.value;
  const [px, py] = [at.x * zoom + x, at.y * zoom + y];
  // Only what is out of sight is brought into it.
  if (px >= 0 && py >= 0 && px + WIDTH * zoom <= width && py + HEIGHT * zoom <= height) return;
  void flow.setCenter(at.x + WIDTH / 2, at.y + HEIGHT / 2, { zoom });
});
</script>

<template>
  <section class="panel graph" aria-label="Graph of the chain">
    <VueFlow
      v-if="graph.nodes.length > 0"
      :nodes="graph.nodes"
      :edges="graph.edges"
      :nodes-draggable="false"
      :nodes-connectable="false"
      :min-zoom="0.1"
      @nodes-initialized="showAll"
      @node-click="cues.choose($event.node.id)"
    >
      <template #node-cue="{ id, data }">
        <div class="cue" :class="{ off: !data.on, chain: data.chain, chosen: data.chosen, now: now.includes(id) }">
          <Handle type="target" :position="Position.Top" />
          <span v-if="data.when" class="when">{{ data.when }}</span>
          <b>{{ data.name }}</b>
          <span class="does">{{ data.does }}</span>
          <Handle type="source" :position="Position.Bottom" />
        </div>
      </template>
    </VueFlow>
    <p v-else class="soft">Cues and what starts them stand here.</p>
  </section>
</template>

<style scoped>
.graph {
  padding: 0;
  min-height: 0;
  overflow: hidden;
  position: relative;
}
.graph > p {
  padding: 14px;
}
.cue {
  width: 190px;
  min-height: 56px;
  padding: 4px 8px;
  background: var(--panel);
  border: 1px solid var(--line);
  border-left: 4px solid var(--primary);
  border-radius: 4px;
  font: 15px/1.2 var(--narrow);
  color: var(--ink);
}
.cue b {
  display: block;
  font-weight: 600;
  font-size: 16.5px;
}
.cue .when {
  display: block;
  color: var(--primary);
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.cue .does {
  color: var(--ink-soft);
}
.cue.chain {
  border-left-color: var(--attention);
}
.cue.chosen {
  outline: 2px solid var(--primary);
}
.cue.now {
  background: var(--attention-soft);
}
.cue.off {
  opacity: 0.5;
}
.graph :deep(.vue-flow__handle) {
  opacity: 0;
  pointer-events: none;
}
.graph :deep(.vue-flow__edge-path) {
  stroke: var(--ink-soft);
}
.graph :deep(.late .vue-flow__edge-path) {
  stroke: var(--bad);
  stroke-dasharray: 5 4;
}
.graph :deep(.choice .vue-flow__edge-path) {
  stroke-dasharray: 2 3;
}
.graph :deep(.vue-flow__edge-text) {
  font: 14px var(--narrow);
  fill: var(--ink);
}
.graph :deep(.vue-flow__edge-textbg) {
  fill: var(--panel);
}
</style>
