import type { MechanismModel } from './model';
import { analyseRank } from '../numeric';
import type { SpacePoint } from './planes';
import { close, Equations } from './solver';
import { SpacePair } from './space-joints';
import { SpaceMotion } from './space-motion';
import { armX, armY, copyOf, ratesOf, retract, type Positions } from './state';

/** How strongly the hand pulls against the unwillingness of everything else to move. */
const PULL = 400;

/** One direction in which a hand pulls: how far there is to go (m), and how far each unknown takes it (m, or m/rad). */
interface Pull {
  gap: number;
  slopes: Float64Array;
}

/**
 * Pulls a point of a body towards a place in its plane, within what joints, couplings and stops allow; drives let go.
 * @param q a pose that closes; changed in place
 * @param grip where the hand holds the body, seen from its centre of mass
 */
export function dragTowards(
  model: MechanismModel,
  q: Positions,
  grip: { base: number; x: number; y: number },
  target: readonly [number, number],
): void {
  const [x, y] = [new Float64Array(model.size), new Float64Array(model.size)];
  pullTogether(model, q, () => {
    x[grip.base] = y[grip.base + 1] = 1;
    x[grip.base + 2] = -armY(q, grip);
    y[grip.base + 2] = armX(q, grip);
    return [
      { gap: target[0] - q[grip.base]! - armX(q, grip), slopes: x },
      { gap: target[1] - q[grip.base + 1]! - armY(q, grip), slopes: y },
    ];
  });
}

/**
 * Pulls a point in space along directions of the world, as {@link dragTowards} does within a plane.
 * @param point where the hand holds a body
 * @param target where it shall go, m
 * @param directions unit vectors that count: two of a picture, so that the depth of it is free, or all three
 */
export function dragInSpace(
  model: MechanismModel,
  q: Positions,
  point: SpacePoint,
  target: readonly [number, number, number],
  directions: readonly (readonly [number, number, number])[],
): void {
  const { tree, size } = model;
  const ground: SpacePoint = { body: -1, plane: 0, local: [0, 0, 0], chain: [] };
  const pair = new SpacePair(tree, new SpaceMotion(tree), ground, point);
  const gradient = new Float64Array(pair.columns.length);
  const slopes = directions.map(() => new Float64Array(size));
  pullTogether(model, q, () => {
    pair.place(q);
    return directions.map(([ux, uy, uz], i) => {
      pair.along(ux, uy, uz, gradient);
      pair.columns.forEach((column, k) => (slopes[i]![column] = gradient[k]!));
      const [dx, dy, dz] = target.map((part, k) => part - pair.atB[k]!) as [number, number, number];
      return { gap: ux * dx + uy * dy + uz * dz, slopes: slopes[i]! };
    });
  });
}

/** Goes along all pulls at once, step by step, each measured at the pose that was reached. */
function pullTogether(model: MechanismModel, q: Positions, pullsAt: () => readonly Pull[]): void {
  const equations = new Equations(model);
  const { size, scale, units, tiedRows } = model;
  for (let turn = 0; turn < 12; turn++) {
    const pulls = pullsAt();
    if (Math.hypot(...pulls.map(({ gap }) => gap / scale)) < 1e-6) return;
    equations.jacobian(q);
    const { nullSpace } = analyseRank(equations.denseJacobian(tiedRows));
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
    const rows = Array.from({ length: tiedRows }, (_, i) => i);
    const whole = Math.min(1, 0.12 / most);
    let moved = false;
    // Short of a stop, or of a pose that does not close, a part of the step may still do.
    for (let share = whole; share > whole / 40 && !moved; share /= 3) {
      const trial = copyOf(q);
      retract(model, q, step, trial, share, units);
      moved = close(equations, trial, rows, null).closed && withinStops(model, q, trial);
      if (moved) q.set(trial);
    }
    if (!moved) return;
  }
}

/** Whether no joint goes beyond a stop farther than it is already. */
function withinStops(model: MechanismModel, before: Positions, after: Positions): boolean {
  return model.stops.every(({ coordinate, min, max }) => {
    const [was, is] = [coordinate.value(before), coordinate.value(after)];
    return !((max !== null && is > max && is > was) || (min !== null && is < min && is < was));
  });
}
