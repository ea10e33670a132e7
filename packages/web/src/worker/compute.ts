import { dutyOf, rankMotors, simulate, type Candidate, type Machine, type Motor, type Run } from '@yoke/core';
import { expose } from 'comlink';

/** Everything derived from a document: its run, and the ranking of the catalogue for every axis. */
export interface Computed {
  run: Run;
  rankings: Record<string, Candidate[]>;
  /** Time the computation took, ms. */
  took: number;
}

let catalogue: Motor[] = [];

const worker = {
  setCatalogue(motors: Motor[]): void {
    catalogue = motors;
  },
  /** Runs a machine and ranks the catalogue for each of its axes. */
  compute(machine: Machine): Computed {
    const started = performance.now();
    const plain = simulate(machine);
    const rankings: Record<string, Candidate[]> = {};
    const rotorInertia: Record<string, number> = {};
    machine.axes.forEach((axis, i) => {
      const duty = dutyOf(axis, plain.axes[i]!, plain.times);
      rankings[axis.id] = rankMotors(catalogue, duty, axis.sizing);
      if (axis.sizing.motor === null) return;
      const chosen = rankings[axis.id]!.find(({ motor }) => motor.type === axis.sizing.motor);
      if (chosen) rotorInertia[axis.id] = chosen.inertia;
    });
    const run = Object.keys(rotorInertia).length > 0 ? simulate(machine, { rotorInertia }) : plain;
    return { run, rankings, took: performance.now() - started };
  },
};

export type ComputeWorker = typeof worker;
expose(worker);
