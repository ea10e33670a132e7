import type { ModelStop, Positions } from '../mechanism';

/** One side of a stop, and the position of its joint there. */
export interface Resting {
  stop: ModelStop;
  side: 1 | -1;
  limit: number;
}

/**
 * The first stop that is passed from one state to another, going along straight between them.
 * @param resting stops that are rested against already, and do not count
 */
export function firstStopPassed(
  stops: readonly ModelStop[],
  from: Positions,
  to: Positions,
  resting: readonly Resting[],
): Resting | null {
  let hit: Resting | null = null;
  let earliest = Infinity;
  for (const stop of stops) {
    if (resting.some((r) => r.stop === stop)) continue;
    const before = stop.coordinate.value(from);
    const now = stop.coordinate.value(to);
    for (const side of [1, -1] as const) {
      const limit = side === 1 ? stop.max : stop.min;
      if (limit === null || side * (now - limit) <= 0) continue;
      const share = now === before ? 0 : (limit - before) / (now - before);
      if (share < earliest) {
        earliest = share;
        hit = { stop, side, limit };
      }
    }
  }
  return hit;
}

/** Stops that act at a pose; one that was switched on behind its joint lets it back in first. */
export function stopsActing(
  stops: readonly ModelStop[],
  q: Positions,
  isOn: (stop: string) => boolean,
): readonly ModelStop[] {
  if (!stops.some(({ switched }) => switched)) return stops;
  return stops.filter(({ id, switched, coordinate, min, max }) => {
    if (!switched) return true;
    if (!isOn(id)) return false;
    const value = coordinate.value(q);
    return (max === null || value <= max) && (min === null || value >= min);
  });
}
