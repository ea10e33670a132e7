import type { AnyPart, PartsWorld } from '../contact';

/** Most numbers kept of loose parts in one run; beyond it every second frame is dropped. */
const MOST_NUMBERS = 4_000_000;
/** Numbers of one part in one frame, and of a platform: in the front plane, and in space. */
const WIDTHS = { plane: { part: 4, platform: 2 }, space: { part: 8, platform: 3 } } as const;

/** Poses of all loose parts over a run, frame by frame. */
export interface PartsRecord {
  /** Times of the frames, s. */
  times: Float64Array;
  /** Where each frame begins in `data`; one more entry than frames. */
  starts: Uint32Array;
  /** Whether parts move in space; left out: in the front plane. */
  space?: true;
  /**
   * For each part that is there its number and x and y in m; in the plane its angle in rad; in space z in m and its turn
   * as a unit quaternion w, x, y, z.
   */
  data: Float32Array;
  /**
   * Shift of each platform in m, frame by frame: platforms × (x, y), in space (x, y, z); there fingers of grippers stand
   * behind the platforms, each with how far it has closed as its x.
   */
  platforms: Float32Array;
}

/** Numbers of one part in a frame of a record, and of one platform. */
export const widthsOf = ({ space }: Pick<PartsRecord, 'space'>): { part: number; platform: number } =>
  WIDTHS[space ? 'space' : 'plane'];

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
  /** Where each frame begins in `data`, and where the next one will. */
  private starts: number[] = [0];
  private data = new Float32Array(4096);
  private shifts: (readonly (readonly number[])[])[] = [];
  private stride = 1;
  private count = 0;

  private readonly width: number;

  /**
   * @param world whose parts are kept; null where there are none
   * @param most numbers kept at most
   */
  constructor(
    private readonly world: Pick<PartsWorld, 'width' | 'write'> | null,
    private readonly most = MOST_NUMBERS,
  ) {
    this.width = world?.width ?? WIDTHS.plane.part;
  }

  take(time: number, parts: readonly AnyPart[], platforms: readonly (readonly number[])[]): void {
    const { width, world } = this;
    if (this.count++ % this.stride !== 0) return;
    let at = this.starts.at(-1)!;
    const end = at + parts.length * width;
    if (end > this.data.length) {
      const longer = new Float32Array(Math.max(end, 2 * this.data.length));
      longer.set(this.data);
      this.data = longer;
    }
    const { data } = this;
    for (let i = 0; i < parts.length; i++, at += width) world?.write(parts[i]!, data, at);
    this.times.push(time);
    this.starts.push(end);
    this.shifts.push(platforms);
    if (end + this.times.length * ((platforms[0]?.length ?? 0) * platforms.length + 2) > this.most) this.thin();
  }

  private thin(): void {
    const { data, starts } = this;
    const even = (_: unknown, i: number) => i % 2 === 0;
    this.starts = [0];
    for (let k = 0, at = 0; k < this.times.length; k += 2) {
      data.copyWithin(at, starts[k]!, starts[k + 1]);
      this.starts.push((at += starts[k + 1]! - starts[k]!));
    }
    this.times = this.times.filter(even);
    this.shifts = this.shifts.filter(even);
    this.stride *= 2;
  }

  finish(): PartsRecord {
    return {
      times: Float64Array.from(this.times),
      starts: Uint32Array.from(this.starts),
      ...(this.width === WIDTHS.space.part && { space: true as const }),
      data: this.data.slice(0, this.starts.at(-1)),
      platforms: Float32Array.from(this.shifts.flat(2)),
    };
  }
}
