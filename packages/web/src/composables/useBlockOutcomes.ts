import { AXIS_KINDS, BLOCKS, formatQuantity, type Axis, type QuantityKind, type ServoBlock } from '@yoke/core';
import { computed } from 'vue';
import { useCursor } from '@/stores/cursor';
import { useMachine } from '@/stores/machine';
import { useMotions } from '@/stores/motions';

const BOUNDS = {
  velocity: 'its velocity',
  acceleration: 'its acceleration',
  jerk: 'its jerk',
  time: 'the wanted time',
};

/** What the servo moves of an axis turned out to do: each in words, where the time goes, and what fails. */
export function useBlockOutcomes(axis: () => Axis, blocks: () => readonly ServoBlock[]) {
  const machine = useMachine();
  const motions = useMotions();
  const cursor = useCursor();
  const made = computed(() => motions.of(axis().id));
  const show = (value: number, kind: QuantityKind) => formatQuantity(value, kind, machine.units, 4);

  /** Whether a block has no limit of its own and goes by that of its axis. */
  const byAxis = (block: ServoBlock) =>
    'velocity' in block && block.velocity === null && axis().limits.velocity !== null;

  /** Of each block; the first pass where it is repeated. */
  const outcomes = computed(() => {
    const { position, velocity } = AXIS_KINDS[axis().kind];
    return blocks().map((block) => {
      const passes = made.value.blocks.filter(({ id }) => id === block.id);
      const [first] = passes;
      if (!first) return '';
      const time = show(first.to - first.from, 'time');
      const reached = first.speed > 0 ? `, ${show(first.speed, velocity)}` : '';
      const short = first.wanted === null ? '' : ` of ${show(first.wanted, velocity)}: too short for more`;
      const bound = first.bound && first.wanted === null ? ` (held back by ${BOUNDS[first.bound]})` : '';
      const runs =
        first.runUp > 0 ? `, run-up ${show(first.runUp, position)}, run-out ${show(first.runOut, position)}` : '';
      const swing =
        block.kind === 'oscillate'
          ? `${show(block.peakToPeak, position)} to and fro ${block.cycles} times, ${show(block.frequency, 'frequency')}: `
          : '';
      const borrowed = byAxis(block) ? ', by the velocity of the axis' : '';
      return `${swing}${time}${reached}${short}${bound}${borrowed}${runs}${passes.length > 1 ? ` · ${passes.length} passes` : ''}`;
    });
  });
  /** The block that the cursor is in. */
  const current = computed(
    () => made.value.blocks.find(({ from, to }) => from <= cursor.time && cursor.time < to)?.id ?? null,
  );
  /** Where the time goes: moving, at working speed, waiting. */
  const shares = computed(() => {
    const total = made.value.blocksTime ?? 0;
    if (total <= 0) return '';
    const by = new Map<ServoBlock['kind'], number>();
    for (const { kind, from, to } of made.value.blocks) by.set(kind, (by.get(kind) ?? 0) + to - from);
    const parts = [...by].map(
      ([kind, time]) => `${BLOCKS[kind].label.toLowerCase()} ${Math.round((100 * time) / total)} %`,
    );
    return `${show(total, 'time')} in all: ${parts.join(', ')}.`;
  });
  /** The block that cannot be carried out. */
  const failed = computed(() => {
    const problem = made.value.problems.find(({ code }) => code === 'motion');
    return problem?.code === 'motion' ? problem.blockId : null;
  });
  return { outcomes, current, shares, failed };
}
