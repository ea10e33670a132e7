import type { MechanismModel } from './model';
import { ofBody, type Constraint } from './state';

/** A part of a mechanism that hangs together by its joints, couplings and drives, and with nothing else but the ground. */
export interface Cluster {
  constraints: readonly Constraint[];
  /** Drives in it, by their place in the model. */
  drives: readonly number[];
  /** Unknowns in it. */
  columns: readonly number[];
  /** Rows of it, of those that count. */
  rows: readonly number[];
  /** Entries of the Jacobian in it. */
  slots: readonly number[];
}

const range = (count: number) => Array.from({ length: count }, (_, i) => i);

/** Tells for every unknown, and behind them for every row, the one that stands for all that hangs together with it. */
export function rootsOf({ size, rows, entryRows, entryColumns }: MechanismModel): number[] {
  const group = range(size + rows);
  const root = (i: number): number => {
    let at = i;
    while (group[at] !== at) at = group[at]!;
    group[i] = at;
    return at;
  };
  for (let k = 1; k < entryRows.length; k++) group[root(size + entryRows[k]!)] = root(entryColumns[k]!);
  return group.map((_, i) => root(i));
}

/**
 * For every drive the unknowns that tell how it moves and what it carries: those that hang together with it by joints,
 * couplings and drives, itself among them, and those of bodies in planes that ride on such.
 */
export function linkedUnknowns(model: MechanismModel): number[][] {
  const roots = rootsOf(model);
  const { tree } = model;
  return model.drives.map(({ row }) => {
    const isLinked = (j: number) => roots[j] === roots[model.size + row];
    const linked = range(model.size).map(isLinked);
    const rides = tree.bodies.map((_, b) => tree.chainOf(b).some((body) => ofBody(linked, body).some(Boolean)));
    return range(model.size).filter((j) => linked[j] || (j < 3 * rides.length && rides[Math.floor(j / 3)]));
  });
}

/**
 * The parts of a mechanism that do not hang together, each with as many rows as unknowns; all of it as one where that
 * is not so.
 * @param rows rows that count, as many as there are unknowns
 */
export function clustersOf(model: MechanismModel, rows: readonly number[]): Cluster[] {
  const roots = rootsOf(model);
  const all = model.constraints.filter(({ firstRow }) => firstRow < model.driveEnd);
  const clusters = [...new Set(roots.slice(0, model.size))].map((root): Cluster => {
    const isIn = (row: number) => roots[model.size + row] === root;
    return {
      constraints: all.filter(({ firstRow }) => isIn(firstRow)),
      drives: range(model.drives.length).filter((i) => isIn(model.drives[i]!.row)),
      columns: range(model.size).filter((j) => roots[j] === root),
      rows: rows.filter(isIn),
      slots: range(model.entryRows.length).filter((k) => k > 0 && isIn(model.entryRows[k]!)),
    };
  });
  if (clusters.every(({ columns, rows: own }) => columns.length === own.length)) return clusters;
  return [
    {
      constraints: all,
      drives: range(model.drives.length),
      columns: range(model.size),
      rows,
      slots: range(model.entryRows.length).slice(1),
    },
  ];
}
