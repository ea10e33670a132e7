import type { z } from 'zod';
import { LAWS } from '../law';
import { formatNumber, toDisplay, type QuantityKind } from '../quantity';
import { looks, type Around, type By, type FieldLook, type Thing } from './field';
import { TEXTS } from './field-text';
import { choicesOf, offersFor } from './kinds';
import { hasPosition, turns } from './mechanism';
import { refers, type ThingKind } from './refer';
import { thingsOf } from './references';
import type { Machine } from './schema';

/** A change of the thing whose fields are drawn, or a sentence that says why there is none. */
export type Change = ((thing: object) => void) | string;
export interface Choice {
  value: string;
  label: string;
  hint?: string;
  disabled?: boolean;
}

interface Drawn<As extends string, V> {
  as: As;
  /** Where it stands in the thing: unlike for each of its fields. */
  key: string;
  label: string;
  value: V;
  wide: boolean;
  hint: string;
  /** What stands in it while it is empty. */
  placeholder: string;
  /** What has to happen to the thing for the field to hold another value. */
  set(value: V): Change;
}
/** A field as it is shown and typed: what any interface needs to draw it. */
export type DrawnField =
  | (Drawn<'quantity', number | null> & {
      quantity: QuantityKind;
      optional: boolean;
      /** Bounds of its own; infinite where it has none. */
      min: number;
      max: number;
    })
  | (Drawn<'choice', string> & { choices: readonly Choice[] })
  | (Drawn<'many', readonly string[]> & { choices: readonly Choice[] })
  | Drawn<'switch', boolean>
  | (Drawn<'text', string> & { most: number });

type Base = Pick<DrawnField, 'key' | 'label' | 'wide' | 'hint' | 'placeholder'>;

type Schema = z.core.$ZodType;
type Def = z.core.$ZodTypes['_zod']['def'];
const defOf = (schema: Schema): Def => (schema._zod as { def: Def } & Schema['_zod']).def;
/** A schema without what lets it be empty. */
function bare(schema: Schema): { schema: Schema; empty: 'null' | 'left out' | null } {
  const def = defOf(schema);
  if (def.type === 'nullable') return { schema: def.innerType, empty: 'null' };
  if (def.type === 'optional') return { schema: def.innerType, empty: 'left out' };
  return { schema, empty: null };
}

/** Beyond this a bound is that of any number, not of the field. */
const NO_BOUND = 1e9;
/** Choice that stands for none. */
const NONE = '';
const SERVO = 'servo';

/** Puts a value at a path of a thing; undefined takes the field out. */
function put(thing: object, path: readonly (string | number)[], value: unknown): void {
  const owner = at(thing, path.slice(0, -1));
  const last = path.at(-1)!;
  if (value === undefined) Reflect.deleteProperty(owner, last);
  else owner[last] = value;
}
function at(thing: object, path: readonly (string | number)[]): Record<string | number, unknown> {
  let owner = thing as Record<string | number, unknown>;
  for (const key of path) owner = owner[key] as typeof owner;
  return owner;
}

/** Draws the fields of one thing of a document. */
class Drawing {
  private readonly around: Around;

  constructor(private readonly machine: Machine) {
    const { joints } = machine.mechanism;
    this.around = {
      axis: (id) => machine.axes.find((axis) => axis.id === id),
      turns: (id) => turns(joints.find((joint) => joint.id === id) ?? { kind: 'slide' }),
      master: machine.master.kind,
      driven: (id) => machine.axes.some(({ joint }) => joint !== null && joint === id),
      moving: () => joints.filter(hasPosition).map(({ id }) => id),
      space: machine.loose.space === true,
      show: (value, quantity) => formatNumber(toDisplay(value, quantity, machine.units), 3),
    };
  }

  /** @param outer what the thing stands in, which its fields may go by too */
  object(schema: Schema, value: object, path: readonly (string | number)[], outer: Thing): DrawnField[] {
    const def = defOf(schema);
    if (def.type !== 'object') return [];
    const thing: Thing = { ...outer, ...value };
    return Object.entries(def.shape).flatMap(([key, own]) =>
      this.field(own, thing, (value as Record<string, unknown>)[key], [...path, key]),
    );
  }

  private said<T>(said: By<T> | undefined, thing: Thing): T | undefined {
    return typeof said === 'function' ? (said as (thing: Thing, around: Around) => T)(thing, this.around) : said;
  }

  private quantity({ quantity }: FieldLook, thing: Thing, i: number): QuantityKind | undefined {
    return this.said(Array.isArray(quantity) ? (quantity as readonly By<QuantityKind>[])[i] : (quantity as By<QuantityKind> | undefined), thing); // prettier-ignore
  }

  private field(schema: Schema, thing: Thing, value: unknown, path: readonly (string | number)[]): DrawnField[] {
    const look = looks.get(schema);
    const { schema: own, empty } = bare(schema);
    const def = defOf(own);
    if (!look) return value && typeof value === 'object' ? this.object(variantFor(own, value), value, path, thing) : [];
    if (look.when && !look.when(thing, this.around)) return [];
    const label = typeof look.label === 'object' ? '' : this.said(look.label, thing)!;
    const placeholder = this.said(look.none, thing);
    const base = {
      key: path.join('.'),
      label,
      wide: look.wide ?? false,
      hint: look.hint ?? '',
      placeholder: placeholder ?? (empty || def.type === 'array' ? 'none' : ''),
    };
    const to =
      (next: unknown): Change =>
      (changed) => {
        put(changed, path, next);
        look.settle?.(at(changed, path.slice(0, -1)), this.around);
      };
    if (look.law) return [this.law(base, value as { id: string } | null, to)];
    if (look.text) {
      const text = TEXTS[look.text];
      const set = (typed: string): Change => {
        const read = text.read(typed);
        return typeof read === 'string' ? read : to(read.value);
      };
      return [{ as: 'text', ...base, most: text.most, value: text.show(value), set }];
    }
    const named = refers.get(own);
    if (named && named.to !== 'place') {
      const choices = this.things(named.to, named.ground ?? false, look, thing, value);
      if (empty && !look.needed) choices.unshift({ value: NONE, label: placeholder ?? 'none' });
      return [
        {
          as: 'choice',
          ...base,
          value: (value as string | null | undefined) ?? NONE,
          choices,
          set: (id) => to(id === NONE ? (empty === 'left out' ? undefined : null) : id),
        },
      ];
    }
    if (look.pointOf) {
      const { joints, bodies } = this.machine.mechanism;
      const turned = joints.find(({ id }) => id === thing[look.pointOf!])?.b.body;
      const body = bodies.find(({ id }) => id === turned);
      const choices = body?.points.map(({ id }) => ({ value: id, label: `${body.name}.${id}` })) ?? [];
      return [{ as: 'choice', ...base, value: value as string, choices, set: to }];
    }
    switch (def.type) {
      case 'number': {
        const quantity = this.quantity(look, thing, 0) ?? 'number';
        const set = (typed: number | null): Change => this.number(own, typed) ?? to(typed ?? (empty === 'null' ? null : undefined)); // prettier-ignore
        return [
          {
            as: 'quantity',
            ...base,
            quantity,
            optional: empty !== null,
            value: (value as number | null | undefined) ?? null,
            ...bounds(own),
            set,
          },
        ];
      }
      case 'tuple': {
        const pair = value as readonly number[];
        const labels = look.label as readonly [string, string];
        return labels.map((one, i) => ({
          as: 'quantity',
          ...base,
          key: `${base.key}.${i}`,
          label: one,
          quantity: this.quantity(look, thing, i) ?? 'length',
          optional: false,
          min: -Infinity,
          max: Infinity,
          value: pair[i]!,
          set: (typed) => (changed) => put(changed, [...path, i], typed),
        }));
      }
      case 'boolean':
        return [
          {
            as: 'switch',
            ...base,
            value: value === true,
            set: (on) => to(on || empty !== 'left out' ? on : undefined),
          },
        ];
      case 'string':
        return [
          {
            as: 'text',
            ...base,
            most: (own as z.ZodString).maxLength ?? 80,
            value: (value as string | null) ?? '',
            set: (typed) => to(typed === '' && empty ? null : typed),
          },
        ];
      case 'enum': {
        const choices = Object.entries(look.words ?? {}).map(([word, called]) => ({
          value: word,
          label: called,
          ...(look.hints?.[word] === undefined ? {} : { hint: look.hints[word] }),
        }));
        // What is left out is its first word.
        const left = empty === 'left out' ? choices[0]!.value : '';
        return [{ as: 'choice', ...base, value: (value as string | undefined) ?? left, choices, set: (word) => to(word === left ? undefined : word) }]; // prettier-ignore
      }
      case 'array': {
        const each = refers.get(def.element);
        if (!each || each.to === 'place') return [];
        const choices = this.things(each.to, false, look, thing, null);
        return [{ as: 'many', ...base, value: value as string[], choices, set: (ids) => to([...ids]) }];
      }
      case 'union':
        return this.union(own, def as z.core.$ZodDiscriminatedUnionDef, base, thing, value as object, path);
      default:
        return [];
    }
  }

  /** @param named what is named now: it is offered too, where another edit has made it unfit since */
  private things(kind: ThingKind, ground: boolean, look: FieldLook, thing: Thing, named: unknown): Choice[] {
    const all = thingsOf(kind, this.machine) as readonly { id: string; name?: string }[];
    const may = all.filter((candidate) => !look.only || candidate.id === named || look.only({ ...candidate }, thing));
    return [
      ...(ground ? [{ value: 'ground', label: 'Ground' }] : []),
      ...may.map(({ id, name }) => ({ value: id, label: name ?? id })),
    ];
  }

  /** What is wrong with a number before the document is asked. */
  private number(schema: Schema, value: number | null): string | null {
    const { isInt, minValue } = schema as z.ZodNumber;
    if (value === null) return null;
    if (minValue !== null && minValue > 0 && value <= 0) return 'Must be greater than zero.';
    return isInt && !Number.isInteger(value) ? 'A whole number is needed.' : null;
  }

  /** The kind of a thing that is one of several, and the fields of that kind. */
  private union(
    schema: Schema,
    { discriminator }: z.core.$ZodDiscriminatedUnionDef,
    base: Base,
    thing: Thing,
    value: object,
    path: readonly (string | number)[],
  ): DrawnField[] {
    const offers = offersFor(schema);
    if (!offers) return [];
    const kind = (value as Record<string, unknown>)[discriminator] as string;
    const before = { machine: this.machine, was: { ...thing, ...value } };
    const choices = choicesOf(offers, before).map((choice) =>
      // What it is it may stay.
      choice.value === kind ? { value: kind, label: offers[kind]!.label } : choice,
    );
    const set = (wanted: string): Change => {
      const begun = offers[wanted]!.first(before);
      if (typeof begun === 'string') return begun;
      return (changed) => {
        put(changed, path, begun);
        offers[wanted]!.settle?.(changed as Record<string, unknown>);
      };
    };
    return [
      { as: 'choice', ...base, value: kind, choices, set },
      ...this.object(variantFor(schema, value), value, path, thing),
    ];
  }

  /** The law of a move, or none for a servo move. */
  private law(base: Base, law: { id: string } | null, to: (next: unknown) => Change): DrawnField {
    return {
      as: 'choice',
      ...base,
      value: law?.id ?? SERVO,
      choices: [
        { value: SERVO, label: 'Servo move, limited jerk' },
        ...LAWS.filter(({ id }) => id !== 'straight').map(({ id, name, advice }) => ({
          value: id as string,
          label: name,
          hint: advice,
        })),
      ],
      set: (id) => to(id === SERVO ? null : { id }),
    };
  }
}

/** Bounds that a number of the field has by itself, inside those of any number; “greater than zero” is told in words. */
function bounds(schema: Schema): { min: number; max: number } {
  const { minValue, maxValue } = schema as z.ZodNumber;
  const [least, most] = [minValue ?? -Infinity, maxValue ?? Infinity];
  const tiny = least > 0 && least < 1e-3;
  return { min: least < -NO_BOUND || tiny ? -Infinity : least, max: most > NO_BOUND ? Infinity : most };
}

/**
 * The fields of a thing as they are shown and typed: labels, quantities, choices among what the machine has, and what
 * setting each changes. Fields that nothing is said of in the schema (identifier, name) are left to whoever asks.
 * @param schema of the thing; of one of several kinds, the union of them
 * @param thing as it stands in the document
 * @param outer what the thing stands in, which its fields may go by too
 */
export function drawnFields(schema: z.ZodType, thing: object, machine: Machine, outer: Thing = {}): DrawnField[] {
  return new Drawing(machine).object(variantFor(schema, thing), thing, [], outer);
}

/** Of a union the schema that a thing is of, by its fields of few words; any other schema is itself. */
function variantFor(schema: Schema, thing: object): Schema {
  const def = defOf(schema);
  if (def.type !== 'union') return schema;
  const own = thing as Record<string, z.core.util.Primitive>;
  return (
    def.options.find((option) =>
      Object.entries(option._zod.propValues ?? {}).every(([key, values]) => values.has(own[key])),
    ) ?? schema
  );
}

/** Those of some fields that stand at some places of the thing, as `limits` or `cylinder.out`, in the order of the places. */
export const fieldsAt = (fields: readonly DrawnField[], ...places: string[]): DrawnField[] =>
  places.flatMap((place) => fields.filter(({ key }) => key === place || key.startsWith(`${place}.`)));
