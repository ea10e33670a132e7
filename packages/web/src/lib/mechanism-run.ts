import { leavesFront, mechanismSamples, ofBody, sampleIndexAt, type Machine, type Place, type Run } from '@yoke/core';

export { nameIn } from '@yoke/core';

/** Sample of a run that is shown at a time. */
export function indexOfPlace({ times }: Run, time: number): number {
  return Math.max(0, sampleIndexAt(times, time));
}

/** Place and velocity of a point of a body at one sample, as it is seen from the front, m and m/s. */
export function placeAtSample(
  machine: Machine,
  run: Run,
  { body, point }: Place,
  k: number,
): { x: number; y: number; vx: number; vy: number } {
  const { mechanism } = run;
  if (leavesFront(machine.mechanism)) {
    const at = (quantity: string) => mechanismSamples(machine, run, `point:${body}.${point}:${quantity}`)?.[k] ?? NaN;
    return { x: at('x'), y: at('y'), vx: at('vx'), vy: at('vy') };
  }
  const i = mechanism!.bodies.findIndex(({ id }) => id === body);
  const at = machine.mechanism.bodies[i]?.points.find(({ id }) => id === point)?.at;
  if (!at) return { x: NaN, y: NaN, vx: 0, vy: 0 };
  const { centre } = mechanism!.bodies[i]!;
  const [x, y, angle] = ofBody(mechanism!.q, i).map((samples) => samples[k]!) as [number, number, number];
  const [vx, vy, w] = ofBody(mechanism!.v, i).map((samples) => samples[k]!) as [number, number, number];
  const [lx, ly] = [at[0] - centre[0], at[1] - centre[1]];
  const rx = Math.cos(angle) * lx - Math.sin(angle) * ly;
  const ry = Math.sin(angle) * lx + Math.cos(angle) * ly;
  return {
    x: x + rx,
    y: y + ry,
    vx: vx - w * ry,
    vy: vy + w * rx,
  };
}
