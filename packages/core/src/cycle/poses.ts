import { ForwardDynamics, ForwardError, InverseDynamics } from '../dynamics';
import type { Place2 } from '../geometry';
import type { Machine } from '../machine';
import { framePose, Kinematics } from '../mechanism';
import type { AxisReader, MechanismSystem } from '../run';

/** Poses of bodies, written once: as quick to make anew as a list. */
class PoseTable {
  /** @param rows where each body stands in the list */
  constructor(
    private readonly rows: ReadonlyMap<string, number>,
    readonly list: readonly Place2[],
  ) {}

  get(body: string): Place2 | undefined {
    const row = this.rows.get(body);
    return row === undefined ? undefined : this.list[row];
  }
}

/** The mechanism while a cycle is simulated: where its bodies are, and what it asks of the axes. */
export class MechanismPoses {
  /** Poses of the frames of all bodies at the time last moved to; another table as soon as one of them moves. */
  poses: PoseTable;
  private readonly kinematics: Kinematics | null = null;
  private forward: ForwardDynamics | null = null;
  /** A mechanism of its own for questions, so that they do not move the one that runs. */
  private probe: { kinematics: Kinematics; inverse: InverseDynamics } | null = null;
  private readonly rows: ReadonlyMap<string, number>;
  private readonly leading;
  private readonly led;
  /** State of the poses that were kept last. */
  private kept: Float64Array | null = null;

  /** @param system null where the machine has no mechanism */
  constructor(
    machine: Machine,
    private readonly system: MechanismSystem | null,
    read: AxisReader,
  ) {
    const { bodies } = machine.mechanism;
    this.rows = new Map(bodies.map(({ id }, row) => [id, row]));
    this.poses = new PoseTable(
      this.rows,
      bodies.map(({ pose }) => pose),
    );
    const drives = system?.model?.drives.length ?? 0;
    const zeros = () => new Float64Array(drives);
    this.led = { position: zeros(), rate: zeros(), change: zeros() };
    this.leading = system?.leading(read) ?? (() => undefined);
    if (!system?.model || !system.runs) return;
    const { model, mobility, efforts, assembled } = system;
    if (system.isFree) {
      this.leading(0, this.led);
      const start = system.startAt(Array.from(this.led.position));
      if (!(start instanceof Float64Array)) system.failure = start;
      else
        this.guarded(() => {
          this.forward = new ForwardDynamics(model, start, mobility!.rows, efforts, this.leading, system.acts);
        });
    } else this.kinematics = new Kinematics(model, assembled, mobility!.rows);
    this.keep();
  }

  /** From when on what is switched at a time acts, s: a mechanism that forces move has gone to the end of its step already. */
  actsFrom(time: number): number {
    return Math.max(time, this.forward?.time ?? time);
  }

  /** Axes that move bodies of the mechanism. */
  get driven(): readonly string[] {
    return this.system?.model?.drives.map(({ axisId }) => axisId) ?? [];
  }

  /** Whether freedoms are left: parts then move the mechanism as it moves them. */
  get isFree(): boolean {
    return this.forward !== null;
  }

  private keep(): void {
    const state = this.kinematics?.state ?? this.forward?.state;
    const model = this.system?.model;
    if (!state || !model) return;
    const { q } = state;
    this.kept ??= new Float64Array(q.length).fill(NaN);
    const { kept } = this;
    let poses: Place2[] | null = null;
    for (const body of model.bodies) {
      const { base } = body;
      // What stands keeps its very pose, so that others know it by that.
      if (q[base] === kept[base] && q[base + 1] === kept[base + 1] && q[base + 2] === kept[base + 2]) continue;
      poses ??= [...this.poses.list];
      poses[this.rows.get(body.id)!] = framePose(body, q);
    }
    if (!poses) return;
    this.poses = new PoseTable(this.rows, poses);
    kept.set(q);
  }

  /** Carries out what may fail in a free mechanism; the failure is kept. */
  private guarded(run: () => void): boolean {
    try {
      run();
      return true;
    } catch (error) {
      if (!(error instanceof ForwardError)) throw error;
      this.system!.failure = { code: error.reason, severity: 'error', time: error.time };
      return false;
    }
  }

  /**
   * Moves the mechanism to a time.
   * @returns false where it cannot follow its axes, or cannot move at all; the system then knows why
   */
  moveTo(time: number): boolean {
    const { system, forward, kinematics } = this;
    if (!system) return true;
    if (forward) {
      const moved = this.guarded(() => forward.advance(time));
      this.keep();
      return moved;
    }
    if (!kinematics) return false;
    this.leading(time, this.led);
    if (kinematics.follow(this.led.position) < 1) return false;
    this.keep();
    return true;
  }

  /**
   * Effort in N or N·m that an axis gives its mechanism at a time near that last moved to, along its positive
   * direction, the forces of parts among it. Moves nothing.
   */
  effortAt(axisId: string, time: number): number {
    const { system, forward } = this;
    const i = system?.model?.drives.findIndex((drive) => drive.axisId === axisId) ?? -1;
    if (!system?.model || i < 0) return 0;
    const { row } = system.model.drives[i]!;
    if (forward) return -system.signs[i]! * forward.lambda[row]!;
    if (!this.kinematics) return 0;
    if (!this.probe) {
      const kinematics = new Kinematics(system.model, this.kinematics.state.q, system.mobility!.rows);
      this.probe = { kinematics, inverse: new InverseDynamics(kinematics, system.efforts) };
    }
    const { kinematics, inverse } = this.probe;
    this.leading(time, this.led);
    if (kinematics.moveTo(this.led.position) < 1 || !kinematics.derive(this.led.rate, this.led.change)) return 0;
    inverse.solve(time);
    return -system.signs[i]! * inverse.lambda[row]!;
  }

  /** Where the centre of mass of a body is in the world, m. */
  spaceCentreOf(body: string): [number, number, number] {
    const state = this.kinematics?.state ?? this.forward?.state;
    const tree = this.system?.model?.tree;
    const place = tree?.bodies.findIndex(({ id }) => id === body) ?? -1;
    if (!state || !tree || place < 0) return [0, 0, 0];
    tree.pose(state.q);
    return [tree.at[3 * place]!, tree.at[3 * place + 1]!, tree.at[3 * place + 2]!];
  }

  /** Where the centre of mass of a body is in its plane, m. */
  centreOf(body: string): readonly [number, number] {
    const state = this.kinematics?.state ?? this.forward?.state;
    const base = this.system?.model?.bodies.find(({ id }) => id === body)?.base;
    return state && base !== undefined ? [state.q[base]!, state.q[base + 1]!] : [0, 0];
  }
}
