import { gravityOf } from '../machine';
import { ratesOf, type Kinematics, type MechanismModel, type Positions, type Rates } from '../mechanism';
import type { Effort, EffortState } from './elements';
import { kineticEnergyInSpace, SpaceForces } from './newton-euler';

/** Efforts of drives and constraint forces at the present pose of a led mechanism. */
export class InverseDynamics {
  /** Multipliers by row: forces (N) or torques (N·m) of the constraints, with Φqᵀ λ on the left of the equation of motion. */
  readonly lambda: Float64Array;
  /** Generalised forces of elements and friction, without the constraints. */
  readonly forces: Float64Array;
  private readonly balance: Float64Array;
  /** The present state, and the same pose at rest, as elements see them. */
  private readonly now: EffortState;
  private readonly still: EffortState;
  private readonly kinematics: Kinematics;
  private readonly efforts: readonly Effort[];
  private readonly space: SpaceForces | null;

  constructor(kinematics: Kinematics, efforts: readonly Effort[]) {
    this.kinematics = kinematics;
    this.efforts = efforts;
    const { model } = kinematics;
    this.lambda = new Float64Array(model.rows);
    this.forces = new Float64Array(model.size);
    this.space = model.space && new SpaceForces(model.space, gravityOf(model.mechanism));
    this.balance = new Float64Array(model.size);
    const rest = ratesOf(model);
    this.now = { q: kinematics.state.q, v: kinematics.state.v, a: kinematics.state.a, time: 0 };
    this.still = { q: kinematics.state.q, v: rest, time: 0, resting: true };
  }

  /** Solves Φqᵀ λ = Q − M a (Haug; Nikravesh: inverse dynamics by Lagrange multipliers); after the pose is derived. */
  solve(time: number): void {
    const { model, state } = this.kinematics;
    this.forces.fill(0);
    this.now.time = time;
    for (const effort of this.efforts) effort.apply(this.now, this.forces);
    if (this.space) {
      this.balance.set(this.forces);
      this.space.takeMoving(state.q, state.v, state.a, this.balance);
    } else for (let j = 0; j < model.size; j++) this.balance[j] = this.forces[j]! - model.inertia[j]! * state.a[j]!;
    this.kinematics.solveTransposed(this.balance, this.lambda);
  }

  /** Multipliers that would hold the mechanism at rest at this pose: what stands in `out` are forces of gravity, springs and loads alone. */
  hold(time: number, out: Float64Array): void {
    this.forces.fill(0);
    this.still.time = time;
    for (const effort of this.efforts)
      if (effort.kind !== 'friction' && effort.kind !== 'damper') effort.apply(this.still, this.forces);
    this.space?.takeResting(this.still.q, this.forces);
    this.kinematics.solveTransposed(this.forces, out);
  }
}

/** Kinetic energy in J of a mechanism at a state with these rates. */
export function kineticEnergy(model: MechanismModel, q: Positions, v: Rates): number {
  if (model.space) return kineticEnergyInSpace(model.space, q, v);
  let sum = 0;
  for (let j = 0; j < model.size; j++) sum += model.inertia[j]! * v[j]! * v[j]!;
  return sum / 2;
}
