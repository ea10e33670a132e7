import { computed, shallowRef, watch, type Ref } from 'vue';

/** A stretch of time, s. */
export interface TimeSpan {
  from: number;
  to: number;
}

/** A view is no shorter than this share of all there is. */
const SHORTEST = 1e-3;

/**
 * The stretch of time that a drawing shows: the one wanted, until it is zoomed or panned.
 * @param wanted what is shown at first, and again when it changes
 * @param whole all there is to be seen
 */
export function useTimeView(wanted: Readonly<Ref<TimeSpan>>, whole: Readonly<Ref<TimeSpan>>) {
  const own = shallowRef<TimeSpan | null>(null);
  const shown = computed(() => own.value ?? wanted.value);
  watch(
    () => [wanted.value.from, wanted.value.to],
    () => (own.value = null),
  );

  /** Keeps a stretch inside of all there is; its length stays as far as there is room. */
  function put({ from, to }: TimeSpan): void {
    const all = whole.value.to - whole.value.from;
    const length = Math.min(all, Math.max(to - from, all * SHORTEST));
    const begin = Math.min(Math.max(from, whole.value.from), whole.value.to - length);
    own.value = { from: begin, to: begin + length };
  }
  /** Shows `factor` times as much, with a time staying where it is. */
  function zoom(at: number, factor: number): void {
    const { from, to } = shown.value;
    put({ from: at - (at - from) * factor, to: at + (to - at) * factor });
  }
  /** Goes on by a share of what is shown. */
  function pan(share: number): void {
    const { from, to } = shown.value;
    put({ from: from + share * (to - from), to: to + share * (to - from) });
  }
  return { shown, zoomed: computed(() => own.value !== null), zoom, pan, fit: () => void (own.value = null) };
}
