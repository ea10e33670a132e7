import type { CriticalChain } from './chain';
import type { CycleRecord } from './cycle-record';

/** Where an event is seen over time: on the signal of a sensor, or where a move begins or ends. */
export interface Spot {
  time: number;
  on: { sensor: string } | { axis: string };
}

/** An arrow from what decided to what it started. */
export interface CauseArrow {
  /** Events at its ends. */
  cause: number;
  acts: number;
  from: Spot;
  to: Spot;
  /** Whether it lies on the chain that holds the cycle time. */
  critical: boolean;
}

/** How far back a cause is looked for behind cues that take no time. */
const MOST_INSTANTS = 12;

/** The place of an event over time; null for cues that take no time. */
export function spotOf({ events, signals, moves }: CycleRecord, index: number): Spot | null {
  const event = events[index]!;
  if (event.kind === 'sensor' && signals.some(({ sensor }) => sensor === event.subject))
    return { time: event.time, on: { sensor: event.subject } };
  const ended = event.kind === 'ended';
  const move = moves.find(
    (m) =>
      m.cue === event.subject &&
      (ended ? Math.abs(m.to - event.time) < 1e-6 : Math.abs(m.from - event.time) < 0.5 && m.from >= event.time - 1e-9),
  );
  return move ? { time: ended ? move.to : event.time, on: { axis: move.axis } } : null;
}

/** The nearest event behind that has a place within a stretch of time. */
function spotBehind(record: CycleRecord, index: number, within: (spot: Spot) => boolean): Spot | null {
  let at = index;
  for (let i = 0; i < MOST_INSTANTS; i++) {
    const spot = spotOf(record, at);
    if (spot && within(spot)) return spot;
    const before = record.events[at]!.causes.at(-1);
    if (before === undefined) return null;
    at = before;
  }
  return null;
}

/**
 * Arrows from what decided to the moves that it started, in a stretch of time.
 * @param chosen cues whose moves count; none stands for all
 * @param chain what holds the cycle time
 * @param criticalOnly whether, where none is chosen, arrows beside the chain are left out
 */
export function causeArrows(
  record: CycleRecord,
  span: { from: number; to: number },
  { chosen, chain, criticalOnly }: { chosen: readonly string[]; chain: CriticalChain | null; criticalOnly: boolean },
): CauseArrow[] {
  const onChain = new Set(chain?.links.flatMap(({ from, to }) => [from, to]) ?? []);
  const within = ({ time }: Spot) => time >= span.from - 1e-9 && time <= span.to + 1e-9;
  const arrows: CauseArrow[] = [];
  for (const move of record.moves) {
    if (move.to < span.from || move.from > span.to) continue;
    const acts = record.events[move.started]!;
    const start = record.events[acts.causes.at(-1) ?? 0]!;
    const critical = onChain.has(acts.index) || onChain.has(start.index);
    if (chosen.length > 0 ? !chosen.includes(move.cue) : criticalOnly && !critical) continue;
    for (const cause of start.causes) {
      const to = spotOf(record, acts.index);
      const from = spotBehind(record, cause, within);
      if (!to || !within(to) || !from) continue;
      arrows.push({ cause, acts: acts.index, from, to, critical: critical && cause === start.causes.at(-1) });
    }
  }
  return arrows;
}
