import type { MachineShown } from '@yoke/core';

/** Letters of the notes that a list shows. */
const NOTES_SHOWN = 400;

const isObject = (value: unknown): value is Record<string, unknown> => typeof value === 'object' && value !== null;

/** The summary of a document of any version; what is not there is left empty. */
export function summaryOf(document: unknown): MachineShown {
  const { notes, axes, cycle } = isObject(document) ? document : {};
  return {
    notes: typeof notes === 'string' ? notes.slice(0, NOTES_SHOWN) : '',
    axes: (Array.isArray(axes) ? axes : []).filter(isObject).map(({ name, kind, colour }) => ({
      name: String(name),
      kind: kind === 'rotary' ? 'rotary' : 'linear',
      colour: Number(colour) || 0,
    })),
    cycle: (isObject(cycle) ? cycle : { given: 'time', time: 1 }) as MachineShown['cycle'],
  };
}
