import { beltAlong, boxKind } from './loose';
import {
  emptyLoose,
  emptySequence,
  newAxis,
  newMachine,
  type Axis,
  type Body,
  type Condition,
  type Cue,
  type CueAction,
  type Machine,
  type Sensor,
} from '../src/machine';
import { newCue } from '../src/sequence';

/** A cue with nothing but a name and an action. */
export const cue = (id: string, action: CueAction, more: Partial<Cue> = {}): Cue => ({
  ...newCue(emptySequence(), id, action),
  id,
  name: id,
  ...more,
});

/** A sensor without delays. */
export function sensor(id: string, sensing: Sensor['sensing'], more: Partial<Sensor> = {}): Sensor {
  return { id, name: id, sensing, hysteresis: 0, onDelay: 0, offDelay: 0, filter: 0, inverted: false, ...more };
}

export const wait = (time: number): CueAction => ({ do: 'wait', time });
export const stop: CueAction = { do: 'stop' };
export const on = (id: string): Condition => ({ op: 'on', sensor: id });
export const rises = (id: string): Condition => ({ op: 'rises', sensor: id });

/** A move to a place in a time under a law. */
export function move(axis: string, value: number, time: number | null, law: string | null = 'poly345'): CueAction {
  return {
    do: 'move',
    axis,
    given: 'to',
    value,
    time,
    law: law === null ? null : ({ id: law } as Extract<CueAction, { do: 'move' }>['law']),
    velocity: null,
    acceleration: null,
    jerk: null,
  };
}

/** A linear axis that cues move, from 0. */
export function cuedAxis(id: string, more: Partial<Axis> = {}): Axis {
  const axis = newAxis('linear', [], 2);
  return {
    ...axis,
    id,
    name: id,
    travel: { min: -1, max: 1 },
    motion: { ...axis.motion, source: { kind: 'cues', start: 0 } },
    ...more,
  };
}

/** A machine of cues, without anything else unless given. */
export function sheetOf(cues: Cue[], more: Partial<Machine['sequence']> = {}, rest: Partial<Machine> = {}): Machine {
  return {
    ...newMachine('Test'),
    sequence: { ...emptySequence(), cues, ...more },
    ...rest,
  };
}

/** Loose parts on a belt that runs from x = 0 to the right, its face at y = 0; boxes of 40 × 20 mm. */
export function beltLine(speed: number, times: number[]): Machine['loose'] {
  return {
    ...emptyLoose(),
    materials: [
      { id: 'rubber', name: 'rubber' },
      { id: 'card', name: 'cardboard' },
    ],
    pairs: [{ id: 'p', a: 'rubber', b: 'card', friction: 0.6, restitution: 0 }],
    kinds: [boxKind({ material: 'card' }, 0.04, 0.02, 0.2)],
    belts: [beltAlong('rubber', -0.2, 2, { by: 'speed', speed, running: true })],
    sources: [
      {
        id: 'in',
        name: 'In',
        kind: 'box',
        body: 'ground',
        at: [0, 0.01],
        angle: 0,
        velocity: [speed, 0],
        release: { how: 'times', times },
        scatter: { time: 0, place: 0, angle: 0 },
      },
    ],
  };
}

/** A body on a rail along x, which an axis may lead by the joint “j”. */
export function onRail(machine: Machine, x: number, y: number, shape: Body['shape'], at = x, zero = 0): void {
  machine.mechanism.ground = [{ id: 'g', plane: 'front', at: [at, y] }];
  machine.mechanism.bodies = [
    {
      id: 'b',
      name: 'Slider',
      plane: 'front',
      level: 0,
      thickness: 0.01,
      pose: { x, y, angle: 0 },
      points: [{ id: 'p', at: [0, 0] }],
      shape,
      mass: { given: 'typed', mass: 1, centre: [0, 0], inertia: 0.01 },
    },
  ];
  machine.mechanism.joints = [
    {
      kind: 'slide',
      id: 'j',
      name: 'Rail',
      a: { body: 'ground', point: 'g' },
      b: { body: 'b', point: 'p' },
      angle: 0,
      turn: 0,
      zero,
      friction: { coulomb: 0, viscous: 0 },
    },
  ];
}
