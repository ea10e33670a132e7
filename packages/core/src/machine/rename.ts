import { plainCopy } from './edit-mechanism';
import { formulasIn } from './references';
import { machineParts, type Machine } from './schema';

/** Gives an axis another name, in the formulas that speak of it too. */
export function renameAxis(machine: Machine, id: string, name: string): Machine {
  const from = machine.axes.find((axis) => axis.id === id)?.name;
  if (from === undefined) return machine;
  const renamed = plainCopy(machine);
  for (const axis of renamed.axes) if (axis.id === id) axis.name = name;
  // Formulas name axes inside quotation marks.
  for (const { text, set } of formulasIn(machineParts, renamed))
    set(text.replaceAll(`"${from}"`, `"${name}"`).replaceAll(`'${from}'`, `'${name}'`));
  return renamed;
}
