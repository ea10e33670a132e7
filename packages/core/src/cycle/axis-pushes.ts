import type { PartsWorld } from '../contact';
import type { Loose } from '../machine';
import type { CycleFound } from '../run';

/** What belts feel of parts, taken down step by step, and with it the forces that cues switch on, as loads of axes. */
export class AxisPushes {
  private readonly pushes = new Map<string, { times: number[]; effort: number[] }>();

  /** @param step length of the steps in s */
  constructor(private readonly step: number) {}

  /** Keeps the mean push of a step at its middle; it fades over a step where nothing pushed before or pushes after. */
  add(axis: string, effort: number, from: number, to: number): void {
    let list = this.pushes.get(axis);
    if (!list) this.pushes.set(axis, (list = { times: [0], effort: [0] }));
    const middle = (from + to) / 2;
    const last = list.times.at(-1)!;
    if (middle - last > 1.5 * this.step) {
      if (list.effort.at(-1) !== 0) {
        list.times.push(last + this.step);
        list.effort.push(0);
      }
      if (middle - this.step > list.times.at(-1)!) {
        list.times.push(middle - this.step);
        list.effort.push(0);
      }
    }
    if (middle > list.times.at(-1)!) {
      list.times.push(middle);
      list.effort.push(effort);
    } else list.effort[list.effort.length - 1] = effort;
  }

  /** Takes down what parts did in a step to the belts that axes lead. */
  feel(world: PartsWorld, belts: Loose['belts'], from: number, to: number): void {
    for (const { id, drive } of belts) {
      if (drive.by !== 'axis') continue;
      const effort = world.pushOnBelt(id) * drive.radius;
      if (effort !== 0) this.add(drive.axis, effort, from, to);
    }
  }

  /** What pushes an axis at the end of a step, N or N·m. */
  lately(axis: string, stepEnd: number): number {
    const pushed = this.pushes.get(axis);
    return pushed && pushed.times.at(-1)! >= stepEnd - 2 * this.step ? pushed.effort.at(-1)! : 0;
  }

  /**
   * Pushes of parts on belts, and forces that cues switched on, as straight lines over time; jumps stand twice.
   * @param loads forces switched on by axis: pairs of time and force that holds from then on
   */
  found(duration: number, loads: ReadonlyMap<string, readonly (readonly [number, number])[]>): CycleFound['pushes'] {
    const ids = new Set([...this.pushes.keys(), ...loads.keys()]);
    return [...ids].map((axis) => {
      const pushed = this.pushes.get(axis) ?? { times: [0], effort: [0] };
      if (pushed.effort.at(-1) !== 0) {
        pushed.times.push(pushed.times.at(-1)! + this.step);
        pushed.effort.push(0);
      }
      const switched = loads.get(axis) ?? [];
      const jumps = switched.map(([time]) => time).filter((time) => time > 0 && time < duration);
      const times = [...new Set([0, ...pushed.times, duration])]
        .filter((time) => time >= 0 && time <= duration && !jumps.includes(time))
        .concat(jumps, jumps)
        .sort((a, b) => a - b);
      let i = 0;
      const at = (time: number) => {
        while (i + 1 < pushed.times.length && pushed.times[i + 1]! <= time) i++;
        const next = pushed.times[i + 1];
        if (next === undefined) return pushed.effort[i]!;
        return (
          pushed.effort[i]! +
          ((pushed.effort[i + 1]! - pushed.effort[i]!) * (time - pushed.times[i]!)) / (next - pushed.times[i]!)
        );
      };
      const load = (time: number, before: boolean) =>
        switched.findLast(([from]) => (before ? from < time : from <= time))?.[1] ?? 0;
      return {
        axis,
        times: Float64Array.from(times),
        effort: Float64Array.from(times, (time, k) => at(time) + load(time, times[k + 1] === time)),
      };
    });
  }
}
