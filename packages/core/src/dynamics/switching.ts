import type { Element } from '../machine';

interface Course {
  first: boolean;
  /** Rising times in s, and what holds from each of them on. */
  times: number[];
  on: boolean[];
}

/**
 * Which springs, dampers, loads and stops are on as time goes: what cues switch is taken down, and the run over a cycle
 * reads the same.
 */
export class SwitchSchedule {
  private readonly courses: ReadonlyMap<string, Course>;

  /** @param switched identifiers of elements that anything may switch */
  constructor(elements: readonly Pick<Element, 'id' | 'on'>[], switched: ReadonlySet<string>) {
    this.courses = new Map(
      elements.filter(({ id }) => switched.has(id)).map(({ id, on }) => [id, { first: on, times: [], on: [] }]),
    );
  }

  /** Whether anything may switch an element: such a one takes part though it begins off. */
  has(element: string): boolean {
    return this.courses.has(element);
  }

  /** Whether an element is on at a time; one that nothing switches is. */
  isOn(element: string, time: number): boolean {
    const course = this.courses.get(element);
    if (!course) return true;
    let k = course.times.length - 1;
    while (k >= 0 && course.times[k]! > time) k--;
    return k < 0 ? course.first : course.on[k]!;
  }

  /** Switches an element from a time on; no earlier than what was switched before. */
  set(element: string, time: number, on: boolean): void {
    const course = this.courses.get(element);
    if (!course || this.isOn(element, time) === on) return;
    if (course.times.at(-1) === time) {
      course.times.pop();
      course.on.pop();
      if ((course.on.at(-1) ?? course.first) === on) return;
    }
    course.times.push(time);
    course.on.push(on);
  }

  /** How often an element has been switched: tells whether it still stands as it was left. */
  turns(element: string): number {
    return this.courses.get(element)?.times.length ?? 0;
  }

  /** Times in s at which anything is switched. */
  get times(): number[] {
    return [...this.courses.values()].flatMap(({ times }) => times);
  }

  /** What was switched, as signals: the first time is the start. */
  found(): { element: string; first: boolean; times: number[] }[] {
    return [...this.courses].map(([element, { first, times }]) => ({ element, first, times: [0, ...times] }));
  }
}
