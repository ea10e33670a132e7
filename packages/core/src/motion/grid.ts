import { ONE_TIME, type Motion } from './motion';

/** Samples on the shortest smooth stretch when the step is proposed; keeps a sine's peak to 0.02 %. */
const SAMPLES_PER_STRETCH = 50;
/** Samples over a cycle at least, so that slow curves stay smooth to look at. */
const SAMPLES_PER_CYCLE = 1000;
/** Most samples in a run; a finer step is refused. */
export const MOST_SAMPLES = 100_000;
/** Most samples a proposal asks for. */
export const MOST_PROPOSED = 20_000;

/** Proposes a sampling step in s: fine enough for the shortest moving stretch of all the motions. */
export function proposeStep(motions: readonly Motion[]): number {
  const duration = Math.max(...motions.map((motion) => motion.duration));
  return Math.max(
    duration / MOST_PROPOSED,
    Math.min(duration / SAMPLES_PER_CYCLE, shortestMove(motions) / SAMPLES_PER_STRETCH),
  );
}

/** Shortest moving stretch in s; infinite where nothing moves. */
export function shortestMove(motions: readonly Motion[]): number {
  let shortest = Infinity;
  for (const motion of motions) {
    for (const stretch of motion.stretches) {
      if (stretch.law) shortest = Math.min(shortest, stretch.to - stretch.from);
    }
  }
  return shortest;
}

/**
 * Times at which all motions are sampled: every edge is hit, between edges the spacing is even and at most `step`.
 * A time at which a motion steps stands twice, for the values before and after.
 * @param moving parts at least into which every piece of a move is cut, whatever else happens meanwhile
 */
export function sampleTimes(
  motions: readonly Motion[],
  step: number,
  extraEdges: readonly number[] = [],
  moving = 1,
): Float64Array {
  const duration = Math.max(...motions.map((motion) => motion.duration));
  const tiny = duration * ONE_TIME;
  const steps = new Set(motions.flatMap((motion) => motion.steps));
  const all = [...new Set([...motions.flatMap((motion) => motion.edges), ...extraEdges])]
    .filter((time) => time >= 0 && time <= duration)
    .sort((a, b) => a - b);
  // Edges that only rounding tells apart are one: the last of them, behind all of their steps; the ends stay the ends.
  const edges: number[] = [];
  const stepping = new Set<number>();
  for (let i = 0, from = 0; i < all.length; i++) {
    if (i + 1 < all.length && all[i + 1]! - all[i]! <= tiny) continue;
    const edge = all[from]! <= tiny ? all[from]! : all[i]!;
    if (all.slice(from, i + 1).some((time) => steps.has(time))) stepping.add(edge);
    edges.push(edge);
    from = i + 1;
  }
  const times: number[] = [];
  // Asked for rising times: each motion goes on from the stretch and the edge found last.
  const at = motions.map(() => 0);
  const piece = motions.map(() => 0);
  /** Shortest piece of all moves that are under way, s; infinite where nothing moves. */
  const pieceAt = (time: number) => {
    let shortest = Infinity;
    motions.forEach(({ stretches, edges: own }, i) => {
      while (at[i]! + 1 < stretches.length && stretches[at[i]! + 1]!.from <= time) at[i]!++;
      if (stretches[at[i]!]?.law === undefined) return;
      while (piece[i]! + 2 < own.length && own[piece[i]! + 1]! <= time) piece[i]!++;
      const width = own[piece[i]! + 1]! - own[piece[i]!]!;
      if (width > tiny) shortest = Math.min(shortest, width);
    });
    return shortest;
  };
  edges.forEach((edge, i) => {
    times.push(edge);
    if (i > 0 && i < edges.length - 1 && stepping.has(edge)) times.push(edge);
    const next = edges[i + 1];
    if (next === undefined) return;
    const fine = moving > 1 ? Math.min(step, pieceAt((edge + next) / 2) / moving) : step;
    const parts = Math.max(1, Math.ceil((next - edge) / fine - 1e-9));
    for (let k = 1; k < parts; k++) times.push(edge + ((next - edge) * k) / parts);
  });
  return Float64Array.from(times);
}
