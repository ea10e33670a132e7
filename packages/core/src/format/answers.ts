import { z } from 'zod';
import { studyRunSchema } from '../cycle';
import { machineParts, problemSchema } from '../machine';

/** What lists show of a machine without its document. */
export const machineShownSchema = z.object({
  notes: z.string().meta({ description: 'The beginning of its notes' }),
  axes: z.array(z.object({ name: z.string(), kind: z.enum(['linear', 'rotary']), colour: z.int() })),
  cycle: machineParts.shape.cycle,
});
export type MachineShown = z.infer<typeof machineShownSchema>;

const time = z.iso.datetime();

/** A machine in a list. */
export const machineSummarySchema = machineShownSchema.extend({
  id: z.uuid(),
  name: z.string(),
  bytes: z.int().meta({ description: 'Size of the document' }),
  revision: z.int(),
  updatedAt: time,
  deletedAt: time.optional().meta({ description: 'Of a deleted machine: when it was deleted' }),
  purgedAt: time.optional().meta({ description: 'Of a deleted machine: when it goes for good' }),
});
export type MachineSummary = z.infer<typeof machineSummarySchema>;

/** A run that was kept; the document it is computed from is read when it is wanted. */
export const keptRunSchema = z.object({
  id: z.uuid(),
  name: z.string(),
  revision: z.int(),
  cycleTime: z
    .number()
    .nullable()
    .meta({ description: 'Time of its cycle as it came out when it was kept, s; null where that is not known' }),
  createdAt: time,
});
export type KeptRun = z.infer<typeof keptRunSchema>;

/** Many runs on the server, as far as they are. */
export const studyStateSchema = z.object({
  id: z.uuid(),
  total: z.int(),
  done: z.int(),
  state: z.enum(['running', 'done', 'cancelled', 'failed']),
  problem: z.string().nullable(),
  runs: z.array(studyRunSchema),
});
export type StudyState = z.infer<typeof studyStateSchema>;

/** Why a request is refused (RFC 9457). */
export const refusalSchema = z
  .object({
    type: z.string(),
    title: z.string(),
    status: z.int(),
    detail: z.string(),
    problems: z.array(problemSchema).optional(),
    revision: z.int().optional(),
  })
  .meta({ title: 'Problem details (RFC 9457)' });
export type Refusal = z.infer<typeof refusalSchema>;
