import { bodyOutline, bodyPieces } from '../contact';
import { placed, shapeDistance, type Place2, type RoundShape } from '../geometry';
import { GROUND, type Machine, type Monitor, type AxisSpacing } from '../machine';
import { interpolate } from '../numeric';
import { poseIn } from './flat-sight';
import type { StepPoses } from './sight';

/** What is watched: two bodies, or two axes on a line. */
export type Watched = Pick<Monitor, 'id' | 'a' | 'b' | 'least' | 'stop'>;

/** Clearance of two bodies, or of two axes on a line, over a run. */
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

/** How far two things are apart. */
export interface Gap {
  /** m, at a share of a step that ends at a time in s; not finite where nothing can be said. */
  at(poses: StepPoses, share: number, time: number): number;
  /** Whether both stand as they stood when this was last asked. */
  stands(poses: StepPoses): boolean;
}

/** The clearance of two bodies. */
export function bodyGap(monitor: Monitor, machine: Machine): Gap {
  const [a, b] = [monitor.a, monitor.b].map((id) => new Carried(shapesOf(machine, id, monitor.shapes))) as [Carried, Carried]; // prettier-ignore
  let lastAt: readonly [Place2, Place2] | null = null;
  return {
    at(poses, share) {
      const here = a.at(poseIn(poses, monitor.a, share));
      const there = b.at(poseIn(poses, monitor.b, share));
      let least = Infinity;
      for (const one of here) for (const other of there) least = Math.min(least, shapeDistance(one, other));
      return least;
    },
    stands(poses) {
      const now = [poseIn(poses, monitor.a, 1), poseIn(poses, monitor.b, 1)] as const;
      const before = lastAt;
      lastAt = now;
      return before !== null && before[0] === now[0] && before[1] === now[1];
    },
  };
}

/** The clear distance of two axes on one line. */
export const axisGap = ({ a, b, apart }: AxisSpacing, positionOf: (axis: string, time: number) => number): Gap => ({
  at: (_poses, _share, time) => apart + positionOf(b, time) - positionOf(a, time),
  stands: () => false,
});

const fails = ({ least }: Watched, clearance: number) => (least > 0 ? clearance < least : clearance < 0);

/** Watches how far two things are apart during a run. */
export class ClearanceWatch {
  private readonly times: number[] = [];
  private readonly values: number[] = [];
  private least = { time: 0, clearance: Infinity };
  private violatedAt: number | null = null;

  constructor(
    readonly monitor: Watched,
    private readonly gap: Gap,
  ) {}

  /**
   * Looks at a step.
   * @returns the time in s at which the clearance fell below what is wanted, in this step for the first time
   */
  look(poses: StepPoses, from: number, to: number): number | null {
    const stands = this.gap.stands(poses) && this.values.length > 0;
    const value = stands ? this.values.at(-1)! : this.gap.at(poses, 1, to);
    if (!Number.isFinite(value)) return null;
    this.times.push(to);
    this.values.push(value);
    if (value < this.least.clearance) this.least = { time: to, clearance: value };
    if (this.violatedAt !== null || !fails(this.monitor, value)) return null;
    let low = 0;
    let high = 1;
    for (let i = 0; i < 30; i++) {
      const middle = (low + high) / 2;
      if (fails(this.monitor, this.gap.at(poses, middle, from + middle * (to - from)))) high = middle;
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

/** All that a machine watches. */
export function watchesOf(machine: Machine, positionOf: (axis: string, time: number) => number): ClearanceWatch[] {
  const { monitors, spacings = [] } = machine.sequence;
  return [
    ...monitors.map((monitor) => new ClearanceWatch(monitor, bodyGap(monitor, machine))),
    ...spacings.map((spacing) => new ClearanceWatch(spacing, axisGap(spacing, positionOf))),
  ];
}

/** Things that are nearer to each other at a time of a run than they may be: bodies, or axes on a line. */
export function tooCloseAt(
  { monitors, spacings = [] }: Machine['sequence'],
  curves: readonly ClearanceCurve[],
  time: number,
): (Watched & { name: string; clearance: number })[] {
  return [...monitors, ...spacings].flatMap((watched) => {
    const curve = curves.find(({ monitor }) => monitor === watched.id);
    if (!curve || curve.violated === null) return [];
    const clearance = interpolate(curve.times, curve.clearance, time);
    return fails(watched, clearance) ? [{ ...watched, clearance }] : [];
  });
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
