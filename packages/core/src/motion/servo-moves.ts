import { makeLaw, type LawId } from '../law';
import type { ServoBlock } from '../machine';
import type { MotionLimits } from './checks';
import type { Motion, MotionStretch } from './motion';
import { phasesStretch } from './phases';
import {
  gentlestProfile,
  servoProfile,
  TimeTooShort,
  workProfile,
  type ServoBound,
  type ServoLimits,
  type ServoProfile,
} from './servo-profile';

/** Limits a block brings itself; null takes those of the axis (deceleration: that of the acceleration). */
export type BlockLimits = Omit<Extract<ServoBlock, { kind: 'home' }>, 'id' | 'kind'>;

/** What a block turned out to do. */
export interface BlockResult {
  id: string;
  kind: ServoBlock['kind'];
  from: number;
  to: number;
  start: number;
  end: number;
  /** Highest speed reached, and the speed asked for where it is not reached. */
  speed: number;
  wanted: number | null;
  bound: ServoBound | null;
  /** Run-up and run-out of a stretch at constant speed. */
  runUp: number;
  runOut: number;
  /** Which pass of a repeat it belongs to, from 1. */
  pass: number;
}

/** A block that cannot be carried out; the message names it and what to do. */
export class BlockError extends Error {
  override name = 'BlockError';
  constructor(
    message: string,
    readonly blockId: string,
  ) {
    super(message);
  }
}

/** Most blocks after repeats are written out, and most moves to and fro of all their oscillations. */
const MOST_BLOCKS = 2000;
const MOST_SWINGS = 20_000;

function limitsOf(block: BlockLimits & { id: string }, axis: MotionLimits, number: number): ServoLimits {
  const velocity = block.velocity ?? axis.velocity;
  const acceleration = block.acceleration ?? axis.acceleration;
  const missing = velocity === null ? 'velocity' : acceleration === null ? 'acceleration' : null;
  if (velocity === null || acceleration === null)
    throw new BlockError(`Block ${number} has no ${missing!}: type one, or give the axis a limit in Build.`, block.id);
  return {
    velocity,
    acceleration,
    deceleration: block.deceleration ?? block.acceleration ?? acceleration,
    jerk: block.jerk ?? axis.jerk,
  };
}

/** Writes out the repeats: each block with its number in the list and the pass it is in. */
function unroll(blocks: readonly ServoBlock[]): { block: ServoBlock; number: number; pass: number }[] {
  const list: { block: ServoBlock; number: number; pass: number }[] = [];
  /** Where in the written-out list each block began. */
  const begins: number[] = [];
  blocks.forEach((block, i) => {
    begins.push(list.length);
    if (block.kind !== 'repeat') {
      list.push({ block, number: i + 1, pass: 1 });
      return;
    }
    if (block.blocks > i)
      throw new BlockError(`Block ${i + 1} repeats ${block.blocks} blocks, but only ${i} stand before it.`, block.id);
    const section = list.slice(begins[i - block.blocks]!);
    if (list.length + section.length * (block.times - 1) > MOST_BLOCKS)
      throw new BlockError(`Block ${i + 1}: more than ${MOST_BLOCKS} blocks once repeats are written out.`, block.id);
    for (let pass = 2; pass <= block.times; pass++) list.push(...section.map((entry) => ({ ...entry, pass })));
  });
  return list;
}

/**
 * Carries out a list of blocks from a home position: each begins at rest where the one before ended.
 * @throws BlockError naming the block
 */
export function runBlocks(
  blocks: readonly ServoBlock[],
  home: number,
  axis: MotionLimits,
): { stretches: MotionStretch[]; results: BlockResult[] } {
  const stretches: MotionStretch[] = [];
  const results: BlockResult[] = [];
  let time = 0;
  let position = home;
  let swings = 0;
  for (const { block, number, pass } of unroll(blocks)) {
    const base = {
      id: block.id,
      kind: block.kind,
      from: time,
      start: position,
      speed: 0,
      wanted: null,
      bound: null,
      runUp: 0,
      runOut: 0,
      pass,
    };
    const drive = (profile: ServoProfile, wanted: number | null, more: Partial<BlockResult> = {}) => {
      const to = time + profile.time;
      const end = position + profile.distance;
      if (profile.time > 0) stretches.push(phasesStretch(profile.phases, time, to, position, end));
      results.push({
        ...base,
        to,
        end,
        speed: profile.speed,
        wanted: wanted !== null && profile.speed < wanted * (1 - 1e-9) ? wanted : null,
        bound: profile.bound,
        ...more,
      });
      time = to;
      position = end;
    };
    switch (block.kind) {
      case 'travel': {
        const distance = block.given === 'by' ? block.value : block.value - position;
        const limits = limitsOf(block, axis, number);
        if (block.time === null) drive(servoProfile(distance, limits), limits.velocity);
        else
          try {
            drive(gentlestProfile(distance, block.time, limits), null);
          } catch (error) {
            if (!(error instanceof TimeTooShort)) throw error;
            throw new BlockError(
              `Block ${number} is to take ${Number(block.time.toPrecision(6))} s, but its limits allow ${Number(error.shortest.toPrecision(6))} s at best: give it more time or higher limits.`,
              block.id,
            );
          }
        break;
      }
      case 'home': {
        const limits = limitsOf(block, axis, number);
        drive(servoProfile(home - position, limits), limits.velocity);
        break;
      }
      case 'work': {
        const limits = limitsOf(block, axis, number);
        const { runUp, runOut, ...profile } = workProfile(block.length, limits);
        drive(profile, null, { runUp, runOut });
        break;
      }
      case 'wait':
        stretches.push({ from: time, to: time + block.time, start: position, stroke: 0, law: undefined });
        results.push({ ...base, to: time + block.time, end: position });
        time += block.time;
        break;
      case 'oscillate': {
        swings += 2 * block.cycles;
        if (swings > MOST_SWINGS)
          throw new BlockError(
            `Block ${number}: more than ${MOST_SWINGS} moves to and fro once repeats are written out: let it oscillate less often.`,
            block.id,
          );
        const half = 1 / (2 * block.frequency);
        const law = makeLaw(block.law);
        const begun = time;
        for (let i = 0; i < 2 * block.cycles; i++) {
          const there = i % 2 === 0;
          stretches.push({
            from: begun + i * half,
            to: begun + (i + 1) * half,
            start: position + (there ? 0 : block.peakToPeak),
            stroke: there ? block.peakToPeak : -block.peakToPeak,
            law,
          });
        }
        time = begun + 2 * block.cycles * half;
        results.push({
          ...base,
          to: time,
          end: position,
          speed: Math.abs(block.peakToPeak) * peakSpeed(block.law) * 2 * block.frequency,
        });
        break;
      }
    }
  }
  return { stretches, results };
}

function peakSpeed(id: LawId): number {
  const law = makeLaw(id);
  const out = new Float64Array(4);
  let most = 0;
  for (let k = 0; k <= 400; k++) {
    law.derivatives(k / 400, out, 0);
    most = Math.max(most, Math.abs(out[1]!));
  }
  return most;
}

/** The motion of a list of blocks over one cycle; it rests when the list is done. */
export function blocksMotion(stretches: readonly MotionStretch[], home: number, duration: number): Motion {
  const edges = new Set([0, duration]);
  const steps = new Set<number>();
  const kept = stretches.filter(({ from }) => from < duration);
  for (const { from, to, law } of kept) {
    const at = (tau: number) => (tau === 1 ? to : from + tau * (to - from));
    for (const tau of [0, ...(law?.breaks ?? []), 1]) edges.add(Math.min(duration, at(tau)));
    for (const tau of law?.accelerationSteps ?? []) if (at(tau) <= duration) steps.add(at(tau));
    for (const tau of law?.velocitySteps ?? []) if (at(tau) <= duration) steps.add(at(tau));
  }
  const end = stretches.at(-1)?.to ?? 0;
  const out = new Float64Array(4);
  let rest = home;
  const last = stretches.at(-1);
  if (last) {
    if (last.law) last.law.derivatives(1, out, 0);
    rest = last.start + (last.law ? last.stroke * out[0]! : 0);
  }
  const all = end < duration ? [...kept, { from: end, to: duration, start: rest, stroke: 0, law: undefined }] : kept;
  return { duration, stretches: all, edges: [...edges].sort((a, b) => a - b), steps: [...steps].sort((a, b) => a - b) };
}
