/** What can happen in a run. */
export type CycleEventKind =
  /** The run begins. */
  | 'begin'
  /** A sensor's signal changes; `on` says to what. */
  | 'sensor'
  /** A cue starts; its delay runs. */
  | 'cue'
  /** The action of a cue begins. */
  | 'acts'
  /** A cue has ended: its action is done. */
  | 'ended'
  /** An interlock holds a cue back. */
  | 'blocked'
  /** An interlock stops what a cue moves; it goes on. */
  | 'held'
  | 'goes-on'
  /** A part is released; held back where another part stands in its place. */
  | 'released'
  | 'held-back'
  /** A gripper takes a part, lets go of it, or loses it. */
  | 'took'
  | 'let-go'
  | 'lost'
  | 'slips'
  /** A part ends in a sink, or falls out of the machine. */
  | 'gone'
  | 'left'
  | 'time-out'
  | 'alarm'
  | 'fight'
  | 'taken-over'
  | 'overrun'
  | 'pulse'
  | 'emergency'
  | 'monitor'
  | 'cycle'
  | 'stop'
  | 'end';

/** One event of a run, with what brought it about. */
export interface CycleEvent {
  index: number;
  /** s */
  time: number;
  kind: CycleEventKind;
  /** Identifier of the sensor, cue, source, gripper, sink, monitor … it is about; empty for the run itself. */
  subject: string;
  on?: boolean;
  part?: number;
  /** Another thing it involves: the interlock, the axis, the cue it fights with. */
  other?: string;
  /** A number that goes with it: force (N), count, delay (s). */
  value?: number;
  text?: string;
  /** Events it needed, by index, in the order in which they came: the last one decided when it happened. */
  causes: number[];
}

/** A stretch of time in which a cue moved an axis. */
export interface CueMove {
  cue: string;
  axis: string;
  from: number;
  to: number;
  /** Events of its beginning and end; the end is -1 where the run ended before. */
  started: number;
  ended: number;
}

/** Why a run came to its end. */
export const CYCLE_ENDS = [
  'cycles',
  'stop',
  'longest',
  'waiting',
  'idle',
  'emergency',
  'monitor',
  'stuck',
  'endless',
  'too-much',
  'timed',
] as const;
export type CycleEnd = (typeof CYCLE_ENDS)[number];

/** Something noteworthy of a simulated cycle. */
export interface CycleFinding {
  code:
    | 'deadlock'
    | 'waits'
    | 'never'
    | 'fight'
    | 'taken-over'
    | 'race'
    | 'overrun'
    | 'pulse'
    | 'endless'
    | 'too-much'
    | 'no-limits'
    | 'too-short'
    | 'slow'
    | 'lost'
    | 'slips'
    | 'missed'
    | 'left'
    | 'held-back'
    | 'alarm'
    | 'time-out'
    | 'emergency'
    | 'interference'
    | 'clearance'
    | 'stuck'
    | 'longest'
    | 'blocked'
    | 'held';
  severity: 'error' | 'warning' | 'info';
  time: number | null;
  /** Identifiers of what it is about. */
  subjects: string[];
  value?: number;
  text?: string;
}
