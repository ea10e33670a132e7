import type { DrawnField, Machine } from '../src/machine';

/** A document that can be changed without the one it is copied from. */
export const copy = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T;

/** A machine with a field of one of its things set; a sentence where it is refused. */
export function changed(
  machine: Machine,
  of: (m: Machine) => object,
  field: DrawnField,
  value: unknown,
): Machine | string {
  const change = (field.set as (value: unknown) => ReturnType<DrawnField['set']>)(value);
  if (typeof change === 'string') return change;
  const next = copy(machine);
  change(of(next));
  return next;
}
/** The field with a label. */
export const named = (fields: readonly DrawnField[], label: string): DrawnField => {
  const found = fields.find((field) => field.label === label);
  if (!found) throw new Error(`No field “${label}” among ${fields.map((field) => field.label).join(', ')}`);
  return found;
};
