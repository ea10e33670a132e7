import { bisectChange, gaussNodes } from '../numeric';
import { motionAt, sampleMotion, type MotionState } from '../motion';
import { emptyInstant, evaluateAxis, type AxisInstant, type AxisModel } from './model';

/** Energies of one axis over a stretch of time, in J. Each is integrated on its own. */
export interface AxisEnergy {
  /** Drawn from the motor shaft while it drives. */
  drawn: number;
  /** Given back to the motor shaft while the load drives; not negative. */
  regenerated: number;
  /** Lost in Coulomb and viscous friction of the load. */
  loadFriction: number;
  /** Lost in efficiencies and frictions of the drive train. */
  driveLoss: number;
  /** Work done by the external force on the axis. */
  externalWork: number;
}

/** Time integrals from which RMS values are formed, without and with any rotor. */
export interface DutyIntegrals {
  duration: number;
  /** ∫ effort² dt, N²·s or (N·m)²·s */
  effortSquare: number;
  /** ∫ T² dt of the shaft torque without rotor, (N·m)²·s */
  torqueSquare: number;
  /** ∫ T·α dt of shaft torque and motor acceleration */
  torqueAcceleration: number;
  /** ∫ α² dt of the motor shaft */
  accelerationSquare: number;
  /** ∫ ω² dt of the motor shaft */
  speedSquare: number;
}

/** What {@link integrateAxis} gives. */
export interface AxisIntegrals {
  energy: AxisEnergy;
  duty: DutyIntegrals;
}

/** Most changes of power flow looked for between two samples. */
const MOST_SPLITS = 12;
/** Ends of an interval are looked at this far inside it, as a share of its length. */
const INSIDE = 1e-9;

/**
 * Integrates energies and duty of an axis over rising times (as sampled), by Gauss–Legendre on every interval.
 * Intervals are cut where power turns round in any stage, so that each integrand is smooth.
 */
export function integrateAxis(model: AxisModel, times: Float64Array): AxisIntegrals {
  const { nodes, weights } = gaussGrid(cutAtTurns(model, times));
  return sum(model, nodes, weights, times[times.length - 1]! - times[0]!);
}

/** The intervals between samples as pairs of times, cut where the pattern of power changes inside one. */
function cutAtTurns(model: AxisModel, times: Float64Array): number[] {
  const cells: number[] = [];
  const probes: number[] = [];
  for (let k = 0; k + 1 < times.length; k++) {
    const from = times[k]!;
    const to = times[k + 1]!;
    if (to <= from) continue;
    cells.push(from, to);
    probes.push(from + (to - from) * INSIDE, to - (to - from) * INSIDE);
  }
  const patterns = patternsAt(model, Float64Array.from(probes));
  const instant = emptyInstant();
  const pattern = (time: number) => {
    evaluateAxis(model, time, motionAt(model.motion, time), instant);
    return instant.pattern;
  };
  const cut: number[] = [];
  for (let i = 0; i < cells.length; i += 2) {
    let from = cells[i]!;
    const to = cells[i + 1]!;
    const inside = (to - from) * INSIDE;
    if (patterns[i] !== patterns[i + 1]) {
      for (let n = 0; n < MOST_SPLITS && pattern(from + inside) !== patterns[i + 1]; n++) {
        const change = bisectChange(pattern, from + inside, to - inside);
        cut.push(from, change);
        from = change;
      }
    }
    cut.push(from, to);
  }
  return cut;
}

function patternsAt(model: AxisModel, times: Float64Array): Float64Array {
  const patterns = new Float64Array(times.length);
  overStates(model, times, (k, _state, instant) => {
    patterns[k] = instant.pattern;
  });
  return patterns;
}

function gaussGrid(cells: readonly number[]): { nodes: Float64Array; weights: Float64Array } {
  const nodes = new Float64Array((cells.length / 2) * 5);
  const weights = new Float64Array(nodes.length);
  let n = 0;
  for (let i = 0; i < cells.length; i += 2) {
    gaussNodes(cells[i]!, cells[i + 1]!, (at, weight) => {
      nodes[n] = at;
      weights[n++] = weight;
    });
  }
  return { nodes, weights };
}

/** Visits the state of an axis at each of the rising times; state and instant are reused. */
function overStates(
  model: AxisModel,
  times: Float64Array,
  visit: (k: number, state: MotionState, instant: AxisInstant) => void,
): void {
  const motion = sampleMotion(model.motion, times);
  const instant = emptyInstant();
  const state = { position: 0, velocity: 0, acceleration: 0, jerk: 0 };
  for (let k = 0; k < times.length; k++) {
    state.position = motion.position[k]!;
    state.velocity = motion.velocity[k]!;
    state.acceleration = motion.acceleration[k]!;
    state.jerk = motion.jerk[k]!;
    evaluateAxis(model, times[k]!, state, instant);
    visit(k, state, instant);
  }
}

function sum(model: AxisModel, nodes: Float64Array, weights: Float64Array, duration: number): AxisIntegrals {
  const energy: AxisEnergy = { drawn: 0, regenerated: 0, loadFriction: 0, driveLoss: 0, externalWork: 0 };
  const duty: DutyIntegrals = {
    duration,
    effortSquare: 0,
    torqueSquare: 0,
    torqueAcceleration: 0,
    accelerationSquare: 0,
    speedSquare: 0,
  };
  const { coulomb, viscous, external } = model.load;
  overStates(model, nodes, (i, { velocity }, instant) => {
    const weight = weights[i]!;
    const power = instant.motorTorque * instant.motorSpeed;
    if (power > 0) energy.drawn += weight * power;
    else energy.regenerated -= weight * power;
    energy.loadFriction += weight * (coulomb * Math.abs(velocity) + viscous * velocity * velocity);
    energy.driveLoss += weight * instant.loss;
    energy.externalWork += weight * external(nodes[i]!) * velocity;
    duty.effortSquare += weight * instant.effort ** 2;
    duty.torqueSquare += weight * instant.torque ** 2;
    duty.torqueAcceleration += weight * instant.torque * instant.motorAcceleration;
    duty.accelerationSquare += weight * instant.motorAcceleration ** 2;
    duty.speedSquare += weight * instant.motorSpeed ** 2;
  });
  return { energy, duty };
}
