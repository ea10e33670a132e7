import { axisOf, minus, outlinePath, turnedBack, unit3, type Point3 } from '../geometry';
import { freeId } from './defaults';
import { addElement, addPath, freshName } from './draw';
import { isAlong } from './edit-solids';
import { GROUND, type Element, type Mechanism, type MechanismPath } from './mechanism';
import { spotOn, type FaceSpot } from './place-by-face';
import type { Machine } from './schema';
import type { Sensor } from './sensor';
import { spaceOf, standingOf, type Frame } from './standing';

/** A spring between two faces, slack as it is drawn. */
export function placeSpring(
  m: Mechanism,
  one: { carrier: string; at: Point3 },
  other: { carrier: string; at: Point3 },
): Element | string {
  if (one.carrier === other.carrier) return 'Both faces are of one body: a spring stands between two.';
  const a = spotOn(m, one.carrier, one.at);
  const b = spotOn(m, other.carrier, other.at);
  const free = Math.hypot(...minus(spaceOf(m, b), spaceOf(m, a)));
  if (free < 1e-9) return 'Both faces have their middle in one place: a spring needs a length.';
  return addElement(m, { kind: 'spring', a, b, rate: 1000, free });
}

/** A force at a face, into the solid or along its axis; it turns with the body. 10 N until another is typed. */
export function placeForce(m: Mechanism, body: string, { at, axis }: FaceSpot, isFlat: boolean): Element | string {
  if (body === GROUND) return 'A force on the ground moves nothing: press a face of a body.';
  const place = spotOn(m, body, at);
  const [x, y, z] = turnedBack(standingOf(m).body(body).axes, unit3(axis));
  const sign = isFlat ? -1 : 1;
  return addElement(m, {
    kind: 'force',
    at: place,
    angle: Math.atan2(sign * y, sign * x),
    turns: true,
    along: [sign * x, sign * y, sign * z],
    course: { kind: 'constant', value: 10 },
  });
}

/**
 * The plane in which a path about an axis lies on what carries it, with its frame: or why there is none.
 * @param what stands to the plane
 */
function planeOfPath(
  m: Mechanism,
  carrier: string,
  axis: Point3,
  what: string,
): { plane: string; frame: Frame } | string {
  const standing = standingOf(m);
  const plane =
    carrier === GROUND
      ? m.planes.find((own) => own.on === GROUND && isAlong(axisOf(standing.plane(own.id).axes, 2), unit3(axis)))
      : m.planes.find(({ id }) => id === m.bodies.find((body) => body.id === carrier)!.plane);
  const frame = plane && standing.plane(plane.id);
  if (!plane || !frame || !isAlong(axisOf(frame.axes, 2), unit3(axis)))
    return `${what} ${plane ? `the plane “${plane.name}”` : 'any plane of the ground'}: place a plane here first, a path lies in one.`;
  return { plane: plane.id, frame: carrier === GROUND ? frame : standing.body(carrier) };
}

/** A circle about a hole or shaft as a path of what carries it: a guide, or the outline of a cam. */
export function placeCircle(m: Mechanism, carrier: string, spot: FaceSpot, radius: number): MechanismPath | string {
  const found = planeOfPath(m, carrier, spot.axis, 'Its axis does not stand upright on');
  if (typeof found === 'string') return found;
  const [x, y] = turnedBack(found.frame.axes, minus(spot.at, found.frame.at));
  return addPath(m, carrier, { kind: 'circle', centre: [x, y], radius }, undefined, found.plane);
}

/** Pieces of a path at most. */
const MOST_PIECES = 200;

/**
 * The rim of a flat face as a path of what carries it, as lines and arcs: a slot, a guide, or the outline of a cam.
 * @param rim its corners in the world, m
 */
export function placeRim(
  m: Mechanism,
  carrier: string,
  normal: Point3,
  rim: readonly Point3[],
): MechanismPath | string {
  const found = planeOfPath(m, carrier, normal, 'The face is not level with');
  if (typeof found === 'string') return found;
  const corners = rim.map((at): [number, number] => {
    const [x, y] = turnedBack(found.frame.axes, minus(at, found.frame.at));
    return [x, y];
  });
  const shape = outlinePath(corners);
  if (shape.kind === 'chain' && shape.pieces.length > MOST_PIECES)
    return `Its rim has ${shape.pieces.length} pieces, of ${MOST_PIECES} at most in a path: cut it to an outline, or draw the path by hand.`;
  return addPath(m, carrier, shape, undefined, found.plane);
}

/**
 * A sensor at a face: a light beam along the axis of a hole or shaft, or a proximity switch on a flat face. Sensors lie
 * in the front plane, so the axis must, and a face must be seen from its edge there.
 */
export function placeSensor(
  machine: Machine,
  carrier: string,
  spot: FaceSpot,
  isFlat: boolean,
  reach: number,
): Sensor | string {
  const m = machine.mechanism;
  const front = m.planes[0]!;
  const axis = unit3(spot.axis);
  const body = m.bodies.find(({ id }) => id === carrier);
  if (body && body.plane !== front.id)
    return `“${body.name}” does not move in the plane “${front.name}”: sensors lie in that; press a face of the ground, or of a body that moves there.`;
  if (Math.abs(axis[2]) > 1e-6)
    return `This does not lie in the plane “${front.name}”: a beam goes along a hole or shaft of that plane, a proximity switch sits on a face upright on it.`;
  const along: Point3 = isFlat ? [-axis[1], axis[0], 0] : axis;
  const ends = [-1, 1].map((side): [number, number] => {
    const at: Point3 = [spot.at[0] + side * reach * along[0], spot.at[1] + side * reach * along[1], 0];
    if (!body) return [at[0], at[1]];
    const frame = standingOf(m).body(body.id);
    const [x, y] = turnedBack(frame.axes, minus(at, frame.at));
    return [x, y];
  });
  const [from, to] = ends as [[number, number], [number, number]];
  const { sensors } = machine.sequence;
  const others = m.bodies.filter(({ id, plane }) => id !== carrier && plane === front.id).map(({ id }) => id);
  const sensor: Sensor = {
    id: freeId('sensor', sensors.map(({ id }) => id)), // prettier-ignore
    name: freshName(isFlat ? 'Proximity' : 'Light beam', sensors.map(({ name }) => name)), // prettier-ignore
    sensing: isFlat
      ? {
          kind: 'proximity',
          body: carrier,
          from,
          to,
          distance: 0.01,
          bodies: others.slice(0, 60),
          parts: true,
          sees: [],
        }
      : { kind: 'beam', body: carrier, from, to, sees: [] },
    hysteresis: 0,
    onDelay: 0,
    offDelay: 0,
    filter: 0,
    inverted: false,
  };
  sensors.push(sensor);
  return sensor;
}
