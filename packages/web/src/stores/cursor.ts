import { useRafFn } from '@vueuse/core';
import { defineStore } from 'pinia';
import { computed, ref } from 'vue';
import { useRun } from './run';

/** Speeds of playback offered, as shares of real time. */
export const PLAYBACK_SPEEDS = [0.05, 0.1, 0.25, 0.5, 1, 2] as const;

/** How playback goes on at the end of the cycle. */
export type PlaybackMode = 'loop' | 'once' | 'to-and-fro';

/** The one cursor: a time in the cycle, shown and moved everywhere, and its playback. */
export const useCursor = defineStore('cursor', () => {
  const results = useRun();
  const wanted = ref(0);
  const speed = ref<number>(0.25);
  const mode = ref<PlaybackMode>('loop');
  let direction = 1;
  const time = computed(() => Math.min(wanted.value, results.span));
  /** Part of the cycle that curves show; null for all of it. */
  const zoom = ref<{ from: number; to: number } | null>(null);

  const playback = useRafFn(
    ({ delta }) => {
      // By the clock, not by samples: a long pause of the browser must not throw the cursor about.
      const next = wanted.value + direction * (Math.min(delta, 100) / 1000) * speed.value;
      if (mode.value === 'loop') wanted.value = ((next % results.span) + results.span) % results.span;
      else if (mode.value === 'once') {
        wanted.value = Math.min(next, results.span);
        if (next >= results.span) playback.pause();
      } else {
        if (next >= results.span) direction = -1;
        if (next <= 0) direction = 1;
        wanted.value = Math.max(0, Math.min(results.span, next));
      }
    },
    { immediate: false },
  );

  function moveTo(value: number): void {
    wanted.value = Math.max(0, Math.min(results.span, value));
  }
  /** Ends the playback and goes to a time. */
  function stopAt(value: number): void {
    playback.pause();
    moveTo(value);
  }

  /** Moves by whole samples of the run. */
  function step(samples: number): void {
    const times = results.run?.times;
    if (!times || times.length === 0) return;
    let index = 0;
    while (index + 1 < times.length && times[index + 1]! <= time.value + 1e-12) index++;
    const onSample = Math.abs(times[index]! - time.value) < 1e-9;
    let next = index + samples + (samples < 0 && !onSample ? 1 : 0);
    while (times[next] !== undefined && Math.abs(times[next]! - time.value) < 1e-9 && samples !== 0)
      next += Math.sign(samples);
    stopAt(times[Math.max(0, Math.min(times.length - 1, next))]!);
  }

  function toggle(): void {
    if (playback.isActive.value) playback.pause();
    else {
      if (mode.value !== 'to-and-fro') direction = 1;
      if (time.value >= results.span && direction > 0) wanted.value = 0;
      playback.resume();
    }
  }

  return {
    time,
    span: computed(() => results.span),
    speed,
    mode,
    zoom,
    playing: playback.isActive,
    moveTo,
    step,
    toggle,
    pause: playback.pause,
    stopAt,
  };
});
