import { cycleTime, freeId, type Axis, type Condition, type Machine } from '../machine';
import { letCuesLead, newCue } from '../sequence';
import type { AxisPlaces } from './axis-poses';
import { byPlan, standing } from './lead-plane';
import type { Transfer, TransferMove } from './point-to-point';

/** What becomes of the axes that a transfer does not move: they stand in its pose, or go on as they do. */
export type Others = 'stand' | 'go on';

/** What goes with a transfer that cues make. */
export interface CueWishes {
  others: Others;
  /** What it begins by; null begins at once. */
  when: Condition | null;
  /** A gripper that takes where it begins and lets go where it ends. */
  gripper: string | null;
}

/**
 * Cues that are switched on and move what a transfer moves or lets stand: beside what is written they would move it too.
 */
export function cuesMoving(machine: Machine, { moves }: Pick<Transfer, 'moves'>, others: Others): string[] {
  const axes = new Set(moves.map(({ axis }) => axis));
  return machine.sequence.cues.flatMap(({ name, on, action }) =>
    on && 'axis' in action && (others === 'stand' || axes.has(action.axis)) ? [name] : [],
  );
}

/** Switches off the cues of {@link cuesMoving}. */
export function hushCues(machine: Machine, transfer: Pick<Transfer, 'moves'>, others: Others): void {
  const names = new Set(cuesMoving(machine, transfer, others));
  for (const cue of machine.sequence.cues) if (names.has(cue.name)) cue.on = false;
}

/** Gaps shorter than this are none, s. */
const NO_TIME = 1e-9;

/**
 * Writes a transfer as motion plans of its axes. Where the cycle is shorter than the transfer, it is made as long.
 * @returns names of the axes whose motion was written, and the new cycle time in s where it changed
 */
export function keepAsPlans(
  machine: Machine,
  transfer: Transfer,
  others: Others,
): { axes: string[]; cycle: number | null } {
  const T = Math.max(cycleTime(machine), transfer.time);
  const longer = T > cycleTime(machine) + NO_TIME;
  if (longer) machine.cycle = { given: 'time', time: Number(T.toPrecision(9)) };
  const cycle = cycleTime(machine);
  const written: string[] = [];
  for (const axis of machine.axes) {
    const moves = transfer.moves.filter((move) => move.axis === axis.id);
    if (moves.length === 0) continue;
    written.push(axis.name);
    axis.plan = planOf(moves, cycle);
    axis.motion = byPlan(axis.motion);
  }
  if (others === 'stand') standStill(machine, transfer, cycle);
  return { axes: written, cycle: longer ? cycle : null };
}

function planOf(moves: readonly TransferMove[], cycle: number): Axis['plan'] {
  const segments: Axis['plan']['segments'] = [];
  const id = () => freeId('s', segments.map((segment) => segment.id)); // prettier-ignore
  let time = 0;
  const rest = (until: number) => {
    if (until - time > NO_TIME) segments.push({ kind: 'dwell', id: id(), duration: until - time });
    time = Math.max(time, until);
  };
  for (const { start, time: duration, to, law } of moves) {
    rest(start);
    segments.push({ kind: 'move', id: id(), duration, to, law });
    time += duration;
  }
  rest(cycle);
  return { start: moves[0]!.from, segments };
}

/** Axes that a transfer does not move stand where they stand in its first pose. */
function standStill(machine: Machine, { moves, stations }: Transfer, cycle: number): void {
  const places: AxisPlaces = stations[0] ?? new Map();
  for (const axis of machine.axes) {
    const place = places.get(axis.id);
    if (place === undefined || axis.motion.source.kind === 'cues' || moves.some((move) => move.axis === axis.id))
      continue;
    Object.assign(axis, standing(axis, place, cycle));
  }
}

const LEGS = { rise: 'rises', across: 'goes across', lower: 'lowers' } as const;

/**
 * Writes a transfer as cues: a first one that everything hangs on, then one for each move, after those of the step
 * before or, where steps overlap, so much later than these began.
 * @returns the machine, and the names of the new cues
 */
export function keepAsCues(
  machine: Machine,
  transfer: Transfer,
  wishes: CueWishes,
): { machine: Machine; cues: string[] } {
  let next = structuredClone(machine);
  const made: string[] = [];
  const add = (name: string, action: Parameters<typeof newCue>[2], after: readonly string[], delay: number): string => {
    const cue = { ...newCue(next.sequence, name, action, after), delay: Number(delay.toFixed(9)) };
    next.sequence.cues.push(cue);
    made.push(cue.name);
    return cue.id;
  };
  for (const id of new Set(transfer.moves.map(({ axis }) => axis))) next = letCuesLead(next, id);
  next = structuredClone(next);
  for (const axis of next.axes) {
    const first = transfer.moves.find((move) => move.axis === axis.id);
    if (first && axis.motion.source.kind === 'cues') axis.motion.source.start = first.from;
  }
  if (wishes.others === 'stand') standStill(next, transfer, cycleTime(next));

  const begin = add('Transfer begins', { do: 'wait', time: 0 }, [], 0);
  next.sequence.cues.at(-1)!.when = wishes.when;
  const { gripper } = wishes;
  let anchors = [gripper === null ? begin : add('Take', { do: 'take', gripper }, [begin], 0)];
  for (const back of [false, true]) {
    const moves = transfer.moves.filter((move) => move.back === back);
    const starts = [...new Set(moves.map(({ step }) => step))].sort((a, b) => a - b);
    // Times count from when the anchors have ended.
    let zero = back ? transfer.there : 0;
    let since: { id: string; end: number }[] = [];
    for (const step of starts) {
      const own = moves.filter((move) => move.step === step);
      const first = Math.min(...own.map(({ start }) => start));
      const ends = since.map(({ end }) => end);
      if (since.length > 0 && first >= Math.max(...ends) - NO_TIME) {
        anchors = since.map(({ id }) => id);
        zero = Math.max(...ends);
        since = [];
      }
      for (const { axis, start, time, to, law, leg } of own) {
        const name = `${next.axes.find(({ id }) => id === axis)!.name} ${LEGS[leg]}${back ? ' back' : ''}`;
        const action = { do: 'move', axis, given: 'to', value: to, time, law, velocity: null, acceleration: null, jerk: null } as const; // prettier-ignore
        since.push({ id: add(name, action, anchors, Math.max(0, start - zero)), end: start + time });
      }
    }
    if (since.length > 0) anchors = since.map(({ id }) => id);
    if (!back && gripper !== null) anchors = [add('Let go', { do: 'letGo', gripper }, anchors, 0)];
  }
  return { machine: next, cues: made };
}
