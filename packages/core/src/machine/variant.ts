import type { Machine, Variant } from './schema';

/** A variant that changes nothing yet. */
export function newVariant(id: string, name: string): Variant {
  return { id, name, speed: 1, gravity: true, loads: true, friction: true, off: [], changes: [] };
}

/**
 * The machine with the changes of a variant made.
 * A speed of k shortens the cycle and all its times to 1/k, so that velocities grow with k and accelerations with k².
 */
export function applyVariant(machine: Machine, variant: Variant): Machine {
  const k = variant.speed;
  const { mechanism } = machine;
  const scale = { position: 1, velocity: k, acceleration: k * k };
  const plain = { coulomb: 0, viscous: 0 };
  return {
    ...machine,
    name: `${machine.name.slice(0, 60)} · ${variant.name}`.slice(0, 80),
    cycle:
      machine.cycle.given === 'time'
        ? { given: 'time', time: machine.cycle.time / k }
        : { given: 'rate', rate: machine.cycle.rate * k },
    step: machine.step === null ? null : machine.step / k,
    axes: machine.axes.map((axis) => {
      const { source, level, initial } = axis.motion;
      const factor = scale[level];
      return {
        ...axis,
        plan: {
          start: axis.plan.start * factor,
          segments: axis.plan.segments.map((segment) => ({
            ...segment,
            duration: segment.duration / k,
            ...(segment.kind === 'move' ? { to: segment.to * factor } : {}),
          })),
        },
        motion: {
          level,
          initial: { position: initial.position, velocity: initial.velocity * k },
          source:
            source.kind === 'constant'
              ? { ...source, value: source.value * factor }
              : source.kind === 'harmonic'
                ? {
                    ...source,
                    mean: source.mean * factor,
                    amplitude: source.amplitude * factor,
                    frequency: source.frequency * k,
                  }
                : source,
        },
        load: {
          ...axis.load,
          ...(variant.friction ? {} : plain),
          ...(variant.gravity ? {} : { slope: 0 }),
          ...(variant.loads
            ? { forceTable: axis.load.forceTable?.map(([t, f]) => [t / k, f] as [number, number]) ?? null }
            : { force: 0, forceTable: null }),
        },
      };
    }),
    mechanism: {
      ...mechanism,
      gravity: { ...mechanism.gravity, on: mechanism.gravity.on && variant.gravity },
      joints: mechanism.joints.map((joint) =>
        variant.friction || joint.kind === 'weld' ? joint : { ...joint, friction: plain },
      ),
      elements: mechanism.elements.map((element) => {
        const load = element.kind === 'force' || element.kind === 'torque';
        const on = element.on && !variant.off.includes(element.id) && (variant.loads || !load);
        const change = variant.changes.find((c) => c.element === element.id);
        if (load && element.course.kind !== 'constant' && element.course.over === 'time') {
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
