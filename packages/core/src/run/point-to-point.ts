import { lawCharacteristics, makeLaw } from '../law';
import { dot, plus } from '../geometry';
import type { Axis, Machine, MarkedPose, Place } from '../machine';
import { reversedLaw, type LawChoice } from '../motion';
import { formatQuantity } from '../quantity';
import { AxisPoses, type AxisPlaces, type ReachedPose } from './axis-poses';

/** How a machine shall go from one marked pose to another. */
export interface TransferWish {
  from: MarkedPose;
  to: MarkedPose;
  /** How far over the higher of both places the tool goes across, raised before and lowered behind, m; 0 goes without. */
  clear: number;
  /** Share of the shorter of two steps by which they overlap, 0 to 1. */
  overlap: number;
  law: LawChoice;
  /** Time of the whole way there, s; null takes what the limits of the axes ask for. */
  time: number | null;
  /** Whether the same way back follows, mirrored in time, after a stay of so many seconds. */
  back: boolean;
  stay: number;
  /** Steps in which moves were put by hand, by {@link TransferMove.key}. */
  steps: Readonly<Record<string, number>>;
}

/** One axis going from one position to another, m or rad. */
export interface TransferMove {
  /** Names the move on the way there. */
  key: string;
  axis: string;
  from: number;
  to: number;
  /** Which of the steps, one after another, it belongs to. */
  step: number;
  start: number;
  time: number;
  law: LawChoice;
  leg: Leg;
  /** Whether it belongs to the way back. */
  back: boolean;
}

/** What the tool does meanwhile. */
export type Leg = 'rise' | 'across' | 'lower';

/** The moves of a transfer, in the order of their starts. */
export interface Transfer {
  moves: TransferMove[];
  /** Time of the way there, and of all of it, s. */
  there: number;
  time: number;
  /** Where the axes stand at the places on the way: marked and raised ones. */
  stations: Map<string, number>[];
  /** Why there is none, or what is wrong with it. */
  problem: string | null;
  notes: string[];
}

/** Time of a move where nothing limits it, s. */
const UNLIMITED = 0.4;
/** Ways of the tool that are steeper than this, up per length, count as up or down. */
const STEEP = 0.7;
/** Shorter ways are none, m or rad. */
const NO_WAY = 1e-9;

/** The least time in which an axis goes a way by a law within its limits, s; null where it has none that bind. */
export function leastTime({ limits }: Pick<Axis, 'limits'>, way: number, law: LawChoice): number | null {
  const { cv, ca, cj } = lawCharacteristics(makeLaw(law.id, law.parameters ?? {}));
  const d = Math.abs(way);
  const times = [
    limits.velocity === null ? 0 : (cv * d) / limits.velocity,
    limits.acceleration === null ? 0 : Math.sqrt((ca * d) / limits.acceleration),
    limits.jerk === null ? 0 : Math.cbrt((cj * d) / limits.jerk),
  ];
  const most = Math.max(...times);
  return most > 0 ? most : null;
}

/** Positions of a marked pose; axes that it does not name stand where they stand in `others`. */
export const placesOf = (pose: MarkedPose, others: AxisPlaces): Map<string, number> => {
  const known = new Map(others);
  for (const { axis, position } of pose.at) if (known.has(axis)) known.set(axis, position);
  return known;
};

/**
 * Finds the motions of all axes that a way from one pose to another needs, their order and their times: what raises the
 * tool first, what lowers it last, the rest between; steps overlap as wished.
 */
export function planTransfer(machine: Machine, wish: TransferWish): Transfer {
  const none = (problem: string): Transfer => ({ moves: [], there: 0, time: 0, stations: [], problem, notes: [] });
  const poses = AxisPoses.of(machine);
  if (typeof poses === 'string') return none(poses);
  const others = poses.drawnPlaces;
  const [begin, end] = [placesOf(wish.from, others), placesOf(wish.to, others)];
  for (const [pose, places] of [
    [wish.from, begin],
    [wish.to, end],
  ] as const)
    // prettier-ignore
    if (poses.stateAt(places).share < 1)
      return none(`The mechanism does not get into the pose “${pose.name}”: mark it anew, or change its positions.`);
  const notes: string[] = [];
  const stations = [begin, end];
  const tool = wish.to.tool ?? wish.from.tool;
  if (wish.clear > 0) {
    if (!tool) return none('Choose the tool point of a pose: it is what is raised.');
    const raised = raisedOver(poses, tool, stations, wish.clear);
    const stuck = raised.findIndex(({ problem }) => problem !== null);
    if (stuck >= 0)
      return none(
        `Raised over “${[wish.from, wish.to][stuck]!.name}” so that it clears both by ${formatQuantity(wish.clear, 'length', machine.units)}: ${raised[stuck]!.problem}`,
      );
    stations.splice(1, 0, ...raised.map(({ places }) => places));
  }
  const legs: Leg[] = wish.clear > 0 ? ['rise', 'across', 'lower'] : ['across'];
  const moves = legs.flatMap((leg, k): TransferMove[] => {
    const [from, to] = [stations[k]!, stations[k + 1]!];
    // Raised by a clear height already, all the rest goes across at once.
    const raises = wish.clear > 0 || !tool ? null : poses.raises(from, to, tool);
    return machine.axes.flatMap((axis): TransferMove[] => {
      const [a, b] = [from.get(axis.id)!, to.get(axis.id)!];
      if (Math.abs(b - a) < NO_WAY) return [];
      const { up, way } = raises?.get(axis.id) ?? { up: 0, way: 0 };
      const own: Leg = Math.abs(up) <= STEEP * way ? leg : up > 0 ? 'rise' : 'lower';
      const key = `${axis.id} ${leg}`;
      const order = { rise: 1, across: 2, lower: 3 }[own];
      const step = wish.steps[key] ?? order;
      return [{ key, axis: axis.id, from: a, to: b, step, start: 0, time: 0, law: wish.law, leg: own, back: false }];
    });
  });
  if (moves.length === 0)
    return { ...none('The two poses are one: no axis has to move. Mark another target.'), stations };
  const axisOf = (id: string) => machine.axes.find((axis) => axis.id === id)!;
  const early = moves.find((move, i) => moves.slice(i + 1).some(({ axis, step }) => axis === move.axis && step <= move.step)); // prettier-ignore
  if (early)
    return none(
      `“${axisOf(early.axis).name}” would have to go on before it has arrived: its later move must stand in a later step.`,
    );
  const there = setTimes(machine, moves, wish);
  if (wish.time === null && moves.every(({ axis, from, to, law }) => leastTime(axisOf(axis), to - from, law) === null))
    notes.push(
      `No limits of velocity or acceleration stand in Build, so each step takes ${formatQuantity(UNLIMITED, 'time', machine.units)}: set limits, or the time of the whole way.`,
    );
  const hurried = moves.find(({ axis, from, to, law, time }) => time < (leastTime(axisOf(axis), to - from, law) ?? 0) * (1 - 1e-9)); // prettier-ignore
  if (hurried)
    notes.push(
      `In this time “${axisOf(hurried.axis).name}” breaks its limits: ${formatQuantity(hurried.time, 'time', machine.units, 3)} for a move that needs ${formatQuantity(leastTime(axisOf(hurried.axis), hurried.to - hurried.from, hurried.law)!, 'time', machine.units, 3)}. Give the way more time, or leave it to the limits.`,
    );
  if (!wish.back && !machine.oneOff)
    notes.push('It ends where it does not begin: add the way back, or say in Build that the machine runs once.');
  const beyond = moves.find(({ axis, from, to }) => {
    const { travel } = axisOf(axis);
    return travel && [from, to].some((at) => at < travel.min - NO_WAY || at > travel.max + NO_WAY);
  });
  if (beyond)
    notes.push(
      `“${axisOf(beyond.axis).name}” leaves its travel on this way: mark another place, or widen the travel in Build.`,
    );
  if (!wish.back) return { moves, there, time: there, stations, problem: null, notes };
  const time = 2 * there + wish.stay;
  const returns = moves.map((move) => ({
    ...move,
    from: move.to,
    to: move.from,
    start: time - move.start - move.time,
    law: reversedLaw(move.law),
    leg: ({ rise: 'lower', across: 'across', lower: 'rise' } as const)[move.leg],
    step: -move.step,
    back: true,
  }));
  return { moves: byStart([...moves, ...returns]), there, time, stations, problem: null, notes };
}

/** The places straight above both ends of a way, as far over the higher of them as is wished. */
function raisedOver(poses: AxisPoses, tool: Place, ends: readonly AxisPlaces[], clear: number): ReachedPose[] {
  const { up } = poses;
  const spots = ends.map((places) => poses.placeOf(tool, places));
  const heights = spots.map((at) => (at ? dot(up, at) : -Infinity));
  const level = Math.max(...heights) + clear;
  return ends.map((places, i) => {
    const at = spots[i];
    if (!at) return { places: new Map(places), kept: true, problem: 'Choose the tool point of a pose: it is what is raised.' }; // prettier-ignore
    return poses.reach(places, tool, plus(at, up, level - heights[i]!));
  });
}

const byStart = (moves: TransferMove[]) => moves.sort((a, b) => a.start - b.start);

/** Sets the times of moves: those of one step take the same time, steps follow with their overlap. The time of it all. */
function setTimes(machine: Machine, moves: TransferMove[], { overlap, time, law }: TransferWish): number {
  const steps = [...new Set(moves.map(({ step }) => step))].sort((a, b) => a - b);
  const lasts = new Map(
    steps.map((step) => {
      const own = moves.filter((move) => move.step === step);
      const times = own.map(({ axis, from, to }) => leastTime(machine.axes.find(({ id }) => id === axis)!, to - from, law)); // prettier-ignore
      // A hair more than just enough, so that rounding breaks no limit.
      const least = Math.max(0, ...times.map((value) => value ?? 0)) * 1.0005;
      return [step, least > 0 ? least : UNLIMITED];
    }),
  );
  let end = 0;
  let before = 0;
  const ended = new Map<string, number>();
  for (const step of steps) {
    const own = lasts.get(step)!;
    const start = Math.max(0, end - overlap * Math.min(before, own));
    let latest = end;
    for (const move of moves.filter((other) => other.step === step)) {
      move.start = Math.max(start, ended.get(move.axis) ?? 0);
      move.time = own;
      ended.set(move.axis, move.start + own);
      latest = Math.max(latest, move.start + own);
    }
    before = own;
    end = latest;
  }
  // All of it scales: order and overlap stay as they are.
  const factor = time === null ? 1 : time / end;
  for (const move of moves) {
    move.start *= factor;
    move.time *= factor;
  }
  byStart(moves);
  return end * factor;
}
