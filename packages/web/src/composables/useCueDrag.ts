import { canStretch, formatQuantity, overtakes, shiftCue, stretchWith, type Cue, type CueMove } from '@yoke/core';
import { computed, ref, type Ref } from 'vue';
import { useCues } from '@/stores/cues';
import { useCursor } from '@/stores/cursor';
import { useMachine } from '@/stores/machine';
import { dragPointer } from './usePointerDrag';
import { useUntilChanged } from './useUntilChanged';

/** Moves of cues on the hand: along, which is their delay, or at their end, which is their time. By keys likewise. */
export function useCueDrag(secondsPerPixel: Readonly<Ref<number>>) {
  const machine = useMachine();
  const cues = useCues();
  const cursor = useCursor();

  /** Drags a move along (its delay), or its end (its time); it snaps to ends of others, to signals and to the cursor. */
  const dragged = ref<{ cue: string; text: string } | null>(null);
  let turn = 0;
  /** What a stretched move does to what comes straight after it. */
  const neighbours = ref<'move' | 'stay'>('move');
  /** A shift that would let a cue start before the one it comes after has ended: asked for first. */
  const asked = useUntilChanged<{ text: string; yes: (() => void) | null } | null>(null);
  const time = (value: number) => formatQuantity(value, 'time', machine.units, 4);
  const nameOf = (id: string) => cues.sequence?.cues.find((cue) => cue.id === id)?.name ?? id;

  /** What stretching does to others, in words. */
  function toldStretch(id: string, to: number): string {
    if (!cues.sequence) return '';
    const { later } = stretchWith(cues.sequence, id, to, neighbours.value, cues.acted);
    const moved = later.filter(({ by }) => Math.abs(by) > 1e-9).map(({ cue, by }) => `${cue.name} ${cue.when ? 'may start' : 'starts'} ${time(Math.abs(by))} ${by > 0 ? 'later' : 'earlier'}`); // prettier-ignore
    const stays = later.filter(({ by }) => Math.abs(by) <= 1e-9).map(({ cue }) => `${cue.name} stays`);
    return [...moved, ...stays].map((text) => `; ${text}`).join('');
  }
  function stretch(id: string, to: number, key: string): void {
    const cue = cues.sequence?.cues.find((own) => own.id === id);
    if (cue && !canStretch(cue)) {
      asked.value = {
        text: `${cue.name} takes no time of its own that could be stretched${cue.action.do === 'cylinder' ? ': its cylinder takes what its throttles let it, in Build' : ''}.`,
        yes: null,
      };
      return;
    }
    cues.edit('time of a cue', (s) => stretchWith(s, id, to, neighbours.value, cues.acted).sequence, key);
  }
  /** Why a cue cannot be shifted further to the front. */
  const holds = (cue: Cue) =>
    cue.after.length === 0
      ? cue.when
        ? 'it waits for its condition'
        : 'it comes after nothing'
      : cue.when
        ? 'it waits for its condition as well as for what it comes after'
        : 'it comes after several, or is one of alternatives';
  function shift(id: string, by: number, key: string): void {
    const over = cues.sequence && overtakes(cues.sequence, id, by, cues.acted);
    const acted = cues.acted;
    const make = () => {
      asked.value = null;
      cues.edit('start of a cue', (s) => shiftCue(s, id, by, acted), key);
    };
    if (!over) {
      const cue = cues.sequence?.cues.find((own) => own.id === id);
      make();
      if (by < 0 && cue && cue.delay + by < -1e-9)
        asked.value = { text: `${cue.name} cannot start earlier: ${holds(cue)}.`, yes: null };
      return;
    }
    asked.value = {
      text: `${nameOf(id)} comes after ${over.before.name}, and would start before that has ended. Let it start along with ${over.before.name}, ${time(over.after)} after it?`,
      yes: make,
    };
  }
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
    const key = `drag ${move.cue} ${++turn}`;
    let wanted: number | null = null;
    const follow = ({ clientX }: PointerEvent) => {
      const by = (clientX - from) * secondsPerPixel.value;
      if (Math.abs(clientX - from) < 3 && wanted === null) return;
      wanted = end ? snap(move.to + by, move) - move.from : snap(move.from + by, move) - move.from;
      dragged.value = {
        cue: move.cue,
        text: end
          ? `takes ${time(Math.max(0, wanted))}${toldStretch(move.cue, Math.max(0.001, wanted))}`
          : `${wanted >= 0 ? 'later' : 'earlier'} by ${time(Math.abs(wanted))}`,
      };
    };
    const done = (cancelled: boolean) => {
      dragged.value = null;
      if (wanted === null || cancelled) return;
      if (end) stretch(move.cue, Math.max(0.001, wanted), key);
      else shift(move.cue, wanted, key);
    };
    dragPointer(event, event.currentTarget as Element, { move: follow, end: done });
  }
  function nudge(event: KeyboardEvent, move: CueMove): void {
    const step = { ArrowLeft: -0.01, ArrowRight: 0.01 }[event.key];
    if (step === undefined) return;
    event.preventDefault();
    if (event.altKey) stretch(move.cue, Math.max(0.001, move.to - move.from + step), `nudge ${move.cue}`);
    else shift(move.cue, step, `nudge ${move.cue}`);
  }

  return { dragged, drag, nudge, neighbours, asked };
}
