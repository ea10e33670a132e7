import {
  cueNameFor,
  freeId,
  ownerOf,
  referencesIn,
  sequenceSchema,
  type Axis,
  type Cue,
  type CueAction,
  type Machine,
  type Sequence,
} from '../machine';

/** When a cue acted in a run: its beginning and end in s, and where the axis it moved began, m or rad. */
export interface Acted {
  from: number;
  to: number;
  start: number;
}

const cueOf = (sequence: Sequence, id: string): Cue | undefined => sequence.cues.find((cue) => cue.id === id);

const freeName = (sequence: Sequence, wanted: string): string => {
  const taken = new Set(sequence.cues.map(({ name }) => name.toLowerCase()));
  if (!taken.has(wanted.toLowerCase())) return wanted.slice(0, 80);
  for (let n = 2; ; n++) if (!taken.has(`${wanted} ${n}`.toLowerCase())) return `${wanted} ${n}`.slice(0, 80);
};

/** A cue that does something, after nothing and without a condition. */
export function newCue(sequence: Sequence, name: string, action: CueAction, after: readonly string[] = []): Cue {
  return {
    id: freeId(
      'c',
      sequence.cues.map(({ id }) => id),
    ),
    name: freeName(sequence, name),
    on: true,
    after: [...after],
    join: 'all',
    choice: null,
    priority: 0,
    when: null,
    delay: 0,
    times: null,
    action,
    timeOut: null,
  };
}

/** The sheet with a cue put behind another; what came after that one now comes after the new one. */
export function insertAfter(sequence: Sequence, id: string, cue: Cue): Sequence {
  const at = sequence.cues.findIndex((c) => c.id === id);
  const cues = sequence.cues.map((c) =>
    c.after.includes(id) ? { ...c, after: c.after.map((other) => (other === id ? cue.id : other)) } : c,
  );
  cues.splice(at + 1, 0, { ...cue, after: [id] });
  return { ...sequence, cues };
}

/** The sheet without a cue; what came after it comes after what it came after. */
export function removeCue(sequence: Sequence, id: string): Sequence {
  const gone = cueOf(sequence, id);
  if (!gone) return sequence;
  return {
    ...sequence,
    cycle: sequence.cycle.starts === id ? { ...sequence.cycle, starts: null } : sequence.cycle,
    interlocks: sequence.interlocks
      .map((lock) => ({ ...lock, forbids: lock.forbids.filter((other) => other !== id) }))
      .filter(({ forbids }) => forbids.length > 0),
    cues: sequence.cues
      .filter((cue) => cue.id !== id)
      .map((cue) => ({
        ...cue,
        after: cue.after.includes(id)
          ? [
              ...new Set(
                cue.after.flatMap((other) => (other === id ? gone.after.filter((x) => x !== cue.id) : [other])),
              ),
            ]
          : cue.after,
        timeOut: cue.timeOut?.cue === id ? null : cue.timeOut,
      })),
  };
}

/** Where a thing is still spoken of: names of cues, interlocks and sensors. */
export function usersOf(sequence: Sequence, id: string): string[] {
  const users = referencesIn(sequenceSchema, sequence)
    .filter((reference) => reference.id === id)
    .map(({ path }) => ownerOf({ sequence }, ['sequence', ...path]).name ?? '');
  return [...new Set(users)].filter((name) => name !== '');
}

/**
 * A move split in two with a wait between: the first part ends where the move was at that share of its time.
 * @param share of the time of the move, 0 to 1
 * @param waits s
 */
export function splitMove(
  sequence: Sequence,
  id: string,
  acted: Acted,
  target: number,
  share: number,
  waits: number,
): Sequence {
  const cue = cueOf(sequence, id);
  if (cue?.action.do !== 'move') return sequence;
  const { action } = cue;
  const total = action.time;
  const between = acted.start + (target - acted.start) * share;
  const first: Cue = {
    ...cue,
    action: { ...action, given: 'to', value: between, time: total === null ? null : total * share },
  };
  let next: Sequence = { ...sequence, cues: sequence.cues.map((c) => (c.id === id ? first : c)) };
  const wait = newCue(next, `${cue.name} waits`, { do: 'wait', time: waits });
  next = insertAfter(next, id, wait);
  const rest = newCue(next, `${cue.name} goes on`, {
    ...action,
    given: 'to',
    value: target,
    time: total === null ? null : total * (1 - share),
  });
  return insertAfter(next, wait.id, { ...rest, timeOut: cue.timeOut });
}

/**
 * The way back made by mirroring: for each of the moves one that leads its axis back to where it began, in the same
 * time under the same law, in the opposite order; what ran side by side still does.
 * @param ids moves of the way out
 * @param acted how they acted in the last run
 */
export function mirrorMoves(sequence: Sequence, ids: readonly string[], acted: ReadonlyMap<string, Acted>): Sequence {
  const out = ids.filter((id) => {
    const kind = cueOf(sequence, id)?.action.do;
    return acted.has(id) && (kind === 'move' || kind === 'cylinder');
  });
  if (out.length === 0) return sequence;
  const inOrder = [...out].sort(
    (a, b) => acted.get(b)!.to - acted.get(a)!.to || acted.get(b)!.from - acted.get(a)!.from,
  );
  const end = Math.max(...out.map((id) => acted.get(id)!.to));
  let next = sequence;
  const made = new Map<string, string>();
  const last = inOrder[0]!;
  for (const id of inOrder) {
    const cue = cueOf(sequence, id)!;
    const { to } = acted.get(id)!;
    // It starts when the mirror image of what came after it on the way out has ended.
    const before = inOrder
      .filter((other) => made.has(other) && acted.get(other)!.from >= to - 1e-9)
      .sort((a, b) => acted.get(a)!.from - acted.get(b)!.from)[0];
    const gap = before === undefined ? end - to : acted.get(before)!.from - to;
    const { action } = cue;
    const back: CueAction =
      action.do === 'cylinder'
        ? { ...action, to: action.to === 'out' ? 'in' : 'out' }
        : { ...(action as Extract<CueAction, { do: 'move' }>), given: 'to', value: acted.get(id)!.start };
    const mirrored = newCue(next, `${cue.name} back`, back, before === undefined ? [last] : [made.get(before)!]);
    const at = Math.max(0, ...next.cues.map((c, i) => (c.id === last || [...made.values()].includes(c.id) ? i : 0)));
    const cues = [...next.cues];
    cues.splice(at + 1, 0, { ...mirrored, delay: Math.max(0, roundTime(gap)) });
    next = { ...next, cues };
    made.set(id, mirrored.id);
  }
  const first = made.get(inOrder.at(-1)!)!;
  const ends = [...made.values()].filter((id) => !next.cues.some((c) => c.after.includes(id)));
  // What came after the way out now comes after the way back.
  return {
    ...next,
    cues: next.cues.map((c) =>
      c.after.includes(last) && ![...made.values()].includes(c.id)
        ? {
            ...c,
            after: [
              ...new Set(c.after.flatMap((other) => (other === last ? (ends.length > 0 ? ends : [first]) : [other]))),
            ],
          }
        : c,
    ),
  };
}

const roundTime = (time: number): number => Number(time.toFixed(9));

/** Cues that start one after the other by a fixed time, all after what the first one came after. */
export function stagger(sequence: Sequence, ids: readonly string[], by: number): Sequence {
  const first = cueOf(sequence, ids[0] ?? '');
  if (!first) return sequence;
  return {
    ...sequence,
    cues: sequence.cues.map((cue) => {
      const i = ids.indexOf(cue.id);
      if (i <= 0) return cue;
      const { after, join, choice, when } = first;
      return { ...cue, after: [...after], join, choice, when, delay: roundTime(first.delay + i * by) };
    }),
  };
}

/**
 * Shifts the start of a cue: later by its delay; earlier than the end of what it comes after by starting along with
 * that one, so that the two overlap.
 * @param by s, negative for earlier
 */
export function shiftCue(sequence: Sequence, id: string, by: number, acted: ReadonlyMap<string, Acted>): Sequence {
  const cue = cueOf(sequence, id);
  if (!cue) return sequence;
  const delay = cue.delay + by;
  if (delay >= 0) return withCue(sequence, { ...cue, delay: roundTime(delay) });
  const before = cueOf(sequence, cue.after[0] ?? '');
  const span = before && acted.get(before.id);
  // Several before it, a condition of its own, or nothing before it: it cannot go further to the front.
  if (!before || !span || cue.after.length > 1 || cue.when || cue.choice !== null || before.after.includes(id))
    return withCue(sequence, { ...cue, delay: 0 });
  const along = before.delay + (span.to - span.from) + delay;
  const { after, join, choice, when } = before;
  return withCue(sequence, { ...cue, after: [...after], join, choice, when, delay: roundTime(Math.max(0, along)) });
}

/**
 * What a cue would overtake when it is shifted so far to the front: it comes after another one that has not ended then,
 * and {@link shiftCue} lets it start along with that one.
 * @returns the cue before it, and how long after the start of that one it would start, s; null where it overtakes none
 */
export function overtakes(
  sequence: Sequence,
  id: string,
  by: number,
  acted: ReadonlyMap<string, Acted>,
): { before: Cue; after: number } | null {
  const cue = cueOf(sequence, id);
  const [first] = cue?.after ?? [];
  const before = first === undefined ? undefined : cueOf(sequence, first);
  if (!cue || !before || cue.delay + by >= 0) return null;
  const next = cueOf(shiftCue(sequence, id, by, acted), id)!;
  return next.after.includes(before.id) ? null : { before, after: Math.max(0, next.delay - before.delay) };
}

/**
 * A move or wait of another length, with what comes straight after it: that moves along, or stays where it is as far as
 * its delay gives way.
 * @returns the sheet, and by how much each of those cues starts later, s
 */
export function stretchWith(
  sequence: Sequence,
  id: string,
  time: number,
  neighbours: 'move' | 'stay',
  acted: ReadonlyMap<string, Acted>,
): { sequence: Sequence; later: { cue: Cue; by: number }[] } {
  const span = acted.get(id);
  const by = span ? time - (span.to - span.from) : 0;
  let next = stretchCue(sequence, id, time);
  const later = sequence.cues
    .filter(({ after, on }) => on && after.includes(id))
    .map((cue) => {
      const shift = readyShift(cue, id, by, acted);
      // Not before this one has ended: a delay cannot be less than none.
      const gives = neighbours === 'stay' ? Math.max(-cue.delay, -shift) : 0;
      next = withCue(next, { ...cue, delay: roundTime(cue.delay + gives) });
      return { cue, by: roundTime(shift + gives) };
    });
  return { sequence: next, later };
}

/** By how much later what a cue comes after has ended, when one of these ends later by some time, s. */
function readyShift({ after, join }: Cue, id: string, by: number, acted: ReadonlyMap<string, Acted>): number {
  const ends = after.map((other) => acted.get(other)?.to);
  if (ends.some((end) => end === undefined)) return by;
  const ready = (shift: number) => {
    const all = after.map((other, i) => ends[i]! + (other === id ? shift : 0));
    return join === 'all' ? Math.max(...all) : Math.min(...all);
  };
  return ready(by) - ready(0);
}

/** What an action takes when it is stretched to a time; null where that is nothing of its own. */
function stretched(action: CueAction, time: number): CueAction | null {
  switch (action.do) {
    case 'move':
    case 'wait':
    case 'switch':
      return { ...action, time };
    case 'speed':
    case 'belt':
      return action.speed === 0 ? { ...action, ramp: time } : { ...action, time };
    case 'load':
      return action.force === 0 ? null : { ...action, time };
    case 'engage':
    case 'leave':
      return { ...action, over: time };
    default:
      return null;
  }
}

/** Whether a cue takes another time by being stretched: a cylinder, say, takes what its throttles let it. */
export const canStretch = ({ action }: Pick<Cue, 'action'>): boolean => stretched(action, 1) !== null;

/** A cue whose action takes another time, s. */
export function stretchCue(sequence: Sequence, id: string, time: number): Sequence {
  const cue = cueOf(sequence, id);
  const action = cue && time > 0 ? stretched(cue.action, roundTime(time)) : null;
  return cue && action ? withCue(sequence, { ...cue, action }) : sequence;
}

const withCue = (sequence: Sequence, cue: Cue): Sequence => ({
  ...sequence,
  cues: sequence.cues.map((c) => (c.id === cue.id ? cue : c)),
});

const hasMotion = ({ motion, plan, alternatives }: Axis): boolean =>
  (motion.source.kind !== 'plan' || plan.segments.length > 0) &&
  !alternatives.some((other) => JSON.stringify([other.plan, other.motion]) === JSON.stringify([plan, motion]));

/** What the motion that an axis had before cues led it is called among those put aside. */
function beforeCues({ alternatives }: Axis): string {
  const name = 'Before the cues';
  const taken = alternatives.map((other) => other.name);
  return taken.includes(name) ? freeId(`${name} `, taken) : name;
}

/**
 * Lets cues lead an axis that went by a motion of its own; it starts where that motion started. The motion is put aside
 * among those of the axis.
 */
export function letCuesLead(machine: Machine, axisId: string): Machine {
  return {
    ...machine,
    axes: machine.axes.map((axis) =>
      axis.id === axisId && axis.motion.source.kind !== 'cues'
        ? {
            ...axis,
            // What it did by itself is put aside, to be taken again in Move.
            alternatives: hasMotion(axis)
              ? [
                  ...axis.alternatives,
                  {
                    id: freeId('m', axis.alternatives.map((other) => other.id)), // prettier-ignore
                    name: beforeCues(axis),
                    plan: axis.plan,
                    motion: axis.motion,
                  },
                ]
              : axis.alternatives,
            motion: {
              ...axis.motion,
              level: 'position',
              over: 'time',
              engage: null,
              source: { kind: 'cues', start: axis.motion.source.kind === 'plan' ? axis.plan.start : axis.home },
            },
          }
        : axis,
    ),
  };
}

/**
 * A changed cue, renamed where it was still called by what it did before.
 * @param change of what the cue does
 */
export function withAction(machine: Machine, id: string, change: (cue: Cue) => void): Sequence {
  const { sequence } = machine;
  const before = cueOf(sequence, id);
  if (!before) return sequence;
  const next = structuredClone(before);
  change(next);
  const [was, wanted] = [before.action, next.action].map((action) => cueNameFor(action, machine)) as [string, string];
  // As it was made, or with a number behind it.
  const isDefault = before.name.startsWith(was) && /^( \d+)?$/.test(before.name.slice(was.length));
  if (isDefault && wanted !== was) {
    const others = { ...sequence, cues: sequence.cues.filter((cue) => cue.id !== id) };
    next.name = freeName(others, wanted);
  }
  return withCue(sequence, next);
}
