import type { Axis, Machine } from '../machine';
import { prepareMechanism } from './prepare';

/**
 * Takes off all drives that would lead what some things lead or tie that have just been added.
 * @param added identifiers of joints and of an axis, which stays
 * @returns the drives taken off
 */
export function dropRivals(machine: Machine, added: readonly string[]): Axis[] {
  const prepared = prepareMechanism(machine);
  const rivals = new Set(
    ('mobility' in prepared ? prepared.mobility.fighting : [])
      .filter((ids) => ids.some((id) => added.includes(id)))
      .flat(),
  );
  const off = machine.axes.filter(({ id }) => !added.includes(id) && rivals.has(id));
  machine.axes = machine.axes.filter((axis) => !off.includes(axis));
  return off;
}
