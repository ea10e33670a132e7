import {
  planCandidates,
  type ComparedMotion,
  type JudgedCandidate,
  type LeadResult,
  type LiftOff,
  type MotionOption,
  type PathLead,
  type SweptRatio,
  type PlanPrice,
  type ProposalTask,
} from '@yoke/core';
import { proxy, wrap, type Remote } from 'comlink';
import { defineStore } from 'pinia';
import { computed, ref } from 'vue';
import type { ComputeWorker } from '@/worker/compute';
import { useCatalogue } from './catalogue';
import { useMachine } from './machine';

interface Helper {
  thread: Worker;
  remote: Remote<ComputeWorker>;
}

/** What was found, best first, and what the plan as it is costs. */
export interface Proposals {
  now: PlanPrice;
  list: JudgedCandidate[];
  judged: number;
}

/** Workers for proposals; more would take the run and the page their time. */
const MOST_WORKERS = 2;

/** Longer computations beside the run: comparisons, proposals, led paths. Each has workers of its own and can be given up. */
export const useWork = defineStore('work', () => {
  const machine = useMachine();
  const catalogue = useCatalogue();
  const helpers: Helper[] = [];
  let proposing: Helper[] = [];
  const done = ref<readonly number[]>([]);
  const total = ref(0);
  let giveUp: (() => void) | null = null;

  async function start(): Promise<Helper> {
    const thread = new Worker(new URL('../worker/compute.ts', import.meta.url), { type: 'module' });
    const remote = wrap<ComputeWorker>(thread);
    await remote.setCatalogue(catalogue.motors);
    return { thread, remote };
  }

  async function helper(): Promise<Remote<ComputeWorker>> {
    helpers[0] ??= await start();
    await helpers[0].remote.setCatalogue(catalogue.motors);
    return helpers[0].remote;
  }

  const compare = async (axisId: string, options: MotionOption[]): Promise<ComparedMotion[]> =>
    (await helper()).compare(machine.document!, axisId, options);

  const lead = async (wanted: PathLead): Promise<LeadResult> => (await helper()).lead(machine.document!, wanted);

  /** The speed at which a cam lets go of its follower, or why there is none. */
  const liftOff = async (jointId: string): Promise<LiftOff | string> =>
    (await helper()).liftOff(machine.document!, jointId);

  /** The gear ratios of an axis, each with the motor that ranks first, or why there are none. */
  const sweepRatios = async (axisId: string): Promise<SweptRatio[] | string> =>
    (await helper()).sweepRatios(machine.document!, axisId);

  /**
   * Judges all candidates of a task on as many workers as there are, and prices the best by runs of the machine; null
   * where it was cancelled.
   */
  async function propose(task: ProposalTask): Promise<Proposals | null> {
    const document = machine.document!;
    const axis = document.axes.find(({ id }) => id === task.axisId)!;
    const workers = Math.max(1, Math.min(MOST_WORKERS, (navigator.hardwareConcurrency || 2) - 1));
    total.value = planCandidates(axis, task.goal).length;
    done.value = Array.from({ length: workers }, () => 0);
    // Giving up counts from the first moment, while the workers are still being started.
    const cancelled = new Promise<null>((resolve) => (giveUp = () => resolve(null)));
    proposing = await Promise.all(Array.from({ length: workers }, start));
    const parts = proposing.map(({ remote }, i) =>
      remote.propose(
        document,
        task,
        i,
        workers,
        proxy((count: number) => void (done.value = done.value.map((value, k) => (k === i ? count : value)))),
      ),
    );
    try {
      const judged = (await Promise.race([Promise.all(parts), cancelled]))?.flat();
      if (!judged) return null;
      const best = await Promise.race([proposing[0]!.remote.confirm(document, task, judged), cancelled]);
      return best && { ...best, judged: judged.length };
    } finally {
      for (const { thread } of proposing) thread.terminate();
      proposing = [];
      total.value = 0;
      giveUp = null;
    }
  }

  return {
    compare,
    lead,
    liftOff,
    sweepRatios,
    propose,
    cancel: () => giveUp?.(),
    /** Share of the candidates judged while proposals are made; null otherwise. */
    progress: computed(() =>
      total.value > 0 ? done.value.reduce((sum, value) => sum + value, 0) / total.value : null,
    ),
    candidates: computed(() => total.value),
  };
});
