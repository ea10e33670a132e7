import { FlatParts, SpaceParts, type PartsWorld } from '../contact';
import type { WrenchSchedule } from '../dynamics';
import type { Machine } from '../machine';
import { FlatSight } from './flat-sight';
import { PartForces } from './part-forces';
import type { MechanismPoses } from './poses';
import type { Seeing, Sight } from './sight';
import { SpacePartForces } from './space-part-forces';
import { SpaceSight, StepFrames } from './space-sight';

/** What parts do to a mechanism is taken down, step by step. */
export interface TakesDown {
  feel(from: number, to: number): void;
}

/** How what parts do is taken down, by how they move; null where there are none. */
export function partForcesOf(
  machine: Machine,
  world: PartsWorld | null,
  mechanism: MechanismPoses,
  wrenches: WrenchSchedule,
  step: number,
): TakesDown | null {
  if (world instanceof SpaceParts) return new SpacePartForces(world, mechanism, wrenches, step);
  return world instanceof FlatParts ? new PartForces(machine, world, mechanism, wrenches, step) : null;
}

/** What sensors see, by how parts move. */
export function sightsOf(machine: Machine, world: PartsWorld | null): (sensing: Seeing) => Sight {
  if (!machine.loose.space)
    return (sensing) => new FlatSight(sensing, machine, () => (world instanceof FlatParts ? world.parts : []));
  const frames = new StepFrames(machine.mechanism);
  return (sensing) => new SpaceSight(sensing, machine, frames, () => (world instanceof SpaceParts ? world.parts : []));
}
