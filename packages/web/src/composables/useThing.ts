import type { Mechanism } from '@yoke/core';
import { useBoard } from '@/stores/board';

type ListName = 'planes' | 'bodies' | 'joints' | 'couplings' | 'elements' | 'paths';
type Item<L extends ListName> = Mechanism[L][number];

/** Edits of one thing of the mechanism, by its list and identifier; the drawing is brought together after each. */
export function useThing<L extends ListName>(list: L, id: () => string) {
  const board = useBoard();
  /** Changes the thing; answers with what is wrong, or null. */
  function edit(label: string, recipe: (item: Item<L>, mechanism: Mechanism) => void, key?: string): string | null {
    return board.draw(
      label,
      (draft) => {
        const mechanism = draft.mechanism as Mechanism;
        const found = (mechanism[list] as Item<L>[]).find((item) => item.id === id());
        if (found) recipe(found, mechanism);
      },
      key,
    );
  }
  /** A commit for a field of the thing. */
  const set =
    <K extends keyof Item<L>>(field: K, label = String(field)) =>
    (value: unknown): string | null =>
      edit(label, (item) => void (item[field] = value as Item<L>[K]));
  return { edit, set };
}
