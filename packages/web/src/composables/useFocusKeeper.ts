import { useEventListener } from '@vueuse/core';

const FOCUSABLE = 'button:not(:disabled), a[href], input:not(:disabled), select, textarea, [tabindex="0"]';

/**
 * Keeps the focus near where the work is: where an action by keys takes the thing away that had it (a row is deleted, a
 * button goes), what stands nearest to it gets it. After an action by the pointer the keys are the machine's.
 */
export function useFocusKeeper(): void {
  let had: { element: Element; above: Element[]; place: number } | null = null;
  useEventListener(document, 'focusin', ({ target }) => {
    if (!(target instanceof Element)) return;
    const above: Element[] = [];
    for (let one = target.parentElement; one; one = one.parentElement) above.push(one);
    const near = above[2] ?? above.at(-1);
    const place = near ? [...near.querySelectorAll(FOCUSABLE)].indexOf(target) : 0;
    had = { element: target, above, place };
  });
  useEventListener(
    window,
    'keydown',
    ({ key }) => {
      if (!['Enter', ' ', 'Delete', 'Backspace'].includes(key)) return;
      const before = had;
      setTimeout(() => {
        if (!before || document.activeElement !== document.body || before.element.isConnected) return;
        for (const area of before.above) {
          if (!area.isConnected) continue;
          const all = [...area.querySelectorAll<HTMLElement>(FOCUSABLE)];
          const next = all[Math.min(Math.max(0, before.place), all.length - 1)] ?? all.at(-1);
          if (!next) continue;
          next.focus({ preventScroll: true });
          return;
        }
      }, 30);
    },
    { capture: true },
  );
}
