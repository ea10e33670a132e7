import { freeId, type Axis, type MotionPlan } from '@yoke/core';
import { useMachine } from '@/stores/machine';

/** Edits of the plan of the selected axis by what core makes of a plan. */
export function usePlanEdit(axis: () => Axis) {
  const machine = useMachine();
  /** Puts a changed plan in the place of the one there is; answers with what is wrong, or null. */
  function apply(label: string, change: (plan: MotionPlan) => MotionPlan): string | null {
    return machine.editAxis(label, (draft) => {
      draft.plan = JSON.parse(JSON.stringify(change(axis().plan))) as typeof draft.plan;
    });
  }
  /** Gives new segments identifiers of their own. */
  function newId(): () => string {
    const taken = axis().plan.segments.map(({ id }) => id);
    return () => {
      const id = freeId('s', taken);
      taken.push(id);
      return id;
    };
  }
  return { apply, newId };
}
