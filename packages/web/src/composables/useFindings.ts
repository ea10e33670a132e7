import { explainPlanFinding, explainRunFinding, segmentName, setSegmentTime } from '@yoke/core';
import { computed } from 'vue';
import type { ShownFinding } from '@/components/FindingsList.vue';
import { useMachine } from '@/stores/machine';
import { useRun } from '@/stores/run';

/** Findings of the selected axis in words, those about a limit with a longer segment as remedy. */
export function usePlanFindings() {
  const machine = useMachine();
  const results = useRun();
  return computed<ShownFinding[]>(() => {
    const axis = machine.axis;
    if (!axis) return [];
    const order = { error: 0, warning: 1, info: 2 };
    return (results.axisRun?.findings ?? [])
      .toSorted((a, b) => order[a.severity] - order[b.severity])
      .map((finding) => ({
        severity: finding.severity,
        text: explainPlanFinding(finding, axis.kind, machine.units, (id) => segmentName(axis, id)),
        time: 'time' in finding ? finding.time : undefined,
        remedy: remedyFor(finding),
      }));

    function remedyFor(finding: NonNullable<typeof results.axisRun>['findings'][number]) {
      if (finding.code === 'limit' && finding.shortestTime !== null) {
        // A hair longer than just enough, so that rounding does not bring the finding back.
        const duration = Number((finding.shortestTime * 1.0005).toPrecision(4));
        return {
          label: 'Lengthen',
          apply: () =>
            void machine.editAxis('lengthen a segment', (draft) => {
              draft.plan = structuredClone(
                setSegmentTime(axis!.plan, finding.segmentId, duration),
              ) as typeof draft.plan;
            }),
        };
      }
      if (finding.code === 'plan-too-long')
        return {
          label: 'Lengthen the cycle',
          apply: () =>
            void machine.edit('lengthen the cycle', (draft) => {
              const { planTime } = finding;
              draft.cycle =
                draft.cycle.given === 'time'
                  ? { given: 'time', time: planTime }
                  : { given: 'rate', rate: 1 / planTime };
            }),
        };
      return undefined;
    }
  });
}

/** Findings about the run as a whole in words. */
export function useRunFindings() {
  const machine = useMachine();
  const results = useRun();
  return computed<ShownFinding[]>(() =>
    (results.run?.findings ?? []).map((finding) => ({
      severity: finding.severity,
      text: explainRunFinding(finding, machine.units),
      remedy: {
        label: 'Use the proposed step',
        apply: () => void machine.edit('use the proposed step', (draft) => void (draft.step = null)),
      },
    })),
  );
}
