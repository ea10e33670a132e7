import { dragPointer } from './usePointerDrag';

/** An element as far as a drag goes. */
class Target extends EventTarget {
  captured: number | null = null;
  setPointerCapture(id: number): void {
    this.captured = id;
  }
}
const pointer = (type: string) => Object.assign(new Event(type), { pointerId: 7, clientX: 0, clientY: 0 }) as PointerEvent; // prettier-ignore

function dragged() {
  const target = new Target();
  const moves: string[] = [];
  const ends: boolean[] = [];
  dragPointer(pointer('pointerdown'), target as EventTarget as Element, {
    move: ({ type }) => void moves.push(type),
    end: (cancelled) => void ends.push(cancelled),
  });
  return { target, moves, ends };
}

test.each([
  ['pointerup', false],
  ['pointercancel', true],
])('a drag is followed until %s, and not after it', (last, cancelled) => {
  const { target, moves, ends } = dragged();
  expect(target.captured).toBe(7);
  target.dispatchEvent(pointer('pointermove'));
  target.dispatchEvent(pointer('pointermove'));
  target.dispatchEvent(pointer(last));
  target.dispatchEvent(pointer('pointermove'));
  target.dispatchEvent(pointer('pointerup'));
  expect([moves.length, ends]).toEqual([2, [cancelled]]);
});
