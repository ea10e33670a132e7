import { z } from 'zod';

/** Building blocks that the schemas of the document share. */
export const finite = z.number();
export const positive = finite.positive();
export const notNegative = finite.min(0);
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
