import {
  emptyCurvePoint,
  GROUND,
  indexerGeometry,
  pathCurve,
  type Joint,
  type Mechanism,
  type Place,
  type Pose,
} from '@yoke/core';
import { computed } from 'vue';
import { intoWorld, placeIn, polyline, type Projection } from '@/lib/board-view';

interface JointMark {
  joint: Joint;
  x: number;
  y: number;
  grounded: boolean;
  /** Direction of a rail or slot on the drawing, degrees. */
  rail: number | null;
  end: [number, number] | null;
  roller: number;
}

interface LoadMark {
  element: Mechanism['elements'][number];
  p: [number, number];
  /** Direction on the drawing in degrees; null for a torque. */
  angle: number | null;
}

/** Where everything of a mechanism that is no body stands on a drawing at its poses, in pixels. */
export function useMechanismMarks(props: { mechanism: Mechanism; poses: readonly Pose[]; projection: Projection }) {
  const px = ([x, y]: readonly [number, number]): [number, number] => [props.projection.x(x), props.projection.y(y)];
  const at = (place: Place): [number, number] | null => {
    const found = placeIn(props.mechanism, props.poses, place);
    return found ? px(found) : null;
  };
  /** Points of a path in the frame of its carrier, in m. */
  const pathPoints = computed(() =>
    props.mechanism.paths.map((path) => {
      try {
        const curve = pathCurve(path.shape);
        const p = emptyCurvePoint();
        const count = 160;
        return Array.from({ length: count + 1 }, (_, i): [number, number] => {
          curve.at(Math.min((curve.length * i) / count, curve.length * (1 - 1e-12)), p);
          return [p.x, p.y];
        });
      } catch {
        return [];
      }
    }),
  );
  const pathLines = computed(() =>
    props.mechanism.paths.map((path, i) => {
      const pose = props.poses[props.mechanism.bodies.findIndex(({ id }) => id === path.body)];
      const points = pathPoints.value[i]!;
      return polyline(pose ? points.map((p) => intoWorld(pose, p)) : points, props.projection);
    }),
  );

  const marks = computed<JointMark[]>(() =>
    props.mechanism.joints.flatMap((joint) => {
      const b = at(joint.b);
      const a = 'a' in joint ? at(joint.a) : b;
      if (!a || !b) return [];
      const carrier = 'a' in joint ? props.mechanism.bodies.findIndex(({ id }) => id === joint.a.body) : -1;
      const base = props.poses[carrier]?.angle ?? 0;
      const rail = joint.kind === 'slide' || joint.kind === 'slot' ? (-(base + joint.angle) * 180) / Math.PI : null;
      const grounded = joint.b.body === GROUND || ('a' in joint && joint.a.body === GROUND);
      const roller =
        joint.kind === 'cam' && joint.follower.kind === 'roller' ? joint.follower.radius * props.projection.scale : 0;
      return [{ joint, x: b[0], y: b[1], grounded, rail, end: joint.kind === 'cylinder' ? a : null, roller }];
    }),
  );

  /** Slots of indexing wheels, in the frame of the wheel: from where the pin comes nearest to its centre, to the rim. */
  const slots = computed(() =>
    props.mechanism.couplings.flatMap((coupling) => {
      if (coupling.kind !== 'indexer') return [];
      const wheel = props.mechanism.joints.find(({ id }) => id === coupling.second);
      const i = props.mechanism.bodies.findIndex(({ id }) => id === wheel?.b.body);
      const hub = props.mechanism.bodies[i]?.points.find(({ id }) => id === wheel?.b.point)?.at;
      if (!hub) return [];
      const { distance, crankRadius } = indexerGeometry(coupling, props.mechanism);
      const [inner, outer] = [distance - crankRadius, distance * Math.cos(Math.PI / coupling.slots)];
      const d = Array.from({ length: coupling.slots }, (_, k) => {
        const angle = (2 * Math.PI * k) / coupling.slots;
        const at = (r: number) => `${hub[0] + r * Math.cos(angle)} ${hub[1] + r * Math.sin(angle)}`;
        return `M${at(inner)}L${at(outer)}`;
      }).join('');
      const crank = props.mechanism.joints.find(({ id }) => id === coupling.first);
      const pin = crank ? at({ body: crank.b.body, point: coupling.pin }) : null;
      return [{ id: coupling.id, d, body: i, pin }];
    }),
  );
  /** Flat faces of followers, in pixels. */
  const faces = computed(() =>
    props.mechanism.joints.flatMap((joint) => {
      if (joint.kind !== 'cam' || joint.follower.kind !== 'flat') return [];
      const p = at(joint.b);
      const angle =
        joint.follower.angle +
        (props.poses[props.mechanism.bodies.findIndex(({ id }) => id === joint.b.body)]?.angle ?? 0);
      return p ? [{ id: joint.id, p, angle: (-angle * 180) / Math.PI }] : [];
    }),
  );

  const links = computed(() =>
    props.mechanism.elements.flatMap((element) => {
      if (element.kind !== 'spring' && element.kind !== 'damper') return [];
      const [a, b] = [at(element.a), at(element.b)];
      return a && b ? [{ element, a, b }] : [];
    }),
  );
  const loads = computed(() =>
    props.mechanism.elements.flatMap((element): LoadMark[] => {
      if (element.kind === 'force') {
        const p = at(element.at);
        const i = props.mechanism.bodies.findIndex(({ id }) => id === element.at.body);
        const angle = element.angle + (element.turns ? (props.poses[i]?.angle ?? 0) : 0);
        return p ? [{ element, p, angle: (-angle * 180) / Math.PI }] : [];
      }
      if (element.kind === 'torque') {
        const i = props.mechanism.bodies.findIndex(({ id }) => id === element.body);
        const pose = props.poses[i];
        if (!pose) return [];
        const { points } = props.mechanism.bodies[i]!;
        const middle = (k: 0 | 1) => points.reduce((sum, { at: p }) => sum + p[k], 0) / points.length;
        return [{ element, p: px(intoWorld(pose, [middle(0), middle(1)])), angle: null }];
      }
      return [];
    }),
  );
  const couplingLines = computed(() =>
    props.mechanism.couplings.flatMap((coupling) => {
      const ends = [coupling.first, coupling.second].map((id) => marks.value.find(({ joint }) => joint.id === id));
      return ends[0] && ends[1] ? [{ coupling, a: ends[0], b: ends[1] }] : [];
    }),
  );

  return { pathLines, marks, slots, faces, links, loads, couplingLines };
}
