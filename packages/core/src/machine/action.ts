import { z } from 'zod';
import { LAWS } from '../law';
import { AXIS_KINDS, formatQuantity } from '../quantity';
import { field, ofAxis, type Thing } from './field';
import { offer, wordsOf, type Before, type Kinds } from './kinds';
import { lawChoice } from './law-choice';
import { finite, lasting, positive, seconds } from './parts';
import { refTo } from './refer';
import type { Machine } from './schema';

const axis = field(refTo('axis'), 'Axis');
const speed = (quantity: Parameters<typeof field>[2]) => field(finite, 'Speed (0 stops)', quantity);
const ramp = field(seconds, 'Ramp', { quantity: 'time' });
/** How long what is switched lasts: then it goes back by itself, and the cue has ended. */
const lasts = (what: string, when?: (thing: Thing) => boolean) =>
  field(lasting.optional().meta({ description: `Time in s after which ${what}; left out: it stays so` }), 'For', {
    quantity: 'time',
    none: 'until it is changed',
    ...(when && { when }),
  });
const runs = ({ speed: wanted }: Thing) => wanted !== 0;
const gripper = field(refTo('gripper'), 'Gripper');

/** A limit of a move that goes in no time of its own; the axis has its own where none is set. */
const limit = (key: 'velocity' | 'acceleration' | 'jerk', label: string, when: (thing: Thing) => boolean) =>
  field(positive.nullable(), label, {
    quantity: ofAxis(key),
    when,
    none: (thing, around) => ((around.axis(thing.axis)?.limits[key] ?? null) === null ? 'none' : 'as the axis'),
  });
const hurries = ({ time }: Thing) => time === null;

/** What a cue does. */
export const actionSchema = z.discriminatedUnion('do', [
  z.strictObject({
    do: z.literal('move'),
    axis,
    given: field(z.enum(['to', 'by']), 'Given as', { words: { to: 'Place reached', by: 'Way covered' } }),
    value: field(finite, ({ given }) => (given === 'to' ? 'Moves to' : 'Moves by'), { quantity: ofAxis('position') }),
    time: field(lasting.nullable().meta({ description: 'null: the quickest under the limits' }), 'In', {
      quantity: 'time',
      none: 'under its limits',
    }),
    law: field(lawChoice.nullable().meta({ description: 'null: a servo move of limited jerk' }), 'Law', {
      law: true,
      wide: true,
    }),
    velocity: limit('velocity', 'Velocity at most', hurries),
    acceleration: limit('acceleration', 'Acceleration at most', hurries),
    jerk: limit('jerk', 'Jerk at most', (thing) => hurries(thing) && thing.law === null),
  }),
  z.strictObject({
    do: z.literal('speed'),
    axis,
    speed: speed({ quantity: ofAxis('velocity') }),
    ramp,
    time: lasts('the drive is at rest again, its last ramp among it', runs),
  }),
  z.strictObject({
    do: z.literal('cylinder'),
    axis: field(refTo('axis'), 'Cylinder', { only: ({ cylinder }) => cylinder !== null }),
    to: field(z.enum(['out', 'in']), 'Goes', { words: { out: 'Out', in: 'In' } }),
  }),
  z.strictObject({
    do: z.literal('belt'),
    belt: field(refTo('belt'), 'Belt', { only: ({ drive }) => (drive as Thing).by === 'speed' }),
    speed: speed({ quantity: 'velocity' }),
    ramp,
    time: lasts('the belt is at rest again, its last ramp among it', runs),
  }),
  z.strictObject({
    do: z.literal('load'),
    axis,
    force: field(
      finite.meta({ description: 'Force or torque along the positive direction from now on, N or N·m' }),
      'Along the positive direction',
      { quantity: ofAxis('effort') },
    ),
    time: lasts('the force is off again', ({ force }) => force !== 0),
  }),
  z.strictObject({
    do: z.literal('switch'),
    element: field(refTo('element'), 'Spring, damper, load or stop'),
    to: field(z.enum(['on', 'off']), 'Is switched', { words: { on: 'On', off: 'Off' } }),
    time: lasts('it is switched back'),
  }),
  z.strictObject({
    do: z.literal('engage'),
    axis,
    to: field(refTo('axis').nullable().meta({ description: 'Axis that is followed; null for the master' }), 'Follows', {
      none: 'The master',
      only: ({ id }, thing) => id !== thing.axis,
    }),
    ratio: field(finite, 'Ratio (SI units)', { quantity: 'number' }),
    over: field(seconds.meta({ description: 'Time in which it comes up to speed' }), 'Up to speed in', {
      quantity: 'time',
    }),
  }),
  z.strictObject({ do: z.literal('leave'), axis, over: field(lasting, 'At rest in', { quantity: 'time' }) }),
  z.strictObject({ do: z.literal('release'), source: field(refTo('source'), 'Source') }),
  z.strictObject({ do: z.literal('take'), gripper }),
  z.strictObject({ do: z.literal('letGo'), gripper }),
  z.strictObject({ do: z.literal('flag'), flag: field(refTo('flag'), 'Flag'), set: field(z.boolean(), 'Set') }),
  z.strictObject({
    do: z.literal('reset'),
    sensor: field(refTo('sensor'), 'Count', { only: ({ sensing }) => (sensing as Thing).kind === 'count' }),
  }),
  z.strictObject({ do: z.literal('wait'), time: field(seconds, 'For', { quantity: 'time' }) }),
  z.strictObject({ do: z.literal('alarm'), text: field(z.string().max(200), 'Message', { wide: true }) }),
  z.strictObject({ do: z.literal('stop') }),
]);

export type CueAction = z.infer<typeof actionSchema>;
export type ActionKind = CueAction['do'];

const axisWith = (machine: Machine, id: string) => machine.axes.find((own) => own.id === id);
const kindsOfAxis = (machine: Machine, id: string) => AXIS_KINDS[axisWith(machine, id)?.kind ?? 'linear'];
export const nameOf = (list: readonly { id: string; name: string }[], id: string | null): string =>
  list.find((item) => item.id === id)?.name ?? '…';

/** What begins with the first of a list, or a sentence that there is none. */
export function withFirst<T>(list: readonly { id: string }[], what: string, make: (id: string) => T): T | string {
  const id = list[0]?.id;
  return id === undefined ? `There is no ${what}.` : make(id);
}
/** What begins with the axis that is spoken of, else with the first one. */
export function withAxis<T>({ machine, was }: Before, make: (id: string) => T): T | string {
  const { axes } = machine;
  const own = axes.find(({ id }) => id === was.axis) ?? axes[0];
  return withFirst(own ? [own] : [], 'axis yet: add one in Build', make);
}

const forTime = (time: number | undefined, { units }: Machine) =>
  time === undefined ? '' : ` for ${formatQuantity(time, 'time', units)}`;

/** What cues can do, as the sheet offers it. */
export const ACTIONS: Kinds<CueAction, 'do'> = {
  move: {
    label: 'Move an axis',
    hint: 'To a place or by a way, in a time or under limits, by a law',
    first: (before) =>
      withAxis(before, (id) => ({
        do: 'move',
        axis: id,
        given: 'to',
        value: axisWith(before.machine, id)?.kind === 'rotary' ? Math.PI / 2 : 0.1,
        time: 0.5,
        law: { id: 'modifiedSine' },
        velocity: null,
        acceleration: null,
        jerk: null,
      })),
    words({ axis: id, given, value, time, law }, machine) {
      const how = time === null ? 'under its limits' : `in ${formatQuantity(time, 'time', machine.units)}`;
      const by = LAWS.find((known) => known.id === law?.id)?.name;
      const place = formatQuantity(value, kindsOfAxis(machine, id).position, machine.units);
      return `${nameOf(machine.axes, id)} ${given} ${place} ${how}${by ? `, ${by.toLowerCase()}` : ''}`;
    },
  },
  cylinder: {
    label: 'Switch a cylinder',
    hint: 'Out or in, with fill time, throttle and cushion',
    first: ({ machine }) =>
      withFirst(
        machine.axes.filter(({ cylinder }) => cylinder !== null),
        'cylinder: make an axis one in Build',
        (id) => ({ do: 'cylinder', axis: id, to: 'out' }),
      ),
    words: ({ axis: id, to }, machine) => `${nameOf(machine.axes, id)} ${to}`,
  },
  speed: {
    label: 'Run a drive',
    hint: 'At a speed, for a time or until it is stopped',
    first: (before) => withAxis(before, (id) => ({ do: 'speed', axis: id, speed: 0.1, ramp: 0.2 })),
    words: ({ axis: id, speed: wanted, ramp: over, time }, machine) =>
      wanted === 0
        ? `${nameOf(machine.axes, id)} stops in ${formatQuantity(over, 'time', machine.units)}`
        : `${nameOf(machine.axes, id)} at ${formatQuantity(wanted, kindsOfAxis(machine, id).velocity, machine.units)}${forTime(time, machine)}`,
  },
  belt: {
    label: 'Run a belt',
    hint: 'At a speed, over a ramp; 0 stops it',
    first: ({ machine }) =>
      withFirst(
        machine.loose.belts.filter(({ drive }) => drive.by === 'speed'),
        'belt with a speed of its own yet',
        (id) => ({ do: 'belt', belt: id, speed: 0.2, ramp: 0.1 }),
      ),
    words: ({ belt, speed: wanted, time }, machine) =>
      `${nameOf(machine.loose.belts, belt)} ${wanted === 0 ? 'stops' : `at ${formatQuantity(wanted, 'velocity', machine.units)}${forTime(time, machine)}`}`,
  },
  take: {
    label: 'Take a part',
    hint: 'The gripper closes; done when it holds a part',
    first: ({ machine }) => withFirst(machine.loose.grippers, 'gripper yet', (id) => ({ do: 'take', gripper: id })),
    words: ({ gripper: id }, { loose }) => `${nameOf(loose.grippers, id)} takes`,
  },
  letGo: {
    label: 'Let go',
    hint: 'The gripper opens',
    first: ({ machine }) => withFirst(machine.loose.grippers, 'gripper yet', (id) => ({ do: 'letGo', gripper: id })),
    words: ({ gripper: id }, { loose }) => `${nameOf(loose.grippers, id)} lets go`,
  },
  release: {
    label: 'Release a part',
    hint: 'A source gives one part',
    first: ({ machine }) =>
      withFirst(machine.loose.sources, 'source of parts yet', (id) => ({ do: 'release', source: id })),
    words: ({ source }, { loose }) => `${nameOf(loose.sources, source)} gives a part`,
  },
  wait: {
    label: 'Wait',
    hint: 'Nothing, for a time',
    first: () => ({ do: 'wait', time: 0.2 }),
    words: ({ time }, { units }) => `wait ${formatQuantity(time, 'time', units)}`,
  },
  flag: {
    label: 'Set a flag',
    hint: 'Remember something',
    first: ({ machine }) =>
      withFirst(machine.sequence.flags, 'flag yet: add one beside the sensors', (id) => ({
        do: 'flag',
        flag: id,
        set: true,
      })),
    words: ({ flag, set }, { sequence }) => `${nameOf(sequence.flags, flag)} ${set ? 'set' : 'clear'}`,
  },
  reset: {
    label: 'Count anew',
    hint: 'Sets a count back to nothing',
    first: ({ machine }) =>
      withFirst(
        machine.sequence.sensors.filter(({ sensing }) => sensing.kind === 'count'),
        'count among the sensors',
        (id) => ({ do: 'reset', sensor: id }),
      ),
    words: ({ sensor }, { sequence }) => `${nameOf(sequence.sensors, sensor)} from nothing`,
  },
  load: {
    label: 'Switch a load',
    hint: 'A force on an axis from now on',
    first: (before) => withAxis(before, (id) => ({ do: 'load', axis: id, force: 10 })),
    words: ({ axis: id, force, time }, machine) =>
      `${formatQuantity(force, kindsOfAxis(machine, id).effort, machine.units)} on ${nameOf(machine.axes, id)}${forTime(time, machine)}`,
  },
  switch: {
    label: 'Switch an element',
    hint: 'A spring, damper, force, torque or stop, on or off',
    first: ({ machine }) =>
      withFirst(machine.mechanism.elements, 'spring, damper, load or stop yet: draw one in Build', (id) => ({
        do: 'switch',
        element: id,
        to: machine.mechanism.elements[0]!.on ? 'off' : 'on',
      })),
    words: ({ element, to, time }, machine) =>
      `${nameOf(machine.mechanism.elements, element)} ${to}${forTime(time, machine)}`,
  },
  engage: {
    label: 'Engage',
    hint: 'Follow the master or another axis',
    first: (before) => withAxis(before, (id) => ({ do: 'engage', axis: id, to: null, ratio: 0.1, over: 0.2 })),
    words: ({ axis: id, to }, { axes }) =>
      `${nameOf(axes, id)} follows ${to === null ? 'the master' : nameOf(axes, to)}`,
  },
  leave: {
    label: 'Leave',
    hint: 'Stop following, gently',
    first: (before) => withAxis(before, (id) => ({ do: 'leave', axis: id, over: 0.2 })),
    words: ({ axis: id }, { axes }) => `${nameOf(axes, id)} leaves`,
  },
  alarm: {
    label: 'Raise an alarm',
    hint: 'A message in the log',
    first: () => ({ do: 'alarm', text: 'Look here' }),
    words: ({ text }) => `alarm: ${text}`,
  },
  stop: {
    label: 'Stop the cycle',
    hint: 'The run ends when all axes rest',
    first: () => ({ do: 'stop' }),
    words: () => 'stop the cycle',
  },
};
offer(actionSchema, ACTIONS);

/** What a cue does, in a few words. */
export const actionWords = (action: CueAction, machine: Machine): string => wordsOf(ACTIONS, 'do', action, machine);

/** What a cue is called by what it does, as long as nobody has given it a name. */
export function cueNameFor(action: CueAction, machine: Pick<Machine, 'axes' | 'loose' | 'mechanism'>): string {
  const own =
    'axis' in action
      ? nameOf(machine.axes, action.axis)
      : action.do === 'belt'
        ? nameOf(machine.loose.belts, action.belt)
        : action.do === 'switch'
          ? nameOf(machine.mechanism.elements, action.element)
          : '';
  switch (action.do) {
    case 'move':
      return `${own} moves`;
    case 'cylinder':
    case 'switch':
      return `${own} ${action.to}`;
    case 'speed':
    case 'belt':
      return action.speed === 0 ? `${own} stops` : `${own} runs`;
    case 'wait':
      return 'Wait';
    default:
      return ACTIONS[action.do].label;
  }
}
