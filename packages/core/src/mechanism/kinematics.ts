import type { MechanismModel } from './model';
import { CLOSED, close, Equations, SquareSystem } from './solver';
import { retract, stateVector } from './state';

/** A pose: the state with its first and second derivative by time. */
export interface MechanismState {
  q: Float64Array;
  v: Float64Array;
  a: Float64Array;
}

/** Smallest share of a step that is still tried before a pose counts as out of reach. */
const LEAST_SHARE = 2 ** -16;
const range = (count: number) => Array.from({ length: count }, (_, i) => i);

/** What came of bringing the drawing together. */
export interface Assembly {
  q: Float64Array;
  assembled: boolean;
  /** Joints and couplings that stay apart: lengths in m, angles in rad. */
  apart: { owner: string; measure: 'length' | 'angle'; gap: number }[];
}

/** Brings the drawing together by the smallest change; the drives are left out. */
export function assemble(model: MechanismModel, from: Float64Array = model.start): Assembly {
  const equations = new Equations(model);
  const q = Float64Array.from(from);
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
export function leadPose(
  model: MechanismModel,
  q: Float64Array,
  rows: readonly number[],
  to: readonly number[],
): number {
  const equations = new Equations(model);
  const from = model.drives.map(({ coordinate }) => coordinate.value(q));
  const most = Math.max(
    0,
    ...model.drives.map(({ coordinate }, i) => Math.abs(to[i]! - from[i]!) / (coordinate.angular ? 1 : model.scale)),
  );
  const steps = Math.max(1, Math.ceil(most / 0.1));
  const trial = Float64Array.from(q);
  for (let k = 1; k <= steps; k++) {
    const led = from.map((value, i) => value + ((to[i]! - value) * k) / steps);
    if (!close(equations, trial, rows, led).closed) return (k - 1) / steps;
    q.set(trial);
  }
  return 1;
}

/**
 * Leads a mechanism whose freedoms are all driven from pose to pose, always along the same closure of its loops:
 * predictor by velocities, corrector by Newton, shorter steps where these disagree.
 */
export class Kinematics {
  readonly model: MechanismModel;
  readonly equations: Equations;
  readonly system: SquareSystem;
  readonly state: MechanismState;
  /** Whether velocities and accelerations were last derived for drives at rest, the pose being the same since. */
  private atRest = false;
  /** What the drives are led to at the present pose. */
  private readonly led: Float64Array;
  private readonly trial: Float64Array;
  private readonly step: Float64Array;
  private readonly right: Float64Array;
  private readonly wanted: Float64Array;
  private readonly tied: number[];

  /** @param q a pose that closes, as by {@link assemble} */
  constructor(model: MechanismModel, q: Float64Array, rows: readonly number[]) {
    this.model = model;
    this.equations = new Equations(model);
    this.system = new SquareSystem(model, rows);
    this.state = {
      q: Float64Array.from(q),
      v: stateVector(model),
      a: stateVector(model),
    };
    this.led = Float64Array.from(model.drives, ({ coordinate }) => coordinate.value(q));
    this.trial = stateVector(model);
    this.step = new Float64Array(model.size);
    this.right = new Float64Array(model.rows);
    this.wanted = Float64Array.from(this.led);
    this.tied = range(model.tiedRows);
  }

  /**
   * Moves until the drives stand at `to`.
   * @param ahead time in s since velocities and accelerations were derived; they then give a better first guess
   * @returns the share of the way that was reached: 1, or less where the mechanism cannot follow
   */
  moveTo(to: ArrayLike<number>, ahead = 0): number {
    const { led, wanted } = this;
    this.atRest = false;
    if (ahead > 0) {
      for (let i = 0; i < led.length; i++) wanted[i] = to[i]!;
      if (this.tryPose(ahead)) {
        led.set(wanted);
        return 1;
      }
    }
    const from = Float64Array.from(led);
    let done = 0;
    let share = this.initialShare(to);
    while (done < 1) {
      const next = Math.min(1, done + share);
      for (let i = 0; i < led.length; i++) wanted[i] = from[i]! + (to[i]! - from[i]!) * next;
      if (this.tryPose()) {
        done = next;
        led.set(wanted);
        share *= 2;
      } else {
        share = (next - done) / 2;
        if (share < LEAST_SHARE) {
          // The last pose that was reached stays in the state.
          for (let i = 0; i < led.length; i++) led[i] = from[i]! + (to[i]! - from[i]!) * done;
          return done;
        }
      }
    }
    return 1;
  }

  /** Whether drives rest, at the positions at which they rested when pose and accelerations were last found. */
  stands(to: ArrayLike<number>, rates: ArrayLike<number>, changes: ArrayLike<number>): boolean {
    const { led, atRest } = this;
    if (!atRest) return false;
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

  private tryPose(ahead = 0): boolean {
    const { equations, model, trial, step, right, system, wanted } = this;
    const { q, v, a } = this.state;
    const half = (ahead * ahead) / 2;
    for (let j = 0; j < model.size; j++) step[j] = ahead * v[j]! + half * a[j]!;
    retract(model, q, step, trial);
    let first = 0;
    for (let turn = 0; turn < 8; turn++) {
      equations.residual(trial, wanted);
      if (turn > 0 && equations.largest(system.rows) <= CLOSED * 1e-3) return this.accept();
      equations.jacobian(trial);
      if (!system.factor(equations.values)) return false;
      for (let i = 0; i < right.length; i++) right[i] = -equations.phi[i]!;
      system.solve(right, step);
      retract(model, trial, step, trial);
      let size = 0;
      for (let j = 0; j < model.size; j++) {
        const magnitude = Math.abs(step[j]!) / model.units[j]!;
        if (!(magnitude <= size)) size = magnitude;
      }
      if (turn === 0) first = size;
      // A first step far out, or a correction not much smaller than it, leads to another closure.
      else if (!(size <= 0.3 * first + 1e-13)) return false;
      if (!(size < 0.7)) return false;
      if (turn > 0 && size < 1e-13) {
        equations.residual(trial, wanted);
        return this.accept();
      }
    }
    equations.residual(trial, wanted);
    return equations.largest(system.rows) <= CLOSED && this.accept();
  }

  private accept(): boolean {
    const { equations, model, trial, tied } = this;
    // Equations that were left out as redundant must still hold.
    if (tied.length + model.drives.length > this.system.rows.length && equations.largest(tied) > 1e-6) return false;
    this.state.q.set(trial);
    return true;
  }

  /**
   * Velocities and accelerations at the present pose.
   * @param rates first, `changes` second derivative of what each drive is led to
   * @returns false at a singular pose
   */
  derive(rates: ArrayLike<number>, changes: ArrayLike<number>): boolean {
    const { equations, model, right, system } = this;
    const { q, v, a } = this.state;
    this.atRest = model.drives.every((_, i) => rates[i] === 0 && changes[i] === 0);
    equations.jacobian(q);
    if (!system.factor(equations.values)) return false;
    right.fill(0);
    model.drives.forEach(({ row }, i) => (right[row] = rates[i]!));
    system.solve(right, v);
    equations.accelerations(q, v);
    right.set(equations.gamma);
    model.drives.forEach(({ row }, i) => (right[row] = right[row]! + changes[i]!));
    system.solve(right, a);
    return true;
  }

  /** How every unknown follows one unit of one drive while the others stand; after {@link derive}. */
  influence(drive: number, out: Float64Array): void {
    this.right.fill(0);
    this.right[this.model.drives[drive]!.row] = 1;
    this.system.solve(this.right, out);
  }
}

/** For every drive the unknowns that hang together with it by joints, couplings and drives, itself among them. */
export function linkedUnknowns({ drives, size, rows, entryRows, entryColumns }: MechanismModel): number[][] {
  // Rows stand behind the unknowns; each points to one that it hangs together with.
  const group = Int32Array.from({ length: size + rows }, (_, i) => i);
  const root = (i: number): number => {
    let at = i;
    while (group[at] !== at) at = group[at]!;
    group[i] = at;
    return at;
  };
  for (let k = 1; k < entryRows.length; k++) group[root(size + entryRows[k]!)] = root(entryColumns[k]!);
  return drives.map(({ row }) => range(size).filter((j) => root(j) === root(size + row)));
}
