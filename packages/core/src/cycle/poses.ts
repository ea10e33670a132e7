import { compileEfforts, ForwardDynamics, InverseDynamics, type Effort } from '../dynamics';
import type { Place2 } from '../geometry';
import type { Machine } from '../machine';
import { framePoses, Kinematics, leadPose, type MechanismModel } from '../mechanism';
import type { MotionState } from '../motion';
import { hasMechanism, prepareMechanism, type MechanismFinding } from '../run';

/** Reads the state of an axis at a time. */
export type AxisReader = (axisId: string, time: number) => MotionState;

/** The mechanism during a run: where its bodies are, and what a push on them asks of the axes. */
export class MechanismPoses {
  /** Poses of the frames of all bodies at the time last asked for. */
  readonly poses = new Map<string, Place2>();
  readonly findings: readonly MechanismFinding[];
  private readonly model: MechanismModel | null = null;
  private readonly kinematics: Kinematics | null = null;
  private readonly forward: ForwardDynamics | null = null;
  private readonly inverse: InverseDynamics | null = null;
  private readonly efforts: readonly Effort[] = [];
  private readonly to: Float64Array;
  private readonly rates: Float64Array;
  private readonly changes: Float64Array;
  private readonly forces: Float64Array;
  private readonly lambda: Float64Array;
  private readonly signs: number[] = [];
  private lastTime = 0;

  constructor(
    machine: Machine,
    private readonly read: AxisReader,
    cycleTime: number,
  ) {
    const prepared = hasMechanism(machine) ? prepareMechanism(machine) : null;
    this.findings = prepared?.findings ?? [];
    const model = prepared && 'model' in prepared && prepared.runs ? prepared.model : null;
    const drives = model?.drives.length ?? 0;
    this.to = new Float64Array(drives);
    this.rates = new Float64Array(drives);
    this.changes = new Float64Array(drives);
    this.forces = new Float64Array(model?.size ?? 0);
    this.lambda = new Float64Array(model?.rows ?? 0);
    for (const { id, pose } of machine.mechanism.bodies) this.poses.set(id, pose);
    if (!model || !prepared || !('model' in prepared)) return;
    this.model = model;
    this.signs = model.drives.map(({ axisId }) => (machine.axes.find(({ id }) => id === axisId)!.reversed ? -1 : 1));
    this.efforts = compileEfforts(model, cycleTime);
    const { mobility, q } = prepared;
    if (mobility.remaining > 0) {
      const start = Float64Array.from(q);
      this.readAxes(0);
      if (leadPose(model, start, mobility.rows, Array.from(this.to)) === 1)
        this.forward = new ForwardDynamics(model, start, mobility.rows, this.efforts, (time, out) => {
          this.readAxes(time);
          out.position.set(this.to);
          out.rate.set(this.rates);
          out.change.set(this.changes);
        });
    } else {
      this.kinematics = new Kinematics(model, q, mobility.rows);
      this.inverse = new InverseDynamics(this.kinematics, this.efforts);
    }
    this.keep();
  }

  /** Axes that move bodies of the mechanism. */
  get driven(): readonly string[] {
    return this.model?.drives.map(({ axisId }) => axisId) ?? [];
  }

  private readAxes(time: number): void {
    this.model!.drives.forEach(({ axisId }, i) => {
      const { position, velocity, acceleration } = this.read(axisId, time);
      const sign = this.signs[i]!;
      this.to[i] = sign * position;
      this.rates[i] = sign * velocity;
      this.changes[i] = sign * acceleration;
    });
  }

  private keep(): void {
    const state = this.kinematics?.state ?? this.forward?.state;
    if (!state || !this.model) return;
    const places = framePoses(this.model.bodies, state.q);
    this.model.bodies.forEach(({ id }, i) => this.poses.set(id, places[i]!));
  }

  /**
   * Moves the mechanism to a time.
   * @returns false where it cannot follow its axes
   */
  moveTo(time: number): boolean {
    if (this.forward) {
      this.forward.advance(time);
      this.keep();
      return true;
    }
    if (!this.kinematics) return true;
    this.readAxes(time);
    const { model } = this.kinematics;
    if (
      time > 0 &&
      model.drives.every(
        ({ coordinate }, i) => Math.abs(coordinate.value(this.kinematics!.state.q) - this.to[i]!) < 1e-12,
      )
    )
      return true;
    const ahead = time - this.lastTime;
    const reached = this.kinematics.moveTo(this.to, ahead > 0 && ahead < 0.01 ? ahead : 0);
    this.lastTime = time;
    if (reached < 1) return false;
    this.kinematics.derive(this.rates, this.changes);
    this.keep();
    return true;
  }

  /** Effort in N or N·m that an axis gives its mechanism at a time, along its positive direction; without pushes of parts. */
  effortAt(axisId: string, time: number): number {
    const { kinematics, inverse } = this;
    if (!kinematics || !inverse) return 0;
    const i = kinematics.model.drives.findIndex((drive) => drive.axisId === axisId);
    if (i < 0) return 0;
    this.readAxes(time);
    this.lastTime = time;
    if (kinematics.moveTo(this.to) < 1 || !kinematics.derive(this.rates, this.changes)) return 0;
    inverse.solve(time);
    return -this.signs[i]! * inverse.lambda[kinematics.model.drives[i]!.row]!;
  }

  /**
   * What forces on bodies do along the positive direction of each axis (virtual work), N or N·m, for the present pose.
   * @param pushOn force (N) and moment about the origin of the world (N·m) on a body
   */
  alongAxes(
    bodies: readonly string[],
    pushOn: (body: string) => { fx: number; fy: number; moment: number },
  ): Map<string, number> {
    const sums = new Map<string, number>();
    const { kinematics } = this;
    if (!kinematics) return sums;
    const { model, state } = kinematics;
    const pushes = bodies.flatMap((id) => {
      const push = pushOn(id);
      return push.fx === 0 && push.fy === 0 && push.moment === 0 ? [] : [{ id, push }];
    });
    if (pushes.length === 0) return sums;
    // Work on a unit of each drive is the transposed of how bodies follow it: one solve serves all drives.
    this.forces.fill(0);
    for (const { id, push } of pushes) {
      const { base } = model.bodies.find((body) => body.id === id)!;
      const [x, y] = [state.q[base]!, state.q[base + 1]!];
      this.forces[base]! += push.fx;
      this.forces[base + 1]! += push.fy;
      this.forces[base + 2]! += push.moment - (x * push.fy - y * push.fx);
    }
    kinematics.system.solveTransposed(this.forces, this.lambda);
    this.model!.drives.forEach(({ axisId, row }, i) => sums.set(axisId, this.signs[i]! * this.lambda[row]!));
    return sums;
  }
}
