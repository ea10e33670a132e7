import type { z } from 'zod';
import { GROUND, type Place } from './mechanism';
import { formulas, refers, wordOf, type Refers, type ThingKind } from './refer';
import type { Say } from './parts';
import type { Machine } from './schema';

type Schema = z.core.$ZodType;
type Path = readonly PropertyKey[];

/** A field of a document that names another thing. */
export interface Reference extends Refers {
  /** Identifier named; of a place, that of its body. */
  id: string;
  /** The place named, where it is one. */
  place: Place | null;
  /** Where the field stands. */
  path: PropertyKey[];
  /** Names another thing, or puts another place there. */
  set(value: string | Place): void;
}

const inside = (schema: Schema): Schema[] => {
  const { def } = schema._zod as z.core.$ZodTypeInternals & { def: z.core.$ZodTypes['_zod']['def'] };
  switch (def.type) {
    case 'object':
      return Object.values(def.shape);
    case 'array':
      return [def.element];
    case 'tuple':
      return [...def.items];
    case 'union':
      return [...def.options];
    case 'nullable':
    case 'optional':
    case 'default':
      return [def.innerType];
    default:
      return [];
  }
};

/** Whether anything inside a schema is marked in a registry: what is not is not looked into. */
function marks(registry: { has(schema: Schema): boolean }) {
  const known = new Map<Schema, boolean>();
  // Only what was asked for is known for good: within a schema that contains itself the answer is not yet there.
  const reaches = (schema: Schema, seen: Set<Schema>): boolean => {
    const before = known.get(schema);
    if (before !== undefined) return before;
    if (seen.has(schema)) return false;
    seen.add(schema);
    return registry.has(schema) || inside(schema).some((inner) => reaches(inner, seen));
  };
  const isMarked = (schema: Schema): boolean => {
    const found = reaches(schema, new Set());
    known.set(schema, found);
    return found;
  };
  return isMarked;
}
const refersInside = marks({ has: (schema) => refers.get(schema) !== undefined });
const formulasInside = marks({ has: (schema) => formulas.get(schema) !== undefined });

/** The variant of a union that a value is of: by the fields of it that hold one of a few words. */
export function variantOf(options: readonly Schema[], value: unknown): Schema | undefined {
  return options.find((option) => {
    const { def } = option._zod as z.core.$ZodTypeInternals & { def: z.core.$ZodTypes['_zod']['def'] };
    if (def.type !== 'object') return true;
    return Object.entries(def.shape).every(([key, field]) => {
      const words = field._zod.values;
      return words === undefined || words.has((value as Record<string, z.core.util.Primitive>)[key]);
    });
  });
}

/** Visits every value of a document that a registry marks, with its place and a way to change it. */
function walk(
  schema: Schema,
  value: unknown,
  path: Path,
  isMarked: (schema: Schema) => boolean,
  visit: (schema: Schema, value: unknown, path: Path, set: (value: unknown) => void) => boolean,
  set: (value: unknown) => void = () => undefined,
): void {
  if (value === null || value === undefined || !isMarked(schema)) return;
  if (visit(schema, value, path, set)) return;
  const { def } = schema._zod as z.core.$ZodTypeInternals & { def: z.core.$ZodTypes['_zod']['def'] };
  const into = (field: Schema, key: string | number) => {
    const owner = value as Record<string | number, unknown>;
    walk(field, owner[key], [...path, key], isMarked, visit, (other) => void (owner[key] = other));
  };
  switch (def.type) {
    case 'object':
      for (const [key, field] of Object.entries(def.shape)) into(field, key);
      return;
    case 'array':
      if (Array.isArray(value)) for (let i = 0; i < value.length; i++) into(def.element, i);
      return;
    case 'tuple':
      def.items.forEach((item, i) => into(item, i));
      return;
    case 'union': {
      const option = variantOf(def.options, value);
      if (option) walk(option, value, path, isMarked, visit, set);
      return;
    }
    default:
      for (const only of inside(schema)) walk(only, value, path, isMarked, visit, set);
  }
}

/** Every field of a document (or of a part of it) that names another thing. */
export function referencesIn(schema: Schema, document: unknown): Reference[] {
  const found: Reference[] = [];
  walk(schema, document, [], refersInside, (own, value, path, set) => {
    const how = refers.get(own);
    if (!how) return false;
    const place = how.to === 'place' ? (value as Place) : null;
    found.push({ ...how, id: place ? place.body : (value as string), place, path: [...path], set });
    return true;
  });
  return found;
}

/** Every formula of a document that may speak of axes, with a way to write another one. */
export function formulasIn(schema: Schema, document: unknown): { text: string; set(text: string): void }[] {
  const found: { text: string; set(text: string): void }[] = [];
  walk(schema, document, [], formulasInside, (own, value, _path, set) => {
    if (!formulas.get(own)) return false;
    found.push({ text: value as string, set });
    return true;
  });
  return found;
}

type Things = Pick<Machine, 'mechanism' | 'axes' | 'loose' | 'sequence'>;
/** Where the things of each kind stand in a document. */
const LISTS: Record<ThingKind, (machine: Things) => readonly { id: string }[]> = {
  plane: ({ mechanism }) => mechanism.planes,
  body: ({ mechanism }) => mechanism.bodies,
  path: ({ mechanism }) => mechanism.paths,
  joint: ({ mechanism }) => mechanism.joints,
  element: ({ mechanism }) => mechanism.elements,
  axis: ({ axes }) => axes,
  material: ({ loose }) => loose.materials,
  pair: ({ loose }) => loose.pairs,
  file: ({ mechanism }) => mechanism.shapes?.files ?? [],
  kind: ({ loose }) => loose.kinds,
  source: ({ loose }) => loose.sources,
  sink: ({ loose }) => loose.sinks,
  belt: ({ loose }) => loose.belts,
  gripper: ({ loose }) => loose.grippers,
  sensor: ({ sequence }) => sequence.sensors,
  flag: ({ sequence }) => sequence.flags,
  cue: ({ sequence }) => sequence.cues,
};

/** Everything of a kind that a document has, in its order. */
export const thingsOf = (kind: ThingKind, machine: Things): readonly { id: string }[] => LISTS[kind](machine);

/** Says of every field that names what does not exist which one it is. */
export function checkReferences(schema: Schema, machine: Machine, say: Say): void {
  const ids = new Map<ThingKind, Set<string>>();
  const known = (kind: ThingKind, id: string) => {
    let all = ids.get(kind);
    if (!all) ids.set(kind, (all = new Set(LISTS[kind](machine).map((thing) => thing.id))));
    return all.has(id);
  };
  const points = new Map<string, Set<string>>([
    [GROUND, new Set(machine.mechanism.ground.map(({ id }) => id))],
    ...machine.mechanism.bodies.map((body) => [body.id, new Set(body.points.map(({ id }) => id))] as const),
  ]);
  for (const { to, id, place, path, ground, open } of referencesIn(schema, machine)) {
    if (open) continue;
    if (place) {
      const own = points.get(place.body);
      if (!own) say([...path, 'body'], `names the body “${place.body}”, which does not exist`);
      else if (!own.has(place.point))
        say([...path, 'point'], `names the point “${place.point}”, which “${place.body}” does not have`);
    } else if (to !== 'place' && !known(to, id) && !(ground && id === GROUND))
      say(path, `names the ${wordOf(to)} “${id}”, which does not exist: choose one that does`);
  }
}

/** What has no entry of its own in a list, by where it stands. */
const NAMELESS: Record<string, string> = {
  'sequence.emergency': 'Emergency stop',
  'sequence.cycle': 'Start of the cycle',
};

/** The thing that a field belongs to: the entry of a list, as a joint, a cue, an axis. */
export function ownerOf(document: object, path: Path): { id?: string; name?: string } {
  let at = document as Record<PropertyKey, unknown>;
  for (const key of path) {
    at = at[key] as typeof at;
    if (typeof key === 'number') return at;
  }
  const where = path.slice(0, 2).join('.');
  return where in NAMELESS ? { name: NAMELESS[where]! } : {};
}

/** Takes the innermost entry of a list that a field stands in out of that list. */
export function dropEntry(document: object, path: Path): void {
  const last = path.findLastIndex((key) => typeof key === 'number');
  let list = document as Record<PropertyKey, unknown>;
  for (const key of path.slice(0, last)) list = list[key] as typeof list;
  if (Array.isArray(list)) list.splice(path[last] as number, 1);
}
