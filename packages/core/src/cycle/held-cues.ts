import type { Condition, Sequence } from '../machine';
import { judge, type Net, type Sheet, type World } from '../sequence';

/** A cue that does not start: what it lacks, and whether it could. */
export interface HeldCue {
  cue: string;
  /** Cues whose ends it lacks, and whether it has that of another one already. */
  lacks: string[];
  has: boolean;
  /** Terms of its condition by which it does not hold. */
  because: { term: Condition; is: boolean }[];
  /** Interlocks that forbid it now. */
  blockedBy: string[];
  running: boolean;
}

/** All cues that may still start, with what holds each of them. */
export function heldCues(
  sequence: Sequence,
  sheet: Sheet,
  net: Net,
  world: World,
  { running: isRunning, startsOf }: { running(cue: string): boolean; startsOf(cue: string): number },
): HeldCue[] {
  const cues = new Map(sequence.cues.map((cue) => [cue.id, cue]));
  return sheet.transitions
    .filter(({ what }) => what === 'start')
    .flatMap((transition) => {
      const cue = cues.get(transition.cue)!;
      const running = isRunning(cue.id);
      const missing = transition.links.filter((step) => net.active[step] !== 1);
      const has = transition.links.length > 0 && missing.length < transition.links.length;
      const lacks = missing.flatMap((step) => {
        const link = sheet.steps[step]!;
        return link.is === 'link' ? link.from : [];
      });
      if (cue.times !== null && startsOf(cue.id) >= cue.times && !running) return [];
      const verdict = cue.when ? judge(cue.when, world, true) : { holds: true, because: [] };
      const blockedBy = sequence.interlocks
        .filter((lock) => lock.forbids.includes(cue.id) && judge(lock.during, world, true).holds)
        .map(({ id }) => id);
      const because = verdict.holds ? [] : verdict.because;
      return [{ cue: cue.id, lacks: [...new Set(lacks)], has, because, blockedBy, running }];
    });
}
