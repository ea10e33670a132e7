/** What is told of a drag. */
export interface PointerDrag {
  /** The pointer has moved; told from the beginning on. */
  move: (event: PointerEvent) => void;
  /** It was let go, or taken away (by the system, another gesture): then what was begun is given up. */
  end?: (cancelled: boolean) => void;
}

/**
 * Follows a pointer that was pressed on an element until it is let go, wherever it goes meanwhile. A pointer that is
 * taken away ends the drag too, so that nothing stays on the hand.
 */
export function dragPointer(event: PointerEvent, target: Element, { move, end }: PointerDrag): void {
  target.setPointerCapture(event.pointerId);
  const follow = (moved: Event) => move(moved as PointerEvent);
  const stop = (last: Event) => {
    target.removeEventListener('pointermove', follow);
    target.removeEventListener('pointerup', stop);
    target.removeEventListener('pointercancel', stop);
    end?.(last.type === 'pointercancel');
  };
  target.addEventListener('pointermove', follow);
  target.addEventListener('pointerup', stop);
  target.addEventListener('pointercancel', stop);
}
