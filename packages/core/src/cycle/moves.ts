import { lawCharacteristics, makeLaw, polynomialLaw, type MotionLaw } from '../law';
import type { Axis, CueAction, Cylinder } from '../machine';
import {
  gentlestProfile,
  phasesStretch,
  servoProfile,
  TimeTooShort,
  type MotionState,
  type MotionStretch,
  type ServoLimits,
} from '../motion';
import { maximise } from '../numeric';

type MoveAction = Extract<CueAction, { do: 'move' }>;

/** A move that cannot be made as asked; what it does instead, if anything. */
export interface MoveProblem {
  code: 'no-limits' | 'too-short';
  /** Shortest time in s that the limits allow. */
  shortest: number | null;
}

/** Stretches of a move, and what was wrong with it. */
export interface PlannedMove {
  stretches: MotionStretch[];
  problem: MoveProblem | null;
}

/** Speed below which an axis counts as at rest, m/s or rad/s. */
const REST = 1e-9;

/**
 * The move of a cue from the state an axis is in. From rest under its law, or as a servo move; while moving as a
 * polynomial of the fifth degree that takes over position, velocity and acceleration.
 */
export function planMove(action: MoveAction, axis: Axis, now: MotionState, time: number): PlannedMove {
  const target = action.given === 'to' ? action.value : now.position + action.value;
  const way = target - now.position;
  const limits = {
    velocity: action.velocity ?? axis.limits.velocity,
    acceleration: action.acceleration ?? axis.limits.acceleration,
    jerk: action.jerk ?? axis.limits.jerk,
  };
  const moving = Math.abs(now.velocity) > REST || Math.abs(now.acceleration) > 1e-6;
  if (!moving && Math.abs(way) < 1e-12) return { stretches: [], problem: null };
  const none: PlannedMove = { stretches: [], problem: { code: 'no-limits', shortest: null } };
  if (moving) return takeOver(action, limits, now, target, time) ?? none;
  if (action.law) {
    const law = makeLaw(action.law.id, action.law.parameters);
    const least = leastTime(law, way, limits);
    const duration = action.time ?? least;
    if (!(duration > 0)) return none;
    return {
      stretches: [{ from: time, to: time + duration, start: now.position, stroke: way, law }],
      problem: null,
    };
  }
  if (limits.velocity === null || limits.acceleration === null) {
    // Without limits a wanted time is met by the law that suits most loads.
    if (action.time === null) return none;
    return {
      stretches: [
        { from: time, to: time + action.time, start: now.position, stroke: way, law: makeLaw('modifiedSine') },
      ],
      problem: null,
    };
  }
  const servo: ServoLimits = {
    velocity: limits.velocity,
    acceleration: limits.acceleration,
    deceleration: limits.acceleration,
    jerk: limits.jerk,
  };
  let problem: MoveProblem | null = null;
  let profile = servoProfile(way, servo);
  if (action.time !== null)
    try {
      profile = gentlestProfile(way, action.time, servo);
    } catch (error) {
      if (!(error instanceof TimeTooShort)) throw error;
      problem = { code: 'too-short', shortest: error.shortest };
    }
  return {
    stretches: [phasesStretch(profile.phases, time, time + profile.time, now.position, target)],
    problem,
  };
}

interface Limits {
  velocity: number | null;
  acceleration: number | null;
  jerk: number | null;
}

/** Least time in s in which a law covers a way under limits: T from Cv, Ca, Cj (VDI 2143 part 1); 0 without limits. */
function leastTime(law: MotionLaw, way: number, { velocity, acceleration, jerk }: Limits): number {
  const { cv, ca, cj } = lawCharacteristics(law);
  const s = Math.abs(way);
  return Math.max(
    velocity === null ? 0 : (cv * s) / velocity,
    acceleration === null || !Number.isFinite(ca) ? 0 : Math.sqrt((ca * s) / acceleration),
    jerk === null || !Number.isFinite(cj) ? 0 : Math.cbrt((cj * s) / jerk),
  );
}

/**
 * A quintic from motion to rest at a target; where no time is given, the least that keeps the limits. What the axis
 * does already may lie beyond them: more than that is not asked.
 */
function takeOver(
  action: MoveAction,
  limits: Limits,
  now: MotionState,
  target: number,
  time: number,
): PlannedMove | null {
  const stretch = (T: number): MotionStretch => ({
    from: time,
    to: time + T,
    start: now.position,
    stroke: 1,
    law: polynomialLaw(5, {
      rise: target - now.position,
      v0: now.velocity * T,
      v1: 0,
      a0: now.acceleration * T * T,
      a1: 0,
    }),
  });
  const { velocity, acceleration, jerk } = limits;
  const out = new Float64Array(4);
  // A hair inside of the limit, so that rounding does not break it.
  const within = (limit: number, already: number) => Math.max(limit * (1 - 1e-6), Math.abs(already) * (1 + 1e-9));
  const bounds: [order: number, most: number | null][] = [
    [1, velocity === null ? null : within(velocity, now.velocity)],
    [2, acceleration === null ? null : within(acceleration, now.acceleration)],
    [3, jerk],
  ];
  const keeps = (T: number) => {
    const { law } = stretch(T);
    return bounds.every(([order, most]) => {
      if (most === null) return true;
      const size = (tau: number) => {
        law!.derivatives(tau, out, 0);
        return Math.abs(out[order]!);
      };
      return maximise(size, 0, 1, 60).value / T ** order <= most;
    });
  };
  if (velocity === null || acceleration === null)
    return action.time === null ? null : { stretches: [stretch(action.time)], problem: null };
  let high = 0.01;
  for (let i = 0; i < 60 && !keeps(high); i++) high *= 1.3;
  let low = high / 1.3;
  if (keeps(high))
    for (let i = 0; i < 20; i++) {
      const middle = (low + high) / 2;
      if (keeps(middle)) high = middle;
      else low = middle;
    }
  if (action.time === null) return { stretches: [stretch(high)], problem: null };
  const problem: MoveProblem | null = keeps(action.time) ? null : { code: 'too-short', shortest: high };
  return { stretches: [stretch(action.time)], problem };
}

/** Constant acceleration from one speed to another, as a law over τ with its rise in way. */
function speedRamp(v0: number, v1: number, T: number): MotionLaw {
  return {
    breaks: [],
    accelerationSteps: v0 === v1 ? [] : [0, 1],
    velocitySteps: [],
    derivatives(tau, out, o) {
      out[o] = T * (v0 * tau + ((v1 - v0) * tau * tau) / 2);
      out[o + 1] = T * (v0 + (v1 - v0) * tau);
      out[o + 2] = T * (v1 - v0);
      out[o + 3] = 0;
    },
  };
}

/** A piece of constant acceleration that begins at a time and place. */
export function rampStretch(time: number, T: number, start: number, v0: number, v1: number): MotionStretch {
  return { from: time, to: time + T, start, stroke: 1, law: speedRamp(v0, v1, T) };
}

/**
 * A change of speed under constant acceleration in a ramp time; the new speed is kept until `horizon`.
 * @param span after which it is at rest again, s; undefined where it runs on
 */
export function planSpeed(
  speed: number,
  ramp: number,
  now: MotionState,
  time: number,
  horizon: number,
  span?: number,
): MotionStretch[] {
  if (span !== undefined) return planRun(speed, ramp, now, time, span);
  const stretches: MotionStretch[] = [];
  let position = now.position;
  if (ramp > 0 && speed !== now.velocity) {
    stretches.push(rampStretch(time, ramp, position, now.velocity, speed));
    position += ((now.velocity + speed) / 2) * ramp;
  }
  const from = time + (ramp > 0 && speed !== now.velocity ? ramp : 0);
  if (speed !== 0 && horizon > from) stretches.push(rampStretch(from, horizon - from, position, speed, speed));
  return stretches;
}

/** Up to a speed, along at it, and to rest again within a time; too short for both ramps it does not get up to its speed. */
function planRun(speed: number, ramp: number, now: MotionState, time: number, span: number): MotionStretch[] {
  const up = Math.min(ramp, span / 2);
  const reached = ramp > 0 ? now.velocity + ((speed - now.velocity) * up) / ramp : speed;
  const stretches: MotionStretch[] = [];
  let [at, position] = [time, now.position];
  const add = (T: number, v0: number, v1: number) => {
    if (T <= 0) return;
    stretches.push(rampStretch(at, T, position, v0, v1));
    position += ((v0 + v1) / 2) * T;
    at += T;
  };
  add(up, now.velocity, reached);
  add(span - 2 * up, reached, reached);
  add(up, reached, 0);
  return stretches;
}

/** Speed that a drive gets up to within the time it runs, m/s or rad/s. */
export const speedReached = (speed: number, ramp: number, from: number, span: number): number =>
  ramp > span / 2 ? from + ((speed - from) * span) / (2 * ramp) : speed;

/**
 * What a cylinder does when it is switched: it stops where it was on its way, fills, speeds up to what the throttle lets through, is braked evenly
 * by the end cushion, and meets the end. Closed form: fill + v/a + (way − v²/2a − c)/v + 2c/(v + vₑ).
 */
export function planCylinder(
  cylinder: Cylinder,
  travel: { min: number; max: number },
  to: 'out' | 'in',
  now: MotionState,
  time: number,
): MotionStretch[] {
  const { fill, speed, cushion, endSpeed } = cylinder[to];
  const target = to === 'out' ? travel.max : travel.min;
  const a = cylinder.acceleration;
  const stretches: MotionStretch[] = [];
  let t = time + fill;
  let position = now.position;
  // Still on its way, it is braked while it fills: within what is left of its travel if need be.
  if (Math.abs(now.velocity) > REST) {
    const left = Math.max(1e-9, now.velocity > 0 ? travel.max - position : position - travel.min);
    const braking = Math.min(Math.abs(now.velocity) / a, (2 * left) / Math.abs(now.velocity));
    stretches.push(rampStretch(time, braking, position, now.velocity, 0));
    position += (now.velocity * braking) / 2;
    t = Math.max(t, time + braking);
  }
  const sign = Math.sign(target - position);
  const way = Math.abs(target - position);
  if (way < 1e-12) return stretches;
  // Inside of the cushion it still has to get under way.
  const braking = Math.min(cushion, 0.8 * way);
  const free = way - braking;
  // A short way does not reach the throttled speed.
  const reached = Math.min(speed, Math.sqrt(2 * a * free));
  const last = braking > 0 ? Math.min(endSpeed, reached) : reached;
  const add = (T: number, v0: number, v1: number) => {
    if (T <= 0) return;
    stretches.push(rampStretch(t, T, position, sign * v0, sign * v1));
    t += T;
    position += (sign * (v0 + v1) * T) / 2;
  };
  const up = reached / a;
  const upWay = (reached * up) / 2;
  const run = Math.max(0, free - upWay) / reached;
  add(up, 0, reached);
  add(run, reached, reached);
  const rest = Math.abs(target - position);
  if (rest > 1e-12) add((2 * rest) / (reached + last), reached, last);
  const final = stretches.at(-1);
  if (final?.law && last > 0) final.law = { ...final.law, velocitySteps: [1] };
  return stretches;
}
