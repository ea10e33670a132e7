import { bodyOutline, bodyPieces } from '../contact';
import { placed, shapeDistance, type Place2, type RoundShape } from '../geometry';
import { GROUND, type Machine, type Monitor } from '../machine';
import { poseIn, type StepPoses } from './sensing';

/** Clearance of two bodies over a run. */
export interface ClearanceCurve {
  monitor: string;
  times: Float64Array;
  /** m; 0 or less where they touch or overlap. */
  clearance: Float64Array;
  least: { time: number; clearance: number };
  /** When the clearance first fell below what is wanted; null where it never did. */
  violated: number | null;
}

/** Shapes that a body carries, where it last stood. */
class Carried {
  private pose: Place2 | null = null;
  private shapes: RoundShape[] = [];

  constructor(private readonly own: readonly RoundShape[]) {}

  at(pose: Place2): readonly RoundShape[] {
    if (pose !== this.pose) this.shapes = this.own.map((shape) => placed(shape, pose));
    this.pose = pose;
    return this.shapes;
  }
}

/** Watches the clearance of two bodies during a run. */
export class ClearanceWatch {
  private readonly a: Carried;
  private readonly b: Carried;
  private readonly times: number[] = [];
  private readonly values: number[] = [];
  private least = { time: 0, clearance: Infinity };
  private violatedAt: number | null = null;
  /** Poses at which the clearance was last found. */
  private lastAt: readonly [Place2, Place2] | null = null;

  constructor(
    readonly monitor: Monitor,
    machine: Machine,
  ) {
    this.a = new Carried(shapesOf(machine, monitor.a, monitor.shapes));
    this.b = new Carried(shapesOf(machine, monitor.b, monitor.shapes));
  }

  private clearance(poses: StepPoses, share: number): number {
    const [here, there] = [
      this.a.at(poseIn(poses, this.monitor.a, share)),
      this.b.at(poseIn(poses, this.monitor.b, share)),
    ];
    let least = Infinity;
    for (const one of here) for (const other of there) least = Math.min(least, shapeDistance(one, other));
    return least;
  }

  private fails(clearance: number): boolean {
    return this.monitor.least > 0 ? clearance < this.monitor.least : clearance < 0;
  }

  /**
   * Looks at a step.
   * @returns the time in s at which the clearance fell below what is wanted, in this step for the first time
   */
  look(poses: StepPoses, from: number, to: number): number | null {
    const { a, b } = this.monitor;
    const at = [poseIn(poses, a, 1), poseIn(poses, b, 1)] as const;
    const stands = this.lastAt !== null && this.lastAt[0] === at[0] && this.lastAt[1] === at[1];
    const value = stands ? this.values.at(-1)! : this.clearance(poses, 1);
    this.lastAt = at;
    if (!Number.isFinite(value)) return null;
    this.times.push(to);
    this.values.push(value);
    if (value < this.least.clearance) this.least = { time: to, clearance: value };
    if (this.violatedAt !== null || !this.fails(value)) return null;
    let low = 0;
    let high = 1;
    for (let i = 0; i < 30; i++) {
      const middle = (low + high) / 2;
      if (this.fails(this.clearance(poses, middle))) high = middle;
      else low = middle;
    }
    this.violatedAt = from + high * (to - from);
    return this.violatedAt;
  }

  curve(): ClearanceCurve {
    return {
      monitor: this.monitor.id,
      times: Float64Array.from(this.times),
      clearance: Float64Array.from(this.values),
      least: this.least,
      violated: this.violatedAt,
    };
  }
}

function shapesOf(machine: Machine, id: string, shapes: Monitor['shapes']): RoundShape[] {
  if (id === GROUND)
    return machine.loose.surfaces
      .filter(({ body }) => body === GROUND)
      .flatMap(({ line }) => line.slice(1).map((to, i) => ({ corners: [line[i]!, to], radius: 0 })));
  const body = machine.mechanism.bodies.find((b) => b.id === id);
  if (!body) return [];
  return shapes === 'exact' ? [bodyOutline(body)] : bodyPieces(body, 'hull');
}
