import { GROUND, type Machine } from '../machine';
import { formatQuantity } from '../quantity';
import { nameIn, type WatchedClearance } from '../run';
import type { ToldFinding } from './findings';

const base = { severity: 'error', about: 'run', axisId: null, time: null, breaks: false } as const;

/**
 * Says that clearances are watched and nobody knows how they are: never that they are fine. Where a collision would have
 * ended the run, nobody knows whether it is one.
 */
export const unknownClearance = (machine: Pick<Machine, 'clearances'>, text: string): ToldFinding => ({
  ...base,
  code: 'clearance-unknown',
  breaks: machine.clearances?.watches.some(({ stop }) => stop) ?? false,
  text,
});

/**
 * What is wrong with the clearances that a machine watches, in words: a collision that ends the run breaks it, what comes
 * too near or collides without ending it does not.
 */
export function toldClearances(machine: Machine, watched: readonly WatchedClearance[]): ToldFinding[] {
  const nameOf = (id: string) => (id === GROUND ? 'the ground' : `“${nameIn(machine, id)}”`);
  const long = (value: number) => formatQuantity(value, 'length', machine.units, 3);
  const moment = (value: number) => formatQuantity(value, 'time', machine.units);
  return (machine.clearances?.watches ?? []).flatMap(({ id, name, least, stop }): ToldFinding[] => {
    const nearest = watched.find(({ watch }) => watch.id === id)?.nearest;
    if (!nearest)
      return [{ ...base, code: 'clearance-unknown', text: `${name} watches nothing: its bodies have no shape, or touch by design.` }]; // prettier-ignore
    const time = nearest.meetsFrom ?? nearest.least.time;
    const who = `${nameOf(nearest.a)} and ${nameOf(nearest.b)}`;
    if (nearest.meetsFrom !== null) {
      const at = `${name}: ${who} collide at ${moment(nearest.meetsFrom)}`;
      const text = stop
        ? `${at}. The run ends there: what comes after it does not count, and its cycle is not the cycle of the machine.`
        : `${at}; the run goes on as if they did not.`;
      return [{ ...base, time, code: 'collision', breaks: stop, text }];
    }
    if (nearest.least.distance >= least) return [];
    const text = `${name}: ${who} come as near as ${long(nearest.least.distance)} at ${moment(time)}, less than ${long(least)}.`;
    return [{ ...base, time, code: 'clearance', text }];
  });
}
