import {
  BorderedSystem,
  CarriedSystem,
  mobilityAt,
  type Equations,
  type MechanismModel,
  type MotionSystem,
  type Positions,
} from '../mechanism';
import { ForwardError } from './forward-error';
import type { Resting } from './stops';

/** Chosen equations whose smallest pivot has shrunk to this share of what it was are chosen anew. */
const WANING = 0.02;

/** Equations of motion while the same stops are stood at, and those that bring a pose onto the constraints. */
export interface FreeSystem {
  motion: MotionSystem;
  pose: MotionSystem;
  rows: readonly number[];
  /** Smallest pivots when the equations were chosen; 0 before they were first factored. */
  sound: { motion: number; pose: number };
}

/**
 * Systems of a mechanism with freedoms left, by the stops that are stood at. Where equations say things twice (a ball
 * in a loop of parallel planes), those that count are chosen anew before they become dependent on the way.
 */
export class FreeSystems {
  private readonly known = new Map<string, FreeSystem>();

  /** @param equations hold the Jacobian of the pose that is factored; @param rows independent ones to begin with */
  constructor(
    private readonly model: MechanismModel,
    private readonly equations: Equations,
    private rows: readonly number[],
  ) {}

  /** The system while these stops are stood at. */
  of(resting: readonly Resting[]): FreeSystem {
    const key = resting.map(({ stop, side }) => `${stop.row}:${side}`).join();
    const known = this.known.get(key);
    if (known) return known;
    const rows = [...this.rows, ...resting.map(({ stop }) => stop.row)];
    const { units, inertia, tree } = this.model;
    const comparable = units.map((unit) => 1 / unit ** 2);
    const made: FreeSystem = {
      rows,
      motion: tree.carries.some(Boolean)
        ? new CarriedSystem(this.model, tree, rows)
        : new BorderedSystem(this.model, rows, inertia),
      pose: new BorderedSystem(this.model, rows, comparable),
      sound: { motion: 0, pose: 0 },
    };
    this.known.set(key, made);
    return made;
  }

  /**
   * One of the systems, factored at a pose for which the equations hold the Jacobian.
   * @param time in s, for what is told
   * @param weigh counts the masses, before they are factored
   * @throws ForwardError at a singular pose
   */
  factored(
    which: 'motion' | 'pose',
    resting: readonly Resting[],
    q: Positions,
    time: number,
    weigh?: (motion: MotionSystem) => void,
  ): MotionSystem {
    const { model, equations } = this;
    const system = this.of(resting);
    const own = system[which];
    weigh?.(own);
    const isFactored = own.factor(equations.values, q);
    if (model.driveEnd > this.rows.length) {
      const weakest = isFactored ? own.weakest() : 0;
      const isWaning = weakest < WANING * system.sound[which];
      if (system.sound[which] === 0 || isWaning) system.sound[which] = weakest;
      if ((!isFactored || isWaning) && this.chooseAnew(q)) return this.factored(which, resting, q, time, weigh);
    }
    if (!isFactored) throw new ForwardError(time, 'singular');
    return own;
  }

  /** Chooses at a pose which of the equations that say things twice are counted; false where it stays as it is. */
  private chooseAnew(q: Positions): boolean {
    const { rows } = mobilityAt(this.model, q);
    if (rows.length !== this.rows.length || rows.every((row) => this.rows.includes(row))) return false;
    this.rows = rows;
    this.known.clear();
    return true;
  }
}
