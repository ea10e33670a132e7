import { z } from 'zod';
import { AXIS_KINDS, type AxisKind, type QuantityKind } from '../quantity';

/** What has a field, as its other fields stand. */
export type Thing = Readonly<Record<string, unknown>>;

/** What the look of a field may go by beside the thing that has it: things that the document names. */
export interface Around {
  axis(id: unknown): { kind: AxisKind; limits: Readonly<Record<string, number | null>> } | undefined;
  /** Whether the position of a joint is an angle. */
  turns(joint: unknown): boolean;
  /** How the virtual master moves. */
  master: AxisKind;
  /** Whether an axis drives a joint. */
  driven(joint: unknown): boolean;
  /** Joints that have a position. */
  moving(): readonly string[];
  /** Whether loose parts move in space. */
  space: boolean;
  /** A value as it is typed in the units of the machine, in few figures. */
  show(value: number, quantity: QuantityKind): string;
}

/** Said outright, or by the thing that has the field. */
export type By<T> = T | ((thing: Thing, around: Around) => T);

/** A whole value that is typed as one text. */
export type TextForm = 'corners' | 'times' | 'presses';

/** How people meet a field of the document: what it is called, in which quantity it is typed, when it counts. */
export interface FieldLook {
  /** Of a point, one for each of its two numbers. */
  label: By<string> | readonly [string, string];
  /** Of a point or pair, one for each of its numbers where they differ. */
  quantity?: By<QuantityKind> | readonly [By<QuantityKind>, By<QuantityKind>];
  /** Of an enumeration: what each of its words is called, and what it means. */
  words?: Readonly<Record<string, string>>;
  hints?: Readonly<Record<string, string>>;
  hint?: string;
  /** Whether the field counts as the thing stands; it always does where nothing is said. */
  when?: (thing: Thing, around: Around) => boolean;
  /** What it means to leave the field empty. */
  none?: By<string>;
  /** Whether it must not be empty as the thing stands: none is no choice. */
  needed?: true;
  /** Of a field that names a thing: which of them it may name. */
  only?: (candidate: Thing, thing: Thing) => boolean;
  text?: TextForm;
  /** A point of the body that turns about a joint: the key of the joint. */
  pointOf?: string;
  /** Brings what stands beside the field to terms with it, once it is set. */
  settle?: (thing: Record<string, unknown>, around: Around) => void;
  /** A law of motion, where none is a servo move. */
  law?: true;
  /** Takes the whole width. */
  wide?: boolean;
}

/** How people meet fields: said once, in the schema. */
export const looks = z.registry<FieldLook>();

/** A field of the document with its look: a copy, as one building block serves many fields. */
export function field<S extends z.ZodType>(
  schema: S,
  label: FieldLook['label'],
  look: Omit<FieldLook, 'label'> = {},
): S {
  const own: S = schema.clone();
  looks.add(own, { label, ...look });
  return own;
}

/** A quantity of the axis that a thing names, as its position or its effort. */
export const ofAxis =
  (quantity: keyof (typeof AXIS_KINDS)[AxisKind]) =>
  (thing: Thing, around: Around): QuantityKind =>
    AXIS_KINDS[around.axis(thing.axis)?.kind ?? 'linear'][quantity];

/** One quantity where the joint that a thing names turns, another where it slides. */
export const byJoint =
  (turning: QuantityKind, sliding: QuantityKind) =>
  ({ joint }: Thing, around: Around): QuantityKind =>
    around.turns(joint) ? turning : sliding;
