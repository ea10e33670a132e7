import { explainPlanFinding, explainRunFinding, remediesFor, segmentName, type Machine } from '@yoke/core';
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
        remedies: remediesFor(finding, axis, machine.document!).map(({ label, apply }) => ({
          label,
          apply: () => {
            const mended = apply(JSON.parse(JSON.stringify(machine.document)) as Machine);
            machine.edit(label.toLowerCase(), (draft) => void Object.assign(draft, mended));
          },
        })),
      }));
  });
}

/** Findings about the run as a whole in words; a step that is too coarse is told on every stage by a bar of its own. */
export function useRunFindings() {
  const machine = useMachine();
  const results = useRun();
  return computed<ShownFinding[]>(() =>
    (results.run?.findings ?? [])
      .filter(({ code }) => code !== 'coarse-step')
      .map((finding) => ({
        severity: finding.severity,
        text: explainRunFinding(finding, machine.units),
        remedies:
          finding.code === 'master'
            ? []
            : [
                {
                  label: 'Use the proposed step',
                  apply: () => void machine.edit('use the proposed step', (draft) => void (draft.step = null)),
                },
              ],
      })),
  );
}
