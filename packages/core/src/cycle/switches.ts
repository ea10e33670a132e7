import { SwitchSchedule } from '../dynamics';
import { switchedElements, type Machine } from '../machine';

/** Springs, dampers, loads and stops that cues switch on and off. */
export class Switches {
  readonly schedule: SwitchSchedule;

  /** @param actsFrom from when on what is switched at a time acts, s */
  constructor(
    machine: Machine,
    private readonly actsFrom: (time: number) => number,
  ) {
    this.schedule = new SwitchSchedule(machine.mechanism.elements, switchedElements(machine));
  }

  /**
   * Switches one.
   * @param turns where given, nothing is done if it was switched since it had been so often
   * @returns how often it has been switched
   */
  turn(element: string, time: number, on: boolean, turns?: number): number {
    if (turns === undefined || this.schedule.turns(element) === turns)
      this.schedule.set(element, this.actsFrom(time), on);
    return this.schedule.turns(element);
  }
}
