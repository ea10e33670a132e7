import { fasterFormula, fasterMaster, fasterMotion, fasterPlan } from './faster';
import { fasterLoose, fasterSequence } from './faster-cues';
import { hasPosition } from './mechanism';
import type { Machine, Variant } from './schema';

/** A variant that changes nothing yet. */
export function newVariant(id: string, name: string): Variant {
  return { id, name, speed: 1, gravity: true, loads: true, friction: true, off: [], changes: [], pairs: [] };
}

/**
 * The machine with the changes of a variant made.
 * A speed of k shortens the cycle and all its times to 1/k, so that velocities grow with k and accelerations with k².
 */
export function applyVariant(machine: Machine, variant: Variant): Machine {
  const k = variant.speed;
  const { mechanism } = machine;
  const plain = { coulomb: 0, viscous: 0 };
  return {
    ...machine,
    name: `${machine.name.slice(0, 60)} · ${variant.name}`.slice(0, 80),
    cycle:
      machine.cycle.given === 'time'
        ? { given: 'time', time: machine.cycle.time / k }
        : { given: 'rate', rate: machine.cycle.rate * k },
    step: machine.step === null ? null : machine.step / k,
    master: fasterMaster(machine.master, k),
    axes: machine.axes.map((axis) => {
      const factor = { position: 1, velocity: k, acceleration: k * k }[axis.motion.level];
      return {
        ...axis,
        plan: axis.motion.over === 'master' ? axis.plan : fasterPlan(axis.plan, k, factor),
        motion: fasterMotion(axis.motion, k, axis.limits),
        load: {
          ...axis.load,
          ...(variant.friction ? {} : plain),
          ...(variant.gravity ? {} : { slope: 0 }),
          ...(variant.loads
            ? {
                formula: axis.load.formula === null ? null : fasterFormula(axis.load.formula, k),
                forceTable: axis.load.forceTable?.map(([t, f]) => [t / k, f] as [number, number]) ?? null,
              }
            : { force: 0, forceTable: null, formula: null }),
        },
      };
    }),
    sequence: k === 1 ? machine.sequence : fasterSequence(machine.sequence, k, machine.axes),
    loose: {
      ...(k === 1 ? machine.loose : fasterLoose(machine.loose, k)),
      pairs: machine.loose.pairs.map((pair) => {
        const change = variant.pairs.find((c) => c.pair === pair.id);
        return change ? { ...pair, friction: change.friction, restitution: change.restitution } : pair;
      }),
    },
    mechanism: {
      ...mechanism,
      gravity: { ...mechanism.gravity, on: mechanism.gravity.on && variant.gravity },
      joints: mechanism.joints.map((joint) => {
        if (!hasPosition(joint)) return joint;
        const own = joint.velocity === undefined ? joint : { ...joint, velocity: joint.velocity * k };
        return variant.friction ? own : { ...own, friction: plain };
      }),
      elements: mechanism.elements.map((element) => {
        const load = element.kind === 'force' || element.kind === 'torque';
        const on = element.on && !variant.off.includes(element.id) && (variant.loads || !load);
        const change = variant.changes.find((c) => c.element === element.id);
        if (load && element.course.kind === 'formula')
          return { ...element, on, course: { ...element.course, text: fasterFormula(element.course.text, k) } };
        if (load && 'over' in element.course && element.course.over === 'time') {
          const { course } = element;
          const faster = ([t, f]: [number, number]): [number, number] => [t / k, f];
          const next =
            course.kind === 'table'
              ? { ...course, rows: course.rows.map(faster) }
              : { ...course, from: faster(course.from), to: faster(course.to) };
          return { ...element, on, course: next };
        }
        if (!change || !('rate' in element)) return { ...element, on };
        return {
          ...element,
          on,
          rate: change.rate ?? element.rate,
          ...('free' in element ? { free: change.free ?? element.free } : {}),
        };
      }) as typeof mechanism.elements,
    },
  };
}
