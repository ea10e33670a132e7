import { applyVariant, cycleTime, newVariant, type Machine } from '../machine';
import type { Run } from '../run';
import { runMachine } from './run-machine';

/** From what speed on a follower leaves its cam. */
export interface LiftOff {
  /** Speed, as a multiple of the present one, at which contact is just lost; below it, it is kept. */
  speed: number;
  /** Time of one cycle then, s, and where in it contact is lost, s. */
  cycle: number;
  time: number;
  /** How it stands at the present speed. */
  now: 'kept' | 'lost';
}

/** The search goes no further than this many times the present speed, up and down. */
const FURTHEST = 64;
/** Relative width at which it ends. */
const CLOSE = 1e-3;

/** The first loss of contact of a joint in a run; null where there is none. */
function lossIn(run: Run, joint: string): { time: number } | null {
  const found = run.mechanism?.findings.find((f) => f.code === 'lift-off' && f.id === joint);
  return found?.code === 'lift-off' ? { time: found.from } : null;
}

/**
 * Searches the speed at which a cam held by force lets go of its follower: the whole machine is run faster or slower,
 * with every motion in the same proportion of the cycle.
 * @returns the speed, or a sentence that says why there is none
 */
export async function liftOffSpeed(machine: Machine, joint: string): Promise<LiftOff | string> {
  const own = machine.mechanism.joints.find(({ id }) => id === joint);
  if (own?.kind !== 'cam' || own.closure !== 'spring')
    return 'Contact can be lost only where a cam is held by force: choose a cam with that closure.';
  const at = async (speed: number): Promise<{ lost: { time: number } | null } | string> => {
    const changed = applyVariant(machine, { ...newVariant('speed', 'Speed'), speed });
    const { run, findings } = await runMachine(changed);
    // What cannot be trusted tells nothing of contact either.
    const broken = findings.find(
      (f) => f.severity === 'error' && (f.breaks || f.about === 'run') && f.code !== 'lift-off',
    );
    if (broken) return `At ${speed.toPrecision(3)} times the speed: ${broken.text}`;
    if (run.mechanism && run.mechanism.reached < run.times.length)
      return `At ${speed.toPrecision(3)} times the speed the run breaks off.`;
    return { lost: lossIn(run, joint) };
  };
  const first = await at(1);
  if (typeof first === 'string') return first;
  const grow = first.lost ? 0.5 : 2;
  let [kept, lost] = first.lost ? [0, 1] : [1, Infinity];
  let found = first.lost;
  for (let speed = grow; kept === 0 || !found; speed *= grow) {
    if (speed > FURTHEST || speed < 1 / FURTHEST)
      return first.lost
        ? `Contact is lost even at ${FURTHEST} times the cycle time: the force that holds it is too weak, or pulls.`
        : `Contact is kept up to ${FURTHEST} times the speed.`;
    const next = await at(speed);
    if (typeof next === 'string') return next;
    if (next.lost) [lost, found] = [speed, next.lost];
    else kept = speed;
  }
  while (lost / kept - 1 > CLOSE) {
    const speed = Math.sqrt(lost * kept);
    const next = await at(speed);
    if (typeof next === 'string') return next;
    if (next.lost) [lost, found] = [speed, next.lost];
    else kept = speed;
  }
  return { speed: lost, cycle: cycleTime(machine) / lost, time: found!.time, now: first.lost ? 'lost' : 'kept' };
}
