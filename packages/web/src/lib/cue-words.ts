import {
  AXIS_KINDS,
  formatQuantity,
  LAWS,
  type ActionKind,
  type CueAction,
  type Machine,
  type Sensor,
  type SensorKind,
} from '@yoke/core';

/** What cues can do, as the sheet offers it. */
export const ACTIONS: readonly { value: ActionKind; label: string; hint: string }[] = [
  { value: 'move', label: 'Move an axis', hint: 'To a place or by a way, in a time or under limits, by a law' },
  { value: 'cylinder', label: 'Switch a cylinder', hint: 'Out or in, with fill time, throttle and cushion' },
  { value: 'speed', label: 'Run a drive', hint: 'At a speed, over a ramp; 0 stops it' },
  { value: 'belt', label: 'Run a belt', hint: 'At a speed, over a ramp; 0 stops it' },
  { value: 'take', label: 'Take a part', hint: 'The gripper closes; done when it holds a part' },
  { value: 'letGo', label: 'Let go', hint: 'The gripper opens' },
  { value: 'release', label: 'Release a part', hint: 'A source gives one part' },
  { value: 'wait', label: 'Wait', hint: 'Nothing, for a time' },
  { value: 'flag', label: 'Set a flag', hint: 'Remember something' },
  { value: 'reset', label: 'Count anew', hint: 'Sets a count back to nothing' },
  { value: 'load', label: 'Switch a load', hint: 'A force on an axis from now on' },
  { value: 'engage', label: 'Engage', hint: 'Follow the master or another axis' },
  { value: 'leave', label: 'Leave', hint: 'Stop following, gently' },
  { value: 'alarm', label: 'Raise an alarm', hint: 'A message in the log' },
  { value: 'stop', label: 'Stop the cycle', hint: 'The run ends when all axes rest' },
];

/** What sensors can sense, as they are offered. */
export const SENSORS: readonly { value: SensorKind; label: string; hint: string }[] = [
  { value: 'beam', label: 'Light beam', hint: 'On while a part cuts a line' },
  { value: 'area', label: 'Area', hint: 'On while a part reaches into a rectangle' },
  { value: 'proximity', label: 'Proximity', hint: 'On while a body or part is near a face' },
  { value: 'position', label: 'Axis past a value', hint: 'Position or speed of an axis' },
  { value: 'force', label: 'Force past a value', hint: 'What an axis has to give' },
  { value: 'count', label: 'Count', hint: 'On from a number of edges, ends or parts' },
  { value: 'timer', label: 'Timer', hint: 'On-delay, off-delay or pulse of another sensor' },
  { value: 'cue', label: 'Cue has ended', hint: 'On after a cue has ended' },
  { value: 'button', label: 'Operator’s button', hint: 'Pressed as the script of the run says' },
];

const nameOf = (list: readonly { id: string; name: string }[], id: string | null) =>
  list.find((item) => item.id === id)?.name ?? '…';

/** What a cue does, in a few words. */
export function actionWords(action: CueAction, machine: Machine): string {
  const { axes, loose, sequence, units } = machine;
  const axis = 'axis' in action ? axes.find(({ id }) => id === action.axis) : undefined;
  const kinds = AXIS_KINDS[axis?.kind ?? 'linear'];
  const time = (value: number) => formatQuantity(value, 'time', units);
  switch (action.do) {
    case 'move': {
      const how = action.time === null ? 'under its limits' : `in ${time(action.time)}`;
      const law = LAWS.find(({ id }) => id === action.law?.id)?.name;
      return `${axis?.name ?? '…'} ${action.given} ${formatQuantity(action.value, kinds.position, units)} ${how}${law ? `, ${law.toLowerCase()}` : ''}`;
    }
    case 'speed':
      return action.speed === 0
        ? `${axis?.name ?? '…'} stops in ${time(action.ramp)}`
        : `${axis?.name ?? '…'} at ${formatQuantity(action.speed, kinds.velocity, units)}`;
    case 'cylinder':
      return `${axis?.name ?? '…'} ${action.to}`;
    case 'belt':
      return action.speed === 0
        ? `${nameOf(loose.belts, action.belt)} stops`
        : `${nameOf(loose.belts, action.belt)} at ${formatQuantity(action.speed, 'velocity', units)}`;
    case 'load':
      return `${formatQuantity(action.force, kinds.effort, units)} on ${axis?.name ?? '…'}`;
    case 'engage':
      return `${axis?.name ?? '…'} follows ${action.to === null ? 'the master' : nameOf(axes, action.to)}`;
    case 'leave':
      return `${axis?.name ?? '…'} leaves`;
    case 'release':
      return `${nameOf(loose.sources, action.source)} gives a part`;
    case 'take':
      return `${nameOf(loose.grippers, action.gripper)} takes`;
    case 'letGo':
      return `${nameOf(loose.grippers, action.gripper)} lets go`;
    case 'flag':
      return `${nameOf(sequence.flags, action.flag)} ${action.set ? 'set' : 'clear'}`;
    case 'reset':
      return `${nameOf(sequence.sensors, action.sensor)} from nothing`;
    case 'wait':
      return `wait ${time(action.time)}`;
    case 'alarm':
      return `alarm: ${action.text}`;
    case 'stop':
      return 'stop the cycle';
  }
}

/** What a sensor senses, in a few words. */
export function sensorWords({ sensing }: Sensor, machine: Machine): string {
  const { axes, loose, sequence, units } = machine;
  switch (sensing.kind) {
    case 'beam':
    case 'area':
      return sensing.sees.length > 0 ? sensing.sees.map((id) => nameOf(loose.kinds, id)).join(', ') : 'every part';
    case 'proximity':
      return `within ${formatQuantity(sensing.distance, 'length', units)}`;
    case 'position': {
      const axis = axes.find(({ id }) => id === sensing.axis);
      const kinds = AXIS_KINDS[axis?.kind ?? 'linear'];
      const kind = sensing.quantity === 'position' ? kinds.position : kinds.velocity;
      return `${axis?.name ?? '…'} ${sensing.side} ${formatQuantity(sensing.value, kind, units)}`;
    }
    case 'force': {
      const axis = axes.find(({ id }) => id === sensing.axis);
      return `${axis?.name ?? '…'} ${sensing.side} ${formatQuantity(sensing.value, AXIS_KINDS[axis?.kind ?? 'linear'].effort, units)}`;
    }
    case 'count': {
      const { of } = sensing;
      const what =
        of.what === 'sensor'
          ? nameOf(sequence.sensors, of.sensor)
          : of.what === 'cue'
            ? nameOf(sequence.cues, of.cue)
            : nameOf(loose.sinks, of.sink);
      return `${String(sensing.value)} × ${what}`;
    }
    case 'timer':
      return `${nameOf(sequence.sensors, sensing.of)}, ${formatQuantity(sensing.time, 'time', units)}`;
    case 'cue':
      return nameOf(sequence.cues, sensing.cue);
    case 'button':
      return sensing.presses.length === 0 ? 'never pressed' : `pressed ${String(sensing.presses.length)} ×`;
  }
}
