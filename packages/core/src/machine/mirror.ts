import { quaternionOf, rotationOf, turned, turnedBack, type Rotation } from '../geometry';
import type { BodySolid } from './solid';
import { mapPath, type Body, type Coupling, type Course, type Element, type Joint, type MechanismPath, type Plane } from './mechanism'; // prettier-ignore

/** A place on the other side of a line along y. */
const across = ([x, y]: readonly [number, number], line = 0): [number, number] => [2 * line - x || 0, y];
/** A direction in a plane, seen in a mirror that turns x round, rad. */
const turnedRound = (angle: number) => Math.PI - angle;
const opposite = (value: number) => -value || 0;

/** The rotation that things seen in a mirror across x have: proper again, as S R S. */
const mirrored = (r: Rotation): Rotation => [r[0]!, -r[1]!, -r[2]!, -r[3]!, r[4]!, r[5]!, -r[6]!, r[7]!, r[8]!];

/**
 * A path on the other side of a line along y, run through as before: where the first begins, that begins.
 * @param line of a path of the ground, m; in the frame of a body it is 0
 */
export function mirrorPath(shape: MechanismPath['shape'], line = 0): MechanismPath['shape'] {
  const put = (at: readonly [number, number]) => across(at, line);
  if (shape.kind !== 'circle') return mapPath(shape, put);
  // A circle runs anticlockwise from its right; seen in the mirror clockwise from its left.
  const [x, y] = put(shape.centre);
  const r = shape.radius;
  return {
    kind: 'chain',
    start: [x - r, y],
    closed: true,
    pieces: [
      { kind: 'arc', via: [x, y + r], to: [x + r, y] },
      { kind: 'arc', via: [x, y - r], to: [x - r, y] },
    ],
  };
}

/** Turns the own frame of a body round: points, shape and mass. */
export function mirrorBody(body: Body): void {
  for (const point of body.points) point.at = across(point.at);
  const { shape, mass } = body;
  if (shape.kind === 'disc') shape.centre = across(shape.centre);
  if (shape.kind === 'plate') {
    shape.outline = shape.outline.map((at) => across(at));
    shape.holes = shape.holes.map((hole) => hole.map((at) => across(at)));
  }
  body.solids?.forEach(mirrorSolid);
  if (mass.given !== 'typed') return;
  mass.centre = across(mass.centre);
  if (mass.tensor) mass.tensor = { ...mass.tensor, xy: opposite(mass.tensor.xy), xz: opposite(mass.tensor.xz) };
}

/** Turns a solid round with what carries it: its own x first, so that it stands in a proper rotation again. */
function mirrorSolid(solid: BodySolid): void {
  solid.at = [opposite(solid.at[0]), solid.at[1], solid.at[2]];
  solid.turn = quaternionOf(mirrored(rotationOf(solid.turn)));
  if (solid.mirrored) delete solid.mirrored;
  else solid.mirrored = true;
}

/** Turns a plane on a body round with that body: relative angles and torques in it change their signs. */
export function mirrorPlane(plane: Plane): void {
  plane.at = [opposite(plane.at[0]), plane.at[1], plane.at[2]];
  plane.turn = quaternionOf(mirrored(rotationOf(plane.turn)));
}

/** Turns a joint round: the position of a pin changes its sign, that of all others stays. */
export function mirrorJoint(joint: Joint): void {
  if ('angle' in joint) joint.angle = turnedRound(joint.angle);
  if ('turn' in joint) joint.turn = opposite(joint.turn);
  if (joint.kind === 'pin') {
    joint.zero = opposite(joint.zero);
    if (joint.velocity !== undefined) joint.velocity = opposite(joint.velocity);
  }
  if (joint.kind === 'cam' && joint.follower.kind === 'flat') joint.follower.angle = turnedRound(joint.follower.angle);
}

/** A coupling of joints that were turned round, of which only pins changed their sign. */
export function mirrorCoupling(coupling: Coupling, turns: (joint: string) => boolean): Coupling {
  if (turns(coupling.first) === turns(coupling.second)) return coupling;
  const { id, name, first, second } = coupling;
  if (coupling.kind === 'ratio') return { ...coupling, ratio: opposite(coupling.ratio) };
  // A screw with a thread of the other hand.
  if (coupling.kind === 'screw')
    return { kind: 'ratio', id, name, first, second, ratio: -coupling.lead / (2 * Math.PI) };
  return coupling;
}

function mirrorCourse(course: Course): Course {
  switch (course.kind) {
    case 'constant':
      return { ...course, value: opposite(course.value) };
    case 'formula':
      return { ...course, text: `-(${course.text})` };
    case 'table':
      return { ...course, rows: course.rows.map(([at, value]) => [at, opposite(value)]) };
    case 'ramp':
      return {
        ...course,
        from: [course.from[0], opposite(course.from[1])],
        to: [course.to[0], opposite(course.to[1])],
      };
  }
}

/**
 * Turns a spring, stop or load round.
 * @param axes of the plane that its body moves in, as it is drawn
 */
export function mirrorElement(element: Element, turns: (joint: string) => boolean, axes: Rotation): void {
  switch (element.kind) {
    case 'torsion':
      element.free = opposite(element.free);
      return;
    case 'stop': {
      if (!turns(element.joint)) return;
      const { min, max } = element;
      element.min = max === null ? null : opposite(max);
      element.max = min === null ? null : opposite(min);
      return;
    }
    case 'force': {
      element.angle = turnedRound(element.angle);
      if (!element.along) return;
      // What turns with the body is given in its frame, all else in the world.
      const [x, y, z] = element.turns ? element.along : turnedBack(axes, element.along);
      const there: [number, number, number] = [opposite(x), y, z];
      element.along = element.turns ? there : turned(axes, there);
      return;
    }
    case 'torque':
      element.course = mirrorCourse(element.course);
      return;
    default:
  }
}
