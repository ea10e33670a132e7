import { polynomialLaw } from '../law';
import type { AxisMotion } from '../machine';
import { lastAtOrBefore } from '../numeric';
import { findBreaks, functionMotion } from './function-motion';
import { motionAt, type Motion, type MotionState } from './motion';

/** When a follower engages with its master and leaves it. Positions of the master count on without wrapping. */
export type Engagement = NonNullable<AxisMotion['engage']>;

/** What engaging would do at once, without a lead-in. SI units of the follower. */
export interface EngagementJump {
  position: number;
  /** At the speed the master has then. */
  velocity: number;
  /** Time of engaging in s; null where the master never gets there. */
  time: number | null;
}

/** A follower that cannot engage as asked. */
export class EngageError extends Error {
  override name = 'EngageError';
  constructor(
    message: string,
    readonly jump: EngagementJump | null,
  ) {
    super(message);
  }
}

/** A function of the master's position with three derivatives with respect to it. */
type Shape = (m: number, out: Float64Array) => void;

/** Carries derivatives over the master on to derivatives over time (Faà di Bruno), in place. */
function overTime(out: Float64Array, { velocity: v, acceleration: a, jerk: j }: MotionState): void {
  const [f1, f2, f3] = [out[1]!, out[2]!, out[3]!];
  out[1] = f1 * v;
  out[2] = f2 * v * v + f1 * a;
  out[3] = f3 * v * v * v + 3 * f2 * v * a + f1 * j;
}

/** A shape over one wrap, gone on for ever: what it has gained in a wrap is added each time. */
function endless(shape: Motion, wrap: number): Shape {
  const gain = motionAt(shape, wrap, 'before').position - motionAt(shape, 0).position;
  const scale = Math.max(...shape.edges.map((edge) => Math.abs(motionAt(shape, edge).position)), 1e-9);
  const advance = Math.abs(gain) < 1e-9 * scale ? 0 : gain;
  return (m, out) => {
    const turn = Math.floor(m / wrap);
    const { position, velocity, acceleration, jerk } = motionAt(shape, Math.max(0, Math.min(wrap, m - turn * wrap)));
    out[0] = position + turn * advance;
    out[1] = velocity;
    out[2] = acceleration;
    out[3] = jerk;
  };
}

/** Quintic lead from one state to another over the master, as a shape. */
function lead(from: number, to: number, start: readonly number[], end: readonly number[]): Shape {
  const L = to - from;
  const law = polynomialLaw(5, {
    rise: end[0]! - start[0]!,
    v0: start[1]! * L,
    v1: end[1]! * L,
    a0: start[2]! * L * L,
    a1: end[2]! * L * L,
  });
  return (m, out) => {
    law.derivatives(Math.max(0, Math.min(1, (m - from) / L)), out, 0);
    out[0] = start[0]! + out[0]!;
    out[1] = out[1]! / L;
    out[2] = out[2]! / (L * L);
    out[3] = out[3]! / (L * L * L);
  };
}

const rest =
  (position: number): Shape =>
  (_m, out) => {
    out.fill(0);
    out[0] = position;
  };

/** Time at which the master first reaches a position; null where it does not. */
function reaches(master: Motion, position: number): number | null {
  const beyond = (time: number) => motionAt(master, time).position >= position;
  if (beyond(0)) return 0;
  return findBreaks(master.duration, beyond)[0] ?? null;
}

/** What would jump if a follower engaged at once. */
export function engagementJump(shape: Motion, wrap: number, master: Motion, { at, waits }: Engagement): EngagementJump {
  const out = new Float64Array(4);
  endless(shape, wrap)(at, out);
  const time = reaches(master, at);
  const speed = time === null ? 0 : motionAt(master, time).velocity;
  return { position: out[0]! - waits, velocity: out[1]! * speed, time };
}

/** Jumps below these shares of the follower's stroke count as none. */
const STILL = 1e-6;

/**
 * The motion of a follower: a shape over one wrap of the master, carried along by the master's own motion.
 * With an engagement it waits before, is led in, follows, and is led out again; lead-ins are quintics over the master,
 * so position, velocity and acceleration go on without a jump.
 * @param shape position over one wrap of the master (its "time" is the master's position)
 * @throws EngageError where a jump is refused, or leads overlap
 */
export function followMaster(shape: Motion, wrap: number, master: Motion, engage: Engagement | null = null): Motion {
  requireFewLaps(shape, wrap, master);
  const free = endless(shape, wrap);
  let parts: { from: number; shape: Shape }[] = [{ from: -Infinity, shape: free }];
  if (engage) {
    const { at, leave, waits, lead: way, restsAt } = engage;
    const over = way.how === 'bridge' ? way.over : 0;
    if (leave !== null && leave < at + over)
      throw new EngageError(
        'It would leave the master before it has engaged: set the leaving position further on.',
        null,
      );
    const state = new Float64Array(4);
    const jump = engagementJump(shape, wrap, master, engage);
    const size = Math.max(...shape.edges.map((edge) => Math.abs(motionAt(shape, edge).position - waits)), 1e-6);
    const speed = Math.max(...master.edges.map((edge) => Math.abs(motionAt(master, edge).velocity)), 1e-12);
    const jumps = Math.abs(jump.position) > STILL * size || Math.abs(jump.velocity) > (STILL * size * speed) / wrap;
    if (way.how === 'refuse' && jumps)
      throw new EngageError(
        'Engaging here would make the axis jump, so it stays where it waits: choose a lead-in, wait elsewhere, or engage at another position.',
        jump,
      );
    parts = [{ from: -Infinity, shape: rest(waits) }];
    if (over > 0) {
      free(at + over, state);
      parts.push({ from: at, shape: lead(at, at + over, [waits, 0, 0], Array.from(state)) });
    }
    parts.push({ from: at + over, shape: free });
    if (leave !== null) {
      free(leave, state);
      const out = Array.from(state);
      const length = over > 0 ? over : 0;
      const end = restsAt ?? out[0]! + (out[1]! * length) / 2;
      if (length > 0) parts.push({ from: leave, shape: lead(leave, leave + length, out, [end, 0, 0]) });
      parts.push({ from: leave + length, shape: rest(length > 0 ? end : out[0]!) });
    }
  }
  const froms = parts.map(({ from }) => from);
  const write = (time: number, out: Float64Array) => {
    const state = motionAt(master, time);
    parts[lastAtOrBefore(froms, state.position)]!.shape(state.position, out);
    overTime(out, state);
  };
  const piece = (time: number) => {
    const m = motionAt(master, time).position;
    const turn = Math.floor(m / wrap);
    const part = lastAtOrBefore(froms, m);
    const inside =
      parts[part]!.shape === free ? lastAtOrBefore(shape.edges, m - turn * wrap) + turn * (shape.edges.length + 1) : 0;
    return part * 1e6 + inside;
  };
  const breaks = [
    ...findBreaks(master.duration, piece, crossings(shape, wrap, master, froms)),
    ...master.edges.slice(1, -1),
  ];
  return functionMotion(
    master.duration,
    write,
    breaks.sort((a, b) => a - b),
    4,
  );
}

/** Laps of the master in one cycle that are followed at most, and knees passed in all of them. */
const MOST_LAPS = 1000;
const MOST_KNEES = 100_000;

/** @throws EngageError where the master goes round so often that its followers could not be told apart from noise */
function requireFewLaps(shape: Motion, wrap: number, master: Motion): void {
  const from = motionAt(master, 0).position;
  const to = motionAt(master, master.duration, 'before').position;
  const laps = Math.abs(to - from) / wrap;
  if (laps <= MOST_LAPS && laps * shape.edges.length <= MOST_KNEES) return;
  const most = Math.floor(Math.min(MOST_LAPS, MOST_KNEES / shape.edges.length));
  throw new EngageError(
    `The master goes round ${Number(laps.toPrecision(4))} times in one cycle; this axis follows ${most} laps at most: let the master run more slowly, or shorten the cycle.`,
    null,
  );
}

/** Times at which a master of constant speed passes the edges of a shape, exactly. */
function crossings(shape: Motion, wrap: number, master: Motion, froms: readonly number[]): number[] {
  if (master.stretches.length !== 1) return [];
  const { position: start, velocity: speed } = motionAt(master, 0);
  const end = motionAt(master, master.duration, 'before').position;
  if (!(speed > 0)) return [];
  const places = froms.filter(Number.isFinite);
  for (let turn = Math.floor(start / wrap); turn * wrap <= end; turn++)
    for (const edge of shape.edges) places.push(turn * wrap + edge);
  return places.map((place) => (place - start) / speed);
}

/** An axis that goes along with another, or with the master, at a fixed ratio. */
export function followByRatio(leader: Motion, ratio: number, offset: number): Motion {
  return {
    ...leader,
    stretches: leader.stretches.map(({ from, to, start, stroke, law }) => ({
      from,
      to,
      law,
      start: offset + ratio * start,
      stroke: ratio * stroke,
    })),
  };
}
