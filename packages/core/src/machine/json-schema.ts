import { z } from 'zod';
import { machineSchema } from './schema';

/** The document format as JSON Schema (draft 2020-12), derived from the one schema. */
export function machineJsonSchema(): Record<string, unknown> {
  return z.toJSONSchema(machineSchema) as Record<string, unknown>;
}
