import {
  BorderedSystem,
  CarriedSystem,
  chosenAnew,
  isWaning,
  type Equations,
  type MechanismModel,
  type MotionSystem,
  type Positions,
  type Soundness,
} from '../mechanism';
import { ForwardError } from './forward-error';
import type { Resting } from './stops';

/** Equations of motion while the same stops are stood at, and those that bring a pose onto the constraints. */
export interface FreeSystem {
  motion: MotionSystem;
  pose: MotionSystem;
  rows: readonly number[];
  soundness: { motion: Soundness; pose: Soundness };
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
      soundness: { motion: { sound: 0 }, pose: { sound: 0 } },
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
      const wanes = isWaning(system.soundness[which], isFactored ? own.weakest() : 0);
      if ((!isFactored || wanes) && this.chooseAnew(q)) return this.factored(which, resting, q, time, weigh);
    }
    if (!isFactored) throw new ForwardError(time, 'singular');
    return own;
  }

  /** Chooses at a pose which of the equations that say things twice are counted; false where it stays as it is. */
  private chooseAnew(q: Positions): boolean {
    const rows = chosenAnew(this.model, q, this.rows);
    if (!rows) return false;
    this.rows = rows;
    this.known.clear();
    return true;
  }
}
