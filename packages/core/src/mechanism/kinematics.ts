import { chosenAnew, isWaning, type Soundness } from './chosen-rows';
import { clustersOf, type Cluster } from './clusters';
import { directPart, type DirectPart } from './direct';
import type { MechanismModel } from './model';
import { CLOSED, close, Equations, SquareSystem } from './solver';
import { copyOf, positionsOf, ratesOf, retract, retractSome, type Positions, type Rates } from './state';

/** A pose: the state with its first and second derivative by time. */
export interface MechanismState {
  q: Positions;
  v: Rates;
  a: Rates;
}

/** Smallest share of a step that is still tried before a pose counts as out of reach. */
const LEAST_SHARE = 2 ** -16;
const range = (count: number) => Array.from({ length: count }, (_, i) => i);

/** What came of bringing the drawing together. */
export interface Assembly {
  q: Positions;
  assembled: boolean;
  /** Joints and couplings that stay apart: lengths in m, angles in rad. */
  apart: { owner: string; measure: 'length' | 'angle'; gap: number }[];
}

/** Brings the drawing together by the smallest change; the drives are left out. */
export function assemble(model: MechanismModel, from: Positions = model.start): Assembly {
  const equations = new Equations(model);
  const q = copyOf(from);
  const { closed } = close(equations, q, range(model.tiedRows), null);
  if (closed) return { q, assembled: true, apart: [] };
  equations.residual(q, null);
  const apart = model.constraints
    .filter(({ firstRow }) => firstRow < model.tiedRows)
    .flatMap(({ owner, firstRow, rows }) => {
      const lengths = rows.flatMap((measure, i) => (measure === 'length' ? [equations.phi[firstRow + i]!] : []));
      const angles = rows.flatMap((measure, i) => (measure === 'angle' ? [equations.phi[firstRow + i]!] : []));
      return [
        { owner, measure: 'length' as const, gap: Math.hypot(...lengths) },
        { owner, measure: 'angle' as const, gap: Math.hypot(...angles) },
      ];
    })
    .filter(({ measure, gap }) => gap > (measure === 'length' ? 1e-6 * model.scale : 1e-6))
    .sort((x, y) => y.gap - x.gap);
  return { q, assembled: false, apart };
}

/**
 * Leads driven joints to their positions step by step, the smallest change of the others each time.
 * @param q the pose, moved in place
 * @returns the share of the way reached
 */
export function leadPose(model: MechanismModel, q: Positions, rows: readonly number[], to: readonly number[]): number {
  const equations = new Equations(model);
  const from = model.drives.map(({ coordinate }) => coordinate.value(q));
  const most = Math.max(
    0,
    ...model.drives.map(({ coordinate }, i) => Math.abs(to[i]! - from[i]!) / (coordinate.angular ? 1 : model.scale)),
  );
  const steps = Math.max(1, Math.ceil(most / 0.1));
  const trial = copyOf(q);
  for (let k = 1; k <= steps; k++) {
    const led = from.map((value, i) => value + ((to[i]! - value) * k) / steps);
    if (!close(equations, trial, rows, led).closed) return (k - 1) / steps;
    q.set(trial);
  }
  return 1;
}

/** A cluster as it is led. */
type Led = Soundness & {
  cluster: Cluster;
  /** Whether velocities and accelerations were last derived for drives at rest, the pose being the same since. */
  atRest: boolean;
  /** Whether its pose was found for what its drives are led to. */
  found: boolean;
  /** Poses before the present one at even steps of {@link Kinematics.follow}, the last first, and how many there are. */
  past: Float64Array[];
  steps: number;
  // Its closed form, where it has one; else its equations.
} & ({ direct: DirectPart; system: null } | { direct: null; system: SquareSystem });

/** Weights of the poses before, the last first, of the pose that lies one even step further on their polynomial. */
const ONWARD = [[1], [2, -1], [3, -3, 1], [4, -6, 4, -1]];

function partsOf(model: MechanismModel, rows: readonly number[]): Led[] {
  return clustersOf(model, rows).map((cluster): Led => {
    const direct = directPart(model, cluster);
    return {
      cluster,
      ...(direct ? { direct, system: null } : { direct, system: new SquareSystem(model, cluster) }),
      sound: 0,
      atRest: false,
      found: false,
      past: ONWARD.slice(1).map(() => new Float64Array(cluster.columns.length)),
      steps: 0,
    };
  });
}

/**
 * Leads a mechanism whose freedoms are all driven from pose to pose, always along the same closure of its loops:
 * predictor by velocities, corrector by Newton, shorter steps where these disagree. Parts of it that do not hang
 * together are led each by itself, and what rests is left alone.
 */
export class Kinematics {
  readonly model: MechanismModel;
  readonly equations: Equations;
  readonly state: MechanismState;
  private parts: readonly Led[];
  private rows: readonly number[];
  /** What the drives are led to at the present pose. */
  private readonly led: Float64Array;
  private readonly trial: Positions;
  private readonly step: Rates;
  private readonly right: Float64Array;
  private readonly wanted: Float64Array;
  private readonly tied: number[];
  private readonly redundant: boolean;

  /** @param q a pose that closes, as by {@link assemble} */
  constructor(model: MechanismModel, q: Positions, rows: readonly number[]) {
    this.model = model;
    this.equations = new Equations(model);
    this.rows = rows;
    this.parts = partsOf(model, rows);
    this.state = {
      q: copyOf(q),
      v: ratesOf(model),
      a: ratesOf(model),
    };
    this.led = Float64Array.from(model.drives, ({ coordinate }) => coordinate.value(q));
    this.trial = positionsOf(model);
    this.step = ratesOf(model);
    this.right = new Float64Array(model.rows);
    this.wanted = Float64Array.from(this.led);
    this.tied = range(model.tiedRows);
    this.redundant = model.driveEnd > rows.length;
  }

  /**
   * Moves until the drives stand at `to`.
   * @param ahead time in s since velocities and accelerations were derived; they then give a better first guess
   * @returns the share of the way that was reached: 1, or less where the mechanism cannot follow
   */
  moveTo(to: ArrayLike<number>, ahead = 0): number {
    const moving = this.toMove(to);
    const { v, a } = this.state;
    this.step.fill(0);
    if (ahead > 0)
      for (const { cluster, direct } of moving)
        for (let i = 0; !direct && i < cluster.columns.length; i++) {
          const j = cluster.columns[i]!;
          this.step[j] = ahead * v[j]! + ((ahead * ahead) / 2) * a[j]!;
        }
    return this.lead(moving, to, ahead > 0);
  }

  /**
   * Moves until the drives stand at `to`, as the next of even steps in time: what moves is first guessed to go on as in
   * the steps before, without velocities or accelerations.
   * @returns the share of the way that was reached, as by {@link moveTo}
   */
  follow(to: ArrayLike<number>): number {
    const moving = this.toMove(to);
    const { q } = this.state;
    this.step.fill(0);
    for (let p = 0; p < this.parts.length; p++) {
      const part = this.parts[p]!;
      if (part.direct) continue;
      if (moving.includes(part)) this.guess(part, q);
      else part.steps = 0;
    }
    return this.lead(moving, to, true);
  }

  /** Writes the way of a part to where it would be next, and keeps where it is. */
  private guess(part: Led, q: Positions): void {
    const { step } = this;
    const { columns } = part.cluster;
    const { past, steps } = part;
    const [now, first = 0, second = 0, third = 0] = ONWARD[steps]!;
    const [a, b, c] = past as [Float64Array, Float64Array, Float64Array];
    for (let i = 0; i < columns.length; i++) {
      const j = columns[i]!;
      step[j] = (now! - 1) * q[j]! + first * a[i]! + second * b[i]! + third * c[i]!;
      c[i] = q[j]!;
    }
    // The oldest of them holds the present pose now.
    part.past = [c, a, b];
    part.steps = Math.min(steps + 1, past.length);
  }

  /** Parts with a drive that is not where it is wanted. */
  private toMove(to: ArrayLike<number>): Led[] {
    const { led, parts } = this;
    const moving: Led[] = [];
    for (let p = 0; p < parts.length; p++) {
      const { cluster, found } = parts[p]!;
      let wanted = !found;
      for (let i = 0; !wanted && i < cluster.drives.length; i++)
        wanted = to[cluster.drives[i]!] !== led[cluster.drives[i]!];
      if (wanted) moving.push(parts[p]!);
    }
    return moving;
  }

  /** Leads parts to where their drives are wanted; `step` holds the way to a first guess of them, if there is one. */
  private lead(moving: readonly Led[], to: ArrayLike<number>, guessed: boolean): number {
    if (moving.length === 0) return 1;
    const { led, wanted } = this;
    for (const part of moving) part.atRest = part.found = false;
    for (let i = 0; i < led.length; i++) wanted[i] = to[i]!;
    if (guessed && this.tryPose(moving)) {
      led.set(wanted);
      for (const part of moving) part.found = true;
      return 1;
    }
    const from = Float64Array.from(led);
    let done = 0;
    let share = this.initialShare(to);
    while (done < 1) {
      const next = Math.min(1, done + share);
      for (let i = 0; i < led.length; i++) wanted[i] = from[i]! + (to[i]! - from[i]!) * next;
      this.step.fill(0);
      if (this.tryPose(moving)) {
        done = next;
        led.set(wanted);
        share *= 2;
      } else {
        share = (next - done) / 2;
        if (share < LEAST_SHARE) {
          // The last pose that was reached stays in the state.
          for (let i = 0; i < led.length; i++) led[i] = from[i]! + (to[i]! - from[i]!) * done;
          if (!this.redundant || !this.chooseAnew()) return done;
          return done + (1 - done) * this.lead(this.toMove(to), to, false);
        }
      }
    }
    for (const part of moving) part.found = true;
    return 1;
  }

  /** Whether drives rest, at the positions at which they rested when pose and accelerations were last found. */
  stands(to: ArrayLike<number>, rates: ArrayLike<number>, changes: ArrayLike<number>): boolean {
    const { led, parts } = this;
    if (!parts.every(({ atRest }) => atRest)) return false;
    for (let i = 0; i < led.length; i++) if (to[i] !== led[i] || rates[i] !== 0 || changes[i] !== 0) return false;
    return true;
  }

  /** Steps of more than a tenth of a radian, or of the typical length, are divided beforehand. */
  private initialShare(to: ArrayLike<number>): number {
    let most = 0;
    this.model.drives.forEach(({ coordinate }, i) => {
      const way = Math.abs(to[i]! - this.led[i]!) / (coordinate.angular ? 1 : this.model.scale);
      most = Math.max(most, way);
    });
    return most > 0.1 ? 0.1 / most : 1;
  }

  /** Brings the parts that move to what is wanted of their drives, `step` first; all of them, or none. */
  private tryPose(moving: readonly Led[]): boolean {
    const { model, trial, step, equations, tied } = this;
    const { q } = this.state;
    retract(model, q, step, trial);
    for (const part of moving) if (!this.correct(part)) return false;
    // Equations that were left out as redundant must still hold.
    if (this.redundant && equations.largest(tied) > 1e-6) return false;
    q.set(trial);
    return true;
  }

  /** Corrects the trial pose of a part: at once where it has a closed form, else by Newton. */
  private correct({ cluster, direct, system }: Led): boolean {
    const { equations, model, trial, step, right, wanted } = this;
    const { rows, columns, drives } = cluster;
    if (direct) return direct.place(wanted[drives[0]!]!, trial);
    let first = 0;
    for (let turn = 0; turn < 8; turn++) {
      equations.residual(trial, wanted, cluster);
      if (turn > 0 && equations.largest(cluster.rows) <= CLOSED * 1e-3) return true;
      equations.jacobian(trial, cluster);
      if (!system.factor(equations.values)) return false;
      for (let i = 0; i < rows.length; i++) right[rows[i]!] = -equations.phi[rows[i]!]!;
      system.solve(right, step);
      retractSome(columns, trial, step, trial);
      let size = 0;
      for (let i = 0; i < columns.length; i++) {
        const j = columns[i]!;
        const magnitude = Math.abs(step[j]!) / model.units[j]!;
        if (!(magnitude <= size)) size = magnitude;
      }
      if (turn === 0) first = size;
      // A first step far out, or a correction not much smaller than it, leads to another closure.
      else if (!(size <= 0.3 * first + 1e-13)) return false;
      if (!(size < 0.7)) return false;
      if (turn > 0 && size < 1e-13) {
        equations.residual(trial, wanted, cluster);
        return true;
      }
    }
    equations.residual(trial, wanted, cluster);
    return equations.largest(cluster.rows) <= CLOSED;
  }

  /**
   * Velocities and accelerations at the present pose.
   * @param rates first, `changes` second derivative of what each drive is led to
   * @returns false at a singular pose
   */
  derive(rates: ArrayLike<number>, changes: ArrayLike<number>): boolean {
    const { equations, model, right } = this;
    const { q, v, a } = this.state;
    for (const part of this.parts) {
      const { cluster, direct, system } = part;
      const { rows, drives } = cluster;
      let still = true;
      for (let i = 0; i < drives.length; i++) if (rates[drives[i]!] !== 0 || changes[drives[i]!] !== 0) still = false;
      if (still && part.atRest) continue;
      equations.jacobian(q, cluster);
      if (direct) {
        part.atRest = still;
        const drive = drives[0]!;
        direct.velocities(q, rates[drive]!, v);
        direct.accelerations(q, v, changes[drive]!, a);
        continue;
      }
      const isFactored = system.factor(equations.values);
      if (this.redundant && (!isFactored || isWaning(part, system.weakest())) && this.chooseAnew())
        return this.derive(rates, changes);
      if (!isFactored) return false;
      for (let i = 0; i < rows.length; i++) right[rows[i]!] = 0;
      for (let i = 0; i < drives.length; i++) right[model.drives[drives[i]!]!.row] = rates[drives[i]!]!;
      system.solve(right, v);
      equations.accelerations(q, v, cluster);
      for (let i = 0; i < rows.length; i++) right[rows[i]!] = equations.gamma[rows[i]!]!;
      for (let i = 0; i < drives.length; i++) {
        const { row } = model.drives[drives[i]!]!;
        right[row] = right[row]! + changes[drives[i]!]!;
      }
      system.solve(right, a);
      part.atRest = still;
    }
    return true;
  }

  /** Chooses at the present pose which of the equations that say things twice are counted; false where it stays as it is. */
  private chooseAnew(): boolean {
    const rows = chosenAnew(this.model, this.state.q, this.rows);
    if (!rows) return false;
    this.rows = rows;
    this.parts = partsOf(this.model, rows);
    return true;
  }

  /** How every unknown follows one unit of one drive while the others stand; after {@link derive}. */
  influence(drive: number, out: Rates): void {
    out.fill(0);
    const { direct, system, cluster } = this.parts.find(({ cluster: { drives } }) => drives.includes(drive))!;
    if (direct) return direct.velocities(this.state.q, 1, out);
    for (const row of cluster.rows) this.right[row] = 0;
    this.right[this.model.drives[drive]!.row] = 1;
    system.solve(this.right, out);
  }

  /** Solves Φqᵀ λ = f at the present pose, after {@link derive}; λ by all rows, zero for rows left out. */
  solveTransposed(f: Float64Array, lambda: Float64Array): void {
    lambda.fill(0);
    for (const { direct, system } of this.parts)
      if (direct) direct.solveTransposed(this.state.q, f, lambda);
      else system.solveTransposed(f, lambda);
  }
}
