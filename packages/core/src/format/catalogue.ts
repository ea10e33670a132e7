import { parseQuantity, tidy, type QuantityKind } from '../quantity';
import { motorSchema, type Motor } from '../sizing';
import { CsvError, heading, readCsv, splitHeading, writeCsv } from './csv';

interface Column {
  key: keyof Motor;
  name: string;
  /** Kind of quantity; `text` for words. */
  kind: QuantityKind | 'text';
  unit: string;
  /** SI value of one unit, for writing. */
  factor: number;
  /** Value where the column or cell is left out; undefined where it is needed. */
  missing?: number | null;
}

const RPM = Math.PI / 30;

/** Columns of the motor catalogue, with the units they are written in; other units are read as well. */
const COLUMNS: readonly Column[] = [
  { key: 'type', name: 'type', kind: 'text', unit: '', factor: 1 },
  { key: 'family', name: 'family', kind: 'text', unit: '', factor: 1 },
  { key: 'ratedTorque', name: 'rated torque', kind: 'torque', unit: 'N m', factor: 1 },
  { key: 'stallTorque', name: 'stall torque', kind: 'torque', unit: 'N m', factor: 1 },
  { key: 'peakTorque', name: 'peak torque', kind: 'torque', unit: 'N m', factor: 1 },
  { key: 'ratedSpeed', name: 'rated speed', kind: 'shaftSpeed', unit: 'rpm', factor: RPM },
  { key: 'maxSpeed', name: 'maximum speed', kind: 'shaftSpeed', unit: 'rpm', factor: RPM },
  { key: 'torqueConstant', name: 'torque constant', kind: 'torqueConstant', unit: 'N m/A', factor: 1 },
  { key: 'resistance', name: 'resistance', kind: 'resistance', unit: 'ohm', factor: 1 },
  { key: 'inductance', name: 'inductance', kind: 'inductance', unit: 'mH', factor: 1e-3 },
  { key: 'polePairs', name: 'pole pairs', kind: 'number', unit: '', factor: 1 },
  { key: 'supplyVoltage', name: 'supply voltage', kind: 'voltage', unit: 'V', factor: 1 },
  { key: 'inertia', name: 'rotor inertia', kind: 'inertia', unit: 'kg cm^2', factor: 1e-4 },
  { key: 'thermalTime', name: 'thermal time', kind: 'time', unit: 's', factor: 1 },
  { key: 'mass', name: 'mass', kind: 'mass', unit: 'kg', factor: 1 },
  { key: 'brakeTorque', name: 'brake torque', kind: 'torque', unit: 'N m', factor: 1, missing: null },
  { key: 'brakeInertia', name: 'brake inertia', kind: 'inertia', unit: 'kg cm^2', factor: 1e-4, missing: 0 },
  { key: 'brakeMass', name: 'brake mass', kind: 'mass', unit: 'kg', factor: 1, missing: 0 },
];

/**
 * Reads a motor catalogue from CSV. Columns may come in any order, with units in their headings.
 * @throws CsvError naming the row and column at fault, or a type that stands twice
 */
export function readCatalogue(text: string): Motor[] {
  const { header, rows } = readCsv(text);
  const headings = header.map(splitHeading);
  const unknown = headings.find(({ name }) => !COLUMNS.some((column) => column.name === name));
  if (unknown)
    throw new CsvError(
      `The column “${unknown.name}” is not known; known are ${COLUMNS.map((column) => column.name).join(', ')}.`,
    );
  const places = COLUMNS.map((column) => headings.findIndex(({ name }) => name === column.name));
  const absent = COLUMNS.find((column, i) => places[i] === -1 && column.missing === undefined);
  if (absent) throw new CsvError(`The column “${heading(absent.name, absent.unit)}” is missing.`);
  if (rows.length === 0) throw new CsvError('The catalogue holds no motors below its header.');
  const seen = new Set<string>();
  return rows.map((row, i) => {
    const motor = readRow(row, i + 2, places, headings);
    if (seen.has(motor.type.toLowerCase()))
      throw new CsvError(`Row ${i + 2}: the type “${motor.type}” stands in the file twice.`);
    seen.add(motor.type.toLowerCase());
    return motor;
  });
}

function readRow(row: string[], line: number, places: number[], headings: { unit: string }[]): Motor {
  const entries = COLUMNS.map((column, i): [keyof Motor, unknown] => {
    const place = places[i]!;
    const cell = place === -1 ? '' : (row[place] ?? '');
    if (cell === '' && column.missing !== undefined) return [column.key, column.missing];
    if (column.kind === 'text') return [column.key, cell];
    const unit = headings[place]!.unit || column.unit;
    const parsed = parseQuantity(`${cell} ${unit}`, column.kind, 'metric');
    if (!parsed.ok) throw new CsvError(`Row ${line}, column “${column.name}”: ${parsed.message}`);
    return [column.key, parsed.value];
  });
  const result = motorSchema.safeParse(Object.fromEntries(entries));
  if (result.success) return result.data;
  const issue = result.error.issues[0]!;
  const column = COLUMNS.find(({ key }) => key === issue.path[0]);
  throw new CsvError(`Row ${line}, column “${column?.name ?? String(issue.path[0])}”: ${issue.message}.`);
}

/** Writes a motor catalogue as CSV that {@link readCatalogue} reads back. */
export function writeCatalogue(motors: readonly Motor[]): string {
  return writeCsv(
    COLUMNS.map(({ name, unit }) => heading(name, unit)),
    motors.map((motor) =>
      COLUMNS.map(({ key, factor }) => {
        const value = motor[key];
        return value === null ? '' : typeof value === 'string' ? value : tidy(value / factor);
      }),
    ),
  );
}
