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
  /** Document that the results belong to. */
  const computedFor = shallowRef<Machine | null>(null);
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
        computedFor.value = null;
        break;
      }
      try {
        const result = await theWorker().compute(document);
        if (machine.document && machine.id) {
          run.value = result.run;
          rankings.value = result.rankings;
          computedFor.value = document;
          failure.value = null;
        }
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

  const axisRun = computed<AxisRun | null>(
    () => run.value?.axes.find(({ axisId }) => axisId === machine.axis?.id) ?? null,
  );

  return {
    run,
    rankings,
    failure,
    axisRun,
    stale: computed(() => computedFor.value !== machine.document),
    ranking: computed(() => rankings.value[machine.axis?.id ?? ''] ?? []),
    ofAxis: (id: string) => run.value?.axes.find(({ axisId }) => axisId === id) ?? null,
  };
});
