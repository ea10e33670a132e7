import type { z } from 'zod';
import type { Thing } from './field';
import type { Machine } from './schema';

/** What a new thing goes by: the document, and what was chosen or stood there before. */
export interface Before {
  machine: Machine;
  /** The thing as it stood before its kind was changed, or what is chosen; empty where there is nothing. */
  was: Thing;
}

/** One kind of thing as it is offered: what it is called, what it does, and how it begins. */
export interface Offer<T = object> {
  label: string;
  hint?: string;
  /** What it begins as; a sentence where the machine lacks what it needs. */
  first(before: Before): T | string;
  /** Brings what stands beside it to terms with it, once it is chosen. */
  settle?(owner: Record<string, unknown>): void;
}
/** Length of the cycle of the machine, s. */
export const cycleOf = ({ machine: { cycle } }: Before): number =>
  cycle.given === 'time' ? cycle.time : 1 / cycle.rate;

/** The answer of a kind that nobody shall choose: it is left out of what is offered. */
export const NOT_OFFERED = '';

/** One kind of thing that is told in a few words too. */
export interface Kind<T> extends Offer<T> {
  words(thing: T, machine: Machine): string;
}

/** Offers for every kind of a union, by the word that tells them apart. */
export type Offers<T, D extends keyof T> = { [K in T[D] & string]: Offer<Extract<T, Record<D, K>>> };
export type Kinds<T, D extends keyof T> = { [K in T[D] & string]: Kind<Extract<T, Record<D, K>>> };

const offersOf = new WeakMap<z.core.$ZodType, Readonly<Record<string, Offer>>>();

/** Says what the kinds of a union of the schema are called and how they begin: once, beside the union. */
export function offer(union: z.ZodType, offers: Readonly<Record<string, Offer>>): void {
  offersOf.set(union, offers);
}

/** What is offered for a union of the schema, or for a copy of it that a field has. */
export function offersFor(union: z.core.$ZodType): Readonly<Record<string, Offer>> | undefined {
  for (let own: z.core.$ZodType | undefined = union; own; own = own._zod.parent) {
    const found = offersOf.get(own);
    if (found) return found;
  }
  return undefined;
}

/** What a thing is or does, in a few words. */
export function wordsOf<T, D extends keyof T>(kinds: Kinds<T, D>, by: D, thing: T, machine: Machine): string {
  const kind: Kind<T> = kinds[thing[by] as T[D] & string] as Kind<T>;
  return kind.words(thing, machine);
}

/** What is offered, as a list for choosing: what the machine lacks something for says so and cannot be chosen. */
export function choicesOf<K extends string>(
  offers: Readonly<Record<K, Offer>>,
  before: Before,
): { value: K; label: string; hint?: string; disabled?: boolean }[] {
  return (Object.entries(offers) as [K, Offer][]).flatMap(([value, { label, hint, first }]) => {
    const begun = first(before);
    if (begun === NOT_OFFERED) return [];
    return typeof begun === 'string'
      ? [{ value, label: `${label} (${shortly(begun)})`, hint: begun, disabled: true }]
      : [{ value, label, ...(hint === undefined ? {} : { hint }) }];
  });
}

/** “There is no gripper yet: …” as “no gripper yet”. */
const shortly = (refusal: string) => refusal.replace(/^There is /, '').split(/[.:]/)[0]!;
