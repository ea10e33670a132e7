import { sampleIndexAt, type Machine, type Place, type Run } from '@yoke/core';

export { nameIn } from '@yoke/core';

/** Sample of a run that is shown at a time. */
export function indexOfPlace({ times }: Run, time: number): number {
  return Math.max(0, sampleIndexAt(times, time));
}

/** Place and velocity of a point of a body at one sample, m and m/s. */
export function placeAtSample(
  machine: Machine,
  { mechanism }: Run,
  { body, point }: Place,
  k: number,
): { x: number; y: number; vx: number; vy: number } {
  const i = mechanism!.bodies.findIndex(({ id }) => id === body);
  const at = machine.mechanism.bodies[i]?.points.find(({ id }) => id === point)?.at;
  if (!at) return { x: NaN, y: NaN, vx: 0, vy: 0 };
  const { centre } = mechanism!.bodies[i]!;
  const of = (list: Float64Array[], j: number) => list[3 * i + j]![k]!;
  const angle = of(mechanism!.q, 2);
  const [lx, ly] = [at[0] - centre[0], at[1] - centre[1]];
  const rx = Math.cos(angle) * lx - Math.sin(angle) * ly;
  const ry = Math.sin(angle) * lx + Math.cos(angle) * ly;
  const w = of(mechanism!.v, 2);
  return {
    x: of(mechanism!.q, 0) + rx,
    y: of(mechanism!.q, 1) + ry,
    vx: of(mechanism!.v, 0) - w * ry,
    vy: of(mechanism!.v, 1) + w * rx,
  };
}
