import {
  cutStretch,
  joinStretches,
  scaledStretch,
  stretchAt,
  tailStretch,
  type Motion,
  type MotionState,
  type MotionStretch,
} from '../motion';

/** The motion of an axis as it comes to be during a run: stretches are added, and cut where something else begins. */
export class Trajectory {
  private readonly stretches: MotionStretch[] = [];
  /** Index of the stretch found last: times mostly rise. */
  private last = 0;
  private readonly scratch = new Float64Array(4);
  /** The stretch whose end was found last: an axis at rest is asked for it again and again. */
  private ended: MotionStretch | null = null;
  private endPosition = 0;

  constructor(readonly start: number) {}

  /** A trajectory that is known in advance. */
  static of(motion: Motion): Trajectory {
    const made = new Trajectory(motion.stretches[0]?.start ?? 0);
    made.stretches.push(...motion.stretches);
    return made;
  }

  /** When the last stretch ends, s; 0 where there is none. */
  get end(): number {
    return this.stretches.at(-1)?.to ?? 0;
  }

  /** State at a time; at rest between stretches and behind the last one. */
  at(time: number): MotionState {
    const stretch = this.find(time);
    if (!stretch) return { position: this.start, velocity: 0, acceleration: 0, jerk: 0 };
    if (time < stretch.to) return stretchAt(stretch, time);
    return { position: this.endOf(stretch), velocity: 0, acceleration: 0, jerk: 0 };
  }

  private endOf(stretch: MotionStretch): number {
    const { start, stroke, law } = stretch;
    if (!law) return start;
    if (stretch !== this.ended) {
      law.derivatives(1, this.scratch, 0);
      this.ended = stretch;
      this.endPosition = start + stroke * this.scratch[0]!;
    }
    return this.endPosition;
  }

  private find(time: number): MotionStretch | undefined {
    const { stretches } = this;
    let i = Math.min(this.last, stretches.length - 1);
    while (i > 0 && stretches[i]!.from > time) i--;
    while (i + 1 < stretches.length && stretches[i + 1]!.from <= time) i++;
    this.last = Math.max(0, i);
    const found = stretches[i];
    return found && found.from <= time ? found : undefined;
  }

  /** Whether it moves at a time, or is about to within the same stretch. */
  movesAt(time: number): boolean {
    const stretch = this.find(time);
    return stretch?.law !== undefined && time < stretch.to;
  }

  /** Cuts off everything from a time on. */
  cut(time: number): void {
    const { stretches } = this;
    while (stretches.length > 0 && stretches.at(-1)!.from >= time) stretches.pop();
    const last = stretches.at(-1);
    if (last && last.to > time) stretches[stretches.length - 1] = cutStretch(last, time);
  }

  /** Adds stretches behind the last one. */
  add(...more: MotionStretch[]): void {
    this.stretches.push(...more);
  }

  /** Stretches that end after a time. */
  from(time: number): readonly MotionStretch[] {
    const { stretches } = this;
    let i = stretches.length;
    while (i > 0 && stretches[i - 1]!.to > time) i--;
    return stretches.slice(i);
  }

  /** What another axis does that follows from a time on: its stretches at a ratio, from an offset. */
  followed(time: number, ratio: number, offset: number): MotionStretch[] {
    return this.from(time).map((stretch) => scaledStretch(tailStretch(stretch, time), ratio, offset));
  }

  toMotion(duration: number): Motion {
    return joinStretches(
      this.stretches.map((stretch) => (stretch.to > duration ? cutStretch(stretch, duration) : stretch)),
      duration,
      this.start,
    );
  }
}
