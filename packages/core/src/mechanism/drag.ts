import type { MechanismModel } from './model';
import { analyseRank } from '../numeric';
import { close, Equations } from './solver';
import { armX, armY, copyOf, ratesOf, retract, type Positions } from './state';

/** How strongly the hand pulls against the unwillingness of everything else to move. */
const PULL = 400;

/**
 * Pulls a point of a body towards a place, within what joints, couplings and stops allow; drives let go.
 * @param q a pose that closes; changed in place
 * @param grip where the hand holds the body, seen from its centre of mass
 */
export function dragTowards(
  model: MechanismModel,
  q: Positions,
  grip: { base: number; x: number; y: number },
  target: readonly [number, number],
): void {
  const equations = new Equations(model);
  const { size, scale, units, tiedRows } = model;
  for (let turn = 0; turn < 12; turn++) {
    const dx = (target[0] - q[grip.base]! - armX(q, grip)) / scale;
    const dy = (target[1] - q[grip.base + 1]! - armY(q, grip)) / scale;
    if (Math.hypot(dx, dy) < 1e-6) return;
    equations.jacobian(q);
    const { nullSpace } = analyseRank(equations.denseJacobian(tiedRows));
    if (nullSpace.length === 0) return;
    // In the space of free motions (scaled), least squares of the pull with a little unwillingness.
    const jx = nullSpace.map((n) => n[grip.base]! - (armY(q, grip) / scale) * n[grip.base + 2]!);
    const jy = nullSpace.map((n) => n[grip.base + 1]! + (armX(q, grip) / scale) * n[grip.base + 2]!);
    const k = nullSpace.length;
    const amounts = new Float64Array(k);
    // A few sweeps of coordinate descent suffice for the handful of freedoms a mechanism has.
    const gram = (a: number, b: number) => {
      let sum = 0;
      for (let j = 0; j < size; j++) sum += nullSpace[a]![j]! * nullSpace[b]![j]!;
      return sum + PULL * (jx[a]! * jx[b]! + jy[a]! * jy[b]!);
    };
    const matrix = Array.from({ length: k }, (_, a) => Array.from({ length: k }, (__, b) => gram(a, b)));
    for (let sweep = 0; sweep < 60; sweep++)
      for (let a = 0; a < k; a++) {
        let right = PULL * (jx[a]! * dx + jy[a]! * dy);
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
