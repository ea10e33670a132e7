import {
  GROUND,
  makeCylinder,
  strokeNeed,
  type LocalPlace,
  type Machine,
  type Pose,
  type StrokeNeed,
} from '@yoke/core';
import { defineStore } from 'pinia';
import { computed, shallowRef, watch } from 'vue';
import { useBoard } from './board';
import { useMachine } from './machine';

/** A pose of all bodies that was kept, and the bodies it was kept of. */
interface KeptPose {
  bodies: readonly string[];
  poses: readonly Pose[];
}

/** What the stroke finder has been told: it stays while other panels are looked at, and while the drawing is changed. */
export const useStroke = defineStore('stroke', () => {
  const machine = useMachine();
  const board = useBoard();
  const kept = shallowRef<{ from: KeptPose | null; to: KeptPose | null }>({ from: null, to: null });
  const ends = shallowRef<{ from: LocalPlace | null; to: LocalPlace | null }>({ from: null, to: null });
  const result = shallowRef<StrokeNeed | string | null>(null);

  const bodies = computed(() => board.mechanism?.bodies.map(({ id }) => id) ?? []);
  const holds = (pose: KeptPose | null) => pose !== null && pose.bodies.join() === bodies.value.join();
  const stands = (end: LocalPlace | null) =>
    end !== null &&
    (end.body === GROUND
      ? end.plane === undefined || board.mechanism?.planes.some(({ id }) => id === end.plane) === true
      : bodies.value.includes(end.body));
  /** What is still there to be used. */
  const has = computed(() => ({
    fromPose: holds(kept.value.from),
    toPose: holds(kept.value.to),
    fromEnd: stands(ends.value.from),
    toEnd: stands(ends.value.to),
  }));
  const ready = computed(() => Object.values(has.value).every(Boolean));

  function reset(): void {
    kept.value = { from: null, to: null };
    ends.value = { from: null, to: null };
    result.value = null;
  }
  watch(() => machine.id, reset);
  // A result is of what it was found with.
  watch([kept, ends, () => machine.document?.mechanism], () => (result.value = null), { flush: 'sync' });

  const keep = (which: 'from' | 'to') =>
    (kept.value = {
      ...kept.value,
      [which]: { bodies: bodies.value, poses: board.poses.map((pose) => ({ ...pose })) },
    });

  function pick(which: 'from' | 'to'): void {
    board.tool = 'choose';
    board.picking = {
      asks: `Click where the cylinder shall ${which === 'from' ? 'begin' : 'end'}: a point, the centre of a hole, anywhere on a body, or on the ground; in depth the nearest point of the body pressed.`,
      take: (place) => (ends.value = { ...ends.value, [which]: place }),
    };
  }

  function find(): void {
    const { from, to } = ends.value;
    if (!ready.value || !from || !to || !machine.document) return;
    result.value = strokeNeed(machine.document, [from, to], kept.value.from!.poses, kept.value.to!.poses);
  }

  /** Draws the cylinder with its drive. Answers with what was done, or what is wrong. */
  function make(): string {
    const { from, to } = ends.value;
    const need = result.value;
    if (!from || !to || !need || typeof need === 'string') return 'Find the stroke first.';
    const poses = kept.value.from!.poses;
    let made: ReturnType<typeof makeCylinder> | null = null;
    const problem = board.draw('make the cylinder', (draft) => {
      made = makeCylinder(draft as Machine, [from, to], poses, need);
    });
    if (problem !== null || !made) return problem ?? '';
    const { joint, axis, off }: ReturnType<typeof makeCylinder> = made;
    board.select(joint);
    machine.selectedAxisId = axis;
    return `Made, with a drive that goes from the first pose to the second and back${off.length > 0 ? `; ${off.join(' and ')} led the same freedom and ${off.length === 1 ? 'is' : 'are'} taken off` : ''}. Undo takes all of it back.`;
  }

  return { ends, has, ready, result, keep, pick, find, make };
});
