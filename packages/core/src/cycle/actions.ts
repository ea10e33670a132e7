import type { ActionKind, Cue, CueAction, Machine } from '../machine';
import type { Agenda } from './agenda';
import type { AxisBank } from './axes';
import type { AxisOwners } from './axis-owners';
import type { Director } from './director';
import type { EventLog } from './log';
import type { PartsFlow } from './parts-flow';
import type { Pauses } from './pauses';
import type { SensorBank } from './sensors';
import type { Switches } from './switches';

/** What actions act on. */
export interface ActionTargets {
  machine: Machine;
  agenda: Agenda;
  log: EventLog;
  axes: AxisBank;
  owners: AxisOwners;
  pauses: Pauses;
  switches: Switches;
  flow: PartsFlow;
  sensors: SensorBank;
  director: Director;
  done(cue: Cue, time: number, event?: number): void;
  stop(time: number, cause: number): void;
}

/** A cue that acts: when, and the event of it. */
interface Acting {
  cue: Cue;
  time: number;
  event: number;
}

/** Does what an action says. Answers whether that is all; if not, the cue is told later that it is done. */
type Act<K extends ActionKind> = (
  action: Extract<CueAction, { do: K }>,
  acting: Acting,
  on: ActionTargets,
) => 'done' | 'under way';

function moves(action: Extract<CueAction, { axis: string }>, { cue, time, event }: Acting, { owners }: ActionTargets) {
  owners.move(cue, action, time, event);
  return 'under way' as const;
}

/** What every kind of action does. */
const ACTIONS: { [K in ActionKind]: Act<K> } = {
  move: moves,
  speed: moves,
  cylinder: moves,
  engage: moves,
  leave: moves,
  belt(action, { cue, time }, { pauses }) {
    return pauses.runBelt(cue, action, time);
  },
  load({ axis, force, time: span }, { cue, time }, { axes, agenda, done }) {
    axes.load(axis, time, force);
    if (span === undefined || force === 0) return 'done';
    const turns = axes.loads.get(axis)!.length;
    agenda.add(time + span, (end) => {
      // What another cue has switched meanwhile stays.
      if (axes.loads.get(axis)!.length === turns) axes.load(axis, end, 0);
      done(cue, end);
    });
    return 'under way';
  },
  switch({ element, to, time: span }, { cue, time }, { switches, agenda, done }) {
    const turns = switches.turn(element, time, to === 'on');
    if (span === undefined) return 'done';
    agenda.add(time + span, (end) => {
      switches.turn(element, end, to !== 'on', turns);
      done(cue, end);
    });
    return 'under way';
  },
  release({ source }, { cue, time, event }, { machine, flow }) {
    flow.release(
      machine.loose.sources.find(({ id }) => id === source)!,
      time,
      event,
      cue,
    );
    return 'under way';
  },
  take({ gripper }, { cue, time }, { flow }) {
    flow.take(gripper, cue, time);
    return 'under way';
  },
  letGo({ gripper }, { time, event }, { flow }) {
    flow.letGo(gripper, time, event);
    return 'done';
  },
  flag({ flag, set }, { event }, { director }) {
    director.setFlag(flag, set, event);
    return 'done';
  },
  reset({ sensor }, { time, event }, { sensors }) {
    sensors.reset(sensor, time, event);
    return 'done';
  },
  wait({ time: span }, { cue, time }, { agenda, done }) {
    agenda.add(time + span, (end) => done(cue, end));
    return 'under way';
  },
  alarm({ text }, { cue, time, event }, { log }) {
    log.add(time, 'alarm', cue.id, [event], { text });
    log.find({ code: 'alarm', severity: 'warning', time, subjects: [cue.id], text });
    return 'done';
  },
  stop(_action, { time, event }, { director, stop }) {
    director.halt();
    stop(time, event);
    return 'under way';
  },
};

/** Carries out the action of a cue. */
export function carryOut(acting: Acting, on: ActionTargets): void {
  const { action } = acting.cue;
  const act = ACTIONS[action.do] as (action: CueAction, acting: Acting, on: ActionTargets) => ReturnType<Act<'move'>>;
  if (act(action, acting, on) === 'done') on.done(acting.cue, acting.time);
}
