import { analyseRank, type Dense } from '../numeric';
import { GROUND, type Mechanism } from '../machine';
import type { MechanismModel } from './model';
import { Equations } from './solver';
import type { Positions } from './state';

/** One way in which a mechanism can still move. */
export interface FreeMode {
  /** Small motion of every unknown, m and rad; the largest turn is of the order of one. */
  motion: number[];
  /** Bodies that take part, the most mobile first. */
  bodies: string[];
}

/** What is free and what is said twice, at one pose. */
export interface Mobility {
  /** Grübler–Kutzbach count: 3·(moving bodies) less the equations of joints and couplings. */
  count: number;
  /** Degrees of freedom from the true rank of the equations. */
  free: number;
  drives: number;
  /** Freedoms that no drive leads. */
  remaining: number;
  modes: FreeMode[];
  /** Joints and couplings that say the same thing, by identifier; the first could be left out. */
  redundant: string[][];
  /** Axes that ask for the same freedom, by identifier of axis, with the joints that tie them. */
  fighting: string[][];
  /** Independent rows of joints, couplings and drives. */
  rows: number[];
}

/** Analyses the mobility of a mechanism at a pose that closes. */
export function mobilityAt(model: MechanismModel, q: Positions): Mobility {
  const equations = new Equations(model);
  equations.jacobian(q);
  const all = equations.denseJacobian(model.driveEnd);
  const owner = (row: number) =>
    model.constraints.find(({ firstRow, rows }) => row >= firstRow && row < firstRow + rows.length)!.owner;
  const names = (row: number, of: readonly { row: number }[]) => [
    ...new Set([owner(row), ...of.map((part) => owner(part.row))]),
  ];
  const tied = analyseRank(pickRows(all, range(model.tiedRows)));
  const chosen = [...tied.independentRows, ...range(model.driveEnd).slice(model.tiedRows)];
  const whole = analyseRank(pickRows(all, chosen));
  const back = (row: number) => chosen[row]!;
  // Shares of rows among joints tell what ties the drives together; drives must be named first.
  const fighting = whole.dependentRows.map(({ row, of }) => {
    const rows = [row, ...of.map((part) => part.row)].map(back);
    const drives = rows.filter((r) => r >= model.tiedRows).map(owner);
    const ties = rows.filter((r) => r < model.tiedRows).map(owner);
    return [...new Set([...drives, ...ties])];
  });
  const rows = whole.independentRows.map(back);
  return {
    count: model.size - model.tiedRows,
    free: model.size - tied.rank,
    drives: model.drives.length,
    remaining: model.size - whole.rank,
    modes: whole.nullSpace.map((vector) => modeOf(model, vector)),
    redundant: tied.dependentRows.map(({ row, of }) => names(row, of)),
    fighting,
    // A drive that fights must not push a joint out.
    rows: fighting.length > 0 ? keepJoints(tied.independentRows, all, model) : rows,
  };
}

function keepJoints(tied: readonly number[], all: Dense, model: MechanismModel): number[] {
  const kept = [...tied];
  for (let row = model.tiedRows; row < model.driveEnd; row++) {
    const trial = [...kept, row];
    if (analyseRank(pickRows(all, trial)).rank === trial.length) kept.push(row);
  }
  return kept;
}

const range = (count: number) => Array.from({ length: count }, (_, i) => i);

function pickRows(matrix: Dense, rows: readonly number[]): Dense {
  const data = new Float64Array(rows.length * matrix.columns);
  rows.forEach((row, i) =>
    data.set(matrix.data.subarray(row * matrix.columns, (row + 1) * matrix.columns), i * matrix.columns),
  );
  return { rows: rows.length, columns: matrix.columns, data };
}

function modeOf(model: MechanismModel, vector: Float64Array): FreeMode {
  const motion = Array.from(vector, (value, j) => value * model.units[j]!);
  const amount = (base: number) =>
    Math.max(Math.abs(vector[base]!), Math.abs(vector[base + 1]!), Math.abs(vector[base + 2]!));
  const bodies = model.bodies
    .filter(({ base }) => amount(base) > 1e-6)
    .sort((a, b) => amount(b.base) - amount(a.base))
    .map(({ id }) => id);
  return { motion, bodies };
}

/**
 * Bodies that no chain of joints ties to the ground, by identifier. What is tied holds also the bodies that carry its
 * plane: so stands what hangs in rods.
 */
export function ungroundedBodies(mechanism: Mechanism): string[] {
  const neighbours = new Map<string, string[]>();
  const link = (a: string, b: string) => {
    neighbours.set(a, [...(neighbours.get(a) ?? []), b]);
    neighbours.set(b, [...(neighbours.get(b) ?? []), a]);
  };
  for (const joint of mechanism.joints) {
    if (joint.kind === 'cylinder') continue;
    const a = 'a' in joint ? joint.a.body : mechanism.paths.find(({ id }) => id === joint.path)!.body;
    link(a, joint.b.body);
  }
  for (const { id, plane } of mechanism.bodies) {
    const carrier = mechanism.planes.find((own) => own.id === plane)!.on;
    if (carrier !== GROUND) neighbours.set(id, [...(neighbours.get(id) ?? []), carrier]);
  }
  const reached = new Set([GROUND]);
  const open = [GROUND];
  while (open.length > 0) {
    for (const next of neighbours.get(open.pop()!) ?? []) {
      if (reached.has(next)) continue;
      reached.add(next);
      open.push(next);
    }
  }
  return mechanism.bodies.filter(({ id }) => !reached.has(id)).map(({ id }) => id);
}
