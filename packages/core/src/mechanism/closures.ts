import { bodiesOf, GROUND, type Joint, type Mechanism } from '../machine';
import { analyseRank, Scatter } from '../numeric';
import { rootsOf } from './clusters';
import { assemble } from './kinematics';
import { compileMechanism, type MechanismModel } from './model';
import { framePoses, type Pose } from './poses';
import { close, Equations } from './solver';
import { copyOf, ratesOf, retract, type Positions } from './state';

/** Work that one search may take: attempts times the cube of the unknowns. */
const WORK = 6e6;
const range = (count: number) => Array.from({ length: count }, (_, i) => i);

/** A way in which the loops of a drawing close while what is driven stays. */
export interface OtherPose {
  /** Start poses of the bodies that stand otherwise. */
  poses: Map<string, Pose>;
  /** How far the bodies go: shares of the typical length, and turns in rad while they are small, as root of squares. */
  way: number;
}

/**
 * Other ways in which the loops at a joint close, in the plane and in space: found from many starts (damped Newton,
 * with the same starts each time), the nearest first. What axes lead stands still, and so do other joints as far as
 * freedoms are left, those on the frame of a plane first. Closures beyond a stop are left out.
 * @param driven joints that axes lead
 * @returns closures other than the drawn one, or a sentence that says why there is none
 */
export function otherClosures(m: Mechanism, jointId: string, driven: readonly string[]): OtherPose[] | string {
  const joint = m.joints.find(({ id }) => id === jointId)!;
  const { model, q, rows, led } = heldModel(m, jointId, driven);
  if (!q) return 'The drawing does not come together as it is: mend that first, then look for other closures.';
  const free = freeColumns(model, jointId);
  const from = standing(model, q);
  const found: { q: Positions; at: Float64Array; way: number }[] = [];
  let beyond = 0;
  const scatter = new Scatter(1);
  const attempts = Math.max(8, Math.min(160, Math.round(WORK / (1 + free.length) ** 3)));
  const equations = new Equations(model);
  const offset = ratesOf(model);
  const trial = copyOf(q);
  for (let attempt = 0; attempt < attempts; attempt++) {
    offset.fill(0);
    // Some starts near, some far: the other side of a long rod lies beyond what is drawn.
    const reach = (attempt % 2 === 0 ? 1 : 3) * model.scale;
    for (const j of free) offset[j] = scatter.within(isAngle(model, j) ? Math.PI : reach);
    retract(model, q, offset, trial);
    if (!close(equations, trial, rows, led).closed) continue;
    const wound = unwound(model, q, trial, free);
    if (close(equations, wound, rows, led).closed) trial.set(wound);
    const at = standing(model, trial);
    const way = apart(from, at);
    if (way < 1e-3 || found.some((other) => apart(other.at, at) < 1e-3)) continue;
    if (model.stops.some(({ coordinate, min, max }) => passes(coordinate.value(trial), min, max))) beyond++;
    else found.push({ q: copyOf(trial), at, way });
  }
  if (found.length === 0)
    return beyond > 0
      ? `The loops at ${joint.name} close in another way only beyond a stop: widen the stop, or take it off, to see it.`
      : `No other way was found in which the loops at ${joint.name} close while what is driven stays where it is.`;
  const before = framePoses(model.bodies, q);
  return found
    .sort((x, y) => x.way - y.way)
    .map(({ q: state, way }) => {
      const after = framePoses(model.bodies, state);
      const moved = model.bodies.flatMap(({ id }, i): [string, Pose][] => {
        const [was, is] = [before[i]!, after[i]!];
        const same = Math.hypot(is.x - was.x, is.y - was.y) < 1e-12 && Math.abs(is.angle - was.angle) < 1e-12;
        return same ? [] : [[id, is]];
      });
      return { poses: new Map(moved), way };
    });
}

/** The mechanism with every joint led that shall stay; its drawn pose, closed, and the rows that hold. */
function heldModel(m: Mechanism, jointId: string, driven: readonly string[]) {
  const others = m.joints.filter(({ id }) => id !== jointId && !driven.includes(id));
  const onFrame = (joint: Joint) => bodiesOf(m, joint).includes(GROUND);
  const held = [
    ...driven,
    ...others.filter(onFrame).map(({ id }) => id),
    ...others.filter((other) => !onFrame(other)).map(({ id }) => id),
  ];
  const model = compileMechanism(m, held.map((id) => ({ axisId: id, joint: id }))); // prettier-ignore
  const { q, assembled } = assemble(model);
  if (!assembled) return { model, q: null, rows: [], led: [] };
  const equations = new Equations(model);
  equations.jacobian(q);
  const rows = range(model.tiedRows);
  let { rank } = analyseRank(equations.denseRows(rows));
  for (const { row } of model.drives) {
    if (rank === model.size) break;
    const next = analyseRank(equations.denseRows([...rows, row])).rank;
    if (next > rank) rows.push(row);
    rank = next;
  }
  return { model, q, rows, led: model.drives.map(({ coordinate }) => coordinate.value(q)) };
}

/** Unknowns that hang together with a joint. */
function freeColumns(model: MechanismModel, jointId: string): number[] {
  const roots = rootsOf(model);
  const { constraints } = model.joint(jointId)!;
  const own = constraints.map(({ firstRow }) => roots[model.size + firstRow]);
  return range(model.size).filter((j) => own.includes(roots[j]));
}

const isAngle = (model: MechanismModel, j: number) => j < 3 * model.bodies.length && j % 3 === 2;
const passes = (value: number, min: number | null, max: number | null) =>
  (min !== null && value < min - 1e-9) || (max !== null && value > max + 1e-9);
const turnBetween = (from: number, to: number) => Math.atan2(Math.sin(to - from), Math.cos(to - from));

/** The same pose with angles within half a turn of those before. */
function unwound(model: MechanismModel, q: Positions, there: Positions, free: readonly number[]): Positions {
  const way = ratesOf(model);
  for (const j of free) way[j] = isAngle(model, j) ? turnBetween(q[j]!, there[j]!) : there[j]! - q[j]!;
  const out = copyOf(there);
  retract(model, q, way, out);
  return out;
}

/**
 * Where the bodies that have a mass stand in the world, place (as shares of the typical length) and axes of each: bodies
 * without one may only be there to leave others free, and turned in several ways for one and the same place.
 */
function standing({ tree, bodies, scale }: MechanismModel, q: Positions): Float64Array {
  const heavy = range(bodies.length).filter((b) => bodies[b]!.mass > 0);
  tree.pose(q);
  return Float64Array.from(
    (heavy.length > 0 ? heavy : range(bodies.length)).flatMap((b) => [
      ...tree.at.subarray(3 * b, 3 * b + 3).map((part) => part / scale),
      // Frames apart by a small angle φ differ by √2 φ.
      ...tree.axes.subarray(9 * b, 9 * b + 9).map((part) => part / Math.SQRT2),
    ]),
  );
}

const apart = (one: Float64Array, other: Float64Array): number =>
  Math.hypot(...one.map((value, i) => other[i]! - value));
