import { z } from 'zod';
import type { Machine } from '../machine';
import { Scatter } from '../numeric';
import { cycleTimes } from './cycle-record';
import { runCycle, simulateCycle } from './run-cycle';
import { CYCLE_ENDS } from './events';

/** What scatters over many runs. */
export const studyWishesSchema = z.strictObject({
  runs: z.int().min(1).max(2000),
  seed: z.int().min(0).max(4_294_967_295),
  sensorDelay: z.number().min(0).max(10).meta({ description: 'Largest extra delay of each change of a sensor, s' }),
  friction: z.number().min(0).max(0.9).meta({ description: 'Largest share by which friction differs' }),
  torques: z.boolean().meta({ description: 'Whether torques are computed too' }),
});
export type StudyWishes = z.infer<typeof studyWishesSchema>;

/** What one run of a study drew; the same draw gives the same run. */
const studyDrawSchema = z.object({
  number: z.int(),
  seed: z.int(),
  friction: z.number().meta({ description: 'Factor on all coefficients of friction' }),
  sensorDelay: z.number().meta({ description: 's' }),
});
export type StudyDraw = z.infer<typeof studyDrawSchema>;

/** What one run of a study came to. */
export const studyRunSchema = studyDrawSchema.extend({
  end: z.enum(CYCLE_ENDS),
  duration: z.number().meta({ description: 's' }),
  cycleTime: z.number().nullable().meta({ description: 'Mean time of the full cycles, s; null where there was none' }),
  longestCycle: z.number().nullable().meta({ description: 's' }),
  done: z.int().meta({ description: 'Parts that ended where good parts end' }),
  missed: z.int().meta({ description: 'Parts that ended where missed parts end, fell out, or were lost by a gripper' }),
  peaks: z
    .array(z.object({ axis: z.string(), torque: z.number() }))
    .meta({ description: 'Largest torque at the shaft of each axis, N·m; empty without torques' }),
});
export type StudyRun = z.infer<typeof studyRunSchema>;

/** The draws of a study, from its seed alone. */
export function studyDraws({ runs, seed, friction, sensorDelay }: StudyWishes): StudyDraw[] {
  const scatter = new Scatter(seed);
  return Array.from({ length: runs }, (_, number) => ({
    number,
    seed: Math.floor(scatter.uniform() * 2 ** 32),
    friction: 1 + scatter.within(friction),
    sensorDelay,
  }));
}

/** One run of a study. Needs loadContact(). */
export function studyRun(machine: Machine, draw: StudyDraw, torques: boolean): StudyRun {
  const { seed, friction, sensorDelay } = draw;
  const options = { seed, friction, sensorDelay };
  const full = torques ? runCycle(machine, options) : null;
  const record = full?.record ?? simulateCycle(machine, options).record;
  const times = cycleTimes(record);
  const missing = new Set(machine.loose.sinks.filter(({ counts }) => counts === 'missed').map(({ id }) => id));
  const gone = record.fates.filter((fate) => fate.gone !== null);
  const lost = record.events.filter(({ kind }) => kind === 'lost').length;
  return {
    ...draw,
    end: record.end,
    duration: record.duration,
    cycleTime: times.length > 0 ? times.reduce((sum, t) => sum + t, 0) / times.length : null,
    longestCycle: times.length > 0 ? Math.max(...times) : null,
    done: gone.filter(({ sink }) => sink !== null && !missing.has(sink)).length,
    missed: gone.filter(({ sink }) => sink === null || missing.has(sink)).length + lost,
    peaks: (full?.run.axes ?? []).map(({ axisId, channels }) => ({
      axis: axisId,
      torque: channels.motorTorque.reduce(
        (most, value) => (Number.isFinite(value) ? Math.max(most, Math.abs(value)) : most),
        0,
      ),
    })),
  };
}

/** Values in classes of equal width, for a histogram. */
export interface Histogram {
  from: number;
  width: number;
  counts: number[];
}

/** Sorts values into about √n classes. */
export function histogram(values: readonly number[]): Histogram {
  const finite = values.filter(Number.isFinite);
  if (finite.length === 0) return { from: 0, width: 1, counts: [] };
  const [least, most] = [Math.min(...finite), Math.max(...finite)];
  const classes =
    most - least < 1e-12 * Math.abs(most) ? 1 : Math.max(1, Math.min(40, Math.round(Math.sqrt(finite.length))));
  const width = classes === 1 ? Math.max(Math.abs(most) * 1e-6, 1e-9) : (most - least) / classes;
  const counts = new Array<number>(classes).fill(0);
  for (const value of finite) {
    const i = Math.min(classes - 1, Math.floor((value - least) / width));
    counts[i] = counts[i]! + 1;
  }
  return { from: least, width, counts };
}

/** The run to look at first: one that did not finish, else that of most missed parts, else the slowest. */
export function worstOf(runs: readonly StudyRun[]): StudyRun | null {
  const bad = (run: StudyRun) =>
    ['waiting', 'longest', 'emergency', 'stuck', 'endless', 'too-much', 'monitor'].includes(run.end) ? 1 : 0;
  return (
    [...runs].sort(
      (x, y) =>
        bad(y) - bad(x) ||
        y.missed - x.missed ||
        (y.longestCycle ?? y.duration) - (x.longestCycle ?? x.duration) ||
        x.number - y.number,
    )[0] ?? null
  );
}
