import type { z } from 'zod';
import { looks } from './field';
import type { Problem } from './read';
import { variantOf } from './references';
import { machineSchema } from './schema';

type Schema = z.core.$ZodType;

/** What holds a value, one step further along a path; undefined where the schema does not say. */
function schemaInside(schema: Schema | undefined, key: string | number, value: unknown): Schema | undefined {
  if (!schema) return undefined;
  const { def } = schema._zod as z.core.$ZodTypeInternals & { def: z.core.$ZodTypes['_zod']['def'] };
  switch (def.type) {
    case 'object':
      return def.shape[key];
    case 'array':
      return def.element;
    case 'tuple':
      return def.items[Number(key)];
    case 'union':
      return schemaInside(value === null ? undefined : variantOf(def.options, value), key, value);
    case 'nullable':
    case 'optional':
    case 'default':
      return schemaInside(def.innerType, key, value);
    default:
      return undefined;
  }
}

/** What a list holds one of: `bodies` a body, `axes` an axis. */
const one = (list: string): string =>
  list === 'axes' ? 'axis' : list.endsWith('ies') ? `${list.slice(0, -3)}y` : list.replace(/s$/, '');
/** A key of the document as words: `initialPosition` is initial position. */
const words = (key: string): string => key.replace(/[A-Z]/g, (letter) => ` ${letter.toLowerCase()}`);

/** A problem in the words of the screens: things by their names, the field by its label. */
function inWords({ path, message }: Problem, document: unknown): string {
  const keys = [...path.matchAll(/([^.[\]]+)|\[(\d+)\]/g)].map(([, key, index]) => key ?? Number(index));
  const owners: string[] = [];
  let schema: Schema | undefined = machineSchema;
  let value: unknown = document;
  let label = '';
  keys.forEach((key, i) => {
    if (typeof value !== 'object' || value === null) {
      label = typeof key === 'string' ? words(key) : label;
      return;
    }
    schema = schemaInside(schema, key, value);
    value = (value as Record<string | number, unknown>)[key];
    if (typeof key === 'number') {
      const named = (value as { name?: unknown } | null)?.name;
      if (typeof named === 'string' && named !== '')
        owners.push(`“${named.length > 40 ? `${named.slice(0, 30)}…` : named}”`);
      else if (typeof value === 'object' && i < keys.length - 1) owners.push(`${label} ${key + 1}`);
      else label = `${label} ${key + 1}`;
      return;
    }
    const said = schema && looks.get(schema)?.label;
    label = typeof said === 'string' ? said.charAt(0).toLowerCase() + said.slice(1) : typeof keys[i + 1] === 'number' ? one(key) : words(key); // prettier-ignore
  });
  const where = [...owners, label].join(', ');
  return `${where.charAt(0).toUpperCase()}${where.slice(1)} ${message}`;
}

/**
 * What is wrong with an edited document, in one sentence, the first three problems in full: by the names that people
 * gave, not by where it stands in the file.
 * @param document what was refused
 */
export function problemsInWords(problems: readonly Problem[], document: unknown): string {
  const shown = problems.slice(0, 3).map((problem) => inWords(problem, document));
  const more = problems.length - shown.length;
  return `${shown.join('; ')}${more > 0 ? `; and ${more} more` : ''}.`;
}
