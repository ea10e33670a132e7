import { copyOf, dragInSpace, turnedBack, type DragEnd, type MechanismModel, type Positions, type SpacePoint } from '@yoke/core'; // prettier-ignore
import type { Hit } from '@/lib/space/scene';

type At = [number, number, number];

/** What a hand drags in depth: the mechanism, and the state it stands in now. */
export interface Dragged {
  model: MechanismModel;
  q: Positions;
  ends?: readonly DragEnd[];
}

/**
 * Bodies dragged along their freedoms in depth: where one was taken hold of stays under the hand.
 * @param take what is dragged; null where nothing can be
 * @param give takes the new state
 */
export function useSpaceDrag(take: () => Dragged | null, give: (q: Positions, body: string) => void) {
  let grip: { hit: Hit; point: SpacePoint } | null = null;

  /** Where a body was taken hold of, seen from its centre of mass. */
  function holdOf({ model, q }: Dragged, hit: Hit): SpacePoint | null {
    const { tree } = model;
    const body = tree.bodies.findIndex(({ id }) => id === hit.body);
    if (body < 0) return null;
    tree.pose(q);
    const centre = tree.at.subarray(3 * body, 3 * body + 3);
    const axes = [...tree.axes.subarray(9 * body, 9 * body + 9)];
    const local = turnedBack(axes, [hit.at[0] - centre[0]!, hit.at[1] - centre[1]!, hit.at[2] - centre[2]!]);
    return { body, plane: -1, local, chain: tree.chainOf(body) };
  }

  function pull(hit: Hit, to: At, axes: [At, At]): void {
    const dragged = take();
    if (!dragged) return;
    if (grip?.hit !== hit) {
      const point = holdOf(dragged, hit);
      grip = point && { hit, point };
    }
    if (!grip) return;
    const moved = copyOf(dragged.q);
    dragInSpace(dragged.model, moved, grip.point, to, axes, dragged.ends);
    give(moved, hit.body);
  }

  return { pull, letGo: () => void (grip = null) };
}
