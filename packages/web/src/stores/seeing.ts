import { everyChannel, everySamples, type MechanismChannel } from '@yoke/core';
import { defineStore } from 'pinia';
import { computed, ref, watch } from 'vue';
import type { ShownKinds } from '@/lib/space/showing';
import { useMachine } from './machine';
import { useRun } from './run';

/** One plot: the channels that share it. */
export interface Plot {
  id: number;
  channels: string[];
}

/** What is looked at in a mechanism's run: plots and their channels, ghosts, arrows, traces. */
export const useSeeing = defineStore('seeing', () => {
  const machine = useMachine();
  const results = useRun();
  const plots = ref<Plot[]>([]);
  const ghosts = ref(0);
  const arrows = ref(true);
  const velocities = ref(false);
  /** Moments of rails and shafts, in depth. */
  const moments = ref(false);
  /** Whether the machine is seen in depth; null as it suits the machine. */
  const depth = ref<boolean | null>(null);
  /** Bodies and planes that are shown faintly, or not at all. */
  const faded = ref<Readonly<Record<string, 'faint' | 'hidden'>>>({});
  /** Kinds of things that are shown faintly, or not at all. */
  const kinds = ref<ShownKinds>({});
  let made = 0;

  const channels = computed<MechanismChannel[]>(() => {
    const { run, record, document } = results;
    return run && document ? everyChannel(document, { run, record }) : [];
  });
  const byId = computed(() => new Map(channels.value.map((channel) => [channel.id, channel])));

  /** Plots to begin with: the effort of each drive, and the speed of the first traced point. */
  function begin(): void {
    const document = machine.document;
    if (!document) return;
    const drives = document.axes.filter(({ joint }) => joint !== null).map(({ id }) => `drive:${id}:effort`);
    const traced = document.mechanism.traces[0];
    const more = traced
      ? [`point:${traced.body}.${traced.point}:v`]
      : document.mechanism.joints[0]
        ? [`joint:${document.mechanism.joints[0].id}:force`]
        : channels.value.some(({ id }) => id === 'part:0:v')
          ? ['part:0:v', 'part:0:y']
          : [];
    plots.value = [];
    if (drives.length > 0) add(drives.slice(0, 4));
    for (const id of more) add([id]);
  }
  watch(
    () => machine.id,
    () => {
      plots.value = [];
      depth.value = null;
      faded.value = {};
      kinds.value = {};
    },
  );

  function add(ids: string[]): void {
    plots.value = [...plots.value, { id: ++made, channels: ids }];
  }
  const remove = (id: number) => void (plots.value = plots.value.filter((plot) => plot.id !== id));
  /** Puts a channel into a plot or takes it out; plots share a unit. */
  function toggle(plotId: number, channel: string): string | null {
    const plot = plots.value.find(({ id }) => id === plotId);
    if (!plot) return null;
    if (plot.channels.includes(channel)) {
      plot.channels = plot.channels.filter((id) => id !== channel);
      return null;
    }
    const kinds = new Set([...plot.channels, channel].map((id) => byId.value.get(id)?.kind));
    if (kinds.size > 1) {
      add([channel]);
      return 'It has another unit than that plot: it stands in a plot of its own.';
    }
    plot.channels = [...plot.channels, channel];
    return null;
  }
  const samples = (id: string): Float64Array | undefined =>
    results.run && results.document
      ? everySamples(results.document, { run: results.run, record: results.record }, id)
      : undefined;

  return {
    plots,
    ghosts,
    arrows,
    velocities,
    moments,
    depth,
    faded,
    kinds,
    channels,
    byId,
    begin,
    add,
    remove,
    toggle,
    samples,
  };
});
