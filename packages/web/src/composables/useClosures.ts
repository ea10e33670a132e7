import { otherClosure, type Joint, type Mechanism, type Pose } from '@yoke/core';
import { computed, ref, shallowRef } from 'vue';
import { useBoard, useMachine } from '@/stores';
import { useAside } from '@/stores/aside';

/** Ways in which the loops at a joint close, and which of them is drawn. */
interface Ring {
  joint: string;
  ways: readonly ReadonlyMap<string, Pose>[];
  at: number;
  /** The drawing as it was left: another one has other closures. */
  drawn: unknown;
}

/** Joints whose loops may close in another way. */
export const closesOtherwise = ({ kind }: Joint): boolean => ['pin', 'rod', 'ball', 'slide', 'slot'].includes(kind);

/**
 * Goes from one closure of the loops at a joint to the next: two bodies that meet in a pin are mirrored at once, all
 * else is searched beside the page.
 */
export function useClosures(joint: () => Joint) {
  const board = useBoard();
  const machine = useMachine();
  const aside = useAside();
  const ring = shallowRef<Ring | null>(null);
  const searching = ref(false);
  const isDrawn = computed(() => ring.value?.joint === joint().id && ring.value.drawn === board.mechanism);
  const words = computed(() => {
    const own = ring.value;
    if (!own || !isDrawn.value) return '';
    const { ways, at } = own;
    return `This is closure ${at + 1} of ${ways.length}${ways.length > 2 ? ', by how far bodies go: press again for the next' : ': press again to go back'}.`;
  });

  function place({ joint: id, ways, at }: Omit<Ring, 'drawn'>): void {
    const problem = board.placeBodies('close the loop the other way', ways[at]!);
    if (problem === null) ring.value = { joint: id, ways, at, drawn: board.mechanism };
    else board.message = problem;
  }

  async function next(): Promise<void> {
    if (ring.value && isDrawn.value) {
      const { joint: id, ways, at } = ring.value;
      return place({ joint: id, ways, at: (at + 1) % ways.length });
    }
    const mechanism = board.mechanism as Mechanism;
    const { id } = joint();
    const driven = machine.axes.flatMap(({ joint: led }) => led ?? []);
    const mirrored = otherClosure(mechanism, id, driven);
    if (typeof mirrored !== 'string') return void board.placeBodies('close the loop the other way', mirrored);
    searching.value = true;
    const found = await aside
      .otherClosures(mechanism, id, driven)
      // A path that cannot be made, for one: the message says which.
      .catch((error: unknown) => (error as Error).message)
      .finally(() => (searching.value = false));
    if (typeof found === 'string') board.message = found;
    else if (board.mechanism !== mechanism) board.message = 'The drawing was changed meanwhile: press again.';
    else {
      const drawn = new Map(mechanism.bodies.map(({ id: body, pose }) => [body, pose]));
      place({ joint: id, ways: [drawn, ...found.map(({ poses }) => new Map([...drawn, ...poses]))], at: 1 });
    }
  }

  return { searching, words, next };
}
