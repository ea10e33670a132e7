type Plain = Record<string, unknown>;

const isPlain = (value: unknown): value is Plain =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

// What a step adds is written out here as it was in that version: constructors that change with the format have no place
// in an upgrade.

const MECHANISM_OF_2 = {
  ground: [],
  bodies: [],
  paths: [],
  joints: [],
  couplings: [],
  elements: [],
  gravity: { on: true, magnitude: 9.80665, angle: -Math.PI / 2 },
  traces: [],
};
const FRONT_OF_5 = { id: 'front', name: 'Front', on: 'ground', at: [0, 0, 0], turn: [1, 0, 0, 0] };
const THICKNESS_OF_5 = 0.008;
const MASTER_OF_3 = { kind: 'rotary', wrap: 2 * Math.PI, start: 0, course: { kind: 'cycle' } };
const LOOSE_OF_4 = {
  materials: [],
  pairs: [],
  kinds: [],
  sources: [],
  sinks: [],
  surfaces: [],
  belts: [],
  platforms: [],
  grippers: [],
  solids: [],
  step: 0.002,
};
const SEQUENCE_OF_4 = {
  sensors: [],
  flags: [],
  cues: [],
  interlocks: [],
  emergency: { when: null, ramp: 0.3 },
  controller: { scan: null, inputDelay: 0, outputDelay: 0 },
  cycle: { starts: null, cycles: null, most: 30 },
  seed: 1,
  monitors: [],
};

/** What each version lacked: the entry for version n brings a document from n to n + 1. */
const STEPS: Record<number, (document: Plain) => Plain> = {
  // Version 2 brought the mechanism, other sources of motion, and variants.
  1: (document) => ({
    ...document,
    axes: Array.isArray(document.axes)
      ? document.axes.map((axis: unknown) => (isPlain(axis) ? { ...axis, motion: plainMotion(), joint: null } : axis))
      : document.axes,
    mechanism: structuredClone(MECHANISM_OF_2),
    variants: [],
  }),
  // Version 3 brought the master, formulas, points, servo moves, knees in motion, and tool points led along paths.
  2: (document) => ({
    ...document,
    master: structuredClone(MASTER_OF_3),
    constants: [],
    leads: [],
    axes: Array.isArray(document.axes)
      ? document.axes.map((axis: unknown) =>
          isPlain(axis)
            ? {
                ...axis,
                smooth: 'acceleration',
                plan: keepRest(axis.plan),
                motion: isPlain(axis.motion) ? { ...axis.motion, over: 'time', engage: null } : axis.motion,
                alternatives: [],
                load: isPlain(axis.load) ? { ...axis.load, formula: null } : axis.load,
              }
            : axis,
        )
      : document.axes,
  }),
  // Version 4 brought loose parts, sensors and cues, and cylinders. The continuity wished for came while version 3 was
  // written, so documents of that version may lack it.
  3: (document) => ({
    ...document,
    loose: structuredClone(LOOSE_OF_4),
    sequence: structuredClone(SEQUENCE_OF_4),
    axes: each(document.axes, (axis) => ({ smooth: 'acceleration', ...axis, cylinder: null })),
    variants: each(document.variants, (variant) => ({ ...variant, pairs: [] })),
  }),
  // Version 5 brought planes in space, heights, and gravity as a vector.
  4: (document) => ({
    ...document,
    mechanism: isPlain(document.mechanism) ? inPlanes(document.mechanism) : document.mechanism,
  }),
};

/** A list with every object in it changed; what is no list of objects is left for the schema to refuse. */
const each = (list: unknown, change: (item: Plain) => Plain): unknown =>
  Array.isArray(list) ? list.map((item: unknown) => (isPlain(item) ? change(item) : item)) : list;

/** What led every axis before version 2: its plan, in position. */
const plainMotion = () => ({ level: 'position', source: { kind: 'plan' }, initial: { position: 0, velocity: 0 } });

/**
 * From version 3 on a move next to a straight line takes over its speed. Before, it came to rest there: it says so now.
 */
function keepRest(plan: unknown): unknown {
  if (!isPlain(plan) || !Array.isArray(plan.segments)) return plan;
  const segments = plan.segments as unknown[];
  const move = (segment: unknown, straight: boolean) =>
    isPlain(segment) && segment.kind === 'move' && isPlain(segment.law) && (segment.law.id === 'straight') === straight;
  const rest = { velocity: 0, acceleration: 0 };
  const beside = (i: number, j: number) =>
    (move(segments[i], true) && move(segments[j], false)) || (move(segments[i], false) && move(segments[j], true));
  const last = segments.length - 1;
  return {
    ...plan,
    ...(beside(last, 0) && last > 0 ? { knee: rest } : {}),
    segments: segments.map((segment, i) =>
      move(segment, true) || move(segment, false)
        ? beside(i, i === last ? 0 : i + 1) && last > 0
          ? { ...(segment as Plain), knee: rest }
          : segment
        : segment,
    ),
  };
}

/** A mechanism of version 4 as it stands in the front plane of version 5. */
function inPlanes(mechanism: Plain): Plain {
  const { gravity } = mechanism;
  const { magnitude, angle, ...rest } = isPlain(gravity) ? gravity : {};
  const known = typeof magnitude === 'number' && typeof angle === 'number';
  // What is nothing but the rounding of a right angle is nothing.
  const part = (share: number) => (Math.abs(share) < 1e-15 ? 0 : (magnitude as number) * share);
  return {
    ...mechanism,
    planes: [structuredClone(FRONT_OF_5)],
    ground: each(mechanism.ground, ({ id, at, ...other }) => ({ id, plane: 'front', at, ...other })),
    bodies: each(mechanism.bodies, ({ id, name, mass, ...other }) => {
      const { thickness, ...weight } = isPlain(mass) ? mass : {};
      return {
        id,
        name,
        plane: 'front',
        level: 0,
        thickness: thickness ?? THICKNESS_OF_5,
        ...other,
        mass: isPlain(mass) ? weight : mass,
      };
    }),
    paths: each(mechanism.paths, ({ id, name, body, ...other }) => ({
      id,
      name,
      body,
      plane: body === 'ground' ? 'front' : null,
      ...other,
    })),
    gravity: known ? { ...rest, vector: [part(Math.cos(angle)), part(Math.sin(angle)), 0] } : gravity,
  };
}

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
