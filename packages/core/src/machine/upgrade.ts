import { newMotion } from './defaults';
import { emptyMechanism } from './mechanism';

type Plain = Record<string, unknown>;

const isPlain = (value: unknown): value is Plain =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/** What each version lacked: the entry for version n brings a document from n to n + 1. */
const STEPS: Record<number, (document: Plain) => Plain> = {
  // Version 2 brought the mechanism, other sources of motion, and variants.
  1: (document) => ({
    ...document,
    axes: Array.isArray(document.axes)
      ? document.axes.map((axis: unknown) => (isPlain(axis) ? { ...axis, motion: newMotion(), joint: null } : axis))
      : document.axes,
    mechanism: emptyMechanism(),
    variants: [],
  }),
};

/** Brings a parsed document of any older version to the present one; what is no document is left alone. */
export function upgrade(data: unknown): unknown {
  let document = data;
  while (isPlain(document) && typeof document.version === 'number') {
    const step = STEPS[document.version];
    if (!step) break;
    document = { ...step(document), version: document.version + 1 };
  }
  return document;
}
