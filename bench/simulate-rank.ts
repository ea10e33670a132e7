// A full simulate-and-rank of 24 motors at 2,000 samples, against one plain sampling of the same motion.
import { readFileSync } from 'node:fs';
import { dutyOf, newAxis, newMachine, planMotion, rankMotors, readCatalogue, sampleMotion, simulate } from '@yoke/core';
import { median } from './median';

const motors = readCatalogue(readFileSync(new URL('../demo/motors.csv', import.meta.url), 'utf8')).slice(0, 24);
const machine = newMachine('Bench');
const axis = newAxis('linear', [], 2);
axis.load.slope = 0.5;
axis.load.coulomb = 5;
machine.axes = [axis];
machine.step = 1e-3;

/** Prints time and ratio; under 50 ms is wanted. */
export function benchSimulateRank(): void {
  const run = simulate(machine);
  const rounds = 60;
  const sampling = median(() => sampleMotion(planMotion(axis.plan, 2), run.times), rounds);
  const simulating = median(() => simulate(machine), rounds);
  const both = median(() => {
    const { axes, times } = simulate(machine);
    rankMotors(motors, dutyOf(axis, axes[0]!, times), axis.sizing);
  }, rounds);
  console.log(
    `simulate and rank ${motors.length} motors at ${run.times.length} samples: ${both.toFixed(2)} ms (simulate ${simulating.toFixed(2)} ms; wanted: under 50 ms); plain sampling of the motion: ${sampling.toFixed(3)} ms; ratio ${(both / sampling).toFixed(0)}`,
  );
}
