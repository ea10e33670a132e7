import { bodiesOf, GROUND, type Machine } from '@yoke/core';
import { computed } from 'vue';
import { axisColour } from '@/lib/axis-look';
import type { Colouring } from '@/stores/board';

/** Colours of bodies and joints by identifier: of the axis that drives them, of each body, or by driven and free. */
export function useMechanismColours(
  machine: () => Machine | null,
  colouring: () => Colouring,
  freeBodies: () => ReadonlySet<string>,
) {
  return computed<Record<string, string>>(() => {
    const document = machine();
    if (!document) return {};
    const { mechanism, axes } = document;
    const colours: Record<string, string> = {};
    mechanism.bodies.forEach((body, i) => {
      if (colouring() === 'body') colours[body.id] = `var(--axis-${i % 8})`;
      if (colouring() === 'driven')
        colours[body.id] = freeBodies().has(body.id) ? 'var(--attention)' : 'var(--primary)';
    });
    for (const axis of axes) {
      const joint = mechanism.joints.find(({ id }) => id === axis.joint);
      if (!joint) continue;
      colours[joint.id] = axisColour(axis);
      if (colouring() !== 'axis') continue;
      for (const body of bodiesOf(mechanism, joint))
        if (body !== GROUND && joint.kind !== 'cylinder') colours[body] ??= axisColour(axis);
    }
    return colours;
  });
}
