<script setup lang="ts">
import dagre from '@dagrejs/dagre';
import { actionWords, conditionText } from '@yoke/core';
import { Handle, MarkerType, Position, VueFlow, type Edge, type Node } from '@vue-flow/core';
import '@vue-flow/core/dist/style.css';
import { computed } from 'vue';

import { useCues, useMachine } from '@/stores';

/** Who starts whom: the cue sheet as a graph that lays itself out. */
const machine = useMachine();
const cues = useCues();
const WIDTH = 178;
const HEIGHT = 52;
const onChain = computed(
  () => new Set(cues.chain?.links.filter(({ what }) => what === 'action').map(({ subject }) => subject) ?? []),
);

const graph = computed(() => {
  const document = machine.document!;
  const { sequence } = document;
  const layout = new dagre.graphlib.Graph();
  layout.setGraph({ rankdir: 'TB', nodesep: 22, ranksep: 34 });
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
      fit-view-on-init
      @node-click="cues.choose($event.node.id)"
    >
      <template #node-cue="{ data }">
        <div class="cue" :class="{ off: !data.on, chain: data.chain, chosen: data.chosen }">
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
  width: 178px;
  min-height: 46px;
  padding: 3px 7px;
  background: var(--panel);
  border: 1px solid var(--line);
  border-left: 4px solid var(--primary);
  border-radius: 4px;
  font: 12.5px/1.2 var(--narrow);
  color: var(--ink);
}
.cue b {
  display: block;
  font-weight: 600;
  font-size: 13.5px;
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
  font: 12px var(--narrow);
  fill: var(--ink);
}
.graph :deep(.vue-flow__edge-textbg) {
  fill: var(--panel);
}
</style>
