import { conditionTerms, type Condition, type Cue } from '../machine';
import type { SheetFinding } from './check';
import { concurrency } from './concurrency';
import { compatible } from './condition';
import type { Sheet, SheetTransition } from './sheet';

/** Steps looked at, over all situations, before the walk is given up: work and not time, so that it ends alike everywhere. */
const MOST_LOOKS = 3_000_000;
/** Fights that are listed; one finding tells how many more there are. */
const MOST_FIGHTS = 60;

/**
 * Cues that could fight over an axis, and joins that could wait for ever. All situations the sheet can come to are
 * walked through, each transition by itself, conditions free. Where there are too many of them, fights are read off the
 * concurrency of the net instead, which is quick and on the safe side.
 */
export function situationFindings(
  sheet: Sheet,
  cues: readonly Cue[],
  possible: ReadonlyMap<string, boolean>,
): SheetFinding[] {
  const walk = new Walk(sheet, cues, possible);
  const whole = walk.run();
  const fights = whole ? walk.fights : structuralFights(sheet, cues, possible);
  const list = [...fights].slice(0, MOST_FIGHTS);
  const more: SheetFinding[] =
    fights.length > MOST_FIGHTS
      ? [{ code: 'more', severity: 'warning', cues: [], count: fights.length - MOST_FIGHTS }]
      : [];
  return [...list, ...more, ...walk.ends.values()];
}

/** Cues that move an axis, with their places among all cues. */
function movers(cues: readonly Cue[]): { cue: Cue; axis: string }[] {
  return cues.flatMap((cue) => {
    const { action } = cue;
    return 'axis' in action && action.do !== 'load' ? [{ cue, axis: action.axis }] : [];
  });
}

/** A fight between two cues over an axis, unless a priority or a condition decides it. */
function fight(a: Cue, b: Cue, axis: string): SheetFinding | null {
  if (a.priority !== b.priority || excluded(a.when, b.id) || excluded(b.when, a.id)) return null;
  return { code: 'fight', severity: 'warning', cues: [a.id, b.id], axis };
}

/** Whether a condition keeps a cue from starting while another one runs. */
function excluded(condition: Condition | null, running: string): boolean {
  if (!condition) return false;
  if (!conditionTerms(condition).some((term) => term.op === 'running' && term.cue === running)) return false;
  return !compatible(condition, { op: 'running', cue: running });
}

/** Transitions that can be cleared; those of cues that never start are left out. */
const usable = (sheet: Sheet, possible: ReadonlyMap<string, boolean>): SheetTransition[] =>
  sheet.transitions.filter(({ what, cue }) => what === 'end' || possible.get(cue));

/** Fights by the structure of the net alone. What stands in no row is begun once, as in the walk. */
function structuralFights(sheet: Sheet, cues: readonly Cue[], possible: ReadonlyMap<string, boolean>): SheetFinding[] {
  let steps = sheet.steps.length;
  const initial = [...sheet.initial];
  const transitions = usable(sheet, possible).map(({ from, to, what, links }) => {
    if (what !== 'start' || links.length > 0) return { from, to };
    initial.push(steps);
    return { from: [...from, steps++], to };
  });
  const together = concurrency({ steps, transitions, initial });
  const moving = movers(cues);
  const fights: SheetFinding[] = [];
  moving.forEach(({ cue: a, axis }, i) => {
    for (let j = i + 1; j < moving.length; j++) {
      const { cue: b, axis: other } = moving[j]!;
      if (axis !== other || !together(sheet.active.get(a.id)!, sheet.active.get(b.id)!)) continue;
      const found = fight(a, b, axis);
      if (found) fights.push(found);
    }
  });
  return fights;
}

/** Walks through all situations of a sheet as far as its work is bounded. */
class Walk {
  readonly ends = new Map<string, SheetFinding>();
  private readonly found = new Map<string, SheetFinding | null>();
  private readonly rows: SheetTransition[];
  private readonly axisOf: Map<string, { cue: Cue; axis: string }>;
  private readonly stops: number[];
  /** Steps of the row that a cue begins, by cue: while one is active the row is under way. */
  private readonly ownSteps = new Map<string, number[]>();
  private looks = 0;

  constructor(
    private readonly sheet: Sheet,
    private readonly cues: readonly Cue[],
    possible: ReadonlyMap<string, boolean>,
  ) {
    this.rows = usable(sheet, possible);
    this.axisOf = new Map(movers(cues).map((mover) => [mover.cue.id, mover]));
    this.stops = cues.filter(({ action }) => action.do === 'stop').map(({ id }) => sheet.active.get(id)!);
    const after = new Map<string, string[]>();
    for (const cue of cues) for (const id of cue.after) after.set(id, [...(after.get(id) ?? []), cue.id]);
    for (const { what, links, cue } of this.rows)
      if (what === 'start' && links.length === 0) this.ownSteps.set(cue, this.stepsOf(reachedFrom(cue, after)));
  }

  get fights(): SheetFinding[] {
    return [...this.found.values()].filter((finding) => finding !== null);
  }

  private stepsOf(row: ReadonlySet<string>): number[] {
    return this.sheet.steps.flatMap((step, i) => {
      const own = step.is === 'active' ? row.has(step.cue) : step.is === 'link' && step.to.some((id) => row.has(id));
      return own ? [i] : [];
    });
  }

  /** Whether the walk came to its end. */
  run(): boolean {
    const { steps, initial } = this.sheet;
    const start = new Uint8Array(steps.length);
    for (const step of initial) start[step] = 1;
    const queue: { at: Uint8Array; begun: number; last: string | null }[] = [{ at: start, begun: 0, last: null }];
    const seen = new Set<string>([keyOf(start)]);
    for (let next = queue.pop(); next; next = queue.pop()) {
      const { at, begun, last } = next;
      if (last !== null) this.noteFights(at, last);
      if (this.stops.some((step) => at[step] === 1)) continue;
      const able = this.rows.filter((transition) => this.isAble(transition, at));
      const onlyBeginnings = able.every(({ what, links }) => what === 'start' && links.length === 0);
      if (onlyBeginnings && begun > 0) this.noteEnds(at);
      this.looks += this.rows.length + steps.length;
      for (const { from, to, cue, what } of able) {
        if (this.looks > MOST_LOOKS) return false;
        const then = Uint8Array.from(at);
        for (const step of from) then[step] = 0;
        for (const step of to) then[step] = 1;
        this.looks += steps.length;
        const key = keyOf(then);
        if (seen.has(key)) continue;
        seen.add(key);
        queue.push({ at: then, begun: begun + 1, last: what === 'end' ? null : cue });
      }
    }
    return true;
  }

  /** A row that a sensor begins is not begun again before it has come to its end; runs find it where it is. */
  private isAble({ from, what, links, cue }: SheetTransition, at: Uint8Array): boolean {
    if (!from.every((step) => at[step] === 1)) return false;
    if (what !== 'start' || links.length > 0) return true;
    const own = this.ownSteps.get(cue)!;
    this.looks += own.length;
    return !own.some((step) => at[step] === 1);
  }

  /** Fights of the cue that has just begun; those of the others were noted before. */
  private noteFights(at: Uint8Array, begun: string): void {
    const mover = this.axisOf.get(begun);
    if (!mover) return;
    for (const [id, { cue, axis }] of this.axisOf) {
      if (id === begun || axis !== mover.axis || at[this.sheet.active.get(id)!] !== 1) continue;
      const pair = [mover.cue, cue].sort((a, b) => this.cues.indexOf(a) - this.cues.indexOf(b)) as [Cue, Cue];
      const key = `${pair[0].id} ${pair[1].id}`;
      if (!this.found.has(key)) this.found.set(key, fight(...pair, axis));
    }
    this.looks += this.axisOf.size;
  }

  /** Joins that lack one of their branches for ever. */
  private noteEnds(at: Uint8Array): void {
    const { steps, transitions } = this.sheet;
    const waiting = steps.flatMap((step, i) => (step.is === 'link' && at[i] === 1 ? step.to : []));
    for (const id of new Set(waiting)) {
      if (this.ends.has(id)) continue;
      const row = transitions.find((t) => t.what === 'start' && t.cue === id);
      if (!row || row.links.length < 2) continue;
      const others = this.cues.find((cue) => cue.id === id)!.after;
      this.ends.set(id, { code: 'dead-end', severity: 'warning', cues: [id], others });
    }
  }
}

/** A situation as a short text, sixteen steps to a letter. */
function keyOf(at: Uint8Array): string {
  let key = '';
  for (let i = 0; i < at.length; i += 16) {
    let letter = 0;
    for (let k = 0; k < 16; k++) letter = letter * 2 + (at[i + k] ?? 0);
    key += String.fromCharCode(letter);
  }
  return key;
}

/** A cue and all that come after it. */
function reachedFrom(id: string, after: ReadonlyMap<string, readonly string[]>): Set<string> {
  const reached = new Set([id]);
  for (const next of reached) for (const other of after.get(next) ?? []) reached.add(other);
  return reached;
}
