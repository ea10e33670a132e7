import {
  ratesOf,
  type MotionSystem,
  type Coordinate,
  type MechanismModel,
  type Positions,
  type Rates,
} from '../mechanism';
import { dense, solveSemidefinite, type Dense } from '../numeric';

/** A unit push along the position of a joint, and what the mechanism answers to it at its present pose. */
export class JointPush {
  /** What the push does: accelerations (or velocities, of an impulse) by unknown, the ground's zeros behind them. */
  readonly answer: Rates;
  /** Multipliers that go with it. */
  readonly lambda: Float64Array;
  private readonly gradient: Float64Array;
  private readonly push: Float64Array;

  constructor(
    readonly coordinate: Coordinate,
    model: MechanismModel,
  ) {
    this.gradient = new Float64Array(coordinate.columns.length);
    this.push = new Float64Array(model.size);
    this.answer = ratesOf(model);
    this.lambda = new Float64Array(model.rows);
  }

  /** Finds the answer at a pose for which the equations of motion are factored. */
  ask(q: Positions, motion: MotionSystem): void {
    const { coordinate, gradient, push } = this;
    coordinate.gradient(q, gradient);
    push.fill(0);
    coordinate.columns.forEach((column, i) => {
      if (column < push.length) push[column] = push[column]! + gradient[i]!;
    });
    motion.solve(push, null, this.answer, this.lambda);
  }

  /** Part of velocities or accelerations along the joint, at the pose last asked at. */
  along(vector: Rates): number {
    let sum = 0;
    this.coordinate.columns.forEach((column, i) => (sum += this.gradient[i]! * vector[column]!));
    return sum;
  }
}

/** What each of several pushes does along each: symmetric, and singular where joints move only together. */
export function answersOf(pushes: readonly JointPush[], out: Dense = dense(pushes.length, pushes.length)): Dense {
  const n = pushes.length;
  pushes.forEach((one, i) => {
    for (let j = 0; j <= i; j++) out.data[i * n + j] = out.data[j * n + i] = one.along(pushes[j]!.answer);
  });
  return out;
}

/**
 * Gives joints velocities by the least impulses: changes `v`, whose constraints stay met.
 * @param pushes asked at the pose of `v`
 */
export function impel(pushes: readonly JointPush[], wanted: readonly number[], v: Rates): void {
  if (pushes.length === 0) return;
  const changes = pushes.map((push, i) => wanted[i]! - push.along(v));
  const impulses = solveSemidefinite(answersOf(pushes), changes);
  pushes.forEach(({ answer }, i) => {
    for (let j = 0; j < answer.length - 3; j++) v[j] = v[j]! + impulses[i]! * answer[j]!;
  });
}
