import type { Machine } from '../machine';
import type { AxisBank } from './axes';
import type { CycleRecord } from './cycle-record';

interface Speeds {
  times: number[];
  speeds: number[];
}

/** How fast belts run: by an axis, or at speeds that cues set, straight between. */
export class Belts {
  private readonly led = new Map<string, Speeds>();

  constructor(
    private readonly machine: Machine,
    private readonly axes: AxisBank,
  ) {
    for (const belt of machine.loose.belts) {
      const speed = belt.drive.by === 'speed' && belt.drive.running ? belt.drive.speed : 0;
      this.led.set(belt.id, { times: [0], speeds: [speed] });
    }
  }

  /** Speed of a belt at a time, m/s. */
  speedAt(id: string, time: number): number {
    const belt = this.machine.loose.belts.find((b) => b.id === id)!;
    if (belt.drive.by === 'axis') return this.axes.at(belt.drive.axis, time).velocity * belt.drive.radius;
    const { times, speeds } = this.led.get(id)!;
    let i = times.length - 1;
    while (i > 0 && times[i]! > time) i--;
    const next = times[i + 1];
    if (next === undefined) return speeds[i]!;
    return speeds[i]! + ((speeds[i + 1]! - speeds[i]!) * (time - times[i]!)) / (next - times[i]!);
  }

  /**
   * Brings a belt to a speed within a time, whatever it was to do after that.
   * @param span after which it is at rest again, s; undefined where it runs on
   */
  lead(id: string, speed: number, ramp: number, time: number, span?: number): void {
    const belt = this.led.get(id)!;
    const now = this.speedAt(id, time);
    while (belt.times.length > 1 && belt.times.at(-1)! > time) {
      belt.times.pop();
      belt.speeds.pop();
    }
    if (belt.times.at(-1)! < time) {
      belt.times.push(time);
      belt.speeds.push(now);
    }
    if (span === undefined) {
      belt.times.push(time + Math.max(ramp, 1e-9));
      belt.speeds.push(speed);
      return;
    }
    // Too short for both ramps it does not get up to its speed.
    const up = Math.max(Math.min(ramp, span / 2), 1e-9);
    const reached = ramp > 0 ? now + ((speed - now) * Math.min(up, ramp)) / ramp : speed;
    belt.times.push(time + up, time + span - up, time + span);
    belt.speeds.push(reached, reached, 0);
  }

  /** Brings all belts to rest. */
  halt(time: number, ramp: number): void {
    for (const [id] of this.led) this.lead(id, 0, ramp, time);
  }

  /** Speeds of all belts as they were. */
  found(): CycleRecord['belts'] {
    return [...this.led].map(([belt, { times, speeds }]) => ({ belt, times, speeds }));
  }
}
