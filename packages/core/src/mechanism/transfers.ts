import { emptyCurvePoint } from '../geometry';
import { GROUND, type Coupling, type Joint, type Mechanism, type Place } from '../machine';
import { indexerTransfer, ratioTransfer, type Transfer } from './couplings';
import type { CarriedCurve } from './guides';
import { pointOf, type Attachment, type Coordinate, type Positions } from './state';

/** A joint as far as couplings go by it: its position, and where it ties bodies together. */
export interface CoupledJoint {
  joint: Joint;
  /** Its position; absent for a weld. */
  coordinate: Coordinate | null;
  /** The unknown arc length of a guide or cam, its curve and carrier. */
  guide: { column: number; carried: CarriedCurve; pathName: string } | null;
  /** Where bodies are tied together: reactions act on the body of b at this point. */
  a: Attachment;
  b: Attachment;
  /** Plane in which its second point is drawn, by its place. */
  plane: number;
}

/** Direction in which the second body of a slide, slot or guide goes from here, in the world. */
function wayOf({ joint, a, guide }: CoupledJoint, q: Positions): [number, number] {
  const carrier = q[a.base + 2]!;
  if (guide) {
    const p = emptyCurvePoint();
    guide.carried.curve.at(q[guide.column]!, p);
    const [c, s] = [Math.cos(carrier), Math.sin(carrier)];
    return [c * p.tx - s * p.ty, s * p.tx + c * p.ty];
  }
  const angle = carrier + ('angle' in joint ? joint.angle : 0);
  return [Math.cos(angle), Math.sin(angle)];
}

/**
 * +1 where a rack runs below its pinion (looking along its way), −1 above: the side of the pinion that it meshes with
 * decides which way it goes. Through the middle it counts as below.
 */
function rackSide(pinion: CoupledJoint, rack: CoupledJoint, q: Positions): 1 | -1 {
  if (pinion.plane !== rack.plane) return 1;
  const [cx, cy] = pointOf(q, pinion.b);
  const [px, py] = pointOf(q, rack.b);
  const [ux, uy] = wayOf(rack, q);
  // Surface speed of the pinion at the rack, along the way of the rack: (n × u) times the turning.
  return (px - cx) * uy - (py - cy) * ux < -1e-9 ? -1 : 1;
}

/**
 * What a coupling makes of the position of its first joint.
 * @param start state of the drawing, at which both stand as they are drawn
 */
export function transferOf(
  coupling: Coupling,
  first: CoupledJoint,
  second: CoupledJoint,
  mechanism: Mechanism,
  start: Positions,
): Transfer {
  const x0 = first.coordinate!.value(start);
  const y0 = second.coordinate!.value(start);
  const proportional = (ratio: number) => ratioTransfer(ratio, y0 - ratio * x0);
  switch (coupling.kind) {
    case 'gear':
      return proportional(((coupling.inside ? 1 : -1) * coupling.radius1) / coupling.radius2);
    case 'belt':
      return proportional(((coupling.crossed ? -1 : 1) * coupling.radius1) / coupling.radius2);
    case 'rack':
      return proportional(coupling.radius * rackSide(first, second, start));
    case 'screw':
      return proportional(coupling.lead / (2 * Math.PI));
    case 'ratio':
      return proportional(coupling.ratio);
    case 'indexer': {
      const { shift, centreLine } = indexerGeometry(coupling, mechanism);
      const plain = indexerTransfer(coupling.slots);
      const zero2 = second.joint.kind === 'pin' ? second.joint.zero : 0;
      const pitch = (2 * Math.PI) / coupling.slots;
      const nominal = centreLine + Math.PI - zero2;
      const offset = nominal + pitch * Math.round((y0 - nominal - plain.value(x0 + shift)) / pitch);
      return {
        value: (x) => plain.value(x + shift) + offset,
        slope: (x) => plain.slope(x + shift),
        bend: (x) => plain.bend(x + shift),
      };
    }
  }
}

/** What an indexing wheel needs of the drawing: distances in m, angles in rad. */
export interface IndexerGeometry {
  /** Added to the crank's joint position, gives its angle from the line of centres. */
  shift: number;
  /** Direction from the crank's pivot to the wheel's, in the frame that carries both. */
  centreLine: number;
  crankRadius: number;
  distance: number;
}

/** Reads the geometry of an indexing wheel from the points of its two pins and of the driving pin. */
export function indexerGeometry(
  coupling: Extract<Coupling, { kind: 'indexer' }>,
  mechanism: Mechanism,
): IndexerGeometry {
  const crank = mechanism.joints.find(({ id }) => id === coupling.first) as Extract<Joint, { kind: 'pin' }>;
  const wheel = mechanism.joints.find(({ id }) => id === coupling.second) as Extract<Joint, { kind: 'pin' }>;
  const at = (place: Place): readonly [number, number] =>
    (place.body === GROUND ? mechanism.ground : mechanism.bodies.find(({ id }) => id === place.body)!.points).find(
      ({ id }) => id === place.point,
    )!.at;
  const [cx, cy] = at(crank.a);
  const [wx, wy] = at(wheel.a);
  const [px, py] = at(crank.b);
  const [dx, dy] = at({ body: crank.b.body, point: coupling.pin });
  const centreLine = Math.atan2(wy - cy, wx - cx);
  return {
    shift: crank.zero + Math.atan2(dy - py, dx - px) - centreLine,
    centreLine,
    crankRadius: Math.hypot(dx - px, dy - py),
    distance: Math.hypot(wx - cx, wy - cy),
  };
}
