import {
  BorderedSystem,
  CLOSED,
  coordinateRate,
  Equations,
  type MechanismModel,
  type MechanismState,
  type ModelStop,
} from '../mechanism';
import type { Effort } from './elements';

/** What each drive is led to at a time: position, first and second derivative. */
export type Leading = (time: number, out: { position: Float64Array; rate: Float64Array; change: Float64Array }) => void;

/** A forward run that cannot go on; the message says at which time and why. */
export class ForwardError extends Error {
  override name = 'ForwardError';
  readonly time: number;
  readonly reason: 'singular' | 'stiff';

  constructor(time: number, reason: 'singular' | 'stiff') {
    super(`${reason} at ${time} s`);
    this.time = time;
    this.reason = reason;
  }
}

/** Coefficients of Dormand and Prince's 5(4) pair (Hairer, Nørsett, Wanner, Solving Ordinary Differential Equations I). */
const NODES = [0, 1 / 5, 3 / 10, 4 / 5, 8 / 9, 1, 1];
const STAGES = [
  [],
  [1 / 5],
  [3 / 40, 9 / 40],
  [44 / 45, -56 / 15, 32 / 9],
  [19372 / 6561, -25360 / 2187, 64448 / 6561, -212 / 729],
  [9017 / 3168, -355 / 33, 46732 / 5247, 49 / 176, -5103 / 18656],
  [35 / 384, 0, 500 / 1113, 125 / 192, -2187 / 6784, 11 / 84],
];
const ERROR = [71 / 57600, 0, -71 / 16695, 71 / 1920, -17253 / 339200, 22 / 525, -1 / 40];

/** Slower than this after a bounce (rad/s, or typical lengths per s), a part comes to rest against its stop. */
const REST = 2e-3;
const TOLERANCE = 1e-9;
/** Steps of a whole run at most: what needs more is too stiff to be followed. */
const MOST_STEPS = 1_000_000;

interface Resting {
  stop: ModelStop;
  side: 1 | -1;
  limit: number;
}

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
  private readonly rows: readonly number[];
  private readonly leading: Leading;
  private readonly led: { position: Float64Array; rate: Float64Array; change: Float64Array };
  private readonly forces: Float64Array;
  private readonly right: Float64Array;
  private readonly gradient = new Float64Array(6);
  private readonly systems = new Map<string, { motion: BorderedSystem; pose: BorderedSystem; rows: number[] }>();
  private resting: Resting[] = [];
  private step = 0;
  private steps = 0;
  private readonly stages: Float64Array[];
  private readonly n: number;

  constructor(
    model: MechanismModel,
    q: Float64Array,
    rows: readonly number[],
    efforts: readonly Effort[],
    leading: Leading,
  ) {
    this.model = model;
    this.rows = rows;
    this.efforts = efforts;
    this.leading = leading;
    this.n = model.size;
    this.equations = new Equations(model);
    this.lambda = new Float64Array(model.rows);
    this.forces = new Float64Array(model.size);
    this.right = new Float64Array(model.rows);
    const drives = model.drives.length;
    this.led = {
      position: new Float64Array(drives),
      rate: new Float64Array(drives),
      change: new Float64Array(drives),
    };
    this.state = {
      q: Float64Array.from(q),
      v: new Float64Array(model.size + 3),
      a: new Float64Array(model.size + 3),
    };
    this.stages = Array.from({ length: 7 }, () => new Float64Array(2 * model.size));
    this.projectVelocities();
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
      if (!this.meetStop(h, trial.y)) {
        this.take(trial.y, h);
        if (h >= this.step || grow < 1) this.step = h * grow;
      }
      this.release();
    }
    this.time = to;
    this.accelerate(this.time, this.state.q, this.state.v, this.state.a);
  }

  private system() {
    const key = this.resting.map(({ stop, side }) => `${stop.row}:${side}`).join();
    let found = this.systems.get(key);
    if (!found) {
      const rows = [...this.rows, ...this.resting.map(({ stop }) => stop.row)];
      const { size, bodies, scale, inertia } = this.model;
      const comparable = Float64Array.from({ length: size }, (_, j) =>
        j < 3 * bodies.length && j % 3 === 2 ? 1 : 1 / scale ** 2,
      );
      found = {
        rows,
        motion: new BorderedSystem(this.model, rows, inertia),
        pose: new BorderedSystem(this.model, rows, comparable),
      };
      this.systems.set(key, found);
    }
    return found;
  }

  private accelerate(time: number, q: Float64Array, v: Float64Array, a: Float64Array): void {
    const { equations, model, forces, right } = this;
    equations.jacobian(q);
    equations.accelerations(q, v);
    forces.fill(0);
    for (const effort of this.efforts) effort.apply({ q, v, time }, forces);
    this.leading(time, this.led);
    right.set(equations.gamma);
    model.drives.forEach(({ row }, i) => (right[row] = right[row]! + this.led.change[i]!));
    const { motion } = this.system();
    if (!motion.factor(equations.values)) throw new ForwardError(time, 'singular');
    motion.solve(forces, right, a, this.lambda);
  }

  private tryStep(h: number): { y: Float64Array; error: number } | null {
    const { n, stages, state, model } = this;
    const y = new Float64Array(2 * n);
    const q = Float64Array.from(state.q);
    const v = Float64Array.from(state.v);
    const a = new Float64Array(n + 3);
    try {
      for (let s = 0; s < 7; s++) {
        for (let j = 0; j < n; j++) {
          let dq = 0;
          let dv = 0;
          for (let k = 0; k < s; k++) {
            const c = STAGES[s]![k]!;
            if (c === 0) continue;
            dq += c * stages[k]![j]!;
            dv += c * stages[k]![n + j]!;
          }
          q[j] = state.q[j]! + h * dq;
          v[j] = state.v[j]! + h * dv;
        }
        this.accelerate(this.time + NODES[s]! * h, q, v, a);
        stages[s]!.set(v.subarray(0, n), 0);
        stages[s]!.set(a.subarray(0, n), n);
      }
    } catch (error) {
      if (error instanceof ForwardError) return null;
      throw error;
    }
    y.set(q.subarray(0, n), 0);
    y.set(v.subarray(0, n), n);
    let sum = 0;
    const last = 3 * model.bodies.length;
    for (let j = 0; j < 2 * n; j++) {
      let e = 0;
      for (let s = 0; s < 7; s++) e += ERROR[s]! * stages[s]![j]!;
      const unit = j % n >= last || (j % n) % 3 !== 2 ? model.scale : 1;
      const size = unit + Math.abs(y[j]!);
      sum += ((h * e) / (TOLERANCE * size)) ** 2;
    }
    const error = Math.sqrt(sum / (2 * n));
    return Number.isFinite(error) ? { y, error } : null;
  }

  private take(y: Float64Array, h: number): void {
    const { n, state } = this;
    state.q.set(y.subarray(0, n));
    state.v.set(y.subarray(n));
    this.time += h;
    this.projectPose();
    this.projectVelocities();
  }

  private projectPose(): void {
    const { equations, model, state, right } = this;
    const { pose, rows } = this.system();
    const step = new Float64Array(model.size);
    const lambda = new Float64Array(model.rows);
    for (let turn = 0; turn < 6; turn++) {
      this.leading(this.time, this.led);
      equations.residual(state.q, this.led.position);
      for (const { stop, limit } of this.resting) equations.phi[stop.row] = equations.phi[stop.row]! - limit;
      if (equations.largest(rows) < CLOSED * 1e-2) return;
      equations.jacobian(state.q);
      if (!pose.factor(equations.values)) throw new ForwardError(this.time, 'singular');
      for (let i = 0; i < right.length; i++) right[i] = -equations.phi[i]!;
      pose.solve(null, right, step, lambda);
      for (let j = 0; j < model.size; j++) state.q[j] = state.q[j]! + step[j]!;
    }
  }

  /** The smallest change in the sense of kinetic energy that makes velocities fit the constraints. */
  private projectVelocities(): void {
    const { equations, model, state, right } = this;
    this.leading(this.time, this.led);
    equations.jacobian(state.q);
    const { motion, rows } = this.system();
    if (!motion.factor(equations.values)) throw new ForwardError(this.time, 'singular');
    right.fill(0);
    const rates = this.rowRates(state.v);
    for (const row of rows) right[row] = -rates[row]!;
    model.drives.forEach(({ row }, i) => (right[row] = right[row]! + this.led.rate[i]!));
    const change = new Float64Array(model.size);
    motion.solve(null, right, change, new Float64Array(model.rows));
    for (let j = 0; j < model.size; j++) state.v[j] = state.v[j]! + change[j]!;
  }

  private rowRates(v: Float64Array): Float64Array {
    const { entryRows, entryColumns, rows } = this.model;
    const rates = new Float64Array(rows);
    for (let k = 1; k < entryRows.length; k++)
      rates[entryRows[k]!] = rates[entryRows[k]!]! + this.equations.values[k]! * v[entryColumns[k]!]!;
    return rates;
  }

  /** Finds the first stop that the step passes, goes to it and bounces. */
  private meetStop(h: number, y: Float64Array): boolean {
    const after = Float64Array.from(this.state.q);
    after.set(y.subarray(0, this.n));
    let hit: { stop: ModelStop; side: 1 | -1; limit: number } | null = null;
    let earliest = Infinity;
    for (const stop of this.model.stops) {
      if (this.resting.some((r) => r.stop === stop)) continue;
      const before = stop.coordinate.value(this.state.q);
      const now = stop.coordinate.value(after);
      for (const side of [1, -1] as const) {
        const limit = side === 1 ? stop.max : stop.min;
        if (limit === null || side * (now - limit) <= 0) continue;
        const share = now === before ? 0 : (limit - before) / (now - before);
        if (share < earliest) {
          earliest = share;
          hit = { stop, side, limit };
        }
      }
    }
    if (!hit) return false;
    const { stop, side, limit } = hit;
    const over = (share: number) => {
      if (share <= 0) return side * (stop.coordinate.value(this.state.q) - limit);
      const trial = this.tryStep(h * share);
      if (!trial) return Infinity;
      after.set(trial.y.subarray(0, this.n));
      return side * (stop.coordinate.value(after) - limit);
    };
    let low = 0;
    let high = 1;
    // The step ends a hair before the stop, by bisection on the share of the step.
    if (over(0) < 0) {
      for (let i = 0; i < 44; i++) {
        const middle = (low + high) / 2;
        if (over(middle) < 0) low = middle;
        else high = middle;
      }
    }
    if (low > 0) this.take(this.tryStep(h * low)!.y, h * low);
    this.bounce(hit);
    return true;
  }

  private bounce({ stop, side, limit }: Resting): void {
    const { equations, model, state, gradient } = this;
    const rate = coordinateRate(stop.coordinate, state.q, state.v, gradient);
    const before = this.kinetic();
    const rest = REST * (stop.coordinate.angular ? 1 : model.scale);
    if (side * rate > 0) {
      const { motion } = this.system();
      equations.jacobian(state.q);
      if (!motion.factor(equations.values)) throw new ForwardError(this.time, 'singular');
      const pushes = new Float64Array(model.size);
      stop.coordinate.gradient(state.q, gradient);
      stop.coordinate.columns.forEach((column, i) => {
        if (column < model.size) pushes[column] = pushes[column]! + gradient[i]!;
      });
      const answer = new Float64Array(model.size + 3);
      motion.solve(pushes, null, answer, new Float64Array(model.rows));
      const mobility = coordinateRate(stop.coordinate, state.q, answer, gradient);
      const e = Math.abs(rate) * stop.restitution < rest ? 0 : stop.restitution;
      const impulse = mobility > 0 ? (-(1 + e) * rate) / mobility : 0;
      for (let j = 0; j < model.size; j++) state.v[j] = state.v[j]! + impulse * answer[j]!;
      this.bounceLoss += before - this.kinetic();
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
    this.accelerate(this.time, this.state.q, this.state.v, this.state.a);
    this.resting = this.resting.filter(({ stop, side }) => side * this.lambda[stop.row]! >= 0);
  }

  private kinetic(): number {
    let sum = 0;
    for (let j = 0; j < this.n; j++) sum += this.model.inertia[j]! * this.state.v[j]! ** 2;
    return sum / 2;
  }
}
