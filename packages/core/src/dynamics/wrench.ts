/**
 * Numbers of a knot in the front plane: force x and y (N) and moment (N·m) that act, the same of what would act at rest,
 * and the mass (kg) and inertia (kg·m²) that go along with the body.
 */
const FLAT = 8;
/** In space: force and moment along x, y and z that act, and the same of what would act at rest. */
const SPATIAL = 12;
/** A knot without any force. */
export const NO_WRENCH: ArrayLike<number> = new Float64Array(SPATIAL);

interface Course {
  times: number[];
  values: number[];
  /** Knot found last: times mostly rise. */
  last: number;
}

/**
 * Forces of loose parts on the bodies of a mechanism, taken down step by step and read at any time: mean values of the
 * steps, straight between them, so that the impulse of every push is kept. The same schedule is felt by a cycle while
 * it is simulated and by the run over it.
 */
export class WrenchSchedule {
  private readonly courses = new Map<string, Course>();

  /** Numbers of a knot. */
  readonly width: number;

  /**
   * @param step length of the steps in s
   * @param inSpace whether what acts are forces and moments in space
   */
  constructor(
    private readonly step: number,
    readonly inSpace = false,
  ) {
    this.width = inSpace ? SPATIAL : FLAT;
  }

  /**
   * Takes down what acts on a body; it fades over a step where nothing acted before.
   * @param at time in s, later than all before
   * @param values fx, fy (N) and moment about its centre of mass (N·m), the same as they would be at rest, and the mass
   * and inertia that go along: what acts is then those forces less mass and inertia times the acceleration; in space
   * force and moment along x, y and z of the world, and the same as they would be at rest
   */
  add(body: string, at: number, values: ArrayLike<number>): void {
    const NUMBERS = this.width;
    let course = this.courses.get(body);
    const nothing = isZero(values, 0, NUMBERS);
    if (!course) {
      if (nothing) return;
      this.courses.set(body, (course = { times: [0], values: new Array<number>(NUMBERS).fill(0), last: 0 }));
    }
    const end = course.times.length - 1;
    if (nothing && isZero(course.values, NUMBERS * end, NUMBERS)) return;
    const knot = (time: number, from: ArrayLike<number> | null) => {
      course.times.push(time);
      for (let i = 0; i < NUMBERS; i++) course.values.push(from ? from[i]! : 0);
    };
    if (at - course.times[end]! > 1.5 * this.step) knot(at - this.step, null);
    if (at <= course.times.at(-1)!) {
      for (let i = 0; i < NUMBERS; i++) course.values[NUMBERS * (course.times.length - 1) + i] = values[i]!;
    } else knot(at, values);
  }

  /** Whether anything ever acted on a body. */
  touches(body: string): boolean {
    return this.courses.has(body);
  }

  /**
   * What acts on a body at a time: writes the numbers of {@link add}; behind the last knot its values hold.
   * @returns false where nothing ever acted
   */
  at(body: string, time: number, out: Float64Array): boolean {
    const course = this.courses.get(body);
    if (!course) {
      out.fill(0);
      return false;
    }
    const { times, values } = course;
    let k = Math.min(course.last, times.length - 1);
    while (k > 0 && times[k]! > time) k--;
    while (k + 1 < times.length && times[k + 1]! <= time) k++;
    course.last = k;
    const next = Math.min(k + 1, times.length - 1);
    const width = times[next]! - times[k]!;
    const share = width > 0 ? Math.max(0, (time - times[k]!) / width) : 0;
    const NUMBERS = this.width;
    for (let i = 0; i < NUMBERS; i++) {
      const [a, b] = [values[NUMBERS * k + i]!, values[NUMBERS * next + i]!];
      out[i] = a + share * (b - a);
    }
    return true;
  }

  /** Times in s at which what acts on some body bends sharply: by more than a share of the most that ever acts on it. */
  edges(share: number): number[] {
    const { width, inSpace } = this;
    // Forces come first, then moments: each is held against the most of its own.
    const [forces, all] = inSpace ? [3, 6] : [2, 3];
    const numbers = Array.from({ length: all }, (_, i) => i);
    return [...this.courses.values()].flatMap(({ times, values }) => {
      const part = (k: number, i: number) => values[width * k + i]!;
      const most = [0, 0];
      times.forEach((_, k) => {
        for (const [which, from, to] of [
          [0, 0, forces],
          [1, forces, all],
        ] as const)
          // prettier-ignore
          most[which] = Math.max(most[which]!, Math.hypot(...numbers.slice(from, to).map((i) => part(k, i))));
      });
      return times.filter((time, k) => {
        if (k === 0 || k === times.length - 1) return false;
        const at = (time - times[k - 1]!) / (times[k + 1]! - times[k - 1]!);
        return numbers.some((i) => {
          const straight = part(k - 1, i) + at * (part(k + 1, i) - part(k - 1, i));
          return Math.abs(part(k, i) - straight) > share * most[i < forces ? 0 : 1]!;
        });
      });
    });
  }
}

function isZero(values: ArrayLike<number>, from: number, count: number): boolean {
  for (let i = 0; i < count; i++) if (values[from + i] !== 0) return false;
  return true;
}
