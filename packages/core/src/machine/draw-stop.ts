import { addElement, freshName } from './draw';
import type { Element, Joint, Mechanism } from './mechanism';

/** The step of 1, 2 or 5 times a power of ten that is nearest below a length or angle. */
const roundStep = (about: number): number => {
  const power = 10 ** Math.floor(Math.log10(about));
  return power * ([5, 2].find((k) => k * power <= about) ?? 1);
};

/**
 * Adds a stop to a joint, about where it is drawn and all that it has been seen to do.
 * @param position of the joint as drawn, m or rad
 * @param room beyond that on both sides, m or rad; the limits are round figures
 * @param seen least and largest position in a run
 */
export function addStop(
  mechanism: Mechanism,
  joint: Pick<Joint, 'id' | 'name'>,
  position: number,
  room: number,
  seen: readonly [least: number, largest: number] = [position, position],
): Element {
  const step = roundStep(room);
  const [min, max] = [Math.min(position, seen[0]) - room, Math.max(position, seen[1]) + room];
  const tidy = (value: number) => Number((value * step).toPrecision(12));
  const base = `Stop of ${joint.name.slice(0, 60)}`;
  const taken = mechanism.elements.map((e) => e.name);
  return addElement(mechanism, {
    kind: 'stop',
    name: taken.includes(base) ? freshName(base, taken) : base,
    joint: joint.id,
    min: tidy(Math.floor(min / step)),
    max: tidy(Math.ceil(max / step)),
    restitution: 0.3,
  });
}
