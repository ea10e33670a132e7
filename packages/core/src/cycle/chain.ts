import type { CycleEvent, CycleEventKind } from './events';
import type { CycleRecord } from './cycle-record';

/** One link of the chain that holds the cycle time: from one event to the next that it brought about. */
export interface ChainLink {
  from: number;
  to: number;
  /** s */
  start: number;
  end: number;
  /** What the time goes into: a cue's action, its delay, a part under way, a sensor. */
  what: 'action' | 'delay' | 'part' | 'sensor' | 'wait';
  /** The cue, sensor or source it belongs to. */
  subject: string;
  /** How much earlier the cycle would end if this link took no time: its own length, or less where something else then decides. s */
  gain: number;
}

/** The chain of events that sets the length of a cycle, and the slack of everything else. */
export interface CriticalChain {
  start: number;
  end: number;
  links: ChainLink[];
  /** By how much each event could come later without the end coming later, s, by index; events of the cycle only. */
  slack: Map<number, number>;
}

const ofPart = new Set<CycleEventKind>(['released', 'let-go', 'took', 'lost']);

/**
 * Goes back from an event along the causes that came last (critical path method; the network is the log of the run).
 * @param end event at whose time the cycle ends
 * @param start time at which the cycle began: the chain is followed back to it
 */
export function criticalChain(events: readonly CycleEvent[], end: number, start: number): CriticalChain {
  const links: ChainLink[] = [];
  let to = events[end]!;
  while (to.time > start + 1e-12) {
    const from = events[to.causes.at(-1) ?? -1];
    if (!from) break;
    const begins = Math.max(from.time, start);
    if (to.time - begins > 1e-12)
      links.push({
        from: from.index,
        to: to.index,
        start: begins,
        end: to.time,
        ...nature(from, to),
        gain: events[end]!.time - endWithout(events, end, start, to.index),
      });
    to = from;
  }
  return { start, end: events[end]!.time, links: links.reverse(), slack: slackOf(events, end, start) };
}

/**
 * When the end would come if one event followed its last cause at once: all others keep their distance from the last of
 * their own causes, and what began before the cycle stays where it was.
 */
function endWithout(events: readonly CycleEvent[], end: number, start: number, hastened: number): number {
  const times = new Map<number, number>();
  const timeOf = (index: number) => times.get(index) ?? events[index]!.time;
  for (let i = hastened; i <= end; i++) {
    const { time, causes } = events[i]!;
    if (time < start || causes.length === 0) continue;
    const was = Math.max(start, events[causes.at(-1)!]!.time);
    const now = causes.reduce((latest, cause) => Math.max(latest, timeOf(cause)), start);
    times.set(i, now + (i === hastened ? 0 : time - was));
  }
  return timeOf(end);
}

function nature(from: CycleEvent, to: CycleEvent): Pick<ChainLink, 'what' | 'subject'> {
  if (to.kind === 'ended') return { what: from.kind === 'acts' ? 'action' : 'part', subject: to.subject };
  if (to.kind === 'acts') return { what: 'delay', subject: to.subject };
  if (to.kind === 'sensor') return { what: ofPart.has(from.kind) ? 'part' : 'sensor', subject: to.subject };
  if (to.kind === 'took' || to.kind === 'gone') return { what: 'part', subject: to.subject };
  return { what: 'wait', subject: to.subject };
}

/** Backward pass: an event may come later by what its followers allow, less nothing for the one that waits for it. */
function slackOf(events: readonly CycleEvent[], end: number, start: number): Map<number, number> {
  const slack = new Map<number, number>([[end, 0]]);
  for (let i = end; i >= 0; i--) {
    const event = events[i]!;
    if (event.time < start - 1e-12) break;
    const own = slack.get(i) ?? events[end]!.time - event.time;
    slack.set(i, own);
    const latest = event.causes.length > 0 ? events[event.causes.at(-1)!]!.time : event.time;
    for (const cause of event.causes) {
      const may = latest - events[cause]!.time + own;
      slack.set(cause, Math.min(slack.get(cause) ?? Infinity, may));
    }
  }
  return slack;
}

/**
 * The chain of one full cycle of a run, or of the whole run where there is none.
 * @param cycle which, from 0; the last one where it is left out
 */
export function chainOf(
  record: Pick<CycleRecord, 'events' | 'cycles' | 'duration'>,
  cycle: number = record.cycles.length - 2,
): CriticalChain | null {
  const { events, cycles } = record;
  if (events.length === 0) return null;
  const from = cycles[cycle] ?? 0;
  const to = cycles[cycle + 1] ?? record.duration;
  const marks = events.filter(({ kind, time }) => kind === 'cycle' && Math.abs(time - to) < 1e-12);
  const stop = events.findLast(({ kind, time }) => kind === 'ended' && time <= to + 1e-12);
  const last = marks.at(-1) ?? events.findLast(({ kind }) => kind === 'stop') ?? stop;
  return last && last.time > from ? criticalChain(events, last.index, from) : null;
}

/** How an axis spends its time. s */
export interface AxisTimes {
  axis: string;
  moving: number;
  waiting: number;
  /** Time in which another axis moves as well. */
  overlapping: number;
}

/** Moving, waiting and overlapping of every axis that cues move, over a stretch of the run. */
export function axisTimes(moves: CycleRecord['moves'], from: number, to: number): AxisTimes[] {
  const clip = moves
    .map(({ axis, from: a, to: b }) => ({ axis, from: Math.max(from, a), to: Math.min(to, b) }))
    .filter((move) => move.to > move.from);
  const axes = [...new Set(clip.map(({ axis }) => axis))];
  const edges = [...new Set([from, to, ...clip.flatMap((m) => [m.from, m.to])])].sort((a, b) => a - b);
  const sums = new Map(axes.map((axis) => [axis, { axis, moving: 0, waiting: to - from, overlapping: 0 }]));
  for (let i = 1; i < edges.length; i++) {
    const [a, b] = [edges[i - 1]!, edges[i]!];
    const at = (a + b) / 2;
    const now = new Set(clip.filter((m) => m.from <= at && m.to >= at).map(({ axis }) => axis));
    for (const axis of now) {
      const sum = sums.get(axis)!;
      sum.moving += b - a;
      sum.waiting -= b - a;
      if (now.size > 1) sum.overlapping += b - a;
    }
  }
  return [...sums.values()];
}
