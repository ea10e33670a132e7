import type { Cue, CueAction, Machine } from '../machine';
import type { Agenda, Due } from './agenda';
import type { AxisBank } from './axes';
import type { EventLog } from './log';
import { planCylinder, planMove, planSpeed } from './moves';
import type { CueMove } from './events';

type AxisAction = Extract<CueAction, { axis: string }>;

/** What axes that cues move need of the rest of the cycle. */
export interface OwnersNeed {
  machine: Machine;
  axes: AxisBank;
  agenda: Agenda;
  log: EventLog;
  /** Longest run, s. */
  horizon: number;
  /** The cue that moved each axis last, by axis. */
  movers: Map<string, string>;
  isHalted(): boolean;
  done(cue: Cue, time: number, event?: number): void;
}

/** Which cue moves an axis: one at a time, a higher priority takes over, others wait in a queue. */
export class AxisOwners {
  /** All moves that cues made. */
  readonly moves: CueMove[] = [];
  /** The cue that moves an axis now, and its end on the agenda. */
  private readonly owners = new Map<string, { cue: Cue; due: Due | undefined; move: CueMove }>();
  private readonly queues = new Map<string, { cue: Cue; event: number }[]>();

  constructor(private readonly need: OwnersNeed) {}

  /** Whether a cue moves an axis. */
  has(axis: string): boolean {
    return this.owners.has(axis);
  }

  /** When all moves under way have come to their ends, s; no earlier than a time. */
  stillFrom(time: number): number {
    return Math.max(time, ...[...this.owners.values()].map(({ move }) => move.to));
  }

  /** Moves an axis for a cue, now or when it is free. */
  move(cue: Cue, action: AxisAction, time: number, event: number): void {
    const { log, agenda, movers } = this.need;
    const { axis } = action;
    const owner = this.owners.get(axis);
    if (owner && owner.cue.id !== cue.id) {
      const over = cue.priority > owner.cue.priority;
      log.add(time, over ? 'taken-over' : 'fight', cue.id, [event], { other: owner.cue.id });
      log.find({
        code: over ? 'taken-over' : 'fight',
        severity: over ? 'info' : 'warning',
        time,
        subjects: [cue.id, owner.cue.id, axis],
      });
      if (!over) {
        this.queues.set(axis, [...(this.queues.get(axis) ?? []), { cue, event }]);
        return;
      }
      agenda.cancel(owner.due);
      owner.move.to = time;
      this.owners.delete(axis);
      this.need.done(owner.cue, time, event);
    }
    const end = this.lead(action, time, cue);
    const move: CueMove = { cue: cue.id, axis, from: time, to: end, started: event, ended: -1 };
    this.moves.push(move);
    movers.set(axis, cue.id);
    if (end <= time) {
      this.moved(cue, move, time);
      return;
    }
    const due = agenda.add(end, (at) => {
      this.owners.delete(axis);
      this.moved(cue, move, at);
      this.nextInQueue(axis, at);
    });
    this.owners.set(axis, { cue, due, move });
  }

  /** Gives up what a cue moves or waits to move. */
  abandon(cue: Cue, axis: string, time: number): void {
    const owner = this.owners.get(axis);
    if (owner?.cue.id === cue.id) {
      this.need.agenda.cancel(owner.due);
      owner.move.to = time;
      this.owners.delete(axis);
      this.need.axes.brake(axis, time, this.need.machine.sequence.emergency.ramp);
    }
    const queue = this.queues.get(axis);
    if (queue)
      this.queues.set(
        axis,
        queue.filter((entry) => entry.cue.id !== cue.id),
      );
  }

  /** Ends all moves; they come to rest at a time. */
  halt(at: number): void {
    for (const { due, move } of this.owners.values()) {
      this.need.agenda.cancel(due);
      move.to = at;
    }
    this.owners.clear();
  }

  private nextInQueue(axis: string, time: number): void {
    const { log, movers } = this.need;
    const next = this.queues.get(axis)?.shift();
    if (next && !this.need.isHalted())
      this.move(
        next.cue,
        next.cue.action as AxisAction,
        time,
        log.add(time, 'acts', next.cue.id, [next.event, log.last('ended', movers.get(axis) ?? '')]),
      );
  }

  private moved(cue: Cue, move: CueMove, time: number): void {
    move.to = time;
    this.need.done(cue, time);
  }

  /** Gives an axis its stretches for an action. Returns the time at which the action is done. */
  private lead(action: AxisAction, time: number, cue: Cue): number {
    const { machine, axes, log, horizon } = this.need;
    const axis = machine.axes.find(({ id }) => id === action.axis)!;
    const now = axes.at(axis.id, time);
    switch (action.do) {
      case 'move': {
        const { stretches, problem } = planMove(action, axis, now, time);
        if (problem)
          log.find({
            code: problem.code,
            severity: 'error',
            time,
            subjects: [cue.id, axis.id],
            ...(problem.shortest === null ? {} : { value: problem.shortest }),
          });
        axes.lead(axis.id, time, stretches);
        return stretches.at(-1)?.to ?? time;
      }
      case 'speed': {
        axes.lead(axis.id, time, planSpeed(action.speed, action.ramp, now, time, horizon));
        return time + (action.speed === now.velocity ? 0 : action.ramp);
      }
      case 'cylinder': {
        const stretches = planCylinder(axis.cylinder!, axis.travel!, action.to, now, time);
        axes.lead(axis.id, time, stretches);
        return stretches.at(-1)?.to ?? time;
      }
      case 'engage':
        axes.engage(axis.id, action.to, action.ratio, action.over, time);
        return time + action.over;
      case 'leave':
        axes.brake(axis.id, time, action.over);
        return time + (now.velocity === 0 ? 0 : action.over);
      default:
        return time;
    }
  }
}
