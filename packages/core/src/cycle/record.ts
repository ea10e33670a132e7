/** Most numbers kept of loose parts in one run; beyond it every second frame is dropped. */
const MOST_NUMBERS = 4_000_000;
/** Numbers of one part in one frame: its number, x, y, angle. */
export const PART_WIDTH = 4;

/** Poses of all loose parts over a run, frame by frame. */
export interface PartsRecord {
  /** Times of the frames, s. */
  times: Float64Array;
  /** Where each frame begins in `data`; one more entry than frames. */
  starts: Uint32Array;
  /** Number of the part, x and y in m, angle in rad, for each part that is there. */
  data: Float32Array;
  /** Shift of each platform in m, frame by frame: platforms × (x, y). */
  platforms: Float32Array;
}

/** What became of a loose part. */
export interface PartFate {
  number: number;
  kind: string;
  source: string;
  born: number;
  gone: number | null;
  /** Sink in which it ended; null while it is there, or where it fell out of the machine. */
  sink: string | null;
}

/** Keeps frames of parts in bounded memory: when it is full, every second frame goes and frames come half as often. */
export class PartsRecorder {
  private times: number[] = [];
  private frames: Float32Array[] = [];
  private shifts: Float32Array[] = [];
  private numbers = 0;
  private stride = 1;
  private count = 0;

  /** @param most numbers kept at most */
  constructor(private readonly most = MOST_NUMBERS) {}

  take(
    time: number,
    parts: readonly { number: number; now: { x: number; y: number; angle: number } }[],
    platforms: readonly (readonly [number, number])[],
  ): void {
    if (this.count++ % this.stride !== 0) return;
    const frame = new Float32Array(parts.length * PART_WIDTH);
    for (let i = 0, at = 0; i < parts.length; i++, at += PART_WIDTH) {
      const { number, now } = parts[i]!;
      frame[at] = number;
      frame[at + 1] = now.x;
      frame[at + 2] = now.y;
      frame[at + 3] = now.angle;
    }
    this.times.push(time);
    this.frames.push(frame);
    const shift = new Float32Array(2 * platforms.length);
    for (let i = 0; i < platforms.length; i++) shift.set(platforms[i]!, 2 * i);
    this.shifts.push(shift);
    this.numbers += frame.length + 2 * platforms.length + 2;
    if (this.numbers > this.most) this.thin();
  }

  private thin(): void {
    const even = (_: unknown, i: number) => i % 2 === 0;
    this.times = this.times.filter(even);
    this.frames = this.frames.filter(even);
    this.shifts = this.shifts.filter(even);
    this.numbers = this.frames.reduce((sum, { length }, i) => sum + length + this.shifts[i]!.length + 2, 0);
    this.stride *= 2;
  }

  finish(): PartsRecord {
    const starts = new Uint32Array(this.frames.length + 1);
    this.frames.forEach(({ length }, i) => (starts[i + 1] = starts[i]! + length));
    const data = new Float32Array(starts.at(-1)!);
    this.frames.forEach((frame, i) => data.set(frame, starts[i]));
    const width = this.shifts[0]?.length ?? 0;
    const platforms = new Float32Array(width * this.shifts.length);
    this.shifts.forEach((shift, i) => platforms.set(shift, i * width));
    return { times: Float64Array.from(this.times), starts, data, platforms };
  }
}
