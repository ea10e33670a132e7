import { GROUND, standingOf, type Mechanism } from '../machine';
import { sweptCell, sweptSpace, type Mesh, type Moving, type Swept, type SweptFrame } from '../solid';
import { smoothPosesAt, type PosedRun } from './poses-at';

const WORLD: SweptFrame = { at: [0, 0, 0], axes: [1, 0, 0, 0, 1, 0, 0, 0, 1] };

/** How bodies (or the ground) stand at a time of a run, in the world. */
export function framesAt(mechanism: Mechanism, run: PosedRun, ids: readonly string[], time: number): SweptFrame[] {
  const standing = standingOf(mechanism, smoothPosesAt(run, time));
  return ids.map((id) => (id === GROUND ? WORLD : standing.body(id)));
}

/** The last time that a run reached, s. */
export const reachedBy = ({ times, mechanism }: PosedRun): number => times[Math.max(0, (mechanism?.reached ?? 1) - 1)]!;

/** Frames to begin with, and at most. */
const FIRST = 120;
const MOST = 20_000;

/**
 * The space that bodies sweep together over a run.
 * @param bodies with their skins, each in its own frame
 * @param cells along the longest side of the space: how finely it is told
 * @throws RangeError where they move too far for cells so small
 */
export function sweptOver(
  mechanism: Mechanism,
  run: PosedRun,
  bodies: readonly { id: string; mesh: Mesh }[],
  cells: number,
): Swept {
  const end = reachedBy(run);
  const times = Array.from({ length: FIRST + 1 }, (_, i) => (end * i) / FIRST);
  const ids = bodies.map(({ id }) => id);
  const first = times.map((time) => framesAt(mechanism, run, ids, time));
  const roughly = bodies.map(({ mesh: surface }, k) => ({ surface, frames: first.map((frames) => frames[k]!) }));
  const cell = sweptCell(roughly, cells);
  const all = roughly.map(({ surface, frames: own }, k): Moving => {
    const at = (time: number) => framesAt(mechanism, run, [ids[k]!], time)[0]!;
    const reach = reachOf(surface);
    const frames: SweptFrame[] = [own[0]!];
    /** Halves the way between two frames until it is no longer than a cell. */
    const between = (t0: number, f0: SweptFrame, t1: number, f1: SweptFrame, depth: number): void => {
      if (frames.length > MOST) throw new RangeError('It moves too far for cells so small: take larger ones.');
      const t = (t0 + t1) / 2;
      if (depth === 0 || wayOf(f0, f1, reach) <= cell) {
        frames.push(f1);
        return;
      }
      const middle = at(t);
      between(t0, f0, t, middle, depth - 1);
      between(t, middle, t1, f1, depth - 1);
    };
    for (let i = 1; i < times.length; i++) between(times[i - 1]!, own[i - 1]!, times[i]!, own[i]!, 20);
    return { surface, frames };
  });
  return sweptSpace(all, cells);
}

/** How far a corner of a mesh lies from its origin at most, m. */
function reachOf({ points }: Mesh): number {
  let most = 0;
  for (let i = 0; i < points.length; i += 3)
    most = Math.max(most, Math.hypot(points[i]!, points[i + 1]!, points[i + 2]!));
  return most;
}
/** How far anything within a reach of the origin goes from one frame to another at most, m. */
function wayOf(a: SweptFrame, b: SweptFrame, reach: number): number {
  let trace = 0;
  for (let i = 0; i < 9; i++) trace += a.axes[i]! * b.axes[i]!;
  const angle = Math.acos(Math.max(-1, Math.min(1, (trace - 1) / 2)));
  return Math.hypot(b.at[0] - a.at[0], b.at[1] - a.at[1], b.at[2] - a.at[2]) + angle * reach;
}
