import type { Sensor } from '../machine';

/** A change of a sensor's signal. */
export interface SignalChange {
  sensor: string;
  on: boolean;
  time: number;
  /** What the caller gave as the reason of the change. */
  cause: number | null;
}

interface Signal {
  sensor: Sensor;
  /** What is sensed now, before filter and delays. */
  raw: boolean;
  out: boolean;
  /** When the output takes over the raw value; Infinity where it has it already. */
  due: number;
  cause: number | null;
}

/**
 * The signals of all sensors: what is sensed goes through filter, on- and off-delay and inversion.
 * A change that goes back before filter and delay are over is not seen.
 */
export class Signals {
  private readonly signals = new Map<string, Signal>();

  /** @param extraDelay seconds by which all changes come later, by sensor (scatter of a sensor) */
  constructor(
    sensors: readonly Sensor[],
    private readonly extraDelay: (sensor: string) => number = () => 0,
  ) {
    for (const sensor of sensors)
      this.signals.set(sensor.id, { sensor, raw: false, out: false, due: Infinity, cause: null });
  }

  /** The signal as the controller sees it. */
  value(id: string): boolean {
    const signal = this.signals.get(id);
    return signal ? signal.out !== signal.sensor.inverted : false;
  }

  raw(id: string): boolean {
    return this.signals.get(id)?.raw ?? false;
  }

  /** Sets what is sensed at the start of a run, without delays and changes. */
  begin(id: string, raw: boolean): void {
    const signal = this.signals.get(id);
    if (signal) Object.assign(signal, { raw, out: raw, due: Infinity });
  }

  /** Tells what is sensed from `time` on. */
  sense(id: string, raw: boolean, time: number, cause: number | null): void {
    const signal = this.signals.get(id);
    if (!signal || signal.raw === raw) return;
    signal.raw = raw;
    if (raw === signal.out) {
      signal.due = Infinity;
      return;
    }
    const { filter, onDelay, offDelay } = signal.sensor;
    signal.due = time + filter + (raw ? onDelay : offDelay) + Math.max(0, this.extraDelay(id));
    signal.cause = cause;
  }

  /** The next time at which a signal changes; Infinity where none is due. */
  next(): number {
    let least = Infinity;
    for (const { due } of this.signals.values()) if (due < least) least = due;
    return least;
  }

  /** Makes the changes that are due until `time`, in order. */
  advance(time: number): SignalChange[] {
    const changes: SignalChange[] = [];
    for (const signal of this.signals.values()) {
      if (signal.due > time) continue;
      const at = signal.due;
      signal.out = signal.raw;
      signal.due = Infinity;
      changes.push({ sensor: signal.sensor.id, on: this.value(signal.sensor.id), time: at, cause: signal.cause });
    }
    return changes.sort((a, b) => a.time - b.time);
  }
}
