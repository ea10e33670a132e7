import { z } from 'zod';
import { STANDARD_GRAVITY } from '../quantity';
import { bodySchema } from './body';
import { COUPLES, couplingSchema, type Coupling } from './coupling';
import { elementSchema, type Course } from './element';
import { jointSchema, type JointKind } from './joint';
import { finite, notNegative, unique, type Say } from './parts';
import { pathSchema } from './path';
import { GROUND, namedPoint, on, place } from './place';
import { refers } from './refer';

export {
  bodySchema,
  DENSITIES,
  FIRST_THICKNESS,
  MASSES,
  massOf,
  shapeArea,
  STEEL,
  type Body,
  type MassProperties,
} from './body';
export { COUPLINGS, couplingSchema, type Coupling } from './coupling';
export { ELEMENTS, elementSchema, type Course, type Element } from './element';
export { JOINTS, jointSchema, turns, type Joint, type JointFriction, type JointKind, type MovingJoint } from './joint';
export { mapPath, PATH_PIECES, PATH_SHAPES, pathPoints, pathSchema, pieceEnds, withPathPoint } from './path';
export { GROUND, type Place } from './place';

/** The planar mechanism of a machine. SI units; angles in rad, anticlockwise. */
export const mechanismSchema = z
  .strictObject({
    ground: z.array(namedPoint).max(200).meta({ description: 'Points that do not move' }),
    bodies: z.array(bodySchema).max(300),
    paths: z.array(pathSchema).max(60),
    joints: z.array(jointSchema).max(600),
    couplings: z.array(couplingSchema).max(100),
    elements: z.array(elementSchema).max(300),
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
export type MechanismPath = Raw['paths'][number];

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
