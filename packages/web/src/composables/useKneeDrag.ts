import { AXIS_KINDS, displayUnit, dragKnee, planKnees, type Axis } from '@yoke/core';
import { ref } from 'vue';
import { dragPointer } from './usePointerDrag';
import { niceStep, snapTo } from '@/lib/ticks';
import { useMachine } from '@/stores/machine';
import { useMotions } from '@/stores/motions';

/** Where a lane draws times and positions, in pixels. */
export interface LaneScale {
  x(time: number): number;
  y(position: number): number;
  time(x: number): number;
  position(y: number): number;
  /** Height in pixels of one unit of position. */
  pixelsPerPosition: number;
  pixelsPerSecond: number;
}

/** A motion with more edges is a table: its rows are no marks to snap to. */
const MOST_MARKS = 60;

/** Pixels within which a knee snaps to a mark. */
const REACH = 7;

/** The knee that is being dragged, for the readout beside it. */
export interface DraggedKnee {
  axisId: string;
  knee: number;
  time: number;
  position: number;
}

let gesture = 0;

/** Dragging and keying of knees: they snap to round values and to the knees and marks of all axes. */
export function useKneeDrag() {
  const machine = useMachine();
  const motions = useMotions();
  const dragged = ref<DraggedKnee | null>(null);

  /** A plan over the master is dragged in time while the master goes round once a cycle at constant speed. */
  const secondsPer = (axis: Axis) =>
    axis.motion.over === 'master' ? machine.cycle / machine.document!.master.wrap : 1;

  function timeMarks(axis: Axis, knee: number): number[] {
    const others = machine.axes
      .filter(({ id }) => id !== axis.id)
      .map(({ id }) => motions.of(id).motion.edges)
      .filter((edges) => edges.length <= MOST_MARKS);
    const stretch = secondsPer(axis);
    return [machine.cycle, ...others.flat()].concat(
      planKnees(axis.plan)
        .filter((_, i) => i !== knee)
        .map(({ time }) => time * stretch),
    );
  }

  function positionMarks(axis: Axis, knee: number): number[] {
    const own = planKnees(axis.plan).filter((_, i) => i !== knee);
    const ends = axis.travel ? [axis.travel.min, axis.travel.max] : [];
    return [axis.home, ...ends, ...own.map(({ position }) => position)];
  }

  function place(axis: Axis, knee: number, time: number, position: number, key: string): void {
    const stretch = secondsPer(axis);
    const next = dragKnee(axis.plan, knee, time / stretch, position);
    const reached = planKnees(next)[knee]!;
    dragged.value = { axisId: axis.id, knee, time: reached.time * stretch, position: reached.position };
    machine.edit(
      'drag a knee',
      (draft) => {
        const found = draft.axes.find(({ id }) => id === axis.id);
        if (found) found.plan = structuredClone(next) as typeof found.plan;
      },
      key,
    );
  }

  /** Starts dragging; `locate` gives the pointer's place in the lane, `ended` is told when it is over. */
  function start(
    event: PointerEvent,
    axis: Axis,
    knee: number,
    scale: LaneScale,
    locate: (event: PointerEvent) => { x: number; y: number },
    ended: () => void = () => undefined,
  ): void {
    const key = `drag ${++gesture}`;
    const unit = displayUnit(AXIS_KINDS[axis.kind].position, machine.units).factor;
    const timeGrid = niceStep(2.5 / scale.pixelsPerSecond);
    const positionGrid = niceStep(2 / scale.pixelsPerPosition / unit) * unit;
    const begin = planKnees(axis.plan)[knee]!;
    const from = { ...begin, time: begin.time * secondsPer(axis) };
    const begun = locate(event);
    const move = (moved: PointerEvent) => {
      const current = machine.axes.find(({ id }) => id === axis.id);
      if (!current) return;
      const { x, y } = locate(moved);
      const free = moved.altKey;
      // A drag that stays level keeps the position, one that stays upright keeps the time.
      const time = Math.abs(x - begun.x) < 4 ? from.time : scale.time(scale.x(from.time) + x - begun.x);
      const position = Math.abs(y - begun.y) < 4 ? from.position : scale.position(scale.y(from.position) + y - begun.y);
      place(
        current,
        knee,
        free || time === from.time
          ? time
          : snapTo(time, timeMarks(current, knee), REACH / scale.pixelsPerSecond, timeGrid),
        free || position === from.position
          ? position
          : snapTo(position, positionMarks(current, knee), REACH / scale.pixelsPerPosition, positionGrid),
        key,
      );
    };
    const end = () => {
      dragged.value = null;
      ended();
    };
    dragPointer(event, event.currentTarget as Element, { move, end });
  }

  /** Moves a knee by arrow keys. */
  function key(event: KeyboardEvent, axis: Axis, knee: number, scale: LaneScale): void {
    const steps: Record<string, [number, number]> = {
      ArrowLeft: [-1, 0],
      ArrowRight: [1, 0],
      ArrowUp: [0, 1],
      ArrowDown: [0, -1],
    };
    const step = steps[event.key];
    if (!step) return;
    event.preventDefault();
    event.stopPropagation();
    const coarse = event.shiftKey ? 10 : 1;
    const begin = planKnees(axis.plan)[knee]!;
    const at = { ...begin, time: begin.time * secondsPer(axis) };
    const unit = displayUnit(AXIS_KINDS[axis.kind].position, machine.units).factor;
    const timeStep = niceStep(2.5 / scale.pixelsPerSecond) * coarse;
    const positionStep = niceStep(2 / scale.pixelsPerPosition / unit) * unit * coarse;
    place(axis, knee, at.time + step[0] * timeStep, at.position + step[1] * positionStep, `key ${axis.id} ${knee}`);
  }

  return { dragged, start, key, secondsPer };
}
