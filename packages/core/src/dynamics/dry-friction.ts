import {
  coordinateRate,
  type MotionSystem,
  type MechanismModel,
  type MechanismState,
  type Positions,
  type Rates,
} from '../mechanism';
import { dense, minimiseInBox, type Dense } from '../numeric';
import type { DryFriction, Effort } from './elements';
import { answersOf, impel, JointPush } from './joint-push';

/** What is slower than this (rad/s, or typical lengths a second) where it is looked at may stick. */
const STILL = 1e-10;
/** Accelerations below this share of what the forces alone would give are none. */
const NONE = 1e-9;
/** A joint that moves by less than this share of what it would if nothing held it is led by drives. */
const LED = 1e-10;

/** The dry friction of one joint that is free to move. */
interface Rub {
  dry: DryFriction;
  /** Which way it slips; 0 while it sticks. */
  way: 0 | 1 | -1;
  /** Rates and accelerations below this are none. */
  still: number;
  push: JointPush;
  /** For rates at other poses than the one last asked at. */
  scratch: Float64Array;
}

/**
 * Joints that stick or slip by Coulomb's law in a mechanism that its forces move. What sticks is held by as much
 * friction as that takes, up to the limit; which of several joints slide is decided for all of them at once: of all
 * frictions within their limits those act that leave the least acceleration (Gauss's principle of least constraint).
 */
export class StickSlip {
  private readonly rubs: Rub[] = [];
  private readonly model: MechanismModel;
  private sticking: Rub[] = [];
  private force = new Float64Array();
  private acceleration = new Float64Array();
  private matrix: Dense = dense(0, 0);

  constructor(model: MechanismModel, efforts: readonly Effort[]) {
    this.model = model;
    for (const { dry } of efforts) {
      if (!dry) continue;
      dry.force = null;
      this.rubs.push({
        dry,
        way: 0,
        still: STILL * (dry.coordinate.angular ? 1 : model.scale),
        push: new JointPush(dry.coordinate, model),
        scratch: new Float64Array(dry.coordinate.columns.length),
      });
    }
  }

  /** Whether any joint sticks or slips at all. */
  get any(): boolean {
    return this.rubs.length > 0;
  }

  /** Leaves out joints that drives lead: their friction follows the way they are led. */
  leaveLed(state: MechanismState, motion: MotionSystem): void {
    if (this.model.drives.length === 0) return;
    const { inertia, bodies } = this.model;
    const lightest = (angular: boolean) =>
      Math.min(...bodies.map(({ base }) => inertia[angular ? base + 2 : base]!).filter((m) => m > 0));
    for (const rub of [...this.rubs]) {
      const { push } = rub;
      push.ask(state.q, motion);
      const alone = 1 / lightest(push.coordinate.angular);
      if (!(push.along(push.answer) > LED * alone)) this.rubs.splice(this.rubs.indexOf(rub), 1);
    }
  }

  /** Lets what slips rub, and what sticks be free until {@link hold} holds it; before forces are gathered. */
  loosen(): void {
    for (const { dry, way } of this.rubs) dry.force = -way * dry.coulomb;
  }

  /** Holds what sticks as far as friction can: corrects accelerations and multipliers that were solved without it. */
  hold({ q, v, a }: MechanismState, lambda: Float64Array, motion: MotionSystem): void {
    const { sticking } = this;
    if (sticking.length === 0) return;
    this.gather(q, motion);
    sticking.forEach((rub, i) => {
      this.acceleration[i] = rub.push.along(a) + rub.dry.coordinate.bend(q, v);
    });
    const limits = sticking.map(({ dry }) => dry.coulomb);
    minimiseInBox(this.matrix, this.acceleration, limits, this.force);
    sticking.forEach((rub, i) => {
      const f = this.force[i]!;
      rub.dry.force = f;
      for (let j = 0; j < this.model.size; j++) a[j] = a[j]! + f * rub.push.answer[j]!;
      for (let j = 0; j < this.model.rows; j++) lambda[j] = lambda[j]! + f * rub.push.lambda[j]!;
    });
  }

  /** Takes away what rates are left of what sticks, by the smallest change in the sense of kinetic energy. */
  still(q: Positions, v: Rates, motion: MotionSystem): void {
    const { sticking } = this;
    if (sticking.length === 0) return;
    for (const { push } of sticking) push.ask(q, motion);
    impel(sticking.map(({ push }) => push), sticking.map(() => 0), v); // prettier-ignore
  }

  /** Whether the last {@link hold} could not hold everything: friction was at a limit and something moved off. */
  get givesWay(): boolean {
    return this.sticking.some((_, i) => this.leaving(i) !== 0);
  }

  /** Whether a joint that slips has come to a halt, and would go back, at other velocities. */
  hasHalted(q: Positions, v: Rates): boolean {
    return this.rubs.some((rub) => rub.way !== 0 && rub.way * this.rate(rub, q, v) < -rub.still);
  }

  /** Lets slip what moves, and takes as sticking what stands; {@link part} then tells what of it goes. */
  sort(q: Positions, v: Rates): void {
    for (const rub of this.rubs) {
      const rate = this.rate(rub, q, v);
      rub.way = Math.abs(rate) <= rub.still ? 0 : rate > 0 ? 1 : -1;
    }
    this.restack();
  }

  /** After {@link hold}: lets slip what friction could not hold. */
  part(): void {
    this.sticking.forEach((rub, i) => (rub.way = this.leaving(i)));
    this.restack();
  }

  private restack(): void {
    this.sticking = this.rubs.filter(({ way }) => way === 0);
    const n = this.sticking.length;
    this.force = Float64Array.from(this.sticking, ({ dry }) => dry.force ?? 0);
    this.acceleration = new Float64Array(n);
    this.matrix = dense(n, n);
  }

  /** Which way a joint that sticks moves off; 0 where it is held. */
  private leaving(i: number): 0 | 1 | -1 {
    const n = this.sticking.length;
    const free = this.acceleration[i]!;
    let sum = free;
    let size = Math.abs(free);
    for (let j = 0; j < n; j++) {
      const share = this.matrix.data[i * n + j]! * this.force[j]!;
      sum += share;
      size += Math.abs(share);
    }
    return Math.abs(sum) <= NONE * size ? 0 : sum > 0 ? 1 : -1;
  }

  private gather(q: Positions, motion: MotionSystem): void {
    for (const { push } of this.sticking) push.ask(q, motion);
    answersOf(this.sticking.map(({ push }) => push), this.matrix); // prettier-ignore
  }

  private rate({ dry, scratch }: Rub, q: Positions, v: Rates): number {
    return coordinateRate(dry.coordinate, q, v, scratch);
  }
}
