import type { CueAction } from './action';
import type { Machine } from './schema';
import type { Condition, Sequence } from './sequence';

/** What a cue does, k times as fast. What no drive leads (cylinders, loads, grippers) keeps its own speed. */
function fasterAction(action: CueAction, k: number, axes: Machine['axes']): CueAction {
  switch (action.do) {
    case 'move': {
      const limits = axes.find(({ id }) => id === action.axis)?.limits;
      const times = (own: number | null, ofAxis: number | null | undefined, by: number) => {
        const limit = own ?? ofAxis ?? null;
        return limit === null ? null : limit * by;
      };
      return {
        ...action,
        time: action.time === null ? null : action.time / k,
        velocity: times(action.velocity, limits?.velocity, k),
        acceleration: times(action.acceleration, limits?.acceleration, k * k),
        jerk: times(action.jerk, limits?.jerk, k ** 3),
      };
    }
    case 'speed':
    case 'belt':
      return { ...action, speed: action.speed * k, ramp: action.ramp / k, ...lasting(action, k) };
    case 'load':
    case 'switch':
      return { ...action, ...lasting(action, k) };
    case 'engage':
    case 'leave':
      return { ...action, over: action.over / k };
    case 'wait':
      return { ...action, time: action.time / k };
    default:
      return action;
  }
}

const lasting = ({ time }: { time?: number | undefined }, k: number) => (time === undefined ? {} : { time: time / k });

function fasterCondition(condition: Condition, k: number): Condition {
  if (condition.op === 'and' || condition.op === 'or')
    return { ...condition, of: condition.of.map((term) => fasterCondition(term, k)) };
  if (condition.op === 'not') return { ...condition, of: fasterCondition(condition.of, k) };
  return condition.op === 'time' ? { ...condition, at: condition.at / k } : condition;
}

/**
 * Cues k times as fast: delays, waits and times of moves are 1/k as long, limits and speeds grow by k, k² and k³.
 * Controller, sensors' own delays and the emergency ramp belong to the equipment and stay as they are.
 */
export function fasterSequence(sequence: Sequence, k: number, axes: Machine['axes']): Sequence {
  return {
    ...sequence,
    sensors: sequence.sensors.map((sensor) =>
      sensor.sensing.kind === 'timer' || sensor.sensing.kind === 'cue'
        ? { ...sensor, sensing: { ...sensor.sensing, time: sensor.sensing.time / k } }
        : sensor,
    ),
    cues: sequence.cues.map((cue) => ({
      ...cue,
      when: cue.when && fasterCondition(cue.when, k),
      delay: cue.delay / k,
      action: fasterAction(cue.action, k, axes),
      timeOut: cue.timeOut && { ...cue.timeOut, time: cue.timeOut.time / k },
    })),
    interlocks: sequence.interlocks.map((lock) => ({ ...lock, during: fasterCondition(lock.during, k) })),
  };
}

/** Belts with a speed of their own and sources of parts, k times as fast. */
export function fasterLoose<L extends Pick<Machine['loose'], 'belts' | 'sources'>>(loose: L, k: number): L {
  return {
    ...loose,
    belts: loose.belts.map((belt) =>
      belt.drive.by === 'speed' ? { ...belt, drive: { ...belt.drive, speed: belt.drive.speed * k } } : belt,
    ),
    sources: loose.sources.map((source) => {
      const { release } = source;
      if (release.how === 'times')
        return { ...source, release: { ...release, times: release.times.map((time) => time / k) } };
      if (release.how === 'interval')
        return {
          ...source,
          release: { ...release, first: release.first / k, interval: release.interval / k },
        };
      if (release.how === 'flow')
        return {
          ...source,
          release: { ...release, first: release.first / k, perMinute: Math.min(60_000, release.perMinute * k) },
        };
      return source;
    }),
  };
}
