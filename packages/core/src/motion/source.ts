import {
  ANGLE,
  constantFormula,
  constantNameProblem,
  FormulaError,
  LENGTH,
  type FormulaConstant,
  type FormulaScope,
} from '../formula';
import { cycleTime, type Axis, type AxisMotion, type Machine } from '../machine';
import { EngageError, followByRatio, followMaster, engagementJump, type EngagementJump } from './follow';
import { formulaMotion, formulaShape, type FormulaSources } from './formula-motion';
import { integrateMotion } from './integrate';
import { masterMotion, MasterError, type Master } from './master';
import { planMotion, type Motion } from './motion';
import { planDuration } from './plan';
import { plainMotion, type PlainSource } from './plain-motion';
import { PointsError, pointsMotion } from './points';
import { BlockError, blocksMotion, runBlocks, type BlockResult } from './servo-moves';

/** What tells an axis how to move; the numbers belong to the level: position, velocity or acceleration. */
export type MotionSource = AxisMotion;

/** An axis as far as its motion goes. */
export type MovingAxis = Pick<Axis, 'id' | 'name' | 'kind' | 'home' | 'limits' | 'plan' | 'motion'>;

/** A machine as far as its motions go. */
export interface MovingMachine {
  cycleTime: number;
  master: Master;
  constants: readonly { name: string; text: string }[];
  axes: readonly MovingAxis[];
}

/** The machine as far as its motions go. */
export function movingMachine(machine: Pick<Machine, 'cycle' | 'master' | 'constants' | 'axes'>): MovingMachine {
  return { cycleTime: cycleTime(machine), master: machine.master, constants: machine.constants, axes: machine.axes };
}

/** Why a motion could not be made as written; the axis rests instead. */
export type MotionProblem =
  | { code: 'formula'; severity: 'error'; text: string; from: number; to: number }
  | { code: 'motion'; severity: 'error'; text: string; blockId: string | null }
  | { code: 'engage'; severity: 'error'; text: string; jump: EngagementJump | null };

/** The motion of an axis, what was wrong with it, and what its blocks did. */
export interface AxisMotionResult {
  motion: Motion;
  problems: MotionProblem[];
  blocks: BlockResult[];
  /** Time in s that a list of blocks takes; null for other sources. */
  blocksTime: number | null;
  /** What engaging at once would do; null for an axis that does not engage. */
  jump: EngagementJump | null;
}

/** Constants of a machine by name; one that cannot be read is left out and named. */
export function machineConstants(list: MovingMachine['constants']): {
  constants: Map<string, FormulaConstant>;
  wrong: Map<string, string>;
} {
  const constants = new Map<string, FormulaConstant>();
  const wrong = new Map<string, string>();
  for (const { name, text } of list) {
    const problem = constantNameProblem(name);
    if (problem) wrong.set(name, `“${name}” ${problem}.`);
    else
      try {
        constants.set(name, constantFormula(text, constants));
      } catch (error) {
        if (!(error instanceof FormulaError)) throw error;
        wrong.set(name, error.message);
      }
  }
  return { constants, wrong };
}

const resting = (duration: number, position: number): Motion => ({
  duration,
  stretches: [{ from: 0, to: duration, start: position, stroke: 0, law: undefined }],
  edges: [0, duration],
  steps: [],
});

const dimensionOf = (kind: 'linear' | 'rotary') => (kind === 'linear' ? LENGTH : ANGLE);

/** What a machine's formulas may speak of, seen from one axis (which does not see itself). */
export function formulaScope(
  machine: MovingMachine,
  axisId: string | null,
  constants: ReadonlyMap<string, FormulaConstant>,
): FormulaScope {
  return {
    cycleTime: machine.cycleTime,
    master: dimensionOf(machine.master.kind),
    axes: machine.axes
      .filter(({ id }) => id !== axisId)
      .map(({ name, kind }) => ({ name, dimension: dimensionOf(kind) })),
    constants,
  };
}

/** Motions found by simulating the cue sheet, which take the place of those that the document describes. */
export interface FoundMotions {
  duration: number;
  master: Motion;
  axes: ReadonlyMap<string, Motion>;
}

/** All motions of a machine: each axis by its source, those that follow others after them. */
export class MachineMotions {
  readonly master: Motion;
  /** What is wrong with the master, or null. */
  readonly masterProblem: string | null;
  readonly constants: ReadonlyMap<string, FormulaConstant>;
  private readonly made = new Map<string, AxisMotionResult>();
  private readonly underWay: string[] = [];

  /** @param found motions that hold instead of the described ones, over their own duration */
  constructor(
    readonly machine: MovingMachine,
    private readonly found: FoundMotions | null = null,
  ) {
    this.constants = machineConstants(machine.constants).constants;
    let problem: string | null = null;
    let master = resting(machine.cycleTime, machine.master.start);
    try {
      master = masterMotion(machine.master, machine.cycleTime);
    } catch (error) {
      if (!(error instanceof MasterError)) throw error;
      problem = error.message;
    }
    this.master = found?.master ?? master;
    this.masterProblem = problem;
  }

  /** Length of what is known of the motions, s: the cycle, or that of the motions found. */
  get duration(): number {
    return this.found?.duration ?? this.machine.cycleTime;
  }

  /** The motion of the axis with this identifier. */
  of(id: string): AxisMotionResult {
    const known = this.made.get(id);
    if (known) return known;
    const axis = this.machine.axes.find((a) => a.id === id)!;
    this.underWay.push(id);
    const described = this.make(axis);
    const motion = this.found?.axes.get(id);
    const result = motion ? { ...described, motion } : described;
    this.underWay.pop();
    this.made.set(id, result);
    return result;
  }

  /** What formulas read: the master, and axes by name. */
  get sources(): FormulaSources {
    return {
      master: this.master,
      axis: (name) => this.other(this.machine.axes.find((a) => a.name === name)!),
    };
  }

  private other(axis: MovingAxis): Motion {
    if (this.underWay.includes(axis.id)) {
      const names = this.underWay.map((id) => `“${this.machine.axes.find((a) => a.id === id)!.name}”`);
      throw new FormulaError(
        `Axes wait for each other: ${names.join(' → ')} → “${axis.name}”. One of them must move by itself.`,
        0,
        Infinity,
      );
    }
    const { motion, problems } = this.of(axis.id);
    if (problems.length > 0)
      throw new FormulaError(
        `It goes along with “${axis.name}”, which cannot move as written: mend that axis first.`,
        0,
        Infinity,
      );
    return motion;
  }

  private make(axis: MovingAxis): AxisMotionResult {
    const result: AxisMotionResult = {
      motion: resting(this.machine.cycleTime, restOf(axis)),
      problems: [],
      blocks: [],
      blocksTime: null,
      jump: null,
    };
    try {
      result.motion = this.source(axis, result);
    } catch (error) {
      if (error instanceof FormulaError) {
        const length = axis.motion.source.kind === 'formula' ? axis.motion.source.text.length : 0;
        result.problems.push({
          code: 'formula',
          severity: 'error',
          text: error.message,
          from: Math.min(error.from, length),
          to: Math.min(error.to, length),
        });
      } else if (error instanceof EngageError) {
        result.problems.push({ code: 'engage', severity: 'error', text: error.message, jump: error.jump });
        if (axis.motion.engage) result.motion = resting(this.machine.cycleTime, axis.motion.engage.waits);
      } else if (error instanceof PointsError || error instanceof BlockError)
        result.problems.push({
          code: 'motion',
          severity: 'error',
          text: error.message,
          blockId: error instanceof BlockError ? error.blockId : null,
        });
      else throw error;
    }
    return result;
  }

  private source(axis: MovingAxis, result: AxisMotionResult): Motion {
    const { machine } = this;
    const { source, level, over, initial, engage } = axis.motion;
    const T = machine.cycleTime;
    if (source.kind === 'follow') {
      const leader = source.axis === null ? this.master : this.leader(axis, source.axis);
      if (over === 'master' && engage && source.axis === null)
        return this.engaged(lineShape(machine.master.wrap, source), axis, result);
      return followByRatio(leader, source.ratio, source.offset);
    }
    if (source.kind === 'cues') return resting(T, source.start);
    if (source.kind === 'moves') {
      const { stretches, results } = runBlocks(source.blocks, axis.home, axis.limits);
      result.blocks = results;
      result.blocksTime = results.at(-1)?.to ?? 0;
      return blocksMotion(stretches, axis.home, T);
    }
    if (over === 'master' && (source.kind === 'plan' || source.kind === 'points' || source.kind === 'formula')) {
      const { wrap } = machine.master;
      const shape =
        source.kind === 'plan'
          ? planMotion(axis.plan, wrap)
          : source.kind === 'points'
            ? pointsMotion(source.rows, source, wrap)
            : formulaShape(source.text, formulaScope(machine, axis.id, this.constants), dimensionOf(axis.kind), wrap);
      if (source.kind === 'plan' && planDuration(axis.plan) > wrap * (1 + 1e-9))
        result.problems.push({
          code: 'motion',
          severity: 'error',
          text: 'The plan is longer than one wrap of the master: what lies beyond is cut off. Fit it to the master.',
          blockId: null,
        });
      return this.engaged(shape, axis, result);
    }
    const given =
      source.kind === 'formula'
        ? formulaMotion(
            source.text,
            formulaScope(machine, axis.id, this.constants),
            dimensionOf(axis.kind),
            level,
            this.sources,
          )
        : source.kind === 'points'
          ? pointsMotion(source.rows, source, T)
          : source.kind === 'plan'
            ? planMotion(axis.plan, T)
            : null;
    if (given) return lowered(given, level, initial);
    return plainMotion(source as PlainSource, level, initial, T);
  }

  private engaged(shape: Motion, axis: MovingAxis, result: AxisMotionResult): Motion {
    const { wrap } = this.machine.master;
    const { engage } = axis.motion;
    if (engage) result.jump = engagementJump(shape, wrap, this.master, engage);
    return followMaster(shape, wrap, this.master, engage);
  }

  private leader(axis: MovingAxis, id: string): Motion {
    const found = this.machine.axes.find((a) => a.id === id);
    if (!found || found.id === axis.id)
      throw new PointsError('It follows an axis that is not there: choose what it follows.');
    return this.other(found);
  }
}

/** Straight line over one wrap, for an axis that goes along with the master. */
function lineShape(wrap: number, { ratio, offset }: { ratio: number; offset: number }): Motion {
  return planMotion(
    {
      start: offset,
      segments: [{ kind: 'move', id: 'line', duration: wrap, to: offset + ratio * wrap, law: { id: 'straight' } }],
    },
    wrap,
  );
}

/** Where an axis rests that cannot move as written. */
function restOf({ plan, home, motion }: MovingAxis): number {
  const { source } = motion;
  return source.kind === 'plan' ? plan.start : source.kind === 'cues' ? source.start : home;
}

const lowered = (given: Motion, level: MotionSource['level'], initial: MotionSource['initial']): Motion => {
  if (level === 'position') return given;
  if (level === 'velocity') return integrateMotion(given, initial.position);
  return integrateMotion(integrateMotion(given, initial.velocity), initial.position);
};

/** Length over which a plan of this axis runs: the cycle in s, or one wrap of the master. */
export function planLength(
  machine: Pick<MovingMachine, 'cycleTime' | 'master'>,
  { motion }: Pick<MovingAxis, 'motion'>,
): number {
  return motion.over === 'master' && motion.source.kind !== 'follow' ? machine.master.wrap : machine.cycleTime;
}

/** Whether a plan fills the length it runs over. */
export function planFills(
  machine: Pick<MovingMachine, 'cycleTime' | 'master'>,
  axis: Pick<MovingAxis, 'motion' | 'plan'>,
): boolean {
  return axis.plan.segments.length === 0 || Math.abs(planDuration(axis.plan) / planLength(machine, axis) - 1) < 1e-9;
}
