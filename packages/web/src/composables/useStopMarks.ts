import {
  emptyCurvePoint,
  GROUND,
  hasPosition,
  pathCurve,
  type Element,
  type Joint,
  type Mechanism,
  type Pose,
} from '@yoke/core';
import { computed } from 'vue';
import { intoWorld, placeIn, type Projection } from '@/lib/board-view';

/** Where a stop ends the travel of a joint, on a drawing. */
export interface StopMark {
  element: Element;
  /** Ends of travel: where, px, and the direction into the stop, degrees. */
  ends: { x: number; y: number; angle: number }[];
  /** The way between two limits of a turning joint, as an SVG path in px. */
  way: string;
}

/** Radius at which the limits of a turning joint are drawn, px. */
const RADIUS = 30;
const DEGREES = 180 / Math.PI;

/** The limits of all stops of a mechanism at its poses. */
export function useStopMarks(props: { mechanism: Mechanism; poses: readonly Pose[]; projection: Projection }) {
  const angleOf = (body: string) => props.poses[props.mechanism.bodies.findIndex(({ id }) => id === body)]?.angle ?? 0;
  const at = (place: { body: string; point: string }) => placeIn(props.mechanism, props.poses, place);

  /** Where the second body points to from a pin: to its furthest point. */
  function pointer(joint: Extract<Joint, { kind: 'pin' }>): number {
    const own = props.mechanism.bodies.find(({ id }) => id === joint.b.body);
    const from = own?.points.find(({ id }) => id === joint.b.point)?.at;
    if (!own || !from) return 0;
    const away = own.points.map(({ at: [x, y] }) => [x - from[0], y - from[1]] as const);
    const [x, y] = away.reduce((most, p) => (Math.hypot(...p) > Math.hypot(...most) ? p : most), [1e-9, 0] as const);
    return Math.atan2(y, x) + angleOf(joint.b.body);
  }

  /** Where a joint is at a position, and in which direction it goes on there, in the world. */
  function placeAt(joint: Joint, position: number): { at: readonly [number, number]; direction: number } | null {
    if (joint.kind === 'slide' || joint.kind === 'slot') {
      const a = at(joint.a);
      const direction = angleOf(joint.a.body) + joint.angle;
      const s = position + joint.zero;
      return a && { at: [a[0] + s * Math.cos(direction), a[1] + s * Math.sin(direction)], direction };
    }
    if (joint.kind === 'cylinder') {
      const [a, b] = [at(joint.a), at(joint.b)];
      if (!a || !b) return null;
      const direction = Math.atan2(b[1] - a[1], b[0] - a[0]);
      const s = position + joint.zero;
      return { at: [a[0] + s * Math.cos(direction), a[1] + s * Math.sin(direction)], direction };
    }
    if (joint.kind !== 'guide' && joint.kind !== 'cam') return null;
    const path = props.mechanism.paths.find(({ id }) => id === joint.path);
    if (!path) return null;
    try {
      const p = emptyCurvePoint();
      pathCurve(path.shape).at(position + joint.zero, p);
      const carrier = props.poses[props.mechanism.bodies.findIndex(({ id }) => id === path.body)];
      const turned = path.body === GROUND || !carrier ? 0 : carrier.angle;
      return {
        at: carrier ? intoWorld(carrier, [p.x, p.y]) : [p.x, p.y],
        direction: Math.atan2(p.ty, p.tx) + turned,
      };
    } catch {
      return null;
    }
  }

  return computed<StopMark[]>(() =>
    props.mechanism.elements.flatMap((element): StopMark[] => {
      if (element.kind !== 'stop') return [];
      const joint = props.mechanism.joints.find(({ id }) => id === element.joint);
      if (!joint || !hasPosition(joint)) return [];
      const { x, y } = props.projection;
      const limits = [
        { value: element.min, into: Math.PI },
        { value: element.max, into: 0 },
      ].flatMap(({ value, into }) => (value === null ? [] : [{ value, into }]));
      if (joint.kind !== 'pin') {
        const ends = limits.flatMap(({ value, into }) => {
          const found = placeAt(joint, value);
          return found ? [{ x: x(found.at[0]), y: y(found.at[1]), angle: -(found.direction + into) * DEGREES }] : [];
        });
        return [{ element, ends, way: '' }];
      }
      const pin = at(joint.b);
      if (!pin) return [];
      const turn = (value: number) => {
        const now = angleOf(joint.b.body) - angleOf(joint.a.body) - joint.zero;
        return pointer(joint) + value - now;
      };
      const spot = (angle: number) =>
        [x(pin[0]) + RADIUS * Math.cos(angle), y(pin[1]) - RADIUS * Math.sin(angle)] as const;
      const ends = limits.map(({ value, into }) => {
        const [px, py] = spot(turn(value));
        return { x: px, y: py, angle: -(turn(value) + (into === 0 ? 1 : -1) * (Math.PI / 2)) * DEGREES };
      });
      const span = element.min !== null && element.max !== null ? element.max - element.min : 0;
      const way =
        span > 0 && span < 2 * Math.PI
          ? `M${spot(turn(element.min!)).join(' ')}A${RADIUS} ${RADIUS} 0 ${span > Math.PI ? 1 : 0} 0 ${spot(turn(element.max!)).join(' ')}`
          : '';
      return [{ element, ends, way }];
    }),
  );
}
