import { z } from 'zod';
import { STANDARD_GRAVITY, type QuantityKind } from '../quantity';
import { byJoint, field, type Around, type Thing } from './field';
import { offer, type Offers } from './kinds';
import { coordinate, density, finite, id, name, notNegative, point, positive, size, unique, type Say } from './parts';
import { formulaText, refers, refTo } from './refer';

/** Identifier of what does not move; points of the ground belong to it. */
export const GROUND = 'ground';

const place = z
  .strictObject({ body: id, point: id })
  .meta({ description: 'A point of a body, or of the ground (body “ground”)' })
  .register(refers, { to: 'place', whenGone: 'goes' });
const namedPoint = z.strictObject({ id, at: point });
const on = field(z.boolean().meta({ description: 'Whether it counts; switched off it stays in the document' }), 'On');

const shape = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('bar'), width: size }),
  z.strictObject({ kind: z.literal('disc'), centre: point, radius: size }),
  z.strictObject({
    kind: z.literal('plate'),
    outline: z.array(point).min(3).max(5000),
    holes: z.array(z.array(point).min(3).max(5000)).max(200),
  }),
]);

const mass = z.discriminatedUnion('given', [
  z.strictObject({
    given: z.literal('typed'),
    mass: notNegative.meta({ description: 'kg' }),
    centre: point.meta({ description: 'Centre of mass in the frame of the body, m' }),
    inertia: notNegative.meta({ description: 'Moment of inertia about the centre of mass, kg·m²' }),
  }),
  z.strictObject({
    given: z.literal('shape'),
    thickness: size.meta({ description: 'm' }),
    density: density.meta({ description: 'kg/m³' }),
  }),
]);

const body = z.strictObject({
  id,
  name,
  pose: z
    .strictObject({ x: coordinate, y: coordinate, angle: finite })
    .meta({ description: 'Start pose of the frame of the body: m and rad' }),
  points: z.array(namedPoint).min(1).max(60),
  shape,
  mass,
});

const pathPiece = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('line'), to: point }),
  z.strictObject({ kind: z.literal('arc'), via: point, to: point }),
  z.strictObject({ kind: z.literal('spline'), through: z.array(point).min(1).max(2000) }),
  z.strictObject({ kind: z.literal('transition'), to: point }),
]);

const path = z.strictObject({
  id,
  name,
  body: refTo('body', { description: 'Body that carries the path, or “ground”', ground: true, whenGone: 'goes' }),
  shape: z.discriminatedUnion('kind', [
    z.strictObject({ kind: z.literal('circle'), centre: point, radius: size }),
    z.strictObject({ kind: z.literal('loop'), through: z.array(point).min(3).max(2000) }),
    z.strictObject({
      kind: z.literal('chain'),
      start: point,
      pieces: z.array(pathPiece).min(1).max(200),
      closed: z.boolean(),
    }),
  ]),
});

/** One quantity for a joint that turns, another for one that slides. */
const ofKind =
  (turning: QuantityKind, sliding: QuantityKind) =>
  ({ kind }: Thing) =>
    kind === 'pin' ? turning : sliding;

const friction = z.strictObject({
  coulomb: field(notNegative.meta({ description: 'Constant friction: N·m of a pin, N of others' }), 'Friction', {
    quantity: ofKind('torque', 'force'),
  }),
  viscous: field(
    notNegative.meta({ description: 'Friction that grows with speed: N·m·s/rad of a pin, N·s/m of others' }),
    'Viscous',
    { quantity: ofKind('angularDamping', 'linearDamping') },
  ),
});
const zero = finite.meta({ description: 'Taken off the measured angle or length, so that the axis reads as wanted' });
const pair = { a: place, b: place };
const velocity = field(
  finite.optional().meta({
    description: 'Of its position when the run begins, where forces move it, m/s or rad/s; else it is let go',
  }),
  'Velocity at the start',
  {
    quantity: ofKind('angularVelocity', 'velocity'),
    none: 'let go',
    hint: 'Where forces move it: how it begins',
    when: (joint, around) => !around.driven(joint.id),
  },
);

const follower = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('tip') }),
  z.strictObject({ kind: z.literal('roller'), radius: field(size, 'Roller radius', { quantity: 'length' }) }),
  z.strictObject({
    kind: z.literal('flat'),
    angle: field(
      finite.meta({ description: 'Direction of the face in the frame of b, rad' }),
      'Direction of the face',
      {
        quantity: 'angle',
      },
    ),
  }),
]);
const FOLLOWERS: Offers<z.infer<typeof follower>, 'kind'> = {
  tip: { label: 'Tip', first: () => ({ kind: 'tip' }) },
  roller: { label: 'Roller', first: () => ({ kind: 'roller', radius: 0.01 }) },
  flat: { label: 'Flat face', first: () => ({ kind: 'flat', angle: -Math.PI / 2 }) },
};
offer(follower, FOLLOWERS);
const held = { zero, friction, velocity };

const joint = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('pin'), id, name, ...pair, ...held }),
  z.strictObject({
    kind: z.literal('slide'),
    id,
    name,
    ...pair,
    angle: finite.meta({ description: 'Direction of the rail in the frame of a, rad' }),
    turn: finite.meta({ description: 'Angle of b against a, rad; held' }),
    ...held,
  }),
  z.strictObject({ kind: z.literal('weld'), id, name, ...pair, turn: finite }),
  z.strictObject({
    kind: z.literal('slot'),
    id,
    name,
    ...pair,
    angle: finite.meta({ description: 'Direction of the slot in the frame of a, rad' }),
    ...held,
  }),
  z.strictObject({
    kind: z.literal('guide'),
    id,
    name,
    path: refTo('path', { whenGone: 'goes' }),
    b: place.meta({ description: 'The point held on the path' }),
    ...held,
  }),
  z.strictObject({ kind: z.literal('cylinder'), id, name, ...pair, ...held }),
  z.strictObject({
    kind: z.literal('cam'),
    id,
    name,
    path: refTo('path', { description: 'Outline of the cam: a closed path on its body', whenGone: 'goes' }),
    b: place.meta({ description: 'Tip, centre of the roller, or a point of the flat face' }),
    follower: field(follower, 'Follower'),
    closure: field(
      z.enum(['spring', 'groove']).meta({ description: 'Held by force (may lift off) or guided on both sides' }),
      'Held by',
      { words: { spring: 'Force (may lift off)', groove: 'Groove' } },
    ),
    ...held,
  }),
]);

const ofJoint = refTo('joint', { whenGone: 'goes' });
/** Only a joint that has a position can be spoken of. */
const moves = ({ kind }: Thing) => kind !== 'weld';
/** Kinds of joint that a coupling of each kind can couple, first and second; null for any that has a position. */
const COUPLES = {
  gear: [['pin'], ['pin']],
  belt: [['pin'], ['pin']],
  indexer: [['pin'], ['pin']],
  rack: [['pin'], ['slide', 'slot', 'guide']],
  screw: [['pin'], ['slide', 'slot', 'guide']],
  ratio: [null, null],
} as const;
const fits =
  (end: 0 | 1) =>
  (candidate: Thing, coupling: Thing): boolean => {
    const kinds: readonly unknown[] | null = COUPLES[coupling.kind as keyof typeof COUPLES][end];
    const other = end === 0 ? coupling.second : coupling.first;
    return candidate.id !== other && (kinds ? kinds.includes(candidate.kind) : moves(candidate));
  };
const first = field(ofJoint, 'First joint', { only: fits(0) });
const second = field(ofJoint, 'Second joint', { only: fits(1) });
const radius1 = field(size, 'Radius of the first', { quantity: 'length' });
const radius2 = field(size, 'Radius of the second', { quantity: 'length' });

const coupling = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('gear'),
    id,
    name,
    first,
    second,
    radius1,
    radius2,
    inside: field(
      z.boolean().meta({ description: 'One gear runs inside the other: both turn the same way' }),
      'One inside the other',
    ),
  }),
  z.strictObject({
    kind: z.literal('belt'),
    id,
    name,
    first,
    second,
    radius1,
    radius2,
    crossed: field(z.boolean(), 'Crossed'),
  }),
  z.strictObject({
    kind: z.literal('rack'),
    id,
    name,
    first,
    second,
    radius: field(size, 'Pitch radius', { quantity: 'length' }),
  }),
  z.strictObject({
    kind: z.literal('screw'),
    id,
    name,
    first,
    second,
    lead: field(positive, 'Lead', { quantity: 'length' }),
  }),
  z.strictObject({
    kind: z.literal('ratio'),
    id,
    name,
    first,
    second,
    ratio: field(finite.meta({ description: 'Motion of the second for one unit of the first' }), 'Ratio', {
      quantity: 'number',
    }),
  }),
  z.strictObject({
    kind: z.literal('indexer'),
    id,
    name,
    first: field(ofJoint.meta({ description: 'Pin about which the crank turns' }), 'First joint', { only: fits(0) }),
    second: field(ofJoint.meta({ description: 'Pin about which the wheel turns' }), 'Second joint', { only: fits(1) }),
    slots: field(z.int().min(3).max(60), 'Slots', { quantity: 'number' }),
    pin: field(id.meta({ description: 'Driving pin: a point of the crank' }), 'Driving pin', { pointOf: 'first' }),
  }),
]);

const over = field(z.enum(['time', 'cycle', 'position']), 'Over', {
  words: { cycle: 'Cycle', time: 'Time', position: 'Position' },
  settle(load, around) {
    load.joint = load.over === 'position' ? (load.joint ?? around.moving()[0] ?? null) : null;
  },
});
const overJoint = field(
  ofJoint.nullable().meta({ description: 'Joint whose position counts, where over is “position”' }),
  'Of the joint',
  { only: moves, needed: true, when: (load) => load.over === 'position' },
);
/** In what a place is given over which a load changes. */
const placeIn = ({ over: by, joint: of }: Thing, around: Around): QuantityKind =>
  by === 'time' ? 'time' : by === 'cycle' ? 'ratio' : around.turns(of) ? 'angle' : 'length';
/** A load that acts at a point is a force, one on a body a torque. */
const strengthIn = (load: Thing): QuantityKind => ('at' in load ? 'force' : 'torque');
const knee = (description: string, labels: readonly [string, string]) =>
  field(z.tuple([finite, finite]).meta({ description }), labels, { quantity: [placeIn, strengthIn] });

/** How strong something is, over time, share of the cycle, or position of a joint, or by a formula. */
const course = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('constant'), value: field(finite, 'Value', { quantity: strengthIn }) }),
  z.strictObject({
    kind: z.literal('formula'),
    text: formulaText('Force or torque; may speak of time, the master and the axes'),
  }),
  z.strictObject({
    kind: z.literal('table'),
    over,
    joint: overJoint,
    rows: z
      .array(z.tuple([finite, finite]))
      .min(2)
      .max(5000),
  }),
  z.strictObject({
    kind: z.literal('ramp'),
    over,
    joint: overJoint,
    from: knee('Place and value where the smooth rise begins', ['Begins at', 'Before']),
    to: knee('Place and value where it ends', ['Ends at', 'After']),
  }),
]);
export type Course = z.infer<typeof course>;

/** What a load was before its course is changed: over what, and how strong at last. */
const wasOver = ({ over: by, joint: of }: Thing) => ({
  over: (by as 'time' | 'cycle' | 'position' | undefined) ?? ('cycle' as const),
  joint: (of as string | null | undefined) ?? null,
});
const wasStrong = ({ value, to, rows }: Thing): number =>
  (value as number | undefined) ?? (to as number[] | undefined)?.[1] ?? (rows as number[][] | undefined)?.[0]?.[1] ?? 0;
const COURSES: Offers<Course, 'kind'> = {
  constant: { label: 'Constant', first: ({ was }) => ({ kind: 'constant', value: wasStrong(was) }) },
  ramp: {
    label: 'Smooth ramp',
    first: ({ was }) => ({ kind: 'ramp', ...wasOver(was), from: [0.2, 0], to: [0.5, wasStrong(was)] }),
  },
  table: {
    label: 'Table',
    first: ({ was }) => ({ kind: 'table', ...wasOver(was), rows: [[0, wasStrong(was)], [1, wasStrong(was)]] }), // prettier-ignore
  },
  formula: {
    label: 'Formula',
    first: ({ was }) => ({ kind: 'formula', text: `${wasStrong(was)} ${strengthIn(was) === 'force' ? 'N' : 'Nm'}` }),
  },
};
offer(course, COURSES);
const strength = field(course, 'Strength');

const element = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('spring'),
    id,
    name,
    on,
    ...pair,
    rate: field(notNegative.meta({ description: 'N/m' }), 'Rate', { quantity: 'springRate' }),
    free: field(notNegative.meta({ description: 'Free length, m' }), 'Free length', { quantity: 'length' }),
  }),
  z.strictObject({
    kind: z.literal('torsion'),
    id,
    name,
    on,
    joint: ofJoint,
    rate: field(notNegative.meta({ description: 'N·m/rad' }), 'Rate', { quantity: 'torsionRate' }),
    free: field(finite.meta({ description: 'Angle of the pin at which it is slack, rad' }), 'Free angle', {
      quantity: 'angle',
    }),
  }),
  z.strictObject({
    kind: z.literal('damper'),
    id,
    name,
    on,
    ...pair,
    rate: field(notNegative, 'Damping', { quantity: 'linearDamping' }),
  }),
  z.strictObject({
    kind: z.literal('stop'),
    id,
    name,
    on,
    joint: ofJoint,
    min: field(finite.nullable(), 'Not below', { quantity: byJoint('angle', 'length') }),
    max: field(finite.nullable(), 'Not above', { quantity: byJoint('angle', 'length') }),
    restitution: field(finite.min(0).max(1), 'Rebound', {
      quantity: 'ratio',
      hint: 'Share of the speed that comes back',
    }),
  }),
  z.strictObject({
    kind: z.literal('force'),
    id,
    name,
    on,
    at: place,
    angle: field(finite.meta({ description: 'Direction, rad' }), 'Direction', { quantity: 'angle' }),
    turns: field(
      z.boolean().meta({ description: 'Direction turns with the body; else it is fixed to the world' }),
      'Turns with the body',
    ),
    course: strength,
  }),
  z.strictObject({
    kind: z.literal('torque'),
    id,
    name,
    on,
    body: refTo('body', { ground: true, whenGone: 'goes' }),
    course: strength,
  }),
]);

export { coupling as couplingSchema, element as elementSchema, joint as jointSchema };

/** The planar mechanism of a machine. SI units; angles in rad, anticlockwise. */
export const mechanismSchema = z
  .strictObject({
    ground: z.array(namedPoint).max(200).meta({ description: 'Points that do not move' }),
    bodies: z.array(body).max(300),
    paths: z.array(path).max(60),
    joints: z.array(joint).max(600),
    couplings: z.array(coupling).max(100),
    elements: z.array(element).max(300),
    gravity: z.strictObject({ on, magnitude: notNegative, angle: finite }),
    traces: z
      .array(place.meta({ description: 'A point of a body' }).register(refers, { to: 'place', whenGone: 'drops' }))
      .max(30)
      .meta({ description: 'Points whose path is drawn' }),
  })
  .superRefine((mechanism, context) =>
    checkMechanism(mechanism, (path, message) => context.addIssue({ code: 'custom', path, message })),
  );

/** A mechanism with nothing in it. */
export function emptyMechanism(): Mechanism {
  return {
    ground: [],
    bodies: [],
    paths: [],
    joints: [],
    couplings: [],
    elements: [],
    gravity: { on: true, magnitude: STANDARD_GRAVITY, angle: -Math.PI / 2 },
    traces: [],
  };
}

type Raw = z.infer<typeof mechanismSchema>;
export type Mechanism = Raw;
export type Body = Raw['bodies'][number];
export type Place = z.infer<typeof place>;
export type Joint = Raw['joints'][number];
export type JointKind = Joint['kind'];
export type Coupling = Raw['couplings'][number];
export type Element = Raw['elements'][number];
export type MechanismPath = Raw['paths'][number];
export type JointFriction = z.infer<typeof friction>;

/** What joints and couplings of each kind are called until they are renamed, and what they do. */
export const JOINTS: Readonly<Record<JointKind, { label: string; hint: string }>> = {
  pin: { label: 'Pin', hint: 'A pin: the two turn on each other' },
  slide: { label: 'Slide', hint: 'A slide: it moves along the rail and does not turn' },
  weld: { label: 'Weld', hint: 'A weld: the two are one' },
  slot: { label: 'Slot', hint: 'A pin in a slot: it moves along the slot and may turn' },
  guide: { label: 'Guide', hint: 'A guide: the point stays on the path' },
  cylinder: { label: 'Cylinder', hint: 'A cylinder between two points' },
  cam: { label: 'Cam', hint: 'A cam and its follower' },
};
export const COUPLINGS: Readonly<Record<Coupling['kind'], { label: string; hint: string }>> = {
  gear: { label: 'Gears', hint: 'A gear pair turns two pins against each other.' },
  belt: { label: 'Belt', hint: 'A belt turns two pins alike, or against each other when crossed.' },
  rack: { label: 'Rack', hint: 'A rack slides as its pinion turns.' },
  screw: { label: 'Screw', hint: 'A nut travels by the lead for every turn of its screw.' },
  ratio: { label: 'Ratio', hint: 'The second moves in proportion to the first.' },
  indexer: { label: 'Indexer', hint: 'A driving pin indexes a wheel with slots; in between the wheel is held.' },
};
export const ELEMENTS: Readonly<Record<Element['kind'], { label: string }>> = {
  spring: { label: 'Spring' },
  torsion: { label: 'Torsion spring' },
  damper: { label: 'Damper' },
  stop: { label: 'Stop' },
  force: { label: 'Force' },
  torque: { label: 'Torque' },
};

/** Joints that have a position of their own, which an axis can drive. */
export type MovingJoint = Exclude<Joint, { kind: 'weld' }>;

/** Whether a joint turns (its position is an angle) or slides. */
export function turns(joint: Pick<Joint, 'kind'>): boolean {
  return joint.kind === 'pin';
}

function checkMechanism(m: Raw, say: Say): void {
  const lists = ['ground', 'bodies', 'paths', 'joints', 'couplings', 'elements'] as const;
  for (const list of lists) unique(m[list] as { id: string }[], 'id', [list], say);
  m.bodies.forEach((b, i) => {
    unique(b.points, 'id', ['bodies', i, 'points'], say);
    if (b.id === GROUND) say(['bodies', i, 'id'], 'must not be “ground”, which stands for what does not move');
  });
  const paths = new Map(m.paths.map((p) => [p.id, p]));
  const joints = new Map(m.joints.map((j) => [j.id, j]));
  const knownJoint = (idOf: string | null, path: PropertyKey[], kinds: readonly JointKind[] | null) => {
    const found = joints.get(idOf ?? '');
    if (!found) return;
    if (found.kind === 'weld') say(path, `names the joint “${found.name}”, but a weld has no position`);
    else if (kinds && !kinds.includes(found.kind))
      say(path, `must name a ${kinds.join(' or ')}, but “${found.name}” is a ${found.kind}`);
  };
  m.joints.forEach((j, i) => {
    const path = ['joints', i];
    if ('a' in j) {
      if (j.a.body === j.b.body) say(path, `“${j.name}” joins a body to itself: choose points of two bodies`);
    } else {
      const on = paths.get(j.path);
      if (on?.body === j.b.body) say(path, `“${j.name}” joins a body to itself: choose a point of another body`);
      if (j.kind === 'cam' && on && on.shape.kind === 'chain' && !on.shape.closed)
        say([...path, 'path'], `“${on.name}” must be closed to be the outline of a cam`);
    }
  });
  m.couplings.forEach((c, i) => {
    const path = ['couplings', i];
    knownJoint(c.first, [...path, 'first'], COUPLES[c.kind][0]);
    knownJoint(c.second, [...path, 'second'], COUPLES[c.kind][1]);
    if (c.first === c.second) say([...path, 'second'], 'must name another joint than first');
    if (c.kind === 'indexer') checkIndexer(c, path);
  });
  m.elements.forEach((e, i) => {
    const path = ['elements', i];
    if (e.kind === 'torsion') knownJoint(e.joint, [...path, 'joint'], ['pin']);
    if (e.kind === 'stop') {
      knownJoint(e.joint, [...path, 'joint'], null);
      if (e.min !== null && e.max !== null && e.min >= e.max) say([...path, 'max'], 'must be greater than min');
    }
    if (e.kind === 'force' || e.kind === 'torque') checkCourse(e.course, [...path, 'course']);
  });

  function checkIndexer(c: Extract<Coupling, { kind: 'indexer' }>, path: PropertyKey[]): void {
    const crank = joints.get(c.first);
    const wheel = joints.get(c.second);
    if (crank?.kind !== 'pin' || wheel?.kind !== 'pin') return;
    if (crank.a.body !== wheel.a.body)
      say([...path, 'second'], 'must turn on the same frame as first: both pins need the same body as a');
    const turned = m.bodies.find((b) => b.id === crank.b.body);
    if (!turned?.points.some((p) => p.id === c.pin))
      say([...path, 'pin'], `names the point “${c.pin}”, which the crank does not have`);
  }

  function checkCourse(c: Course, path: PropertyKey[]): void {
    if (c.kind === 'constant' || c.kind === 'formula') return;
    if (c.over === 'position' && c.joint === null)
      say([...path, 'joint'], 'names no joint, though the load goes by the position of one');
    if (c.over === 'position') knownJoint(c.joint, [...path, 'joint'], null);
    if (c.kind === 'ramp' && c.to[0] <= c.from[0]) say([...path, 'to', 0], 'must lie after from');
    if (c.kind === 'table')
      c.rows.forEach(([x], k) => {
        if (k > 0 && x < c.rows[k - 1]![0]) say([...path, 'rows', k, 0], 'must not lie before the row above it');
      });
  }
}
