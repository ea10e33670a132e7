/**
 * Numbers of a knot: force x and y (N) and moment (N·m) that act, the same of what would act at rest, and the mass (kg)
 * and inertia (kg·m²) that go along with the body.
 */
const NUMBERS = 8;
/** A knot without any force. */
export const NO_WRENCH: ArrayLike<number> = new Float64Array(NUMBERS);

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

  /** @param step length of the steps in s */
  constructor(private readonly step: number) {}

  /**
   * Takes down what acts on a body; it fades over a step where nothing acted before.
   * @param at time in s, later than all before
   * @param values fx, fy (N) and moment about its centre of mass (N·m), the same as they would be at rest, and the mass
   * and inertia that go along: what acts is then those forces less mass and inertia times the acceleration
   */
  add(body: string, at: number, values: ArrayLike<number>): void {
    let course = this.courses.get(body);
    const nothing = isZero(values, 0);
    if (!course) {
      if (nothing) return;
      this.courses.set(body, (course = { times: [0], values: new Array<number>(NUMBERS).fill(0), last: 0 }));
    }
    const end = course.times.length - 1;
    if (nothing && isZero(course.values, NUMBERS * end)) return;
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
   * What acts on a body at a time: writes the eight numbers of {@link add}; behind the last knot its values hold.
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
    for (let i = 0; i < NUMBERS; i++) {
      const [a, b] = [values[NUMBERS * k + i]!, values[NUMBERS * next + i]!];
      out[i] = a + share * (b - a);
    }
    return true;
  }

  /** Times in s at which what acts on some body bends sharply: by more than a share of the most that ever acts on it. */
  edges(share: number): number[] {
    return [...this.courses.values()].flatMap(({ times, values }) => {
      const force = (k: number, i: number) => values[NUMBERS * k + i]!;
      const most = [0, 0, 0];
      times.forEach((_, k) => {
        const size = Math.hypot(force(k, 0), force(k, 1));
        most[0] = most[1] = Math.max(most[0]!, size);
        most[2] = Math.max(most[2]!, Math.abs(force(k, 2)));
      });
      return times.filter((time, k) => {
        if (k === 0 || k === times.length - 1) return false;
        const at = (time - times[k - 1]!) / (times[k + 1]! - times[k - 1]!);
        return [0, 1, 2].some((i) => {
          const straight = force(k - 1, i) + at * (force(k + 1, i) - force(k - 1, i));
          return Math.abs(force(k, i) - straight) > share * most[i]!;
        });
      });
    });
  }
}

function isZero(values: ArrayLike<number>, from: number): boolean {
  for (let i = 0; i < NUMBERS; i++) if (values[from + i] !== 0) return false;
  return true;
}
