import { z } from 'zod';
import { findLaw, LAW_IDS, LAWS } from '../law';
import { finite } from './parts';

/** A law of motion with its own parameters. */
export const lawChoice = z
  .strictObject({
    id: z.enum(LAW_IDS),
    parameters: z
      .record(z.string(), finite)
      .optional()
      .meta({ description: "Values of the law's own parameters, shares of the segment time" }),
  })
  .superRefine((law, context) => {
    const family = findLaw(law.id);
    for (const [key, value] of Object.entries(law.parameters ?? {})) {
      const spec = family?.parameters.find((parameter) => parameter.name === key);
      const path = ['parameters', key];
      if (spec?.choices && !spec.choices.includes(value))
        context.addIssue({ code: 'custom', path, message: `must be one of ${spec.choices.join(', ')}` });
      else if (!spec) context.addIssue({ code: 'custom', path, message: `is no parameter of the law ${law.id}` });
      else if (value < spec.min || value > spec.max)
        context.addIssue({ code: 'custom', path, message: `must lie between ${spec.min} and ${spec.max}` });
    }
    const { acceleration = 1 / 3, deceleration = 1 / 3 } = law.parameters ?? {};
    if (law.id === 'trapezoidal' && acceleration + deceleration > 1 + 1e-9)
      context.addIssue({
        code: 'custom',
        path: ['parameters'],
        message: 'acceleration and deceleration together must not exceed 1',
      });
  });

/** Laws that carry from rest to rest, by their names. */
export const LAW_WORDS = Object.fromEntries(
  LAWS.filter(({ id }) => id !== 'straight').map(({ id, name }) => [id, name]),
);
