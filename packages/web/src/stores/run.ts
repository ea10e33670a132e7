import type { AxisRun, Candidate, Machine, Run } from '@yoke/core';
import { wrap, type Remote } from 'comlink';
import { defineStore } from 'pinia';
import { computed, ref, shallowRef, watch } from 'vue';
import type { ComputeWorker } from '@/worker/compute';
import { useCatalogue } from './catalogue';
import { useMachine } from './machine';

/** The run of the open machine and its motor rankings, computed in a worker as the document changes. */
export const useRun = defineStore('run', () => {
  const machine = useMachine();
  const catalogue = useCatalogue();
  const run = shallowRef<Run | null>(null);
  const rankings = shallowRef<Readonly<Record<string, Candidate[]>>>({});
  /** Documents that the run and the rankings belong to. */
  const computedFor = shallowRef<Machine | null>(null);
  const rankedFor = shallowRef<Machine | null>(null);
  const failure = ref<string | null>(null);
  let worker: Remote<ComputeWorker> | null = null;
  let busy = false;
  let again = false;

  function theWorker(): Remote<ComputeWorker> {
    worker ??= wrap<ComputeWorker>(new Worker(new URL('../worker/compute.ts', import.meta.url), { type: 'module' }));
    return worker;
  }

  /** Computes the newest document; while one is under way only the newest waits. */
  async function compute(): Promise<void> {
    if (busy) {
      again = true;
      return;
    }
    busy = true;
    do {
      again = false;
      const document = machine.document;
      if (!document) {
        run.value = null;
        rankings.value = {};
        computedFor.value = rankedFor.value = null;
        break;
      }
      try {
        const next = await theWorker().run(document);
        if (!machine.document) continue;
        run.value = next;
        computedFor.value = document;
        failure.value = null;
        // The curves are drawn by now; while edits come quickly, only the last one is ranked.
        if (again) continue;
        rankings.value = await theWorker().rank(document, next);
        rankedFor.value = document;
      } catch (error) {
        failure.value = (error as Error).message;
      }
    } while (again);
    busy = false;
  }

  watch(
    () => catalogue.motors,
    async (motors) => {
      await theWorker().setCatalogue(motors);
      void compute();
    },
  );
  watch(
    () => machine.document,
    () => void compute(),
    { immediate: true },
  );

  /** The selected axis as it was when the results were computed; what is drawn of them goes with it. */
  const axis = computed(() => computedFor.value?.axes.find(({ id }) => id === machine.axis?.id) ?? null);
  const axisRun = computed<AxisRun | null>(
    () => run.value?.axes.find(({ axisId }) => axisId === machine.axis?.id) ?? null,
  );

  return {
    run,
    rankings,
    failure,
    axis,
    axisRun,
    units: computed(() => computedFor.value?.units ?? 'metric'),
    stale: computed(() => computedFor.value !== machine.document),
    rankingStale: computed(() => rankedFor.value !== machine.document),
    ranking: computed(() => rankings.value[machine.axis?.id ?? ''] ?? []),
    ofAxis: (id: string) => run.value?.axes.find(({ axisId }) => axisId === id) ?? null,
  };
});
