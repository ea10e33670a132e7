import type { Cue, CueAction, Machine } from '../machine';
import type { Agenda, Due } from './agenda';
import type { AxisBank } from './axes';
import type { EventLog } from './log';
import { planCylinder, planMove, planSpeed, speedReached } from './moves';
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

interface Owner {
  cue: Cue;
  due: Due | undefined;
  move: CueMove;
}

/** Which cue moves an axis: one at a time, a higher priority takes over, others wait in a queue. */
export class AxisOwners {
  /** All moves that cues made. */
  readonly moves: CueMove[] = [];
  /** The cue that moves an axis now, and its end on the agenda. */
  private readonly owners = new Map<string, Owner>();
  /** What was stopped on its way, by axis. */
  private readonly paused = new Map<string, { cue: Cue; action: AxisAction }>();
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
    const { log, agenda } = this.need;
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
    this.go(cue, action, time, event);
  }

  private go(cue: Cue, action: AxisAction, time: number, event: number): void {
    const { agenda, movers } = this.need;
    const { axis } = action;
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

  /** Whether a cue moves an axis. */
  isOwner(axis: string, cue: string): boolean {
    return this.owners.get(axis)?.cue.id === cue;
  }

  /** Brings what a cue moves to rest on its way: the axis stays the cue's. */
  pause(cue: Cue, axis: string, time: number, ramp: number): void {
    const { axes, agenda } = this.need;
    const action = cue.action as AxisAction;
    const owner = this.owners.get(axis);
    if (owner?.cue.id === cue.id) {
      agenda.cancel(owner.due);
      this.paused.set(axis, { cue, action: rest(action, owner.move, time, axes) });
      owner.move.to = time + ramp;
    } else this.paused.set(axis, { cue, action });
    axes.brake(axis, time, ramp);
  }

  /** Lets go on what was stopped, unless another cue has taken the axis meanwhile. */
  resume(cue: Cue, axis: string, time: number, event: number): void {
    const stopped = this.paused.get(axis);
    this.paused.delete(axis);
    if (stopped?.cue.id !== cue.id) return;
    const owner = this.owners.get(axis);
    if (owner && owner.cue.id !== cue.id) return;
    this.owners.delete(axis);
    this.go(cue, stopped.action, time, event);
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
        const span = action.speed === 0 ? undefined : action.time;
        axes.lead(axis.id, time, planSpeed(action.speed, action.ramp, now, time, horizon, span));
        if (span === undefined) return time + (action.speed === now.velocity ? 0 : action.ramp);
        const value = speedReached(action.speed, action.ramp, now.velocity, span);
        if (value !== action.speed)
          log.find({ code: 'slow', severity: 'warning', time, subjects: [cue.id, axis.id], value });
        return time + span;
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

/** What is left to do of an action that is stopped on its way. */
function rest(action: AxisAction, { from, to }: CueMove, time: number, axes: AxisBank): AxisAction {
  if (action.do === 'speed' && action.time !== undefined) return { ...action, time: Math.max(to - time, 1e-6) };
  if (action.do !== 'move') return action;
  const [begun, now] = [from, time].map((t) => axes.at(action.axis, t).position) as [number, number];
  const target = action.given === 'to' ? action.value : begun + action.value;
  // As gently as before: the time of a way goes with its root.
  const share = target === begun ? 1 : Math.sqrt(Math.abs((target - now) / (target - begun)));
  return {
    ...action,
    given: 'to',
    value: target,
    time: action.time === null ? null : Math.max(action.time * share, 1e-3),
  };
}
