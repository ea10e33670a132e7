import {
  explainBudget,
  hasCycle,
  runBudgetOf,
  runCost,
  type AxisRun,
  type Candidate,
  type CycleOptions,
  type CycleRecord,
  type Machine,
  type Run,
  type RunCost,
} from '@yoke/core';
import { proxy, wrap, type Remote } from 'comlink';
import { defineStore } from 'pinia';
import { computed, ref, shallowRef, watch } from 'vue';
import type { ComputeWorker, RunResult } from '@/worker/compute';
import { useCatalogue } from './catalogue';
import { useMachine } from './machine';

/** The engineer ended a run. */
class RunStopped extends Error {}

/** The run of the open machine and its motor rankings, computed in a worker as the document changes. */
export const useRun = defineStore('run', () => {
  const machine = useMachine();
  const catalogue = useCatalogue();
  const run = shallowRef<Run | null>(null);
  /** What happened in the cycle, where cues and loose parts make it. */
  const record = shallowRef<CycleRecord | null>(null);
  /** A draw of scattered values to be run instead of the document's own; null for none. */
  const draw = shallowRef<CycleOptions | null>(null);
  const rankings = shallowRef<Readonly<Record<string, Candidate[]>>>({});
  /** Documents that the run and the rankings belong to. */
  const computedFor = shallowRef<Machine | null>(null);
  const rankedFor = shallowRef<Machine | null>(null);
  const failure = ref<string | null>(null);
  /** What the next run would take, where that is more than runs take without being asked for; null otherwise. */
  const ask = ref<string | null>(null);
  /** What a run of the open machine may take since the engineer has said so. */
  let allowed: RunCost | null = null;
  /** Share of the run done, while one is under way; null otherwise. */
  const progress = ref<number | null>(null);
  let thread: Worker | null = null;
  let worker: Remote<ComputeWorker> | null = null;
  let stopping: ((reason: Error) => void) | null = null;
  let busy = false;
  let again = false;

  function theWorker(): Remote<ComputeWorker> {
    if (!worker) {
      thread = new Worker(new URL('../worker/compute.ts', import.meta.url), { type: 'module' });
      worker = wrap<ComputeWorker>(thread);
    }
    return worker;
  }

  /** Why a document is not run without being asked for; null where it is. */
  function beyondBudget(document: Machine): string | null {
    const { cost } = runBudgetOf(document);
    const within =
      allowed !== null && (Object.keys(cost) as (keyof RunCost)[]).every((key) => cost[key] <= allowed![key]);
    return within ? null : explainBudget(document);
  }

  /** Runs the document although it takes more than runs usually may. */
  function runAnyway(): void {
    if (!machine.document) return;
    allowed = runCost(machine.document);
    void compute();
  }

  /** A fresh thread for the next run. */
  function renew(): void {
    thread?.terminate();
    thread = worker = null;
    void theWorker().setCatalogue(catalogue.motors);
  }
  /** Ends whatever is being computed; the results before stay, marked stale. */
  function stop(): void {
    thread?.terminate();
    thread = worker = null;
    stopping?.(new RunStopped('The run was stopped. Any edit starts it again.'));
    void theWorker().setCatalogue(catalogue.motors);
  }

  /** Runs a document in the worker, with its progress, until it is done or stopped. */
  async function runInWorker(document: Machine): Promise<RunResult> {
    progress.value = 0;
    try {
      return await Promise.race([
        theWorker().run(
          document,
          proxy((share: number) => void (progress.value = share)),
          draw.value ?? {},
        ),
        new Promise<never>((_resolve, reject) => (stopping = reject)),
      ]);
    } finally {
      progress.value = null;
      stopping = null;
    }
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
        record.value = null;
        rankings.value = {};
        computedFor.value = rankedFor.value = null;
        break;
      }
      ask.value = beyondBudget(document);
      if (ask.value !== null) continue;
      try {
        const next = await runInWorker(document);
        if (!machine.document) continue;
        run.value = next.run;
        record.value = next.record;
        computedFor.value = document;
        performance.mark('yoke-run');
        failure.value = null;
        // The curves are drawn by now; while edits come quickly, only the last one is ranked.
        if (again) continue;
        rankings.value = await theWorker().rank(document, next.run);
        rankedFor.value = document;
      } catch (error) {
        failure.value = (error as Error).message;
        // A thread in which the physics library gave up cannot be trusted any more.
        if (!(error instanceof RunStopped)) renew();
      }
    } while (again);
    busy = false;
  }

  /** Runs another document, as of a variant, in the same worker. */
  const simulateOther = async (document: Machine): Promise<Run> => (await cycleOf(document)).run;
  /** Runs another document with all that happens in its cycle. @throws Error where it takes too much unasked */
  async function cycleOf(document: Machine): Promise<RunResult> {
    const beyond = beyondBudget(document);
    if (beyond !== null) throw new Error(beyond);
    return theWorker().run(document);
  }
  /** Runs the document with other scattered values, or with its own again. */
  function runDraw(options: CycleOptions | null): void {
    draw.value = options;
    void compute();
  }

  watch(
    () => catalogue.motors,
    async (motors) => {
      await theWorker().setCatalogue(motors);
      void compute();
    },
  );
  watch(
    () => machine.id,
    () => {
      draw.value = null;
      allowed = null;
      ask.value = null;
    },
  );
  watch(
    () => machine.document,
    () => void compute(),
    { immediate: true },
  );
  // How long an edit takes to reach the results; read by the benchmark.
  watch(
    () => machine.document,
    () => performance.mark('yoke-edit'),
    { flush: 'sync' },
  );

  /** The selected axis as it was when the results were computed; what is drawn of them goes with it. */
  const axis = computed(() => computedFor.value?.axes.find(({ id }) => id === machine.axis?.id) ?? null);
  const axisRun = computed<AxisRun | null>(
    () => run.value?.axes.find(({ axisId }) => axisId === machine.axis?.id) ?? null,
  );

  /** Length of what is shown, s: the cycle as typed, or as long as the simulated cycle takes. */
  const span = computed(() =>
    run.value && computedFor.value && hasCycle(computedFor.value) ? run.value.cycleTime : machine.cycle,
  );

  return {
    run,
    record,
    draw,
    span,
    cycleOf,
    runDraw,
    rankings,
    failure,
    ask,
    runAnyway,
    /** The document that the results belong to; what is drawn of them goes with it. */
    document: computedFor,
    axis,
    axisRun,
    units: computed(() => computedFor.value?.units ?? 'metric'),
    stale: computed(() => computedFor.value !== machine.document),
    rankingStale: computed(() => rankedFor.value !== machine.document),
    ranking: computed(() => rankings.value[machine.axis?.id ?? ''] ?? []),
    progress,
    stop,
    simulate: simulateOther,
    ofAxis: (id: string) => run.value?.axes.find(({ axisId }) => axisId === id) ?? null,
  };
});
