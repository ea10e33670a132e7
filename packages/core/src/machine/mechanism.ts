import { z } from 'zod';
import { STANDARD_GRAVITY } from '../quantity';
import { coordinate, density, finite, id, name, notNegative, positive, size, unique, type Say } from './parts';
import { formulaText, refers, refTo } from './refer';

/** Identifier of what does not move; points of the ground belong to it. */
export const GROUND = 'ground';

const point = z.tuple([coordinate, coordinate]).meta({ description: 'x and y in m' });
const place = z
  .strictObject({ body: id, point: id })
  .meta({ description: 'A point of a body, or of the ground (body “ground”)' })
  .register(refers, { to: 'place', whenGone: 'goes' });
const namedPoint = z.strictObject({ id, at: point });
const on = z.boolean().meta({ description: 'Whether it counts; switched off it stays in the document' });

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

const friction = z.strictObject({
  coulomb: notNegative.meta({ description: 'Constant friction: N·m of a pin, N of others' }),
  viscous: notNegative.meta({ description: 'Friction that grows with speed: N·m·s/rad of a pin, N·s/m of others' }),
});
const zero = finite.meta({ description: 'Taken off the measured angle or length, so that the axis reads as wanted' });
const pair = { a: place, b: place };
const velocity = finite
  .optional()
  .meta({ description: 'Of its position when the run begins, where forces move it, m/s or rad/s; else it is let go' });
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
    follower: z.discriminatedUnion('kind', [
      z.strictObject({ kind: z.literal('tip') }),
      z.strictObject({ kind: z.literal('roller'), radius: size }),
      z.strictObject({
        kind: z.literal('flat'),
        angle: finite.meta({ description: 'Direction of the face in the frame of b, rad' }),
      }),
    ]),
    closure: z.enum(['spring', 'groove']).meta({ description: 'Held by force (may lift off) or guided on both sides' }),
    ...held,
  }),
]);

const ofJoint = refTo('joint', { whenGone: 'goes' });

const coupling = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('gear'),
    id,
    name,
    first: ofJoint,
    second: ofJoint,
    radius1: size,
    radius2: size,
    inside: z.boolean().meta({ description: 'One gear runs inside the other: both turn the same way' }),
  }),
  z.strictObject({
    kind: z.literal('belt'),
    id,
    name,
    first: ofJoint,
    second: ofJoint,
    radius1: size,
    radius2: size,
    crossed: z.boolean(),
  }),
  z.strictObject({ kind: z.literal('rack'), id, name, first: ofJoint, second: ofJoint, radius: size }),
  z.strictObject({ kind: z.literal('screw'), id, name, first: ofJoint, second: ofJoint, lead: positive }),
  z.strictObject({
    kind: z.literal('ratio'),
    id,
    name,
    first: ofJoint,
    second: ofJoint,
    ratio: finite.meta({ description: 'Motion of the second for one unit of the first' }),
  }),
  z.strictObject({
    kind: z.literal('indexer'),
    id,
    name,
    first: ofJoint.meta({ description: 'Pin about which the crank turns' }),
    second: ofJoint.meta({ description: 'Pin about which the wheel turns' }),
    pin: id.meta({ description: 'Driving pin: a point of the crank' }),
    slots: z.int().min(3).max(60),
  }),
]);

/** How strong something is, over time, share of the cycle, or position of a joint, or by a formula. */
const course = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('constant'), value: finite }),
  z.strictObject({
    kind: z.literal('formula'),
    text: formulaText('Force or torque; may speak of time, the master and the axes'),
  }),
  z.strictObject({
    kind: z.literal('table'),
    over: z.enum(['time', 'cycle', 'position']),
    joint: ofJoint.nullable().meta({ description: 'Joint whose position counts, where over is “position”' }),
    rows: z
      .array(z.tuple([finite, finite]))
      .min(2)
      .max(5000),
  }),
  z.strictObject({
    kind: z.literal('ramp'),
    over: z.enum(['time', 'cycle', 'position']),
    joint: ofJoint.nullable(),
    from: z.tuple([finite, finite]).meta({ description: 'Place and value where the smooth rise begins' }),
    to: z.tuple([finite, finite]).meta({ description: 'Place and value where it ends' }),
  }),
]);

const element = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('spring'),
    id,
    name,
    on,
    ...pair,
    rate: notNegative.meta({ description: 'N/m' }),
    free: notNegative.meta({ description: 'Free length, m' }),
  }),
  z.strictObject({
    kind: z.literal('torsion'),
    id,
    name,
    on,
    joint: ofJoint,
    rate: notNegative.meta({ description: 'N·m/rad' }),
    free: finite.meta({ description: 'Angle of the pin at which it is slack, rad' }),
  }),
  z.strictObject({ kind: z.literal('damper'), id, name, on, ...pair, rate: notNegative }),
  z.strictObject({
    kind: z.literal('stop'),
    id,
    name,
    on,
    joint: ofJoint,
    min: finite.nullable(),
    max: finite.nullable(),
    restitution: finite.min(0).max(1),
  }),
  z.strictObject({
    kind: z.literal('force'),
    id,
    name,
    on,
    at: place,
    turns: z.boolean().meta({ description: 'Direction turns with the body; else it is fixed to the world' }),
    angle: finite.meta({ description: 'Direction, rad' }),
    course,
  }),
  z.strictObject({
    kind: z.literal('torque'),
    id,
    name,
    on,
    body: refTo('body', { ground: true, whenGone: 'goes' }),
    course,
  }),
]);

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
export type Course = z.infer<typeof course>;
export type JointFriction = z.infer<typeof friction>;

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
    const kinds = { gear: 'pin', belt: 'pin', indexer: 'pin', rack: 'pin', screw: 'pin', ratio: null } as const;
    const seconds = {
      gear: ['pin'],
      belt: ['pin'],
      indexer: ['pin'],
      rack: ['slide', 'slot', 'guide'],
      screw: ['slide', 'slot', 'guide'],
      ratio: null,
    } as const;
    const first = kinds[c.kind];
    knownJoint(c.first, [...path, 'first'], first ? [first] : null);
    knownJoint(c.second, [...path, 'second'], seconds[c.kind]);
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
