import {
  assemble,
  compileEfforts,
  compileMechanism,
  InverseDynamics,
  Kinematics,
  mobilityAt,
  type Mechanism,
} from '@yoke/core';
import { median } from './median';

/** Where joint i stands at a time of a turn, as an angle or way; its second derivative is less the same. */
export interface Swing {
  at(i: number, t: number): number;
  rate(i: number, t: number): number;
}

/** Efforts of all joints of a chain by the general solver: ms for each pose, and the efforts of the last. */
export function ledChain(m: Mechanism, { at, rate }: Swing, poses: number): { ms: number; last: number[] } {
  const model = compileMechanism(m, m.joints.map(({ id }) => ({ axisId: id, joint: id }))); // prettier-ignore
  const { q } = assemble(model);
  const { rows } = mobilityAt(model, q);
  const efforts = compileEfforts(model, { cycleTime: 1 });
  const [to, rates, changes] = [0, 1, 2].map(() => new Float64Array(m.joints.length)) as [Float64Array, Float64Array, Float64Array]; // prettier-ignore
  let last: number[] = [];
  const run = () => {
    const kinematics = new Kinematics(model, q, rows);
    const dynamics = new InverseDynamics(kinematics, efforts);
    for (let k = 0; k < poses; k++) {
      const t = (2 * Math.PI * k) / poses;
      for (let i = 0; i < to.length; i++) {
        to[i] = at(i, t);
        rates[i] = rate(i, t);
        changes[i] = -to[i]!;
      }
      // As a run goes from sample to sample: guessed by the velocities of the one before.
      kinematics.moveTo(to, k > 0 ? (2 * Math.PI) / poses : 0);
      kinematics.derive(rates, changes);
      dynamics.solve(t);
    }
    last = model.drives.map(({ row }) => -dynamics.lambda[row]!);
  };
  run();
  return { ms: median(run, 5) / poses, last };
}
