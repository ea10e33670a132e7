/** A transition of a net: it is enabled while all its steps before are active, and clears when its condition holds. */
export interface Transition {
  id: string;
  from: readonly number[];
  to: readonly number[];
  /**
   * Transitions with the same word are alternatives: of those that could clear together only one does,
   * the one of highest priority, then the one written first.
   */
  exclusive?: string;
  priority?: number;
}

/** Alternatives of equal priority that could have cleared at the same instant. */
export interface Race {
  taken: string;
  left: string[];
}

/** What one evolution did. */
export interface Evolution {
  /** Transitions cleared, in passes: those of a pass clear simultaneously. */
  passes: Transition[][];
  races: Race[];
  /** Transitions that clear again and again without any time passing; null where the situation became stable. */
  endless: string[] | null;
}

/** Passes at one instant after which a net counts as never becoming stable. */
const MOST_PASSES = 500;

/**
 * Steps and transitions with the evolution rules of IEC 60848: an enabled transition whose condition holds is cleared
 * at once; transitions that can clear together do so simultaneously; clearing activates all steps behind and
 * deactivates all before; a step both activated and deactivated stays active; evolution goes on until the situation is
 * stable. Added to the standard: alternatives marked as exclusive, with priorities.
 */
export class Net {
  readonly active: Uint8Array;

  constructor(
    steps: number,
    readonly transitions: readonly Transition[],
    initial: Iterable<number>,
  ) {
    this.active = new Uint8Array(steps);
    for (const step of initial) this.active[step] = 1;
  }

  enabled(transition: Transition): boolean {
    return transition.from.every((step) => this.active[step] === 1);
  }

  /**
   * Evolves until stable.
   * @param holds whether the condition of an enabled transition holds; `fresh` is true in the first pass only,
   * where edges count: an edge lasts no time, so that transitions behind it need a new one
   * @param cleared told each pass before the next begins, with steps that were activated though they were active already
   */
  evolve(
    holds: (transition: Transition, fresh: boolean) => boolean,
    cleared: (pass: Transition[], again: number[]) => void = () => undefined,
  ): Evolution {
    const passes: Transition[][] = [];
    const races: Race[] = [];
    for (;;) {
      const able = this.transitions.filter((t) => this.enabled(t) && holds(t, passes.length === 0));
      const pass = this.choose(able, races);
      if (pass.length === 0) return { passes, races, endless: null };
      if (passes.length >= MOST_PASSES) return { passes, races, endless: [...new Set(pass.map(({ id }) => id))] };
      for (const { from } of pass) for (const step of from) this.active[step] = 0;
      const again = pass.flatMap(({ to }) => to.filter((step) => this.active[step] === 1));
      for (const { to } of pass) for (const step of to) this.active[step] = 1;
      passes.push(pass);
      cleared(pass, again);
    }
  }

  private choose(able: Transition[], races: Race[]): Transition[] {
    const groups = new Map<string, Transition[]>();
    for (const transition of able)
      if (transition.exclusive !== undefined) {
        const group = groups.get(transition.exclusive);
        if (group) group.push(transition);
        else groups.set(transition.exclusive, [transition]);
      }
    if (groups.size === 0) return able;
    const dropped = new Set<Transition>();
    for (const group of groups.values()) {
      if (group.length < 2) continue;
      const best = Math.max(...group.map(({ priority = 0 }) => priority));
      const first = group.filter(({ priority = 0 }) => priority === best);
      if (first.length > 1) races.push({ taken: first[0]!.id, left: first.slice(1).map(({ id }) => id) });
      for (const transition of group) if (transition !== first[0]) dropped.add(transition);
    }
    return able.filter((transition) => !dropped.has(transition));
  }
}
