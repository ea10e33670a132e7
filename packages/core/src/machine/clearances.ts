import { z } from 'zod';
import { field } from './field';
import { id, name, notNegative } from './parts';
import { refTo } from './refer';
import type { Machine } from './schema';

/** Bodies, or the ground; what is no more is left out. */
const body = refTo('body', { ground: true, open: true, whenGone: 'drops' });
const group = z.array(body).min(1).max(300).meta({ description: 'Bodies, or “ground”' });

/** Clearances on true shapes that are watched over the run, and pairs that touch by design. */
export const clearancesSchema = z.strictObject({
  watches: z
    .array(
      z.strictObject({
        id,
        name,
        a: group,
        b: group,
        least: field(
          notNegative.meta({ description: 'Least distance wanted, m; 0 watches for interference' }),
          'At least',
          {
            quantity: 'length',
          },
        ),
        stop: z.boolean().meta({ description: 'Whether a collision ends the run, so that nothing behind it counts' }),
      }),
    )
    .max(200),
  byDesign: z
    .array(z.tuple([body, body]))
    .max(20_000)
    .meta({ description: 'Pairs of bodies (or the ground) that touch by design' }),
});
export type Clearances = z.infer<typeof clearancesSchema>;
export type ClearanceWatch = Clearances['watches'][number];

/** Whether two bodies are a pair, in either order. */
export const samePair = ([a, b]: readonly [string, string], [c, d]: readonly [string, string]): boolean =>
  (a === c && b === d) || (a === d && b === c);

/** Pairs that a watch is about: those of its groups that are there and do not touch by design. */
export function pairsOfWatch(
  { byDesign }: Pick<Clearances, 'byDesign'>,
  { a, b }: Pick<ClearanceWatch, 'a' | 'b'>,
  isThere: (id: string) => boolean,
): [string, string][] {
  return a.flatMap((one) =>
    b.flatMap((other): [string, string][] => {
      const counts = one !== other && isThere(one) && isThere(other) && !byDesign.some((own) => samePair(own, [one, other])); // prettier-ignore
      return counts ? [[one, other]] : [];
    }),
  );
}

/** Takes bodies that go out of what is watched and left out. */
export function dropFromClearances(machine: Pick<Machine, 'clearances'>, gone: ReadonlySet<string>): void {
  const { clearances } = machine;
  if (!clearances) return;
  const kept = (bodies: readonly string[]) => bodies.filter((own) => !gone.has(own));
  clearances.watches = clearances.watches
    .map((watch) => ({ ...watch, a: kept(watch.a), b: kept(watch.b) }))
    .filter(({ a, b }) => a.length > 0 && b.length > 0);
  clearances.byDesign = clearances.byDesign.filter((pair) => pair.every((own) => !gone.has(own)));
}
