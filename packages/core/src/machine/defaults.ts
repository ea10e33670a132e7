import type { AxisKind, UnitSystem } from '../quantity';
import { BLOCKS, type ServoBlock } from './block';
import { emptyLoose } from './loose';
import { emptyMechanism, turns, type Joint } from './mechanism';
import { cycleTime, FORMAT_NAME, FORMAT_VERSION, PLAIN_LOSSES, type Axis, type Cylinder, type Machine } from './schema';
import { emptySequence } from './sequence';

/** A machine with a name and nothing in it yet. */
export function newMachine(name: string, units: UnitSystem = 'metric'): Machine {
  return {
    format: FORMAT_NAME,
    version: FORMAT_VERSION,
    name,
    notes: '',
    units,
    cycle: { given: 'time', time: 2 },
    step: null,
    master: newMaster(),
    constants: [],
    axes: [],
    mechanism: emptyMechanism(),
    leads: [],
    loose: emptyLoose(),
    sequence: emptySequence(),
    variants: [],
  };
}

/** An identifier that none of `taken` has: the prefix with the next free number. */
export function freeId(prefix: string, taken: Iterable<string>): string {
  const used = new Set(taken);
  for (let n = 1; ; n++) if (!used.has(`${prefix}${n}`)) return `${prefix}${n}`;
}

/** What an axis that drives a joint is called, so that nobody takes it for the body: “Drive of Pin 3”, and no two alike. */
export function driveName(axes: readonly Pick<Axis, 'name'>[], { name }: { name: string }): string {
  const wanted = `Drive of ${name}`.slice(0, 74);
  const used = new Set(axes.map((axis) => axis.name.toLowerCase()));
  for (let n = 1; ; n++) {
    const own = n === 1 ? wanted : `${wanted} ${n}`;
    if (!used.has(own.toLowerCase())) return own;
  }
}

/**
 * An axis that leads a joint: a turning one goes one turn a cycle, any other a stroke there and back.
 * @param position of the joint as drawn, m or rad
 * @param stroke of one that does not turn, m
 */
export function newDrive(
  machine: Machine,
  joint: Pick<Joint, 'id' | 'name' | 'kind'>,
  position: number,
  stroke: number,
): Axis {
  const cycle = cycleTime(machine);
  const angular = turns(joint);
  const made = newAxis(angular ? 'rotary' : 'linear', machine.axes, cycle);
  made.joint = joint.id;
  made.travel = null;
  made.gearbox = null;
  made.load = { ...made.load, inertia: 0 };
  made.name = driveName(machine.axes, joint);
  if (angular)
    made.motion = {
      ...made.motion,
      level: 'velocity',
      source: { kind: 'constant', value: (2 * Math.PI) / cycle },
      initial: { position, velocity: 0 },
    };
  else {
    made.plan.start = position;
    for (const segment of made.plan.segments)
      if (segment.kind === 'move') segment.to = segment.id === 's1' ? position + stroke : position;
  }
  return made;
}

/** A servo move of some kind for an axis, to stand beside those it has. */
export function newBlock(machine: Machine, axis: Pick<Axis, 'id' | 'motion'>, kind: ServoBlock['kind']): ServoBlock {
  const { source } = axis.motion;
  const taken = source.kind === 'moves' ? source.blocks.map(({ id }) => id) : [];
  return BLOCKS[kind].first({ machine, was: { id: freeId('b', taken), axis: axis.id } }) as ServoBlock;
}

/** Starting values of a gearbox. */
export const GEARBOX_DEFAULT = { ...PLAIN_LOSSES, ratio: 5, inertia: 2e-5 } as const satisfies Axis['gearbox'];

/**
 * A new axis that moves at once: a rise, a dwell and a return that fill the cycle.
 * @param taken axes that exist already; identifier, name and colour keep clear of them
 * @param cycle cycle time in s
 */
export function newAxis(kind: AxisKind, taken: readonly Axis[], cycle: number): Axis {
  const id = freeId(
    'axis',
    taken.map((axis) => axis.id),
  );
  const linear = kind === 'linear';
  const stroke = linear ? 0.2 : Math.PI / 2;
  const law = { id: 'poly345' } as const;
  const colours = new Set(taken.map((axis) => axis.colour));
  const colour = [0, 1, 2, 3, 4, 5, 6, 7].find((c) => !colours.has(c)) ?? taken.length % 8;
  const base = linear ? 'Slide' : 'Table';
  const names = new Set(taken.map((axis) => axis.name.toLowerCase()));
  const name = names.has(base.toLowerCase())
    ? freeId(`${base} `, taken.map((axis) => axis.name)) // prettier-ignore
    : base;
  return {
    id,
    name,
    kind,
    colour,
    reversed: false,
    travel: linear ? { min: 0, max: 0.25 } : null,
    home: 0,
    limits: { velocity: null, acceleration: null, jerk: null },
    smooth: 'acceleration',
    gearbox: linear ? null : { ...GEARBOX_DEFAULT },
    transmission: linear ? { kind: 'belt', radius: 0.025, ...PLAIN_LOSSES, inertia: 1e-4 } : { kind: 'direct' },
    load: {
      inertia: linear ? 5 : 0.02,
      slope: 0,
      imbalance: 0,
      imbalanceAngle: 0,
      coulomb: 0,
      viscous: 0,
      force: 0,
      forceTable: null,
      formula: null,
    },
    plan: {
      start: 0,
      segments: [
        { kind: 'move', id: 's1', duration: cycle * 0.35, to: stroke, law },
        { kind: 'dwell', id: 's2', duration: cycle * 0.2 },
        { kind: 'move', id: 's3', duration: cycle * 0.35, to: 0, law },
        { kind: 'dwell', id: 's4', duration: cycle * 0.1 },
      ],
    },
    motion: newMotion(),
    alternatives: [],
    cylinder: null,
    joint: null,
    sizing: {
      torqueReserve: 0.25,
      speedReserve: 0.1,
      inertiaRatio: 10,
      brake: 'auto',
      rankBy: 'mass',
      motor: null,
    },
  };
}

/** A small cylinder with end cushions that meets its ends softly. */
export function newCylinder(): Cylinder {
  const way = { fill: 0.02, speed: 0.4, cushion: 0.01, endSpeed: 0 };
  return { out: way, in: { ...way }, acceleration: 20 };
}

/** An axis follows its plan over time in position, from rest at zero where a level below leaves that open. */
export function newMotion(): Axis['motion'] {
  return {
    level: 'position',
    over: 'time',
    source: { kind: 'plan' },
    initial: { position: 0, velocity: 0 },
    engage: null,
  };
}

/** The master angle: one turn a cycle. */
export function newMaster(): Machine['master'] {
  return { kind: 'rotary', wrap: 2 * Math.PI, start: 0, course: { kind: 'cycle' } };
}

/** What people call a segment: its number and what it does, `2 dwell`, `3 return`. */
export function segmentName(axis: Axis, id: string): string {
  let position = axis.plan.start;
  for (const [i, segment] of axis.plan.segments.entries()) {
    const to = segment.kind === 'move' ? segment.to : position;
    if (segment.id === id) return `segment ${i + 1} (${segmentRole(segment.kind, to - position)})`;
    position = to;
  }
  return 'a segment';
}

/** Rise, return or dwell, from the sign of the stroke (VDI 2143). */
export function segmentRole(kind: 'dwell' | 'move', stroke: number): 'rise' | 'return' | 'dwell' {
  if (kind === 'dwell' || stroke === 0) return 'dwell';
  return stroke > 0 ? 'rise' : 'return';
}
