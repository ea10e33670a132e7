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

/** After a choice by the pointer the keys are the machine's again; by keys the focus stays where it was. */
function leaveAfterChoosing(): void {
  let byPointer = false;
  useEventListener(window, 'pointerdown', () => (byPointer = true), { capture: true });
  useEventListener(window, 'keydown', () => (byPointer = false), { capture: true });
  const leave = () => {
    const { activeElement } = document;
    if (byPointer && activeElement?.closest('select, .el-select')) (activeElement as HTMLElement).blur();
  };
  // A drop-down takes the focus back after its choice.
  const soon = () => setTimeout(leave, 60);
  useEventListener(window, 'change', ({ target }) => target instanceof HTMLSelectElement && soon(), { capture: true });
  useEventListener(window, 'click', ({ target }) => (target as Element | null)?.closest('.el-select-dropdown__item') && soon(), { capture: true }); // prettier-ignore
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
  leaveAfterChoosing();
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
    const onButton = (event.target as HTMLElement | null)?.closest('button, a');
    if (event.key === ' ' && onButton) return;
    const stage = STAGES.find(({ digit }) => digit === event.key);
    if (stage) void router.push(`/machine/${machine.id}/${stage.id}`);
    const action = plain[event.key];
    if (!action && !stage) return;
    event.preventDefault();
    action?.(event);
  });
}
