import {
  brokenBy,
  explainBudget,
  hasCycle,
  runBudgetOf,
  runCost,
  type AxisRun,
  type Candidate,
  type CycleOptions,
  type CycleRecord,
  type Machine,
  type MachineRun,
  type Run,
  type RunCost,
  type ToldFinding,
} from '@yoke/core';
import { proxy, wrap, type Remote } from 'comlink';
import { defineStore } from 'pinia';
import { computed, ref, shallowRef, watch } from 'vue';
import type { ComputeWorker, KeyedRun } from '@/worker/compute';
import { useCatalogue } from './catalogue';
import { useMachine } from './machine';

/** The engineer ended a run. */
class RunStopped extends Error {}
/** An edit made a run pointless before it was done. */
class RunOvertaken extends Error {}

/** A run under way for longer than this, ms, is ended by an edit: beginning anew takes less. */
const WORTH_ENDING = 300;

/** What a computation that broke down is told as; errors with words of their own name the culprit and what to do. */
function failureWords({ name, message }: Error): string {
  if (name === 'ContactError') return message;
  return `The computation broke down (${name}: ${message.slice(0, 120)}). What is shown is from before: undo the last edit, and send the machine file to whoever looks after Yoke.`;
}

/** The run of the open machine and its motor rankings, computed in a worker as the document changes. */
export const useRun = defineStore('run', () => {
  const machine = useMachine();
  const catalogue = useCatalogue();
  const run = shallowRef<Run | null>(null);
  /** What happened in the cycle, where cues and loose parts make it. */
  const record = shallowRef<CycleRecord | null>(null);
  /** A draw of scattered values to be run instead of the document's own; null for none. */
  const draw = shallowRef<CycleOptions | null>(null);
  /** The draw whose run is shown; another may be on its way. */
  const shownDraw = shallowRef<CycleOptions | null>(null);
  const rankings = shallowRef<Readonly<Record<string, Candidate[]>>>({});
  /** All that was found in the run, in words. */
  const ownFindings = shallowRef<readonly ToldFinding[]>([]);
  /** What is found out of the run beside it, as clearances, and whether that is still being computed. */
  const beside = shallowRef<{ findings: readonly ToldFinding[]; pending: boolean }>({ findings: [], pending: false });
  const findings = computed(() => [...ownFindings.value, ...beside.value.findings]);
  /** The kind of thing that breaks the run first, whenever it does; null where nothing does. */
  const broken = computed(() => {
    const found = brokenBy(findings.value);
    return found && `${found.about} ${found.code} ${found.axisId}`;
  });
  /** What the engineer has said to rank and deliver in spite of; something else asks again. */
  const insistedOn = ref<string | null>(null);
  const insisted = computed(() => broken.value !== null && insistedOn.value === broken.value);
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
  /** Time that the run under way takes yet, s; null while nobody knows. */
  const remaining = ref<number | null>(null);
  /** Length of the beginning of a cycle that is shown while the rest is computed, s; null where all of it is shown. */
  const begun = ref<number | null>(null);
  /** Key of the result that is shown. */
  let shownKey: string | null = null;
  let startedAt = 0;
  let thread: Worker | null = null;
  let worker: Remote<ComputeWorker> | null = null;
  /** Ends of all that waits for the thread, for when it is ended. */
  const stopping = new Set<(reason: Error) => void>();
  let busy = false;
  let again = false;

  function theWorker(): Remote<ComputeWorker> {
    if (!worker) {
      thread = new Worker(new URL('../worker/compute.ts', import.meta.url), { type: 'module' });
      worker = wrap<ComputeWorker>(thread);
      // The catalogue may have been there before the thread.
      if (catalogue.motors.length > 0) void worker.setCatalogue(catalogue.motors);
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

  /** A fresh thread for the next run; what the old one was asked gets no answer any more. */
  function renew(reason: Error = new RunStopped('The computation was begun anew: ask for this run again.')): void {
    thread?.terminate();
    thread = worker = null;
    for (const end of [...stopping]) end(reason);
    theWorker();
  }
  /** Ends whatever is being computed; the results before stay, marked stale. */
  const stop = (): void => renew(new RunStopped('The run was stopped. Any edit starts it again.'));
  /** An answer of the thread, or a rejection where that is ended before. */
  async function orStopped<T>(answer: Promise<T>): Promise<T> {
    let end: (reason: Error) => void = () => undefined;
    try {
      return await Promise.race([answer, new Promise<never>((_, reject) => stopping.add((end = reject)))]);
    } finally {
      stopping.delete(end);
    }
  }

  /** Tells how far a run is, and how long it takes yet. */
  function advance(share: number): void {
    progress.value = share;
    const gone = performance.now() - startedAt;
    remaining.value = gone > 1000 && share > 0.05 ? (gone / 1000 / share) * (1 - share) : null;
  }
  /** Shows the beginning of a cycle, while all of it is computed. */
  function show(document: Machine, next: MachineRun, length: number | null): void {
    run.value = next.run;
    record.value = next.record;
    ownFindings.value = next.findings;
    computedFor.value = document;
    begun.value = length;
  }

  /** Runs a document in the worker, with its progress, until it is done or stopped. */
  async function runInWorker(document: Machine, drawn: CycleOptions): Promise<KeyedRun> {
    progress.value = 0;
    remaining.value = null;
    startedAt = performance.now();
    let under = true;
    try {
      return await orStopped(
        theWorker().run(
          document,
          proxy({
            progress: (share: number) => void (under && advance(share)),
            begun: (beginning: MachineRun) => {
              if (!under || machine.document !== document) return;
              shownKey = null;
              show(document, beginning, beginning.run.cycleTime);
            },
          }),
          drawn,
          shownKey,
        ),
      );
    } finally {
      under = false;
      progress.value = remaining.value = null;
    }
  }

  /** Computes the newest document; while one is under way only the newest waits. */
  async function compute(): Promise<void> {
    if (busy) {
      again = true;
      // Unless somebody else waits for the same thread.
      if (progress.value !== null && stopping.size === 1 && performance.now() - startedAt > WORTH_ENDING)
        renew(new RunOvertaken());
      return;
    }
    busy = true;
    do {
      again = false;
      const document = machine.document;
      if (!document) {
        run.value = null;
        record.value = null;
        ownFindings.value = [];
        rankings.value = {};
        shownDraw.value = begun.value = shownKey = null;
        computedFor.value = rankedFor.value = null;
        break;
      }
      ask.value = beyondBudget(document);
      if (ask.value !== null) continue;
      const drawn = draw.value;
      try {
        const { key, from, result, findings: found } = await runInWorker(document, drawn ?? {});
        if (!machine.document) continue;
        shownDraw.value = drawn;
        const { run: made, record: happened } = result ?? { run: run.value!, record: record.value };
        show(document, { run: made, record: happened, findings: found }, null);
        shownKey = key;
        performance.mark('yoke-run', { detail: { from } });
        failure.value = null;
        // The curves are drawn by now; while edits come quickly, only the last one is ranked.
        if (again) continue;
        rankings.value = await orStopped(theWorker().rank(document, drawn ?? {}, insisted.value));
        rankedFor.value = document;
      } catch (error) {
        if (error instanceof RunOvertaken) continue;
        failure.value = error instanceof RunStopped ? error.message : failureWords(error as Error);
        // A thread in which the physics library gave up cannot be trusted any more.
        if (!(error instanceof RunStopped)) renew();
      }
    } while (again);
    busy = false;
  }

  /** Runs another document, as of a variant. @throws Error where it takes too much unasked, or was stopped */
  async function cycleOf(document: Machine): Promise<MachineRun> {
    const beyond = beyondBudget(document);
    if (beyond !== null) throw new Error(beyond);
    const { result, findings: found } = await orStopped(theWorker().run(document));
    return { ...result!, findings: found };
  }
  /** Ranks and delivers by a run that is broken, as far as it got. */
  function insist(): void {
    insistedOn.value = broken.value;
    void compute();
  }
  /** What breaks the run for an axis, or for the whole machine; null where nothing does. */
  const brokenFor = (axis?: { id: string; joint: string | null }): ToldFinding | null => brokenBy(findings.value, axis);

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
      insistedOn.value = null;
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

  /** Nothing is ranked of a run that what was found beside it breaks, until the engineer insists. */
  const shownRankings = computed(() => (brokenBy(beside.value.findings) && !insisted.value ? {} : rankings.value));

  return {
    run,
    beside,
    record,
    /** The draw whose run is shown; null for the machine's own. */
    draw: shownDraw,
    remaining,
    begun,
    span,
    cycleOf,
    runDraw,
    rankings: shownRankings,
    failure,
    ask,
    runAnyway,
    findings,
    insisted,
    insist,
    brokenFor,
    /** The finding that the run is sampled too coarsely; null where it is not. */
    coarse: computed(() => findings.value.find(({ code }) => code === 'coarse-step') ?? null),
    /** The document that the results belong to; what is drawn of them goes with it. */
    document: computedFor,
    axis,
    axisRun,
    units: computed(() => computedFor.value?.units ?? 'metric'),
    stale: computed(
      () => computedFor.value !== machine.document || shownDraw.value !== draw.value || begun.value !== null,
    ),
    rankingStale: computed(() => rankedFor.value !== machine.document || shownDraw.value !== draw.value),
    ranking: computed(() => shownRankings.value[machine.axis?.id ?? ''] ?? []),
    progress,
    stop,
    ofAxis: (id: string) => run.value?.axes.find(({ axisId }) => axisId === id) ?? null,
  };
});
