import { z } from 'zod';
import { heading, splitHeading, writeCsv } from './csv';
import { columnKinds, guessColumns, motionRows, readRawTable } from './motion-table';
import { columnUnits, shownRows, TrajectoryError, type Trajectory } from './trajectory';

/** Point table as CSV: one row a point, units in the header. */
export function trajectoryCsv(trajectory: Trajectory): string {
  const units = columnUnits(trajectory);
  return writeCsv(
    units.map(({ name, symbol }) => heading(name, symbol)),
    shownRows(trajectory),
  );
}

/**
 * Reads a point table written by {@link trajectoryCsv}, or any CSV with such headings, back into SI rows.
 * @throws CsvError naming the row and column
 */
export function readTrajectoryCsv(text: string, { kind, units }: Pick<Trajectory, 'kind' | 'units'>): number[][] {
  const table = readRawTable(text);
  if (table.header?.some((cell) => splitHeading(cell).name === 'master'))
    throw new TrajectoryError('This table runs over the master, not over time.');
  return motionRows(table, guessColumns(table), columnKinds(kind, null), units);
}

const trajectorySchema = z.strictObject({
  format: z.literal('yoke-trajectory'),
  version: z.literal(1),
  axis: z.string(),
  kind: z.enum(['linear', 'rotary']),
  form: z.enum(['pvt', 'pvat']),
  units: z.literal('SI').meta({ description: 's, m or rad and their derivatives' }),
  between: z.enum(['cubic', 'quintic']).meta({ description: 'Polynomial between two points (Hermite)' }),
  columns: z.array(z.string()),
  rows: z.array(z.array(z.number()).min(3).max(4)).min(2),
});

/** Point table as JSON, SI units. */
export function trajectoryJson({ axis, kind, form, rows }: Trajectory): string {
  const document: z.infer<typeof trajectorySchema> = {
    format: 'yoke-trajectory',
    version: 1,
    axis,
    kind,
    form,
    units: 'SI',
    between: form === 'pvt' ? 'cubic' : 'quintic',
    columns: ['time', 'position', 'velocity', 'acceleration'].slice(0, form === 'pvt' ? 3 : 4),
    rows,
  };
  return `${JSON.stringify(document, null, 1)}\n`;
}

/**
 * Reads what {@link trajectoryJson} wrote.
 * @throws TrajectoryError naming what is wrong
 */
export function readTrajectoryJson(text: string): number[][] {
  let data: unknown;
  try {
    data = JSON.parse(text);
  } catch {
    throw new TrajectoryError('This is no JSON.');
  }
  const read = trajectorySchema.safeParse(data);
  if (!read.success) {
    const [issue] = read.error.issues;
    throw new TrajectoryError(`${issue!.path.join('.') || 'The file'}: ${issue!.message}.`);
  }
  return read.data.rows;
}
