<script setup lang="ts">
import { travelEnds } from '@yoke/core';
import { computed, defineAsyncComponent, ref } from 'vue';
import { useMechanismColours } from '@/composables/useMechanismColours';
import { useSpaceDrag } from '@/composables/useSpaceDrag';
import { useBoard, useMachine, useTransfer } from '@/stores';

/** The machine in the pose that is looked at: bodies are dragged along their freedoms, and what comes of it is marked. */
const SpaceView = defineAsyncComponent(() => import('@/components/space/SpaceView.vue'));
const machine = useMachine();
const board = useBoard();
const transfer = useTransfer();
const missing = ref(false);
const colours = useMechanismColours(
  () => machine.document,
  () => 'axis',
  () => new Set<string>(),
);
const { pull, letGo } = useSpaceDrag(
  () => {
    const { solver } = transfer;
    const q = transfer.held ?? transfer.state?.q;
    return solver && q && machine.document
      ? { model: solver.model, q, ends: travelEnds(machine.document, solver.model) }
      : null;
  },
  (q, body) => {
    if (!board.selection.includes(body)) board.select(body);
    transfer.held = q;
  },
);
/** The ends of the way that are not looked at themselves, faintly. */
const ghosts = computed(() =>
  [transfer.from, transfer.to]
    .filter((mark) => mark !== null && (mark.id !== transfer.chosen || transfer.held !== null))
    .flatMap((mark) => {
      const poses = transfer.posesOf(mark!);
      return poses ? [poses] : [];
    }),
);
/** A pose that was marked before the drawing was changed may be out of reach since. */
const beyond = computed(() => transfer.held === null && (transfer.state?.share ?? 1) < 1);
const title = computed(() =>
  transfer.held ? 'Moved by hand' : transfer.mark ? `“${transfer.mark.name}”` : 'As it is drawn',
);
</script>

<template>
  <div class="picture panel">
    <p v-if="missing" class="soft">
      This browser has no WebGL: poses are marked as the machine is drawn, and put elsewhere by numbers.
    </p>
    <SpaceView
      v-else
      :machine="machine.document!"
      :poses="transfer.shown"
      :colours
      :run="null"
      :time="0"
      :selection="board.selection"
      :ghosts
      hand
      directions
      @select="(id, more) => board.select(id, more)"
      @pull="pull"
      @let-go="letGo"
      @missing="missing = true"
    />
    <div class="strip">
      <strong>{{ title }}</strong>
      <button type="button" @click="transfer.add('from')">Mark as start</button>
      <button type="button" @click="transfer.add('to')">Mark as target</button>
      <button type="button" @click="transfer.add(null)">Mark</button>
      <button v-if="transfer.held && transfer.mark" type="button" @click="transfer.moveHere()">
        Put “{{ transfer.mark.name }}” here
      </button>
      <button v-if="transfer.held" type="button" @click="transfer.held = null">Back</button>
      <button v-else-if="transfer.mark" type="button" @click="transfer.choose(null)">As drawn</button>
    </div>
    <p v-if="beyond" class="beyond" role="alert">
      The mechanism does not get into this pose: what is seen is as far as it goes. Put it elsewhere, or mark it anew.
    </p>
    <p class="hint">Drag a body along its freedoms; drag beside it to turn the view, wheel to zoom.</p>
  </div>
</template>

<style scoped>
.picture {
  position: relative;
  min-height: 0;
  padding: 0;
  overflow: hidden;
}
.strip {
  position: absolute;
  top: 8px;
  left: 10px;
  right: 10px;
  display: flex;
  flex-wrap: wrap;
  gap: 6px 8px;
  align-items: center;
  pointer-events: none;
}
.strip > * {
  pointer-events: auto;
}
.strip strong {
  font-weight: 600;
}
.strip button {
  border: 1px solid var(--line);
  background: var(--panel);
  color: var(--ink);
  font: inherit;
  border-radius: var(--radius);
  cursor: pointer;
  padding: 1px 8px;
}
.strip button:hover {
  border-color: var(--primary);
}
.beyond {
  position: absolute;
  top: 38px;
  left: 10px;
  margin: 0;
  color: var(--bad);
}
.hint {
  position: absolute;
  right: 10px;
  bottom: 34px;
  margin: 0;
  font-size: 12.5px;
  color: var(--ink-soft);
  pointer-events: none;
}
</style>
