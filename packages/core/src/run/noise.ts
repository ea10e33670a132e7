import type { MechanismModel } from '../mechanism';
import type { MechanismRun } from './mechanism-run';

/** Solving leaves errors of about this share of the largest value of its kind. */
const LEFT_OVER = 1e-12;

type Samples = Float64Array | null;

/** Largest magnitude in several channels; samples that were not reached do not count. */
function peakOf(channels: readonly Samples[]): number {
  let most = 0;
  for (const channel of channels) {
    if (!channel) continue;
    for (const value of channel) if (Math.abs(value) > most) most = Math.abs(value);
  }
  return most;
}

function clear(channels: readonly Samples[], below: number): void {
  for (const channel of channels) {
    if (!channel) continue;
    for (let k = 0; k < channel.length; k++) if (Math.abs(channel[k]!) < below) channel[k] = 0;
  }
}

/**
 * Makes zero what is zero within the computation's own error: beside the largest value of its kind in the mechanism,
 * lengths and angles, forces and torques being compared over its typical length.
 */
export function clearNoise(run: MechanismRun, { scale, joints, drives }: MechanismModel): void {
  const angular = (i: number) => joints[i]!.coordinate?.angular === true;
  /** Clears two kinds together, the second being the first over a length of about `length`. */
  const pair = (along: Samples[], turning: Samples[], length: number, least = 0) => {
    const most = Math.max(peakOf(along), peakOf(turning) * length, least * length);
    clear(along, LEFT_OVER * most);
    clear(turning, (LEFT_OVER * most) / length);
  };
  const split = <T>(list: readonly T[], isTurning: (item: T, i: number) => boolean, pick: (item: T) => Samples) => [
    list.flatMap((item, i) => (isTurning(item, i) ? [] : [pick(item)])),
    list.flatMap((item, i) => (isTurning(item, i) ? [pick(item)] : [])),
  ];
  // Poses stay as they are, since what points do is made of their differences.
  for (const key of ['position', 'rate', 'change'] as const) {
    const [slides = [], pins = []] = split(
      run.joints,
      (_, i) => angular(i),
      (joint) => joint[key],
    );
    pair(slides, pins, scale, key === 'position' ? 1 : 0);
  }
  const driveTurns = (i: number) => drives[i]!.coordinate.angular;
  const [pushes = [], torques = []] = split(
    run.drives,
    (_, i) => driveTurns(i),
    ({ effort }) => effort,
  );
  const [holds = [], holdTorques = []] = split(
    run.drives,
    (_, i) => driveTurns(i),
    ({ holding }) => holding,
  );
  pair(
    [
      ...run.joints.flatMap(({ reaction, contact }) => [...reaction.force, contact]),
      ...run.elements.flatMap(({ vector }) => vector),
      ...pushes,
      ...holds,
    ],
    [...run.joints.map(({ reaction }) => reaction.moment), ...torques, ...holdTorques],
    1 / scale,
  );
  const { kinetic, potential, elastic, ...powers } = run.energy;
  clear([kinetic, potential, elastic], LEFT_OVER * peakOf([kinetic, potential, elastic]));
  const flows = [...Object.values(powers), ...run.elements.map(({ power }) => power)];
  clear(flows, LEFT_OVER * peakOf(flows));
}
