import type { Machine } from '../machine';
import type { DragEnd, MechanismModel } from '../mechanism';

/** Ends of the travel of axes as ends of the joints that they drive, for what is dragged by hand; stops are the model's own. */
export function travelEnds({ axes }: Pick<Machine, 'axes'>, model: MechanismModel): DragEnd[] {
  return model.drives.flatMap(({ axisId, row, coordinate }): DragEnd[] => {
    const axis = axes.find(({ id }) => id === axisId);
    if (!axis?.travel) return [];
    const { min, max } = axis.travel;
    return [{ row, coordinate, ...(axis.reversed ? { min: -max, max: -min } : { min, max }) }];
  });
}
