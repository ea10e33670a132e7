import { useEventListener } from '@vueuse/core';
import { useRouter } from 'vue-router';
import { findPeak } from '@yoke/core';
import { STAGES } from '@/lib/stages';
import { useCursor } from '@/stores/cursor';
import { useMachine } from '@/stores/machine';
import { useRun } from '@/stores/run';

/** The keys of the application, as the sheet behind `?` lists them. */
export const KEYS: readonly [string, string][] = [
  ['Space', 'Play and pause'],
  [', and .', 'One sample back, one forward (Shift: ten)'],
  ['Home, End', 'Start and end of the cycle'],
  ['P', 'Cursor to the peak of the motor torque'],
  ['[ and ]', 'Axis before, axis after'],
  ['1 to 6', 'Build, Move, Cue, Run, Size, Deliver'],
  ['Ctrl+Z, Ctrl+Y', 'Undo, redo; in a field first what is being typed'],
  ['↑ ↓ in a number', 'Step it (Shift: ten times as far)'],
  ['Esc in a number', 'Take back what was typed'],
  ['Esc, Enter on the board', 'Leave the tool, finish a plate or path'],
  ['Delete on the board', 'Delete what is chosen, with what hangs on it'],
  ['Wheel, Ctrl+drag on the board', 'Zoom, move the view'],
  ['F, R, T, D in depth', 'Seen from the front, the right, the top, askew'],
  ['A, O in depth', 'All of it; in parallel lines or as an eye sees'],
  ['/', 'Find: a thing, channel, setting or word of the machine, or what to do'],
  ['W', 'The words of this screen, explained'],
  ['G', 'The guide: five walks beside the work'],
  ['?', 'This sheet'],
];

function typing(event: KeyboardEvent): boolean {
  const target = event.target as HTMLElement | null;
  return !!target?.closest('input, textarea, select, [contenteditable], [role="combobox"]');
}

/**
 * Fields with typing that was not taken yet: there the browser undoes the typing. Once it was taken, by Enter or by
 * leaving the field, undo is that of the document.
 */
function useTyped() {
  const typed = new WeakSet<EventTarget>();
  useEventListener(window, 'input', ({ target }) => void (target && typed.add(target)), true);
  for (const taken of ['change', 'focusout'] as const)
    useEventListener(window, taken, ({ target }) => void (target && typed.delete(target)), true);
  useEventListener(
    window,
    'keydown',
    ({ key, target }) => void (key === 'Enter' && target instanceof HTMLInputElement && typed.delete(target)),
  );
  return (event: KeyboardEvent): boolean => {
    const target = event.target as HTMLElement | null;
    if (!target) return false;
    // An editor has a history of its own.
    if (target.closest('[contenteditable]')) return true;
    return typed.has(target);
  };
}

/**
 * After a choice by the pointer the keys are the machine's again; by keys the focus stays where it was.
 * @returns whether a key that comes to a drop-down is the machine's
 */
function useChosen(): (event: KeyboardEvent) => boolean {
  let byPointer = false;
  let chosen: Element | null = null;
  const inDropDown = (element: Element | null) => element?.closest('select, .el-select') ?? null;
  // A drop-down takes the focus back after its choice.
  const leave = () =>
    setTimeout(() => {
      chosen = byPointer ? inDropDown(document.activeElement) : null;
      if (chosen) (document.activeElement as HTMLElement).blur();
    });
  useEventListener(window, 'pointerdown', () => ((byPointer = true), (chosen = null)), { capture: true });
  useEventListener(window, 'change', ({ target }) => target instanceof HTMLSelectElement && leave(), { capture: true });
  useEventListener(window, 'click', ({ target }) => {
    if (!(target as Element | null)?.closest('.el-select-dropdown__item')) return;
    chosen = inDropDown(document.activeElement);
    leave();
  }, { capture: true }); // prettier-ignore
  useEventListener(window, 'keydown', ({ key }) => {
    byPointer = false;
    if (key === 'Tab') chosen = null;
  }, { capture: true }); // prettier-ignore
  return ({ target }) => {
    const own = inDropDown(target as Element | null);
    return chosen !== null && own === chosen;
  };
}

/** Listens for the application's keys while a machine is open. */
export function useShortcuts(show: Record<'help' | 'find' | 'words' | 'guide', () => void>): void {
  const machine = useMachine();
  const cursor = useCursor();
  const results = useRun();
  const router = useRouter();

  function selectAxis(direction: 1 | -1): void {
    const index = machine.axes.findIndex(({ id }) => id === machine.axis?.id);
    const next = machine.axes[index + direction];
    if (next) machine.selectedAxisId = next.id;
  }

  function toPeak(): void {
    if (!results.run || !results.axisRun) return;
    cursor.pause();
    cursor.moveTo(findPeak(results.run.times, results.axisRun.channels.motorTorque).time);
  }

  const plain: Record<string, (event: KeyboardEvent) => void> = {
    ' ': () => cursor.toggle(),
    ',': () => cursor.step(-1),
    '.': () => cursor.step(1),
    '<': () => cursor.step(-10),
    ';': () => cursor.step(-10),
    '>': () => cursor.step(10),
    ':': () => cursor.step(10),
    Home: () => cursor.moveTo(0),
    End: () => cursor.moveTo(cursor.span),
    p: toPeak,
    P: toPeak,
    '[': () => selectAxis(-1),
    ']': () => selectAxis(1),
    '?': show.help,
    '/': show.find,
    w: show.words,
    W: show.words,
    g: show.guide,
    G: show.guide,
  };

  const isBeingTyped = useTyped();
  const isReleased = useChosen();
  const isOurs = (key: string) => key in plain || STAGES.some(({ digit }) => digit === key);
  // Before the drop-down opens again by it.
  useEventListener(
    window,
    'keydown',
    (event) => {
      if (event.ctrlKey || event.metaKey || event.altKey || !isOurs(event.key) || !isReleased(event)) return;
      event.stopPropagation();
      (document.activeElement as HTMLElement | null)?.blur();
      press(event);
    },
    { capture: true },
  );
  useEventListener(window, 'keydown', (event) => {
    if (event.ctrlKey || event.metaKey) {
      if (isBeingTyped(event)) return;
      const key = event.key.toLowerCase();
      if (key === 'z' && !event.shiftKey) machine.undo();
      else if (key === 'y' || key === 'z') machine.redo();
      else return;
      event.preventDefault();
      return;
    }
    if (event.altKey || typing(event)) return;
    press(event);
  });
  function press(event: KeyboardEvent): void {
    const onButton = (event.target as HTMLElement | null)?.closest('button, a');
    if (event.key === ' ' && onButton) return;
    const stage = STAGES.find(({ digit }) => digit === event.key);
    if (stage) void router.push(`/machine/${machine.id}/${stage.id}`);
    const action = plain[event.key];
    if (!action && !stage) return;
    event.preventDefault();
    action?.(event);
  }
}
