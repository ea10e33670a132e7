import type { AxisMotion, Machine } from './schema';

/** Formulas name axes; these find the name inside their quotation marks. */
const renamed = (text: string, from: string, to: string) =>
  text.replaceAll(`"${from}"`, `"${to}"`).replaceAll(`'${from}'`, `'${to}'`);

function inMotion(motion: AxisMotion, from: string, to: string): AxisMotion {
  const { source } = motion;
  return source.kind === 'formula'
    ? { ...motion, source: { ...source, text: renamed(source.text, from, to) } }
    : motion;
}

/** Gives an axis another name, in the formulas that speak of it too. */
export function renameAxis(machine: Machine, id: string, name: string): Machine {
  const from = machine.axes.find((axis) => axis.id === id)?.name;
  if (from === undefined) return machine;
  return {
    ...machine,
    mechanism: {
      ...machine.mechanism,
      elements: machine.mechanism.elements.map((element) =>
        'course' in element && element.course.kind === 'formula'
          ? { ...element, course: { ...element.course, text: renamed(element.course.text, from, name) } }
          : element,
      ),
    },
    axes: machine.axes.map((axis) => ({
      ...axis,
      name: axis.id === id ? name : axis.name,
      motion: inMotion(axis.motion, from, name),
      alternatives: axis.alternatives.map((other) => ({ ...other, motion: inMotion(other.motion, from, name) })),
      load: axis.load.formula === null ? axis.load : { ...axis.load, formula: renamed(axis.load.formula, from, name) },
    })),
  };
}
