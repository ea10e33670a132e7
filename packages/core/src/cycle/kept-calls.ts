import type { Condition, Cue, Sequence } from '../machine';
import { isInitial, judge, type Net, type Sheet, type World } from '../sequence';

/**
 * Calls of cues that wait for the end of their row: one that comes while the row still runs is kept, and starts it
 * again as soon as it has ended.
 */
export class KeptCalls {
  /** Of each cue that keeps calls: itself and all that follows it. */
  private readonly rows: ReadonlyMap<string, ReadonlySet<string>>;
  private readonly kept = new Map<string, readonly number[]>();

  constructor(
    sequence: Sequence,
    private readonly sheet: Sheet,
    private readonly net: Net,
  ) {
    const { cues } = sequence;
    const rowOf = (first: string): Set<string> => {
      const row = new Set([first]);
      for (const id of row)
        for (const cue of cues)
          if (cue.on && (cue.after.includes(id) || cues.some((c) => c.id === id && c.timeOut?.cue === cue.id)))
            row.add(cue.id);
      return row;
    };
    this.rows = new Map(
      cues
        .filter((cue) => cue.on && cue.waits && cue.when !== null && isInitial(cue, sequence))
        .map(({ id }) => [id, rowOf(id)]),
    );
  }

  /**
   * Keeps calls of cues whose row still runs.
   * @param armed whether each cue may be called: not before its condition was false once
   */
  listen(
    cues: ReadonlyMap<string, Cue>,
    world: World,
    armed: Map<string, boolean>,
    causesOf: (because: readonly { term: Condition }[]) => (number | null)[],
  ): void {
    for (const id of this.rows.keys()) {
      const verdict = judge(cues.get(id)!.when!, world, true);
      if (!verdict.holds) armed.set(id, true);
      else if (armed.get(id) && this.isBusy(id)) {
        armed.set(id, false);
        if (!this.kept.has(id))
          this.kept.set(
            id,
            causesOf(verdict.because).filter((cause) => cause !== null),
          );
      }
    }
  }

  /** Whether a cue keeps calls, and it or something that follows it still runs or waits to start. */
  isBusy(cue: string): boolean {
    const row = this.rows.get(cue);
    if (!row) return false;
    return this.sheet.steps.some(
      (step, at) =>
        this.net.active[at] === 1 &&
        ((step.is === 'active' && row.has(step.cue)) || (step.is === 'link' && step.from.some((id) => row.has(id)))),
    );
  }

  /** Events by which the call came that is kept of a cue; undefined where there is none. */
  of(cue: string): readonly number[] | undefined {
    return this.kept.get(cue);
  }

  /** The call is answered. */
  answered(cue: string): void {
    this.kept.delete(cue);
  }
}
