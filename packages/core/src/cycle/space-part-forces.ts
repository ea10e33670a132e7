import type { SpaceParts, Wrench } from '../contact';
import type { WrenchSchedule } from '../dynamics';
import { dot, type Point3 } from '../geometry';
import { BLOW } from './part-forces';
import type { MechanismPoses } from './poses';

/** Writes a wrench, its moment taken about a point, to six numbers of a knot. */
function addAbout(values: Float64Array, from: number, { force, moment }: Wrench, [x, y, z]: Point3): void {
  const [fx, fy, fz] = force;
  values[from] = values[from]! + fx;
  values[from + 1] = values[from + 1]! + fy;
  values[from + 2] = values[from + 2]! + fz;
  values[from + 3] = values[from + 3]! + moment[0] - (y * fz - z * fy);
  values[from + 4] = values[from + 4]! + moment[1] - (z * fx - x * fz);
  values[from + 5] = values[from + 5]! + moment[2] - (x * fy - y * fx);
}

/** Takes down what loose parts in space do to the bodies of a mechanism, step by step, so that it feels them. */
export class SpacePartForces {
  private readonly resting = new Map<string, Float64Array>();
  private readonly values = new Float64Array(12);

  /**
   * @param world whose parts push
   * @param step length of the contact steps in s
   */
  constructor(
    private readonly world: SpaceParts,
    private readonly mechanism: MechanismPoses,
    private readonly wrenches: WrenchSchedule,
    private readonly step: number,
  ) {}

  /**
   * Takes down what parts did in the last step: a body that is led feels the mean of the step at its middle, one that
   * gives way in the step after the next, as soon as it is known.
   */
  feel(from: number, to: number): void {
    const { world } = this.world;
    for (const { body, push } of world.pushes()) {
      const { values } = this;
      values.fill(0);
      const centre = this.mechanism.spaceCentreOf(body);
      addAbout(values, 0, push.touching, centre);
      this.rest(body, world.gravity);
      addAbout(values, 0, push.held, centre);
      addAbout(values, 6, push.weight, centre);
      this.wrenches.add(body, this.mechanism.isFree ? to + this.step : (from + to) / 2, values);
    }
  }

  /** At rest there would be the weight of what lies on the body: what presses along gravity, without its blows. */
  private rest(body: string, gravity: Point3): void {
    const { values } = this;
    const square = dot(gravity, gravity);
    const force: Point3 = [values[0]!, values[1]!, values[2]!];
    const along = square > 0 ? dot(force, gravity) / square : 0;
    const size = dot(force, force);
    // The same line of action: the moment goes with what is left of the force.
    const share = along > 0 && size > 0 ? (along * along * square) / size : 0;
    let rests = this.resting.get(body);
    if (!rests) this.resting.set(body, (rests = new Float64Array(6)));
    const fade = Math.min(1, this.step / BLOW);
    for (let k = 0; k < 3; k++) {
      const weighs = along > 0 ? along * gravity[k]! : 0;
      rests[k] = rests[k]! + fade * (weighs - rests[k]!);
      rests[3 + k] = rests[3 + k]! + fade * (share * values[3 + k]! - rests[3 + k]!);
    }
    if (size === 0 && rests.every((part) => Math.abs(part) < 1e-9)) rests.fill(0);
    for (let k = 0; k < 6; k++) values[6 + k] = values[6 + k]! + rests[k]!;
  }
}
