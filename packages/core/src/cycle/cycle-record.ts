import type { CycleEnd, CycleEvent, CycleFinding, CueMove } from './events';
import type { ClearanceCurve } from './monitors';
import type { PartFate, PartsRecord } from './record';
import type { WaitingReport } from './waiting';

/** Settings of a run that are not in the document: what scatters between runs. */
export interface CycleOptions {
  seed?: number;
  /** Factor on all coefficients of friction. */
  friction?: number;
  /** Largest extra delay of each change of a sensor, s, evenly spread. */
  sensorDelay?: number;
  /** Step of the contact computation in s, instead of the document's. */
  step?: number;
  progress?: ((share: number) => void) | undefined;
}

/** What a simulated cycle came to. Times in s. */
export interface CycleRecord {
  duration: number;
  end: CycleEnd;
  events: CycleEvent[];
  findings: CycleFinding[];
  moves: CueMove[];
  /** Starts of the cycles; the last may be the end of the run. */
  cycles: number[];
  /** Whether the last cycle was over with its last cue, and not by the start of a next one: its time is no time between starts. */
  lastByRow?: boolean;
  /** Signals of sensors: times of changes, the first is the start; on at even or odd places as `first` says. */
  signals: { sensor: string; first: boolean; times: number[] }[];
  /** Springs, dampers, loads and stops that cues may switch: likewise. */
  switches?: { element: string; first: boolean; times: number[] }[];
  parts: PartsRecord;
  fates: PartFate[];
  /** Speeds of belts: pairs of time and speed, straight between. */
  belts: { belt: string; times: number[]; speeds: number[] }[];
  clearances: ClearanceCurve[];
  waiting: WaitingReport | null;
  seed: number;
  steps: number;
}

/**
 * Times of the full cycles of a run, from start to start, s. The last cycle may be over with its last cue instead: that
 * is another measure, and counts where there is no other.
 */
export function cycleTimes({ cycles, lastByRow }: Pick<CycleRecord, 'cycles' | 'lastByRow'>): number[] {
  const times = cycles.slice(1).map((time, i) => time - cycles[i]!);
  return lastByRow && times.length > 1 ? times.slice(0, -1) : times;
}
