import { formatQuantity, shiftCue, stretchCue, type CueMove } from '@yoke/core';
import { computed, ref, type Ref } from 'vue';
import { useCues } from '@/stores/cues';
import { useCursor } from '@/stores/cursor';
import { useMachine } from '@/stores/machine';
import { dragPointer } from './usePointerDrag';

/** Moves of cues on the hand: along, which is their delay, or at their end, which is their time. By keys likewise. */
export function useCueDrag(secondsPerPixel: Readonly<Ref<number>>) {
  const machine = useMachine();
  const cues = useCues();
  const cursor = useCursor();

  /** Drags a move along (its delay), or its end (its time); it snaps to ends of others, to signals and to the cursor. */
  const dragged = ref<{ cue: string; text: string } | null>(null);
  let turn = 0;
  const snaps = computed(() => [
    ...(cues.record?.moves ?? []).flatMap(({ from, to }) => [from, to]),
    ...(cues.record?.signals ?? []).flatMap(({ times }) => times),
    cursor.time,
  ]);
  function snap(time: number, own: CueMove): number {
    const near = snaps.value
      .filter((t) => Math.abs(t - own.from) > 1e-9 && Math.abs(t - own.to) > 1e-9)
      .sort((a, b) => Math.abs(a - time) - Math.abs(b - time))[0];
    return near !== undefined && Math.abs(near - time) < 6 * secondsPerPixel.value
      ? near
      : Math.round(time * 1000) / 1000;
  }
  function drag(event: PointerEvent, move: CueMove, end: boolean): void {
    event.stopPropagation();
    cues.choose(move.cue, event.shiftKey || event.ctrlKey || event.metaKey);
    const from = event.clientX;
    const acted = cues.acted;
    const key = `drag ${move.cue} ${++turn}`;
    let wanted: number | null = null;
    const follow = ({ clientX }: PointerEvent) => {
      const by = (clientX - from) * secondsPerPixel.value;
      if (Math.abs(clientX - from) < 3 && wanted === null) return;
      wanted = end ? snap(move.to + by, move) - move.from : snap(move.from + by, move) - move.from;
      dragged.value = {
        cue: move.cue,
        text: end
          ? `takes ${formatQuantity(Math.max(0, wanted), 'time', machine.units)}`
          : `${wanted >= 0 ? 'later' : 'earlier'} by ${formatQuantity(Math.abs(wanted), 'time', machine.units)}`,
      };
    };
    const done = (cancelled: boolean) => {
      dragged.value = null;
      if (wanted === null || cancelled) return;
      const by = wanted;
      cues.edit(
        end ? 'time of a cue' : 'start of a cue',
        (s) => (end ? stretchCue(s, move.cue, Math.max(0.001, by)) : shiftCue(s, move.cue, by, acted)),
        key,
      );
    };
    dragPointer(event, event.currentTarget as Element, { move: follow, end: done });
  }
  function nudge(event: KeyboardEvent, move: CueMove): void {
    const step = { ArrowLeft: -0.01, ArrowRight: 0.01 }[event.key];
    if (step === undefined) return;
    event.preventDefault();
    cues.edit(
      event.altKey ? 'time of a cue' : 'start of a cue',
      (s) =>
        event.altKey ? stretchCue(s, move.cue, move.to - move.from + step) : shiftCue(s, move.cue, step, cues.acted),
      `nudge ${move.cue}`,
    );
  }

  return { dragged, drag, nudge };
}
