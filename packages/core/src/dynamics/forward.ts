import { gravityOf, hasPosition } from '../machine';
import {
  CLOSED,
  coordinateRate,
  copyOf,
  Equations,
  ratesOf,
  retract,
  type MechanismModel,
  type MechanismState,
  type MotionSystem,
  type Positions,
  type Rates,
} from '../mechanism';
import { DormandPrince, type Trial } from './dormand-prince';
import { StickSlip } from './dry-friction';
import { ForwardError } from './forward-error';
import { kineticEnergy } from './inverse';
import { impel, JointPush } from './joint-push';
import type { Effort } from './elements';
import { SpaceForces } from './newton-euler';
import { FreeSystems } from './free-systems';
import { firstStopPassed, stopsActing, type Resting } from './stops';

/** What each drive is led to at a time: position, first and second derivative. */
export type Leading = (time: number, out: { position: Float64Array; rate: Float64Array; change: Float64Array }) => void;

/** Slower than this after a bounce (rad/s, or typical lengths per s), a part comes to rest against its stop. */
const REST = 2e-3;
const TOLERANCE = 1e-9;
/** Steps of a whole run at most: what needs more is too stiff to be followed. */
const MOST_STEPS = 1_000_000;

/** What a step runs into: a stop, a joint that comes to a halt, one that friction no longer holds. */
type Met = Resting | 'halt' | 'slip';

/**
 * Moves a mechanism with freedoms left by its forces: Dormand–Prince with adaptive step on poses and velocities,
 * accelerations from [M Φqᵀ; Φq 0], projection onto the constraints after every step, stops by event.
 */
export class ForwardDynamics {
  readonly model: MechanismModel;
  readonly state: MechanismState;
  readonly lambda: Float64Array;
  readonly equations: Equations;
  /** Energy in J taken out by the bounces so far. */
  bounceLoss = 0;
  time = 0;
  /** Bounces and rests so far. */
  readonly events: { time: number; stop: string; name: string; rate: number; rests: boolean }[] = [];
  private readonly efforts: readonly Effort[];
  private readonly leading: Leading;
  private readonly led: { position: Float64Array; rate: Float64Array; change: Float64Array };
  private readonly forces: Float64Array;
  private readonly right: Float64Array;
  private readonly asked: Float64Array;
  private readonly masses: Float64Array;
  private readonly gradient: Float64Array;
  private readonly space: SpaceForces | null;
  private readonly systems: FreeSystems;
  private resting: Resting[] = [];
  private step = 0;
  private steps = 0;
  private readonly integrator: DormandPrince;
  private readonly friction: StickSlip;

  /** @param acts whether a stop acts at a time in s: cues may switch some */
  constructor(
    model: MechanismModel,
    q: Positions,
    rows: readonly number[],
    efforts: readonly Effort[],
    leading: Leading,
    private readonly acts: (stop: string, time: number) => boolean = () => true,
  ) {
    this.model = model;
    this.efforts = efforts;
    this.leading = leading;
    this.equations = new Equations(model);
    this.systems = new FreeSystems(model, this.equations, rows);
    this.lambda = new Float64Array(model.rows);
    this.forces = new Float64Array(model.size);
    this.right = new Float64Array(model.rows);
    this.asked = new Float64Array(model.rows);
    this.masses = Float64Array.from(model.inertia);
    this.gradient = new Float64Array(model.widest);
    this.space = model.space && new SpaceForces(model.space, gravityOf(model.mechanism));
    const drives = model.drives.length;
    this.led = {
      position: new Float64Array(drives),
      rate: new Float64Array(drives),
      change: new Float64Array(drives),
    };
    this.state = {
      q: copyOf(q),
      v: ratesOf(model),
      a: ratesOf(model),
    };
    this.integrator = new DormandPrince(model.size, model.units, TOLERANCE);
    this.friction = new StickSlip(model, efforts);
    this.projectVelocities();
    this.setOff();
    if (this.friction.any) {
      this.friction.leaveLed(this.state, this.systems.of(this.resting).motion);
      this.settle();
    }
    this.accelerate(this.time, this.state.q, this.state.v, this.state.a);
  }

  /** Moves on to a time in s. @throws ForwardError at a singular pose */
  advance(to: number): void {
    let steps = 0;
    if (this.step === 0) this.step = Math.max(1e-6, (to - this.time) / 4);
    while (this.time < to - 1e-13 * Math.max(1, to)) {
      if (++steps > 20_000 || ++this.steps > MOST_STEPS) throw new ForwardError(this.time, 'stiff');
      const h = Math.min(this.step, to - this.time);
      const trial = this.tryStep(h);
      if (!trial) {
        this.step = h / 4;
        if (this.step < 1e-12) throw new ForwardError(this.time, 'singular');
        continue;
      }
      if (trial.error > 1) {
        this.step = h * Math.max(0.2, 0.9 * trial.error ** -0.2);
        if (this.step < 1e-12) throw new ForwardError(this.time, 'stiff');
        continue;
      }
      const grow = Math.min(5, 0.9 * Math.max(trial.error, 1e-6) ** -0.2);
      if (!this.meet(h, trial)) {
        this.take(trial, h);
        if (h >= this.step || grow < 1) this.step = h * grow;
      }
      this.release();
    }
    this.time = to;
    this.accelerate(this.time, this.state.q, this.state.v, this.state.a);
    // Now that accelerations are known, efforts that go by them tell what they did, and what sticks by how much.
    this.forces.fill(0);
    for (const effort of this.efforts)
      if (effort.along || effort.dry) effort.apply({ ...this.state, time: this.time }, this.forces);
  }

  private accelerate(time: number, q: Positions, v: Rates, a: Rates): void {
    const { equations, model, forces, right } = this;
    equations.jacobian(q);
    equations.accelerations(q, v);
    forces.fill(0);
    this.friction.loosen();
    for (const effort of this.efforts) effort.apply({ q, v, time }, forces);
    this.space?.takeCoasting(q, v, forces);
    this.leading(time, this.led);
    right.set(equations.gamma);
    model.drives.forEach(({ row }, i) => (right[row] = right[row]! + this.led.change[i]!));
    const motion = this.systems.factored('motion', this.resting, q, time, (own) => this.weigh(own));
    motion.solve(forces, right, a, this.lambda);
    this.friction.hold({ q, v, a }, this.lambda, motion);
  }

  /** Gives joints the velocities that the document lets them begin with, as far as drives and constraints leave it. */
  private setOff(): void {
    const begun = this.model.joints.flatMap(({ joint, coordinate }) =>
      coordinate && hasPosition(joint) && joint.velocity !== undefined
        ? [{ push: new JointPush(coordinate, this.model), velocity: joint.velocity }]
        : [],
    );
    // The equations were factored when velocities were made to fit the constraints.
    for (const { push } of begun) push.ask(this.state.q, this.systems.of(this.resting).motion);
    impel(begun.map(({ push }) => push), begun.map(({ velocity }) => velocity), this.state.v); // prettier-ignore
  }

  /** Decides anew what sticks and what slips, velocities having changed at once or come to a halt. */
  private settle(): void {
    if (!this.friction.any) return;
    const { q, v, a } = this.state;
    this.friction.sort(q, v);
    this.accelerate(this.time, q, v, a);
    this.friction.part();
    this.projectVelocities();
  }

  /** Inertia that a drive feels at the present pose while the freedoms left go as they will: kg or kg·m². */
  inertiaOf(drive: number): number {
    const { equations, model, state, right } = this;
    equations.jacobian(state.q);
    const motion = this.systems.factored('motion', this.resting, state.q, this.time, (own) => own.weigh(model.inertia));
    right.fill(0);
    const { row } = model.drives[drive]!;
    right[row] = 1;
    motion.solve(null, right, ratesOf(model), this.asked);
    return Math.abs(this.asked[row]!);
  }

  /** Multipliers that would hold the drives where they are, the mechanism let go at rest at the present pose. */
  hold(out: Float64Array): void {
    const { equations, model, state, right, forces } = this;
    equations.jacobian(state.q);
    const motion = this.systems.factored('motion', this.resting, state.q, this.time, (own) => own.weigh(model.inertia));
    forces.fill(0);
    const still = { q: state.q, v: ratesOf(model), time: this.time, resting: true };
    for (const effort of this.efforts)
      if (effort.kind !== 'friction' && effort.kind !== 'damper') effort.apply(still, forces);
    this.space?.takeResting(state.q, forces);
    right.fill(0);
    motion.solve(forces, right, ratesOf(model), out);
  }

  /** Counts the masses of parts that go along with bodies. */
  private weigh(motion: MotionSystem): void {
    if (!this.efforts.some(({ along }) => along)) return;
    const { inertia } = this.model;
    this.masses.set(inertia);
    for (const { along } of this.efforts) {
      if (!along) continue;
      const { base, mass } = along;
      this.masses[base] = this.masses[base]! + mass;
      this.masses[base + 1] = this.masses[base + 1]! + mass;
      this.masses[base + 2] = this.masses[base + 2]! + along.inertia;
    }
    motion.weigh(this.masses);
  }

  private tryStep(h: number): Trial | null {
    try {
      return this.integrator.step(this.time, h, this.state, (time, q, v, a) => this.accelerate(time, q, v, a));
    } catch (error) {
      if (error instanceof ForwardError) return null;
      throw error;
    }
  }

  private take({ q, v }: Trial, h: number): void {
    const { state } = this;
    state.q.set(q);
    state.v.set(v);
    this.time += h;
    this.projectPose();
    this.projectVelocities();
  }

  private projectPose(): void {
    const { equations, model, state, right } = this;
    const step = ratesOf(model);
    const lambda = new Float64Array(model.rows);
    for (let turn = 0; turn < 6; turn++) {
      this.leading(this.time, this.led);
      equations.residual(state.q, this.led.position);
      for (const { stop, limit } of this.resting) equations.phi[stop.row] = equations.phi[stop.row]! - limit;
      if (equations.largest(this.systems.of(this.resting).rows) < CLOSED * 1e-2) return;
      equations.jacobian(state.q);
      const pose = this.systems.factored('pose', this.resting, state.q, this.time);
      for (let i = 0; i < right.length; i++) right[i] = -equations.phi[i]!;
      pose.solve(null, right, step, lambda);
      retract(model, state.q, step, state.q);
    }
  }

  /** The smallest change in the sense of kinetic energy that makes velocities fit the constraints. */
  private projectVelocities(): void {
    const { equations, model, state, right } = this;
    this.leading(this.time, this.led);
    equations.jacobian(state.q);
    const motion = this.systems.factored('motion', this.resting, state.q, this.time);
    const { rows } = this.systems.of(this.resting);
    right.fill(0);
    const rates = this.rowRates(state.v);
    for (const row of rows) right[row] = -rates[row]!;
    model.drives.forEach(({ row }, i) => (right[row] = right[row]! + this.led.rate[i]!));
    const change = ratesOf(model);
    motion.solve(null, right, change, new Float64Array(model.rows));
    for (let j = 0; j < model.size; j++) state.v[j] = state.v[j]! + change[j]!;
    this.friction.still(state.q, state.v, motion);
  }

  private rowRates(v: Rates): Float64Array {
    const { entryRows, entryColumns, rows } = this.model;
    const rates = new Float64Array(rows);
    for (let k = 1; k < entryRows.length; k++)
      rates[entryRows[k]!] = rates[entryRows[k]!]! + this.equations.values[k]! * v[entryColumns[k]!]!;
    return rates;
  }

  /** What a step just tried runs into first. */
  private metBy(trial: Trial): Met | null {
    const stop = firstStopPassed(
      stopsActing(this.model.stops, this.state.q, (id) => this.acts(id, this.time)),
      this.state.q,
      trial.q,
      this.resting,
    );
    if (stop || !this.friction.any) return stop;
    if (this.friction.hasHalted(trial.q, trial.v)) return 'halt';
    return this.friction.givesWay ? 'slip' : null;
  }

  /** Goes to the first place where the step just tried is no longer smooth, and does what happens there. */
  private meet(h: number, whole: Trial): boolean {
    const first = this.metBy(whole);
    if (!first) return false;
    let met: Met = first;
    let low = 0;
    let high = 1;
    // By bisection on the share of the step.
    if (!this.isPast(met)) {
      for (let i = 0; i < 44; i++) {
        const middle = (low + high) / 2;
        const trial = this.tryStep(h * middle);
        const there: Met | null = trial ? this.metBy(trial) : met;
        if (!there) low = middle;
        else {
          high = middle;
          met = there;
        }
      }
    }
    // A hair before a stop or a halt; a hair behind where friction gives way.
    const share = met === 'slip' ? high : low;
    if (share > 0) this.take(this.tryStep(h * share)!, h * share);
    if (typeof met === 'object') this.bounce(met);
    this.settle();
    return true;
  }

  /** Whether the mechanism stands beyond a stop already. */
  private isPast(met: Met): boolean {
    return typeof met === 'object' && met.side * (met.stop.coordinate.value(this.state.q) - met.limit) >= 0;
  }

  private bounce({ stop, side, limit }: Resting): void {
    const { equations, model, state, gradient } = this;
    const rate = coordinateRate(stop.coordinate, state.q, state.v, gradient);
    const before = kineticEnergy(this.model, this.state.q, this.state.v);
    const rest = REST * (stop.coordinate.angular ? 1 : model.scale);
    if (side * rate > 0) {
      equations.jacobian(state.q);
      const motion = this.systems.factored('motion', this.resting, state.q, this.time);
      const pushes = new Float64Array(model.size);
      stop.coordinate.gradient(state.q, gradient);
      stop.coordinate.columns.forEach((column, i) => {
        if (column < model.size) pushes[column] = pushes[column]! + gradient[i]!;
      });
      const answer = ratesOf(model);
      motion.solve(pushes, null, answer, new Float64Array(model.rows));
      const mobility = coordinateRate(stop.coordinate, state.q, answer, gradient);
      const e = Math.abs(rate) * stop.restitution < rest ? 0 : stop.restitution;
      const impulse = mobility > 0 ? (-(1 + e) * rate) / mobility : 0;
      for (let j = 0; j < model.size; j++) state.v[j] = state.v[j]! + impulse * answer[j]!;
      this.bounceLoss += before - kineticEnergy(this.model, this.state.q, this.state.v);
      const rests = e === 0;
      this.events.push({ time: this.time, stop: stop.id, name: stop.name, rate, rests });
      if (rests) {
        this.resting.push({ stop, side, limit });
        this.projectPose();
      }
    } else this.resting.push({ stop, side, limit });
    this.step = Math.min(this.step, 1e-3);
  }

  /** Lets go of stops that nothing presses against any more. */
  private release(): void {
    if (this.resting.length === 0) return;
    this.resting = this.resting.filter(({ stop }) => !stop.switched || this.acts(stop.id, this.time));
    this.accelerate(this.time, this.state.q, this.state.v, this.state.a);
    this.resting = this.resting.filter(({ stop, side }) => side * this.lambda[stop.row]! >= 0);
  }
}
