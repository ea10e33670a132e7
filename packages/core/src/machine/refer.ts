import { z } from 'zod';
import { id } from './parts';

/** Kinds of things that other places of the document name by their identifiers. */
export type ThingKind =
  | 'plane'
  | 'body'
  | 'path'
  | 'joint'
  | 'element'
  | 'axis'
  | 'material'
  | 'pair'
  | 'file'
  | 'kind'
  | 'source'
  | 'sink'
  | 'belt'
  | 'gripper'
  | 'sensor'
  | 'flag'
  | 'cue';

/** What a field names, and what becomes of what has the field when that is deleted. */
export interface Refers {
  /** Kind of the thing named; “place” stands for a body with one of its points. */
  to: ThingKind | 'place';
  /** What has the field goes too, the entry alone is dropped, or it stands in the way and must be changed first. */
  whenGone: 'goes' | 'drops' | 'stands';
  /** Whether the ground may be named for a body. */
  ground?: boolean;
  /** Whether it may name what is not there: told elsewhere, or of no effect. */
  open?: boolean;
}

/** Which fields of the document name other things: said here once, in the schema, for all that asks. */
export const refers = z.registry<Refers>();
/** Which fields are formulas that may speak of axes by their names. */
export const formulas = z.registry<{ speaksOfAxes: true }>();

const WORDS: Record<ThingKind, string> = {
  plane: 'a plane',
  body: 'a body',
  path: 'a path',
  joint: 'a joint',
  element: 'a spring, damper or load',
  axis: 'an axis',
  material: 'a material',
  pair: 'a pair of materials',
  file: 'a file of geometry',
  kind: 'a kind of part',
  source: 'a source',
  sink: 'a sink',
  belt: 'a belt',
  gripper: 'a gripper',
  sensor: 'a sensor',
  flag: 'a flag',
  cue: 'a cue',
};
/** What a kind of thing is called, without its article. */
export const wordOf = (kind: ThingKind): string => WORDS[kind].replace(/^an? /, '');

/** An identifier that names a thing elsewhere in the document. */
export function refTo(
  to: ThingKind,
  { description, ...how }: Partial<Omit<Refers, 'to'>> & { description?: string } = {},
): typeof id {
  return id
    .meta({ description: description ?? `Identifier of ${WORDS[to]}` })
    .register(refers, { to, whenGone: 'stands', ...how });
}

/** A formula that may speak of axes. */
export const formulaText = (description?: string) =>
  z
    .string()
    .max(4000)
    .meta(description === undefined ? {} : { description })
    .register(formulas, { speaksOfAxes: true });
