import {
  dutyOf,
  judgeMotor,
  rankMotors,
  simulate,
  type Candidate,
  type Machine,
  type Motor,
  type Run,
} from '@yoke/core';
import { expose } from 'comlink';

let catalogue: Motor[] = [];

/** Rotor inertia in kg·m² of the motors chosen in a machine, brakes included where they are needed. */
function chosenRotors(machine: Machine, plain: Run): Record<string, number> {
  const inertias: Record<string, number> = {};
  machine.axes.forEach((axis, i) => {
    const motor = catalogue.find(({ type }) => type === axis.sizing.motor);
    if (!motor) return;
    inertias[axis.id] = judgeMotor(motor, dutyOf(axis, plain.axes[i]!, plain.times), axis.sizing).inertia;
  });
  return inertias;
}

const worker = {
  setCatalogue(motors: Motor[]): void {
    catalogue = motors;
  },
  /** Runs one cycle of a machine, with the rotors of the motors chosen; tells the share done now and then. */
  run(machine: Machine, progress?: (share: number) => void): Run {
    const plain = simulate(machine, { progress });
    const rotorInertia = chosenRotors(machine, plain);
    return Object.keys(rotorInertia).length > 0 ? simulate(machine, { rotorInertia, progress }) : plain;
  },
  /** Ranks the catalogue for every axis of a machine, by its run. */
  rank(machine: Machine, run: Run): Record<string, Candidate[]> {
    return Object.fromEntries(
      machine.axes.map((axis, i) => [
        axis.id,
        rankMotors(catalogue, dutyOf(axis, run.axes[i]!, run.times), axis.sizing),
      ]),
    );
  },
};

export type ComputeWorker = typeof worker;
expose(worker);
