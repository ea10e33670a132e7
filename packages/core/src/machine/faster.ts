import type { Axis, AxisMotion, Machine } from './schema';

type Plan = Axis['plan'];
type Knee = Plan['knee'];

const SCALE = { position: 0, velocity: 1, acceleration: 2 } as const;

const fasterKnee = (knee: Knee, k: number): Knee =>
  knee && {
    velocity: knee.velocity === null ? null : knee.velocity * k,
    acceleration: knee.acceleration === null ? null : knee.acceleration * k * k,
  };

/** A plan that runs k times as fast; its values (of velocities or accelerations, where it means those) grow by `values`. */
export function fasterPlan(plan: Plan, k: number, values = 1): Plan {
  const kneeOf = (knee: Knee) => (knee ? { knee: fasterKnee(knee, k * values) } : {});
  return {
    start: plan.start * values,
    ...kneeOf(plan.knee),
    segments: plan.segments.map((segment) =>
      segment.kind === 'dwell'
        ? { ...segment, duration: segment.duration / k }
        : { ...segment, duration: segment.duration / k, to: segment.to * values, ...kneeOf(segment.knee) },
    ),
  };
}

/** A formula in which time runs k times as fast: t, T and the speeds of other axes are put back to the slow machine. */
export function fasterFormula(text: string, k: number): string {
  return text.replace(
    /"[^"]*"|'[^']*'|\b(?:t|T)\b|\b(velocity|acceleration)\s*\(([^()]*)\)/g,
    (part, name?: string) => {
      if (part === 't' || part === 'T') return `(${part} * ${k})`;
      if (name) return `(${part} / ${name === 'velocity' ? k : k * k})`;
      return part;
    },
  );
}

/** The motion of an axis k times as fast: velocities grow with k, accelerations with k², jerk with k³. */
export function fasterMotion(motion: AxisMotion, k: number, limits: Axis['limits']): AxisMotion {
  const { source, level, initial } = motion;
  const factor = k ** SCALE[level];
  const next = { ...motion, initial: { position: initial.position, velocity: initial.velocity * k } };
  const times = (value: number | null, by: number) => (value === null ? null : value * by);
  switch (source.kind) {
    case 'constant':
      return { ...next, source: { ...source, value: source.value * factor } };
    case 'harmonic':
      return {
        ...next,
        source: {
          ...source,
          mean: source.mean * factor,
          amplitude: source.amplitude * factor,
          frequency: source.frequency * k,
        },
      };
    case 'points':
      if (motion.over === 'master') return next;
      return {
        ...next,
        source: {
          ...source,
          rows: source.rows.map((row) => row.map((value, c) => (c === 0 ? value / k : value * factor * k ** (c - 1)))),
        },
      };
    case 'formula':
      if (motion.over === 'master') return next;
      return {
        ...next,
        source: {
          ...source,
          text: factor === 1 ? fasterFormula(source.text, k) : `${factor} * (${fasterFormula(source.text, k)})`,
        },
      };
    case 'moves':
      return {
        ...next,
        source: {
          ...source,
          blocks: source.blocks.map((block) => {
            if (block.kind === 'wait') return { ...block, time: block.time / k };
            if (block.kind === 'oscillate') return { ...block, frequency: block.frequency * k };
            if (block.kind === 'repeat') return block;
            const faster = {
              ...block,
              velocity: times(block.velocity ?? limits.velocity, k),
              acceleration: times(block.acceleration ?? limits.acceleration, k * k),
              deceleration: times(block.deceleration, k * k),
              jerk: times(block.jerk ?? limits.jerk, k ** 3),
            };
            return faster.kind === 'travel' ? { ...faster, time: times(faster.time, 1 / k) } : faster;
          }),
        },
      };
    default:
      return next;
  }
}

/** The master k times as fast. */
export function fasterMaster(master: Machine['master'], k: number): Machine['master'] {
  const { course } = master;
  if (course.kind === 'cycle') return master;
  if (course.kind === 'speed') return { ...master, course: { ...course, speed: course.speed * k } };
  return { ...master, course: { ...course, speed: course.speed * k, up: course.up / k, down: course.down / k } };
}
