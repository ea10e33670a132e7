import { cycleTime, type Axis, type Machine } from '../machine';
import { MOST_SAMPLES } from '../motion';
import { movedByCues } from './axes';
import { hasCycle } from './run-cycle';

/** What a run may take, found from the document before it starts: upper bounds, not measurements. */
export interface RunCost {
  /** Samples of all channels. */
  samples: number;
  /** Steps of the contact computation. */
  steps: number;
  /** Parts that sources release. */
  parts: number;
  /** Memory of what is kept, bytes. */
  bytes: number;
}

/** What a run takes without being asked for. */
export const RUN_BUDGET: Readonly<RunCost> = {
  samples: 300_000,
  steps: 2_000_000,
  parts: 50_000,
  bytes: 1.5 * 2 ** 30,
};

/** What a run would take, and which of it goes beyond the budget. */
export interface RunBudget {
  cost: RunCost;
  beyond: (keyof RunCost)[];
}

/** Samples that a motion adds to the grid by its knees at most, over a time in s. */
function edgesOf({ plan, motion }: Axis, machine: Machine, time: number): number {
  const { source, over } = motion;
  const { course, wrap } = machine.master;
  const travel = course.kind === 'cycle' ? wrap : course.speed * time;
  // More laps than this are not followed: the axis then rests, and says so.
  const laps = over === 'master' ? Math.min(1000, Math.max(1, travel / wrap) + 1) : 1;
  switch (source.kind) {
    case 'plan':
      return 8 * (plan.segments.length + 1) * laps;
    case 'points':
      return 2 * source.rows.length * laps;
    case 'formula':
      return 200 * laps;
    case 'follow':
      return 4 * laps;
    case 'moves':
      return source.blocks.reduce(
        (sum, block) =>
          block.kind === 'repeat'
            ? Math.min(20_000, sum * block.times)
            : sum + (block.kind === 'oscillate' ? 4 * block.cycles : 8),
        0,
      );
    case 'harmonic':
      return Math.min(4000, 4 * source.frequency * time);
    default:
      return 4;
  }
}

/** Parts that all sources of a machine can release in a time. */
function partsOf({ loose, sequence }: Machine, time: number): number {
  return loose.sources.reduce((sum, { id, release, pattern }) => {
    const each = loose.space && pattern ? pattern.alongX * pattern.alongY * pattern.across : 1;
    if (release.how === 'times') return sum + each * release.times.filter((at) => at <= time).length;
    if (release.how === 'interval' || release.how === 'flow') {
      const gap = release.how === 'flow' ? 60 / release.perMinute : release.interval;
      const most = Math.max(0, (time - release.first) / gap) + 1;
      return sum + each * Math.min(release.count ?? Infinity, most);
    }
    const releasing = sequence.cues.filter(({ on, action }) => on && action.do === 'release' && action.source === id);
    return sum + each * releasing.reduce((n, { times }) => n + (times ?? 10 * time), 0);
  }, 0);
}

/** Kinds of sensors that are looked at step by step. */
const STEPPED = new Set(['beam', 'area', 'proximity', 'force']);
/** Channels kept of an axis, a body, a joint, an element; frames of parts a second, numbers of each part in one. */
const CHANNELS = { axis: 16, body: 12, joint: 10, element: 6 };
const FRAMES = 100;
const PART_NUMBERS = { plane: 4, space: 8 };
/** Parts that are about at one time at most, as the estimate goes. */
const PARTS_AT_ONCE = 500;

/** What a run of a machine may take, from its document alone. */
export function runCost(machine: Machine): RunCost {
  const { sequence, loose, mechanism, axes } = machine;
  const cycle = hasCycle(machine);
  const cued = sequence.cues.length > 0 || loose.sources.length > 0;
  const time = cycle && cued ? sequence.cycle.most : cycleTime(machine);
  const ofGrid = machine.step === null ? 20_000 : Math.min(MOST_SAMPLES, time / machine.step);
  const own = axes.reduce((sum, axis) => sum + (movedByCues(axis) ? 0 : edgesOf(axis, machine, time)), 0);
  const tables = [
    ...axes.map(({ load }) => load.forceTable?.length ?? 0),
    ...mechanism.elements.map((e) => ('course' in e && e.course.kind === 'table' ? e.course.rows.length : 0)),
  ].reduce((sum, n) => sum + n, 0);
  const samples = Math.round(ofGrid + 2 * (own + tables));
  const stepped =
    cycle &&
    (loose.sources.length > 0 ||
      loose.platforms.length > 0 ||
      sequence.monitors.length > 0 ||
      (sequence.spacings?.length ?? 0) > 0 ||
      sequence.sensors.some(({ sensing }) => STEPPED.has(sensing.kind)));
  const steps = stepped ? Math.ceil(time / loose.step) : 0;
  const parts = Math.round(partsOf(machine, time));
  const channels =
    CHANNELS.axis * axes.length +
    CHANNELS.body * mechanism.bodies.length +
    CHANNELS.joint * mechanism.joints.length +
    CHANNELS.element * mechanism.elements.length;
  const frames = stepped
    ? time * FRAMES * Math.min(parts, PARTS_AT_ONCE) * PART_NUMBERS[loose.space ? 'space' : 'plane']
    : 0;
  return { samples, steps, parts, bytes: 8 * (samples * channels + frames) };
}

/** What a run of a machine would take, held against the budget. */
export function runBudgetOf(machine: Machine): RunBudget {
  const cost = runCost(machine);
  const beyond = (Object.keys(RUN_BUDGET) as (keyof RunCost)[]).filter((key) => cost[key] > RUN_BUDGET[key]);
  return { cost, beyond };
}

const grouped = (value: number) => Math.round(value).toLocaleString('en-GB');
const gigabytes = (bytes: number) => `${Number((bytes / 2 ** 30).toPrecision(2))} GB`;

/** What goes beyond the budget, in a sentence that says what to change; null where nothing does. */
export function explainBudget(machine: Machine): string | null {
  const { cost, beyond } = runBudgetOf(machine);
  if (beyond.length === 0) return null;
  const { most } = machine.sequence.cycle;
  const words: Record<keyof RunCost, [string, string]> = {
    samples: [
      `${grouped(cost.samples)} samples (${grouped(RUN_BUDGET.samples)} are taken without asking)`,
      'let the master turn more slowly, or shorten plans, tables and repeats',
    ],
    steps: [
      `${grouped(cost.steps)} steps of the contact computation (${grouped(RUN_BUDGET.steps)} are taken without asking)`,
      `shorten the longest run (${Number(most.toPrecision(6))} s), or lengthen the contact step (${Number(machine.loose.step.toPrecision(6))} s)`,
    ],
    parts: [
      `${grouped(cost.parts)} loose parts (${grouped(RUN_BUDGET.parts)} are taken without asking)`,
      'release fewer parts, or shorten the longest run',
    ],
    bytes: [
      `${gigabytes(cost.bytes)} of memory (${gigabytes(RUN_BUDGET.bytes)} are taken without asking)`,
      'lengthen the sampling step, or shorten the longest run',
    ],
  };
  const takes = beyond.map((key) => words[key][0]).join(', ');
  const remedies = [...new Set(beyond.map((key) => words[key][1]))].join('; ');
  return `This run may take up to ${takes}. To have it take less: ${remedies}.`;
}
