import type { Condition } from '../machine';

/** What conditions read at an instant. */
export interface World {
  sensor(id: string): boolean;
  /** Whether the sensor changed to this value at this instant. */
  edge(id: string, to: boolean): boolean;
  flag(id: string): boolean;
  running(cue: string): boolean;
  /** Whether the cue has ended at this instant, and nothing has evolved since. */
  endedNow(cue: string): boolean;
  /** How often the cue has ended. */
  ends(cue: string): number;
  position(axis: string): number;
  rests(axis: string): boolean;
  /** Time since the cycle began, s. */
  time(): number;
  holds(gripper: string): boolean;
}

/** What a condition goes by: the terms that hold, with those that do not. */
export interface Verdict {
  holds: boolean;
  /** Terms without and, or, not that made it so. */
  because: { term: Condition; is: boolean }[];
}

/** Whether a condition holds. Edges are false unless `fresh`. */
export function conditionHolds(condition: Condition | null, world: World, fresh: boolean): boolean {
  return condition === null || judge(condition, world, fresh).holds;
}

/**
 * Judges a condition and says by which terms: of an “and” that fails those that fail, of an “or” that holds those
 * that hold, otherwise all.
 */
export function judge(condition: Condition, world: World, fresh: boolean): Verdict {
  switch (condition.op) {
    case 'and':
    case 'or': {
      const parts = condition.of.map((part) => judge(part, world, fresh));
      const wanted = condition.op === 'or';
      const holds = wanted ? parts.some((p) => p.holds) : parts.every((p) => p.holds);
      const decisive = holds === wanted ? parts.filter((p) => p.holds === wanted) : parts;
      return { holds, because: decisive.flatMap((p) => p.because) };
    }
    case 'not': {
      const inner = judge(condition.of, world, fresh);
      return { holds: !inner.holds, because: inner.because };
    }
    default: {
      const holds = termHolds(condition, world, fresh);
      return { holds, because: [{ term: condition, is: holds }] };
    }
  }
}

type Term = Exclude<Condition, { op: 'and' | 'or' | 'not' }>;

function termHolds(term: Term, world: World, fresh: boolean): boolean {
  switch (term.op) {
    case 'on':
      return world.sensor(term.sensor);
    case 'rises':
      return fresh && world.edge(term.sensor, true);
    case 'falls':
      return fresh && world.edge(term.sensor, false);
    case 'flag':
      return world.flag(term.flag);
    case 'running':
      return world.running(term.cue);
    case 'ended':
      return world.endedNow(term.cue);
    case 'count': {
      const count = world.ends(term.cue);
      return term.is === '<' ? count < term.value : term.is === '>=' ? count >= term.value : count === term.value;
    }
    case 'at':
      return Math.abs(world.position(term.axis) - term.value) <= term.within;
    case 'rests':
      return world.rests(term.axis);
    case 'time':
      // A time is reached in spite of rounding.
      return world.time() >= term.at - 1e-9;
    case 'holds':
      return world.holds(term.gripper);
  }
}

/**
 * Whether a condition could ever hold if every term were free to be true or false; edges of one sensor exclude each
 * other, and a rising edge goes with a sensor that is on.
 */
export function satisfiable(condition: Condition): boolean {
  return assignments(condition, (world) => conditionHolds(condition, world, true));
}

/** Whether two conditions could hold at the same instant. */
export function compatible(a: Condition | null, b: Condition | null): boolean {
  if (a === null || b === null) return satisfiable(a ?? b ?? { op: 'time', at: 0 });
  return satisfiable({ op: 'and', of: [a, b] });
}

/** Most assignments that are tried; beyond it a condition counts as possible. */
const MOST_ASSIGNMENTS = 20_000;

function assignments(condition: Condition, test: (world: World) => boolean): boolean {
  const keys = new Set<string>();
  const collect = (c: Condition): void => {
    if (c.op === 'and' || c.op === 'or') c.of.forEach(collect);
    else if (c.op === 'not') collect(c.of);
    else if (c.op === 'on') keys.add(`s ${c.sensor}`);
    else if (c.op === 'rises' || c.op === 'falls') {
      keys.add(`s ${c.sensor}`);
      keys.add(`e ${c.sensor}`);
    } else if (c.op === 'flag') keys.add(`f ${c.flag}`);
    else if (c.op === 'running') keys.add(`r ${c.cue}`);
    else if (c.op === 'ended') keys.add(`n ${c.cue}`);
    else if (c.op === 'holds') keys.add(`g ${c.gripper}`);
    else if (c.op === 'rests') keys.add(`a ${c.axis}`);
  };
  collect(condition);
  const list = [...keys];
  // Numbers are not enumerated: a condition with them is left open, unless its other terms exclude each other.
  const counts = countsIn(condition);
  if (counts.length * 2 ** list.length > MOST_ASSIGNMENTS) return true;
  for (const numbers of counts)
    for (let bits = 0; bits < 2 ** list.length; bits++) {
      const is = (key: string) => {
        const i = list.indexOf(key);
        return i >= 0 && (bits & (1 << i)) !== 0;
      };
      const world: World = {
        sensor: (id) => is(`s ${id}`),
        edge: (id, to) => is(`e ${id}`) && is(`s ${id}`) === to,
        flag: (id) => is(`f ${id}`),
        running: (id) => is(`r ${id}`),
        endedNow: (id) => is(`n ${id}`),
        ends: (id) => numbers.get(id) ?? 0,
        position: (id) => numbers.get(`p ${id}`) ?? 0,
        rests: (id) => is(`a ${id}`),
        time: () => numbers.get('t') ?? 0,
        holds: (id) => is(`g ${id}`),
      };
      if (test(world)) return true;
    }
  return false;
}

/** Values of counts, positions and times that tell all comparisons of a condition apart. */
function countsIn(condition: Condition): Map<string, number>[] {
  const values = new Map<string, Set<number>>();
  const note = (key: string, ...list: number[]) => {
    const set = values.get(key) ?? new Set<number>();
    list.forEach((v) => set.add(v));
    values.set(key, set);
  };
  const collect = (c: Condition): void => {
    if (c.op === 'and' || c.op === 'or') c.of.forEach(collect);
    else if (c.op === 'not') collect(c.of);
    else if (c.op === 'count') note(c.cue, ...[c.value - 1, c.value, c.value + 1].filter((v) => v >= 0));
    else if (c.op === 'at') note(`p ${c.axis}`, c.value - 2 * c.within, c.value, c.value + 2 * c.within);
    else if (c.op === 'time') note('t', c.at, Math.max(0, c.at - 1), c.at + 1);
  };
  collect(condition);
  let all: Map<string, number>[] = [new Map()];
  for (const [key, set] of values) {
    all = all.flatMap((map) => [...set].map((v) => new Map(map).set(key, v)));
    if (all.length > 3000) break;
  }
  return all;
}
