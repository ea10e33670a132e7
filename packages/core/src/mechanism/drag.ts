import type { MechanismModel } from './model';
import { analyseRank } from '../numeric';
import type { SpacePoint } from './planes';
import { close, Equations } from './solver';
import { SpacePair } from './space-joints';
import { SpaceMotion } from './space-motion';
import { armX, armY, copyOf, ratesOf, retract, type Coordinate, type Positions } from './state';

/** How strongly the hand pulls against the unwillingness of everything else to move. */
const PULL = 400;

/** One direction in which a hand pulls: how far there is to go (m), and how far each unknown takes it (m, or m/rad). */
interface Pull {
  gap: number;
  slopes: Float64Array;
}

/** An end that a joint does not pass when it is dragged: of a stop, or of the travel of the axis that drives it. */
export interface DragEnd {
  /** Its equation in the model. */
  row: number;
  coordinate: Pick<Coordinate, 'value'>;
  min: number | null;
  max: number | null;
}

/**
 * Pulls a point of a body towards a place in its plane, within what joints, couplings and stops allow; drives let go.
 * @param q a pose that closes; changed in place
 * @param grip where the hand holds the body, seen from its centre of mass
 * @param ends that hold as stops do
 */
export function dragTowards(
  model: MechanismModel,
  q: Positions,
  grip: { base: number; x: number; y: number },
  target: readonly [number, number],
  ends: readonly DragEnd[] = [],
): void {
  const [x, y] = [new Float64Array(model.size), new Float64Array(model.size)];
  const pulls = () => {
    x[grip.base] = y[grip.base + 1] = 1;
    x[grip.base + 2] = -armY(q, grip);
    y[grip.base + 2] = armX(q, grip);
    return [
      { gap: target[0] - q[grip.base]! - armX(q, grip), slopes: x },
      { gap: target[1] - q[grip.base + 1]! - armY(q, grip), slopes: y },
    ];
  };
  pullTogether(model, q, pulls, ends);
}

/**
 * Pulls a point in space along directions of the world, as {@link dragTowards} does within a plane.
 * @param point where the hand holds a body
 * @param target where it shall go, m
 * @param directions unit vectors that count: two of a picture, so that the depth of it is free, or all three
 * @param ends that hold as stops do
 */
export function dragInSpace(
  model: MechanismModel,
  q: Positions,
  point: SpacePoint,
  target: readonly [number, number, number],
  directions: readonly (readonly [number, number, number])[],
  ends: readonly DragEnd[] = [],
): void {
  const { tree, size } = model;
  const ground: SpacePoint = { body: -1, plane: 0, local: [0, 0, 0], chain: [] };
  const pair = new SpacePair(tree, new SpaceMotion(tree), ground, point);
  const gradient = new Float64Array(pair.columns.length);
  const slopes = directions.map(() => new Float64Array(size));
  const pulls = () => {
    pair.place(q);
    return directions.map(([ux, uy, uz], i) => {
      pair.along(ux, uy, uz, gradient);
      pair.columns.forEach((column, k) => (slopes[i]![column] = gradient[k]!));
      const [dx, dy, dz] = target.map((part, k) => part - pair.atB[k]!) as [number, number, number];
      return { gap: ux * dx + uy * dy + uz * dz, slopes: slopes[i]! };
    });
  };
  pullTogether(model, q, pulls, ends);
}

/**
 * Goes along all pulls at once, step by step, each measured at the pose that was reached. What comes to an end stays
 * there, and the rest goes on.
 */
function pullTogether(
  model: MechanismModel,
  q: Positions,
  pullsAt: () => readonly Pull[],
  more: readonly DragEnd[] = [],
): void {
  const equations = new Equations(model);
  const { size, scale, units, tiedRows } = model;
  const ends: readonly DragEnd[] = [...model.stops, ...more];
  const tied = Array.from({ length: tiedRows }, (_, i) => i);
  /** Ends that are stood at: their joints move no further. */
  const stood = new Set<DragEnd>();
  for (let turn = 0; turn < 12; turn++) {
    const pulls = pullsAt();
    if (Math.hypot(...pulls.map(({ gap }) => gap / scale)) < 1e-6) return;
    equations.jacobian(q);
    const { nullSpace } = analyseRank(equations.denseRows([...tied, ...[...stood].map(({ row }) => row)]));
    if (nullSpace.length === 0) return;
    // In the space of free motions (scaled), least squares of the pull with a little unwillingness.
    const along = pulls.map(({ slopes }) =>
      nullSpace.map((n) => {
        let sum = 0;
        for (let j = 0; j < size; j++) sum += slopes[j]! * units[j]! * n[j]!;
        return sum / scale;
      }),
    );
    const k = nullSpace.length;
    const amounts = new Float64Array(k);
    // A few sweeps of coordinate descent suffice for the handful of freedoms a mechanism has.
    const gram = (a: number, b: number) => {
      let sum = 0;
      for (let j = 0; j < size; j++) sum += nullSpace[a]![j]! * nullSpace[b]![j]!;
      return sum + PULL * along.reduce((all, j) => all + j[a]! * j[b]!, 0);
    };
    const matrix = Array.from({ length: k }, (_, a) => Array.from({ length: k }, (__, b) => gram(a, b)));
    for (let sweep = 0; sweep < 60; sweep++)
      for (let a = 0; a < k; a++) {
        let right = PULL * along.reduce((all, j, i) => all + (j[a]! * pulls[i]!.gap) / scale, 0);
        for (let b = 0; b < k; b++) if (b !== a) right -= matrix[a]![b]! * amounts[b]!;
        amounts[a] = right / matrix[a]![a]!;
      }
    let most = 0;
    const step = ratesOf(model);
    for (let j = 0; j < size; j++) {
      for (let a = 0; a < k; a++) step[j] = step[j]! + amounts[a]! * nullSpace[a]![j]!;
      most = Math.max(most, Math.abs(step[j]!));
    }
    if (most < 1e-7) return;
    const whole = Math.min(1, 0.12 / most);
    let moved = false;
    let passed: readonly DragEnd[] = [];
    // Short of an end, or of a pose that does not close, a part of the step may still do.
    for (let share = whole; share > whole / 400 && !moved; share /= 3) {
      const trial = copyOf(q);
      retract(model, q, step, trial, share, units);
      if (!close(equations, trial, tied, null).closed) continue;
      passed = ends.filter((end) => goesBeyond(end, q, trial));
      moved = passed.length === 0;
      if (moved) q.set(trial);
    }
    if (moved) continue;
    const met = passed.filter((end) => !stood.has(end));
    if (met.length === 0) return;
    met.forEach((end) => stood.add(end));
  }
}

/** Whether a joint goes beyond an end farther than it is already. */
function goesBeyond({ coordinate, min, max }: DragEnd, before: Positions, after: Positions): boolean {
  const [was, is] = [coordinate.value(before), coordinate.value(after)];
  return (max !== null && is > max && is > was) || (min !== null && is < min && is < was);
}
