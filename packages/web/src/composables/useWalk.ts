import { computed } from 'vue';
import { useRoute } from 'vue-router';
import { stepAt, WALKS, type WalkState } from '@/lib/walks';
import { useBoard } from '@/stores/board';
import { useMachine } from '@/stores/machine';
import { usePreferences } from '@/stores/preferences';
import { useRun } from '@/stores/run';

/** The walk that is gone, how far one has come in it, and where its next step is. */
export function useWalk() {
  const [machine, board, results] = [useMachine(), useBoard(), useRun()];
  const preferences = usePreferences();
  const route = useRoute();

  const state = computed<WalkState | null>(() => {
    if (!machine.document) return null;
    const current = !results.stale;
    return {
      machine: machine.document as WalkState['machine'],
      remaining: board.mobility?.remaining ?? null,
      record: current ? results.record : null,
      errors: current && results.run ? results.findings.filter(({ severity }) => severity === 'error').length : null,
      fitting: results.rankingStale ? null : results.ranking.filter(({ fits }) => fits).map(({ motor }) => motor.type),
    };
  });
  const walk = computed(() => WALKS.find(({ id }) => id === preferences.walk) ?? null);
  const done = computed(() => walk.value?.steps.map((step) => (state.value ? step.done(state.value) : false)) ?? []);
  const at = computed(() => (walk.value && state.value ? stepAt(walk.value, state.value) : 0));
  const step = computed(() => walk.value?.steps[at.value] ?? null);
  const target = computed(() => ({
    path: `/machine/${machine.id}/${step.value?.stage ?? 'build'}`,
    query: step.value?.part ? { part: step.value.part } : {},
  }));
  const isThere = computed(() => route.name === step.value?.stage && (!step.value?.part || route.query.part === step.value.part)); // prettier-ignore

  return { WALKS, preferences, walk, done, at, step, target, isThere };
}
