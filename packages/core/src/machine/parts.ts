import { z } from 'zod';

/** Building blocks that the schemas of the document share. */
/** Largest size of any number of a document, and least of one that must not be 0: well inside what a double computes with. */
export const MOST = 1e12;
export const LEAST = 1e-12;
/** Shortest time that anything takes, s. */
export const SHORTEST = 1e-6;

export const finite = z.number().min(-MOST).max(MOST);
export const positive = finite.min(LEAST);
export const notNegative = finite.min(0);
/** A place in m, and a size in m: from a micrometre to a thousand kilometres. */
export const coordinate = z.number().min(-1e6).max(1e6);
export const size = z.number().min(1e-6).max(1e6);
export const density = z.number().min(1e-3).max(1e6);
/** A time in s that something takes: from a microsecond to a day. */
export const lasting = z.number().min(SHORTEST).max(86_400);
/** A time in s that may be none: up to a day. */
export const seconds = notNegative.max(86_400).meta({ description: 's' });
/** A place in a frame. */
export const point = z.tuple([coordinate, coordinate]).meta({ description: 'x and y in m' });
export const id = z
  .string()
  .regex(/^[A-Za-z0-9_-]{1,40}$/, 'must be 1 to 40 letters, digits, “-” or “_”')
  .meta({ description: 'Identifier, unique among its neighbours' });
export const name = z
  .string()
  .regex(/\S/, 'must not be empty')
  .max(80)
  .meta({ description: 'What people call it; also its name on the command line and in CSV headers' });

/** Reports a problem at a path of the document. */
export type Say = (path: PropertyKey[], message: string) => void;

/** Says which items repeat a value that must be unique (case does not count). */
export function unique<K extends string>(
  items: readonly Record<K, string>[],
  key: K,
  path: PropertyKey[],
  say: Say,
): void {
  const seen = new Set<string>();
  items.forEach((item, i) => {
    const value = item[key].toLowerCase();
    if (seen.has(value)) say([...path, i, key], `must be unique; “${item[key]}” stands here twice`);
    seen.add(value);
  });
}
