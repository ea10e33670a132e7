import { ref } from 'vue';

/**
 * Rows that are dragged to another place of their list.
 * @param move carries a row from one place to another
 */
export function useRowDrag(move: (from: number, to: number) => void) {
  /** Place of the row in hand. */
  const dragging = ref<number | null>(null);
  function drop(to: number): void {
    const from = dragging.value;
    dragging.value = null;
    if (from !== null && from !== to) move(from, to);
  }
  return { dragging, drop };
}
