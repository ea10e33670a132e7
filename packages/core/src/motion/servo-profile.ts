import { put, type PhaseList } from './phases';

/** Limits of one servo move, all positive; `jerk` null for none. SI units of the axis. */
export interface ServoLimits {
  velocity: number;
  acceleration: number;
  deceleration: number;
  jerk: number | null;
}

/** A change of speed under a limit of acceleration and jerk: its time, and the acceleration it reaches. */
export interface Ramp {
  time: number;
  peak: number;
  /** Time of each flank in which the acceleration builds up or falls. */
  flank: number;
}

/** What holds a move back: the limit it runs at. */
export type ServoBound = 'velocity' | 'acceleration' | 'jerk' | 'time';

/** A time-optimal move from rest to rest. */
export interface ServoProfile {
  /** Way covered, with its sign. */
  distance: number;
  /** Speed reached. */
  speed: number;
  time: number;
  up: Ramp;
  /** Time at constant speed. */
  run: number;
  down: Ramp;
  /** The limit that, raised, would make it quicker. */
  bound: ServoBound;
  phases: PhaseList;
}

/** The shortest ramp from rest to a speed: three phases, or two where the acceleration is not reached, one without a jerk limit. */
export function rampTo(speed: number, acceleration: number, jerk: number | null): Ramp {
  if (jerk === null) return { time: speed / acceleration, peak: acceleration, flank: 0 };
  if (speed * jerk >= acceleration * acceleration)
    return { time: speed / acceleration + acceleration / jerk, peak: acceleration, flank: acceleration / jerk };
  const flank = Math.sqrt(speed / jerk);
  return { time: 2 * flank, peak: flank * jerk, flank };
}

/** Way covered by both ramps of a move: they are point-symmetric, so each runs at half its speed on average. */
const rampsWay = (speed: number, l: ServoLimits): number =>
  (speed / 2) * (rampTo(speed, l.acceleration, l.jerk).time + rampTo(speed, l.deceleration, l.jerk).time);

/**
 * Highest speed from which a move of this length can stop again.
 * Ramp times are v/a + a/j (acceleration reached) or 2√(v/j); in each of the four cases the way is solved for v:
 * a quadratic where both reach their acceleration, v = (D√j/2)^⅔ where neither does, and otherwise
 * a cubic in √v, by Newton from above (the way is convex in √v there, so it falls to the root).
 */
function speedForWay(way: number, { acceleration: a, deceleration: d, jerk: j }: ServoLimits): number {
  if (j === null) return Math.sqrt((2 * way) / (1 / a + 1 / d));
  const [low, high] = a < d ? [a, d] : [d, a];
  const neither = ((way * Math.sqrt(j)) / 2) ** (2 / 3);
  if (neither <= (low * low) / j) return neither;
  // One reaches its acceleration: v/2·(v/low + low/j + 2√(v/j)) = way, in w = √v.
  const f = (w: number) => (w ** 4 / low + (w * w * low) / j + (2 * w ** 3) / Math.sqrt(j)) / 2 - way;
  const f1 = (w: number) => ((4 * w ** 3) / low + (2 * w * low) / j + (6 * w * w) / Math.sqrt(j)) / 2;
  let w = Math.sqrt(neither);
  for (let i = 0; i < 60; i++) {
    const step = f(w) / f1(w);
    w -= step;
    if (Math.abs(step) <= 1e-16 * w) break;
  }
  if (w * w <= (high * high) / j) return w * w;
  const p = (low + high) / j;
  const q = 1 / low + 1 / high;
  return (-p + Math.sqrt(p * p + 8 * way * q)) / (2 * q);
}

/**
 * The quickest move from rest to rest over a distance under limits of velocity, acceleration, deceleration and jerk:
 * seven phases, fewer where a limit is not reached (textbook; Biagiotti and Melchiorri, Trajectory Planning, 2008).
 * @param distance with its sign; 0 gives a move without phases
 */
export function servoProfile(distance: number, limits: ServoLimits): ServoProfile {
  const way = Math.abs(distance);
  const free = way === 0 ? 0 : speedForWay(way, limits);
  const speed = Math.min(limits.velocity, free);
  const up = rampTo(speed, limits.acceleration, limits.jerk);
  const down = rampTo(speed, limits.deceleration, limits.jerk);
  const run = speed > 0 && speed < free ? (way - rampsWay(speed, limits)) / speed : 0;
  return assembleProfile(distance, speed, up, run, down, boundOf(speed < free, up, down, limits));
}

function boundOf(
  atSpeed: boolean,
  up: Ramp,
  down: Ramp,
  { acceleration, deceleration, jerk }: ServoLimits,
): ServoBound {
  if (atSpeed) return 'velocity';
  const reaches = up.peak >= acceleration * (1 - 1e-12) || down.peak >= deceleration * (1 - 1e-12);
  return jerk === null || reaches ? 'acceleration' : 'jerk';
}

function assembleProfile(
  distance: number,
  speed: number,
  up: Ramp,
  run: number,
  down: Ramp,
  bound: ServoBound,
): ServoProfile {
  const sign = Math.sign(distance);
  const phases: PhaseList = [];
  const ramp = ({ time, peak, flank }: Ramp, sense: number) => {
    if (time <= 0) return;
    const a = sign * sense * peak;
    if (flank > 0) put(phases, flank, 0, a / flank);
    put(phases, time - 2 * flank, a, 0);
    if (flank > 0) put(phases, flank, a, -a / flank);
  };
  ramp(up, 1);
  put(phases, run, 0, 0);
  ramp(down, -1);
  return { distance, speed, time: up.time + run + down.time, up, run, down, bound, phases };
}

/** A constant-speed stretch of a marked working length, with the run-up and run-out that its speed needs. */
export function workProfile(length: number, limits: ServoLimits): ServoProfile & { runUp: number; runOut: number } {
  const up = rampTo(limits.velocity, limits.acceleration, limits.jerk);
  const down = rampTo(limits.velocity, limits.deceleration, limits.jerk);
  const runUp = (limits.velocity * up.time) / 2;
  const runOut = (limits.velocity * down.time) / 2;
  const way = Math.sign(length) * (runUp + Math.abs(length) + runOut);
  const profile = assembleProfile(way, limits.velocity, up, Math.abs(length) / limits.velocity, down, 'velocity');
  return { ...profile, runUp, runOut };
}

/** A move that cannot be made in the time wanted; says the shortest. */
export class TimeTooShort extends Error {
  override name = 'TimeTooShort';
  constructor(
    readonly wanted: number,
    readonly shortest: number,
  ) {
    super(`It takes at least ${shortest} s.`);
  }
}

/**
 * The gentlest move that takes exactly the time wanted: least peak acceleration, the same for starting and braking,
 * under the limits of velocity and jerk. Without a jerk limit that is a trapezoid (a parabola where speed allows);
 * with one the flanks use it fully.
 * @throws TimeTooShort where even full acceleration takes longer
 */
export function gentlestProfile(distance: number, time: number, limits: ServoLimits): ServoProfile {
  const way = Math.abs(distance);
  const under = (a: number) => servoProfile(distance, { ...limits, acceleration: a, deceleration: a });
  const most = Math.min(limits.acceleration, limits.deceleration);
  const fastest = under(most);
  if (fastest.time > time * (1 + 1e-12)) throw new TimeTooShort(time, fastest.time);
  if (way === 0) return fastest;
  // The time falls as the acceleration rises: bisection to rounding, then the speed is scaled to meet the time.
  let [low, high] = [(2 * way) / (time * time), most];
  if (low > high) low = high / 2;
  for (let i = 0; i < 200 && high - low > 1e-15 * high; i++) {
    const middle = (low + high) / 2;
    if (under(middle).time > time) low = middle;
    else high = middle;
  }
  const found = under(high);
  return { ...found, bound: 'time' };
}
