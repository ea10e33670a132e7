import type { Transition } from './net';

/** A net as far as its structure goes. */
export interface PlainNet {
  steps: number;
  transitions: readonly Pick<Transition, 'from' | 'to'>[];
  initial: readonly number[];
}

/**
 * Which pairs of steps may be active at the same time, if every transition whose steps before it may be active
 * together can be cleared (the concurrency relation; Kovalyov 1992, Esparza and Kovalyov 1996: exact for live nets of
 * free choice, on the safe side for others). Every pair is looked at once, so the time grows with the square of
 * the steps, however many situations there are.
 * @returns whether two steps, by their indices, may be active together
 */
export function concurrency({ steps, transitions, initial }: PlainNet): (a: number, b: number) => boolean {
  const together = new Uint8Array(steps * steps);
  const pairs: number[] = [];
  const add = (a: number, b: number) => {
    if (a === b || together[a * steps + b] === 1) return;
    together[a * steps + b] = together[b * steps + a] = 1;
    pairs.push(a * steps + b);
  };
  const before: number[][] = Array.from({ length: steps }, () => []);
  transitions.forEach(({ from }, t) => from.forEach((step) => before[step]!.push(t)));
  /** Of each transition and step: how many of the steps before it the step may be active with. */
  const met = new Uint16Array(transitions.length * steps);
  /** Whether a transition could be cleared at all: its steps before may be active together. */
  const able = new Uint8Array(transitions.length);
  const inner = (a: number, b: number) => {
    for (const t of before[a]!) {
      const { from, to } = transitions[t]!;
      if (!from.includes(b)) {
        const at = t * steps + b;
        met[at] = met[at]! + 1;
        // Whoever may be active with all that goes before is still active when what comes behind is.
        if (met[at] === from.length && able[t] === 1) for (const step of to) add(step, b);
      } else enable(t);
    }
  };
  const enable = (t: number) => {
    const { from, to } = transitions[t]!;
    if (able[t] === 1) return;
    const all = from.every((a, i) => from.slice(i + 1).every((b) => together[a * steps + b] === 1));
    if (!all) return;
    able[t] = 1;
    to.forEach((a, i) => to.slice(i + 1).forEach((b) => add(a, b)));
    for (let b = 0; b < steps; b++) if (met[t * steps + b] === from.length) for (const step of to) add(step, b);
  };
  initial.forEach((a, i) => initial.slice(i + 1).forEach((b) => add(a, b)));
  transitions.forEach(({ from }, t) => from.length === 1 && enable(t));
  for (let pair = pairs.pop(); pair !== undefined; pair = pairs.pop()) {
    const [a, b] = [Math.floor(pair / steps), pair % steps];
    inner(a, b);
    inner(b, a);
  }
  return (a, b) => together[a * steps + b] === 1;
}
