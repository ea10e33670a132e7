import { z } from 'zod';
import { STANDARD_GRAVITY } from '../quantity';
import { bodySchema, checkTensor } from './body';
import { COUPLES, couplingSchema, type Coupling } from './coupling';
import { elementSchema, type Course } from './element';
import { acrossPlanes, hasPosition, jointSchema, type JointKind } from './joint';
import { finite, unique, type Say } from './parts';
import { pathSchema } from './path';
import { checkPlanes, frontPlane, planeSchema } from './plane';
import { GROUND, groundPointSchema, on, place, type Place } from './place';
import { refers } from './refer';
import { checkSolids, shapesSchema } from './solid';

export {
  bodySchema,
  DENSITIES,
  FIRST_THICKNESS,
  MASSES,
  massOf,
  shapeArea,
  solidMassOf,
  unweighedOf,
  STEEL,
  type Body,
  type MassProperties,
  type SolidMass,
} from './body';
export { COUPLINGS, couplingSchema, type Coupling } from './coupling';
export { ELEMENTS, elementSchema, type Course, type Element } from './element';
export {
  acrossPlanes,
  hasPosition,
  JOINTS,
  jointSchema,
  turns,
  type Joint,
  type JointFriction,
  type JointKind,
  type MovingJoint,
} from './joint';
export { mapPath, PATH_PIECES, PATH_SHAPES, pathPoints, pathSchema, pieceEnds, withPathPoint } from './path';
export { FRONT, NO_TURN, planesBelow, type Plane, type Quaternion } from './plane';
export { GROUND, type Place } from './place';

const gravityPart = finite.min(-1e4).max(1e4);

/** The mechanism of a machine, drawn in planes. SI units; angles in rad, anticlockwise seen from above a plane. */
export const mechanismSchema = z
  .strictObject({
    planes: z.array(planeSchema).min(1).max(100).meta({ description: 'The first is the world’s: x right, y up' }),
    ground: z.array(groundPointSchema).max(200).meta({ description: 'Points that are fixed in a plane' }),
    bodies: z.array(bodySchema).max(300),
    paths: z.array(pathSchema).max(60),
    joints: z.array(jointSchema).max(600),
    couplings: z.array(couplingSchema).max(100),
    elements: z.array(elementSchema).max(300),
    gravity: z.strictObject({
      on,
      vector: z
        .tuple([gravityPart, gravityPart, gravityPart])
        .meta({ description: 'Acceleration of free fall along x, y and z of the world, m/s²' }),
    }),
    traces: z
      .array(place.meta({ description: 'A point of a body' }).register(refers, { to: 'place', whenGone: 'drops' }))
      .max(30)
      .meta({ description: 'Points whose path is drawn' }),
    shapes: shapesSchema.optional().meta({ description: 'Files of geometry, and solids that are no part of a body' }),
  })
  .superRefine((mechanism, context) =>
    checkMechanism(mechanism, (path, message) => context.addIssue({ code: 'custom', path, message })),
  );

/** Acceleration of free fall along the axes of the world, m/s²; none where gravity is off. */
export const gravityOf = ({ gravity }: Pick<Mechanism, 'gravity'>): [number, number, number] =>
  gravity.on ? [...gravity.vector] : [0, 0, 0];

/** A mechanism with nothing in it. */
export function emptyMechanism(): Mechanism {
  return {
    planes: [frontPlane()],
    ground: [],
    bodies: [],
    paths: [],
    joints: [],
    couplings: [],
    elements: [],
    gravity: { on: true, vector: [0, -STANDARD_GRAVITY, 0] },
    traces: [],
  };
}

type Raw = z.infer<typeof mechanismSchema>;
export type Mechanism = Raw;
export type MechanismPath = Raw['paths'][number];

/** Plane of a point of a body, or of the ground; undefined where the document names what is not there. */
export function planeOf(m: Pick<Raw, 'bodies' | 'ground'>, { body, point: of }: Place): string | undefined {
  return body === GROUND ? m.ground.find((p) => p.id === of)?.plane : m.bodies.find((b) => b.id === body)?.plane;
}

/** Plane in which a path lies. */
export const planeOfPath = (m: Pick<Raw, 'bodies'>, { body, plane }: MechanismPath): string | undefined =>
  plane ?? m.bodies.find((b) => b.id === body)?.plane;

function checkShapes({ shapes, bodies }: Raw, say: Say): void {
  const files = shapes?.files ?? [];
  unique(files, 'id', ['shapes', 'files'], say);
  bodies.forEach(({ name: called, mass, solids }, i) => {
    if (solids) checkSolids(solids, files, ['bodies', i, 'solids'], say);
    if (mass.given === 'solids' && !solids?.length)
      say(['bodies', i, 'mass'], `goes by the solids of “${called}”, which has none: give it some, or type its mass`);
  });
  if (!shapes) return;
  checkSolids(shapes.ground, files, ['shapes', 'ground'], say);
  checkSolids(shapes.unassigned, files, ['shapes', 'unassigned'], say);
}

function checkMechanism(m: Raw, say: Say): void {
  const lists = ['planes', 'ground', 'bodies', 'paths', 'joints', 'couplings', 'elements'] as const;
  for (const list of lists) unique(m[list] as { id: string }[], 'id', [list], say);
  m.bodies.forEach((b, i) => {
    unique(b.points, 'id', ['bodies', i, 'points'], say);
    if (b.id === GROUND) say(['bodies', i, 'id'], 'must not be “ground”, which stands for what does not move');
  });
  checkPlanes(m, say);
  checkShapes(m, say);
  const paths = new Map(m.paths.map((p) => [p.id, p]));
  const joints = new Map(m.joints.map((j) => [j.id, j]));
  const knownJoint = (idOf: string | null, path: PropertyKey[], kinds: readonly JointKind[] | null) => {
    const found = joints.get(idOf ?? '');
    if (!found) return;
    if (!hasPosition(found)) say(path, `names the joint “${found.name}”, but a ${found.kind} has no position`);
    else if (kinds && !kinds.includes(found.kind))
      say(path, `must name a ${kinds.join(' or ')}, but “${found.name}” is a ${found.kind}`);
  };
  m.bodies.forEach((b, i) => checkTensor(b, ['bodies', i, 'mass'], say));
  m.paths.forEach((p, i) => {
    if ((p.body === GROUND) === (p.plane === null))
      say(
        ['paths', i, 'plane'],
        p.plane === null
          ? `must name the plane in which “${p.name}” lies: it is drawn on the ground`
          : `must be null: “${p.name}” lies in the plane of the body that it is drawn on`,
      );
  });
  const planeName = (idOf: string | undefined) => m.planes.find((p) => p.id === idOf)?.name ?? idOf;
  m.joints.forEach((j, i) => {
    const path = ['joints', i];
    const on = 'a' in j ? undefined : paths.get(j.path);
    const from = 'a' in j ? planeOf(m, j.a) : on && planeOfPath(m, on);
    const to = planeOf(m, j.b);
    if ('a' in j) {
      if (j.a.body === j.b.body && from === to)
        say(path, `“${j.name}” joins a body to itself: choose points of two bodies`);
    } else {
      if (on?.body === j.b.body && from === to)
        say(path, `“${j.name}” joins a body to itself: choose a point of another body`);
      if (j.kind === 'cam' && on && on.shape.kind === 'chain' && !on.shape.closed)
        say([...path, 'path'], `“${on.name}” must be closed to be the outline of a cam`);
    }
    if (from === undefined || to === undefined) return;
    if (from !== to && !acrossPlanes(j))
      say(
        path,
        `“${j.name}” ties a point of the plane “${planeName(from)}” to one of “${planeName(to)}”: a ${j.kind} stays within one plane; take a ball joint, rod or cylinder, or points of one plane`,
      );
    if (from === to && j.kind === 'ball')
      say(path, `“${j.name}” ties two points of the plane “${planeName(from)}”: there a pin does the same`);
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
    if (e.kind === 'force' && e.along && Math.hypot(...e.along) === 0)
      say([...path, 'along'], 'points nowhere: give at least one part that is not 0, or leave it out');
    if (e.kind === 'force' || e.kind === 'torque') checkCourse(e.course, [...path, 'course']);
  });

  function checkIndexer(c: Extract<Coupling, { kind: 'indexer' }>, path: PropertyKey[]): void {
    const crank = joints.get(c.first);
    const wheel = joints.get(c.second);
    if (crank?.kind !== 'pin' || wheel?.kind !== 'pin') return;
    if (crank.a.body !== wheel.a.body || planeOf(m, crank.a) !== planeOf(m, wheel.a))
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
