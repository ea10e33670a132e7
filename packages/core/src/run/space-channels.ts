import { GROUND, type Mechanism, type Place } from '../machine';
import {
  positionsOf,
  ratesOf,
  SpaceMotion,
  SpaceTree,
  type Positions,
  type Rates,
  type SpacePoint,
} from '../mechanism';
import type { QuantityKind } from '../quantity';
import type { BearingRun, MechanismRun } from './mechanism-run';

/** Quantities of a place in space: components along the axes of the world, and magnitudes. */
export const SPACE: readonly (readonly [string, string, QuantityKind])[] = [
  ['x', 'x', 'length'],
  ['y', 'y', 'length'],
  ['z', 'z', 'length'],
  ['vx', 'velocity x', 'velocity'],
  ['vy', 'velocity y', 'velocity'],
  ['vz', 'velocity z', 'velocity'],
  ['v', 'speed', 'velocity'],
  ['ax', 'acceleration x', 'acceleration'],
  ['ay', 'acceleration y', 'acceleration'],
  ['az', 'acceleration z', 'acceleration'],
  ['a', 'acceleration', 'acceleration'],
];
/** How a body turns in the world, beside how it turns in its plane. */
export const SPINNING: readonly (readonly [string, string, QuantityKind])[] = [
  ['wx', 'angular velocity x', 'angularVelocity'],
  ['wy', 'angular velocity y', 'angularVelocity'],
  ['wz', 'angular velocity z', 'angularVelocity'],
  ['spin', 'angular velocity in space', 'angularVelocity'],
];

/** Whether a mechanism has more than the front plane. */
export const leavesFront = ({ planes, joints }: Pick<Mechanism, 'planes' | 'joints'>): boolean =>
  planes.length > 1 || joints.some(({ kind }) => kind === 'rod');

/** What the six loads of a joint are called: of a rail, or of a shaft. */
export function bearingChannels(rail: boolean, run: BearingRun): [string, string, QuantityKind][] {
  const shared = run.with.length > 0 ? ', shared' : '';
  const [forces, moments] = rail
    ? [
        ['along the rail', 'across the rail', 'square to the plane'],
        ['about the rail', 'about the line across the rail', 'about the normal'],
      ]
    : [
        ['x of the plane', 'y of the plane', 'along the shaft'],
        ['tilting about x', 'tilting about y', 'about the shaft'],
      ];
  return [
    ...forces!.map((text, i): [string, string, QuantityKind] => [`load${i + 1}`, `load ${text}${shared}`, 'force']),
    ...moments!.map((text, i): [string, string, QuantityKind] => [
      `moment${i + 1}`,
      `moment ${text}${shared}`,
      'torque',
    ]),
  ];
}

/** Samples of one of {@link bearingChannels}. */
export function bearingSamples(run: BearingRun, quantity: string): Float64Array | undefined {
  const [, list, number] = /^(load|moment)([123])$/.exec(quantity) ?? [];
  if (list === undefined) return undefined;
  return (list === 'load' ? run.force : run.moment)[Number(number) - 1];
}

/** How a mechanism stands and moves in space at the samples of a run, one after another. */
export class SpacePlayback {
  readonly tree: SpaceTree;
  readonly motion: SpaceMotion;
  private readonly q: Positions;
  private readonly v: Rates;
  private readonly a: Rates;

  constructor(
    mechanism: Pick<Mechanism, 'planes' | 'bodies' | 'ground'>,
    private readonly run: Pick<MechanismRun, 'q' | 'v' | 'a'>,
  ) {
    this.tree = new SpaceTree(mechanism);
    this.motion = new SpaceMotion(this.tree);
    const layout = { size: run.q.length };
    this.q = positionsOf(layout);
    this.v = ratesOf(layout);
    this.a = ratesOf(layout);
  }

  /** Goes to a sample. */
  to(k: number): void {
    const { run, q, v, a } = this;
    for (let j = 0; j < run.q.length; j++) {
      q[j] = run.q[j]![k]!;
      v[j] = run.v[j]![k]!;
      a[j] = run.a[j]![k]!;
    }
    this.motion.move(q, v, a);
  }
}

/** Quantities of one place over a run. */
type Placed = Record<string, Float64Array>;
/** Places last asked for, by run and mechanism: their quantities come one after the other. */
const lately = new WeakMap<MechanismRun, { mechanism: Mechanism; places: Map<string, Placed> }>();
/** Places that are kept at most. */
const MOST_KEPT = 6;

/**
 * Samples of a place in the world, or of how a body turns there.
 * @param of a point of a body; or a body alone, for its centre of mass and its turning
 */
export function spaceSamples(
  mechanism: Mechanism,
  run: MechanismRun,
  of: Place | { body: string },
  quantity: string,
  count: number,
): Float64Array | undefined {
  const place = mechanism.bodies.findIndex(({ id }) => id === of.body);
  if (place < 0 || of.body === GROUND || run.bodies[place]?.id !== of.body) return undefined;
  let kept = lately.get(run);
  if (kept?.mechanism !== mechanism) lately.set(run, (kept = { mechanism, places: new Map() }));
  const key = 'point' in of ? `${of.body}.${of.point}` : of.body;
  let placed = kept.places.get(key);
  if (!placed) {
    const [oldest] = kept.places.keys();
    if (kept.places.size >= MOST_KEPT && oldest !== undefined) kept.places.delete(oldest);
    kept.places.set(key, (placed = placeOverRun(mechanism, run, of, place, count)));
  }
  return placed[quantity];
}

/** All quantities of a place, in one go over the samples that were reached. */
function placeOverRun(
  mechanism: Mechanism,
  run: MechanismRun,
  of: Place | { body: string },
  place: number,
  count: number,
): Placed {
  const playback = new SpacePlayback(mechanism, run);
  const { tree, motion } = playback;
  const point: SpacePoint = 'point' in of ? tree.point(of) : { body: place, plane: -1, local: [0, 0, 0], chain: [] };
  const placed: Placed = {};
  const series = (name: string) => (placed[name] = new Float64Array(count).fill(NaN));
  const vectors = ['', 'v', 'a', 'w'].map((prefix) => ['x', 'y', 'z'].map((axis) => series(prefix + axis)));
  const [v, a, spin, path] = [series('v'), series('a'), series('spin'), series('path')];
  const [at, speed, change] = [new Float64Array(3), new Float64Array(3), new Float64Array(3)];
  const before = new Float64Array(3);
  let length = 0;
  for (let k = 0; k < run.reached; k++) {
    playback.to(k);
    tree.placeOf(point, at);
    motion.velocityOf(point, at, speed);
    motion.accelerationOf(point, at, change);
    const w = motion.w.subarray(3 * place, 3 * place + 3);
    [at, speed, change, w].forEach((vector, n) => {
      for (let i = 0; i < 3; i++) vectors[n]![i]![k] = vector[i]!;
    });
    v[k] = Math.hypot(speed[0]!, speed[1]!, speed[2]!);
    a[k] = Math.hypot(change[0]!, change[1]!, change[2]!);
    spin[k] = Math.hypot(w[0]!, w[1]!, w[2]!);
    if (k > 0) length += Math.hypot(at[0]! - before[0]!, at[1]! - before[1]!, at[2]! - before[2]!);
    before.set(at);
    path[k] = length;
  }
  return placed;
}

/** The way that a point of a body takes through space over a run, m; what was not reached is left out. */
export function wayInSpace(
  mechanism: Mechanism,
  run: MechanismRun,
  place: Place,
  most = 600,
): [number, number, number][] {
  if (place.body === GROUND || !mechanism.bodies.some(({ id }) => id === place.body)) return [];
  const playback = new SpacePlayback(mechanism, run);
  const point = playback.tree.point(place);
  const at = new Float64Array(3);
  const step = Math.max(1, Math.ceil(run.reached / most));
  const way: [number, number, number][] = [];
  for (let k = 0; k < run.reached; k += step) {
    playback.to(k);
    playback.tree.placeOf(point, at);
    way.push([at[0]!, at[1]!, at[2]!]);
  }
  return way;
}
