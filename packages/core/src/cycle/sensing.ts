import type { Sensor } from '../machine';
import type { Sight, StepPoses } from './sight';

/** A sensor that sees parts or bodies: it knows whether something is there, and when that changed inside a step. */
export class Eye {
  /** Within this distance it is on; it goes off beyond this and the hysteresis. */
  private readonly distance: number;
  private on = false;
  /** How many parts were near when it last looked and all rested; −1 where that was not so. */
  private settled = -1;

  constructor(
    readonly sensor: Sensor,
    private readonly sight: Sight,
  ) {
    const { sensing } = sensor;
    this.distance = sensing.kind === 'proximity' ? sensing.distance : 0;
  }

  /** The part seen last. */
  get part(): number | null {
    return this.sight.part;
  }

  /** Looks needed in a step: so many that nothing small goes by between two of them. */
  private looks(): number {
    const { sight } = this;
    return !sight.stands || sight.watchesBodies ? 4 : Math.min(16, sight.looks());
  }

  /** What it senses at the very start. */
  begin(poses: StepPoses): boolean {
    this.sight.look(poses, this.distance);
    this.on = this.sight.sees(poses, 1, this.distance);
    return this.on;
  }

  /**
   * Changes inside a step, as shares of it. It is looked at so often that something small and fast is
   * not missed; the change itself is found by bisection.
   */
  changes(poses: StepPoses): { share: number; on: boolean }[] {
    const { sight } = this;
    const reach = () => this.distance + (this.on ? this.sensor.hysteresis : 0);
    const near = sight.look(poses, this.distance + this.sensor.hysteresis);
    if (near === 0 && !sight.watchesBodies) {
      this.settled = -1;
      if (!this.on) return [];
      this.on = false;
      return [{ share: 0, on: false }];
    }
    const still = sight.stands && !sight.watchesBodies && sight.allRest();
    // What rests since the last look is seen as it was.
    if (still && this.settled === near) return [];
    this.settled = still ? near : -1;
    if (still && sight.sees(poses, 1, reach()) === this.on) return [];
    const found: { share: number; on: boolean }[] = [];
    const looks = still ? 1 : this.looks();
    let from = 0;
    for (let i = 1; i <= looks; i++) {
      const to = i / looks;
      if (sight.sees(poses, to, reach()) === this.on) {
        from = to;
        continue;
      }
      const r = reach();
      const start = from;
      const state = (share: number) => (share <= start ? this.on : sight.sees(poses, share, r));
      // A millionth of the step is finer than the poses are.
      let low = from;
      let high = to;
      while (high - low > 1e-7) {
        const middle = (low + high) / 2;
        if (state(middle) === this.on) low = middle;
        else high = middle;
      }
      this.on = !this.on;
      if (this.on) sight.sees(poses, high, r);
      found.push({ share: high, on: this.on });
      from = to;
    }
    return found;
  }
}

/** Whether a value is past a threshold, with hysteresis for going back. */
export function past(
  value: number,
  side: 'above' | 'below',
  threshold: number,
  hysteresis: number,
  was: boolean,
): boolean {
  const shifted = was ? hysteresis : 0;
  // An axis that stops on the threshold has reached it, in spite of rounding.
  return side === 'above' ? value >= threshold - shifted - 1e-12 : value <= threshold + shifted + 1e-12;
}
