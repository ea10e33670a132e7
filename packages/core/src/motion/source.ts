import type { MotionLaw } from '../law';
import { gaussNodes } from '../numeric';
import { planMotion, type Motion, type MotionStretch } from './motion';
import type { MotionPlan } from './plan';

/** What tells an axis how to move; the numbers belong to the level: position, velocity or acceleration. */
export interface MotionSource {
  level: 'position' | 'velocity' | 'acceleration';
  source:
    | { kind: 'plan' }
    | { kind: 'constant'; value: number }
    | { kind: 'harmonic'; mean: number; amplitude: number; frequency: number; phase: number };
  initial: { position: number; velocity: number };
}

/** Integral of f over [0, tau]; pieces between breaks are integrated on their own. */
function integralTo(f: (tau: number) => number, breaks: readonly number[], tau: number): number {
  let sum = 0;
  let from = 0;
  for (const end of [...breaks, 1]) {
    const to = Math.min(end, tau);
    if (to > from) {
      const cells = 3;
      for (let i = 0; i < cells; i++)
        gaussNodes(
          from + ((to - from) * i) / cells,
          from + ((to - from) * (i + 1)) / cells,
          (at, w) => (sum += w * f(at)),
        );
    }
    from = end;
    if (end >= tau) break;
  }
  return sum;
}

/** A stretch whose value has been integrated once: the law of the lower level, with what it began from. */
function integrateStretch(stretch: MotionStretch, begin: number): MotionStretch {
  const { from, to, start, stroke, law } = stretch;
  const length = to - from;
  const scratch = new Float64Array(4);
  const value = (tau: number) => {
    law!.derivatives(tau, scratch, 0);
    return scratch[0]!;
  };
  const integrated: MotionLaw = {
    breaks: law?.breaks ?? [],
    accelerationSteps: law?.velocitySteps ?? [],
    velocitySteps: [],
    derivatives(tau, out, offset) {
      let rise = 0;
      scratch.fill(0);
      if (law) {
        rise = integralTo(value, law.breaks, tau);
        law.derivatives(tau, scratch, 0);
      }
      out[offset] = length * (start * tau + stroke * rise);
      out[offset + 1] = length * (start + stroke * scratch[0]!);
      out[offset + 2] = length * stroke * scratch[1]!;
      out[offset + 3] = length * stroke * scratch[2]!;
    },
  };
  return { from, to, start: begin, stroke: 1, law: integrated };
}

/** Raises a motion by one level: what it gave as position is taken as velocity. */
function integrateMotion(motion: Motion, begin: number): Motion {
  const out = new Float64Array(4);
  let position = begin;
  const stretches = motion.stretches.map((stretch) => {
    const next = integrateStretch(stretch, position);
    const { from, to } = next;
    // What lies beyond the cycle is cut off.
    next.law!.derivatives(Math.min(1, (motion.duration - from) / (to - from)), out, 0);
    position += out[0]!;
    return next;
  });
  return { ...motion, stretches };
}

/** A function of time (value and three derivatives) over the whole cycle, in pieces of equal length. */
function wholeCycle(duration: number, f: (time: number, out: Float64Array) => void, pieces: number): Motion {
  const edges = Array.from({ length: pieces + 1 }, (_, i) => (duration * i) / pieces);
  const state = new Float64Array(4);
  const stretches = edges.slice(1).map((to, i): MotionStretch => {
    const from = edges[i]!;
    const length = to - from;
    const derivatives = (tau: number, out: Float64Array, offset: number) => {
      f(from + tau * length, state);
      out[offset] = state[0]!;
      out[offset + 1] = state[1]! * length;
      out[offset + 2] = state[2]! * length * length;
      out[offset + 3] = state[3]! * length * length * length;
    };
    return {
      from,
      to,
      start: 0,
      stroke: 1,
      law: { derivatives, breaks: [], accelerationSteps: [], velocitySteps: [] },
    };
  });
  return { duration, stretches, edges, steps: [] };
}

/**
 * The motion of an axis over one cycle, whatever tells it how to move: a plan, a constant or a harmonic,
 * at the level of position, velocity or acceleration. Levels below are integrated exactly, from the initial values.
 */
export function axisMotion(
  { plan, motion: { level, source, initial } }: { plan: MotionPlan; motion: MotionSource },
  cycleTime: number,
): Motion {
  const T = cycleTime;
  if (source.kind === 'plan') {
    const given = planMotion(plan, T);
    if (level === 'position') return given;
    if (level === 'velocity') return integrateMotion(given, initial.position);
    return integrateMotion(integrateMotion(given, initial.velocity), initial.position);
  }
  const order = { position: 0, velocity: 1, acceleration: 2 }[level];
  if (source.kind === 'constant') {
    const { value } = source;
    const p0 = order === 0 ? value : initial.position;
    const v0 = order === 0 ? 0 : order === 1 ? value : initial.velocity;
    const a0 = order === 2 ? value : 0;
    return wholeCycle(
      T,
      (t, out) => {
        out[0] = p0 + v0 * t + (a0 * t * t) / 2;
        out[1] = v0 + a0 * t;
        out[2] = a0;
        out[3] = 0;
      },
      1,
    );
  }
  const { mean, amplitude, frequency, phase } = source;
  const w = 2 * Math.PI * frequency;
  // Derivatives of sin: order n is wⁿ sin(wt + φ + nπ/2); integrals are negative orders, with their constants.
  const wave = (t: number, n: number) => amplitude * w ** n * Math.sin(w * t + phase + (n * Math.PI) / 2);
  const write = (t: number, out: Float64Array) => {
    let position = wave(t, -order);
    let velocity = wave(t, 1 - order);
    if (order === 0) position += mean;
    if (order === 1) {
      position += mean * t + initial.position - wave(0, -1);
      velocity += mean;
    }
    if (order === 2) {
      const v0 = initial.velocity - wave(0, -1);
      position += initial.position - wave(0, -2) + v0 * t + (mean * t * t) / 2;
      velocity += v0 + mean * t;
    }
    out[0] = position;
    out[1] = velocity;
    out[2] = wave(t, 2 - order) + (order === 2 ? mean : 0);
    out[3] = wave(t, 3 - order);
  };
  return wholeCycle(T, write, Math.max(1, Math.min(2000, Math.ceil(2 * frequency * T))));
}
