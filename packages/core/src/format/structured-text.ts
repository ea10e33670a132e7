import { columnUnits, shownRows, TrajectoryError, type Trajectory } from './trajectory';

/** A name that IEC 61131-3 allows: letters, digits and single underscores, beginning with a letter. */
export function plcName(name: string): string {
  const plain = name
    .normalize('NFD')
    .replace(/\p{M}/gu, '')
    .replace(/[^A-Za-z0-9]+/g, '_')
    .replace(/^_|_$/g, '');
  return /^[A-Za-z]/.test(plain) ? plain : `Axis_${plain || '1'}`;
}

/** A number as an LREAL literal: always with a decimal point. */
const real = (value: number): string => {
  const text = String(value);
  if (/[.]/.test(text)) return text;
  return /e/i.test(text) ? text.replace(/e/i, '.0E') : `${text}.0`;
};

const COLUMNS = ['times', 'positions', 'velocities', 'accelerations'] as const;

/** Body of the block: finds the interval by halving, then evaluates the Hermite polynomial between its two points. */
export function interpolationBody(form: Trajectory['form'], last: number): string {
  const cubic = [
    'c2 := 3.0 * d - h * (2.0 * v0 + v1);',
    'c3 := h * (v0 + v1) - 2.0 * d;',
    'Position := p0 + u * (h * v0 + u * (c2 + u * c3));',
    'Velocity := (h * v0 + u * (2.0 * c2 + u * 3.0 * c3)) / h;',
    'Acceleration := (2.0 * c2 + u * 6.0 * c3) / (h * h);',
  ];
  const quintic = [
    'a0 := accelerations[low];',
    'a1 := accelerations[high];',
    'c2 := 0.5 * h * h * a0;',
    'c3 := 10.0 * d - h * (6.0 * v0 + 4.0 * v1) - h * h * (1.5 * a0 - 0.5 * a1);',
    'c4 := -15.0 * d + h * (8.0 * v0 + 7.0 * v1) + h * h * (1.5 * a0 - a1);',
    'c5 := 6.0 * d - 3.0 * h * (v0 + v1) - 0.5 * h * h * (a0 - a1);',
    'Position := p0 + u * (h * v0 + u * (c2 + u * (c3 + u * (c4 + u * c5))));',
    'Velocity := (h * v0 + u * (2.0 * c2 + u * (3.0 * c3 + u * (4.0 * c4 + u * 5.0 * c5)))) / h;',
    'Acceleration := (2.0 * c2 + u * (6.0 * c3 + u * (12.0 * c4 + u * 20.0 * c5))) / (h * h);',
  ];
  return [
    'x := Time;',
    'IF x < times[0] THEN x := times[0]; END_IF;',
    `IF x > times[${last}] THEN x := times[${last}]; END_IF;`,
    'low := 0;',
    `high := ${last};`,
    'WHILE high - low > 1 DO',
    '  middle := (low + high) / 2;',
    '  IF times[middle] <= x THEN low := middle; ELSE high := middle; END_IF;',
    'END_WHILE;',
    'h := times[high] - times[low];',
    'u := (x - times[low]) / h;',
    'p0 := positions[low];',
    'd := positions[high] - p0;',
    'v0 := velocities[low];',
    'v1 := velocities[high];',
    ...(form === 'pvt' ? cubic : quintic),
  ].join('\n');
}

/** Local variables of the block. */
export function localVariables(form: Trajectory['form']): { integers: string[]; reals: string[] } {
  return {
    integers: ['low', 'high', 'middle'],
    reals: ['x', 'h', 'u', 'd', 'p0', 'v0', 'v1', 'c2', 'c3', ...(form === 'pvt' ? [] : ['a0', 'a1', 'c4', 'c5'])],
  };
}

/**
 * A function block in Structured Text (IEC 61131-3) that holds the table and interpolates it:
 * time in, position, velocity and acceleration out, in the units named at its head.
 */
export function structuredText(trajectory: Trajectory): string {
  const { axis, form } = trajectory;
  const units = columnUnits({ ...trajectory, form: 'pvat' });
  const rows = shownRows(trajectory);
  const last = rows.length - 1;
  const array = (c: number) => {
    const values = rows.map((row) => real(row[c]!));
    const lines: string[] = [];
    for (let i = 0; i < values.length; i += 8) lines.push(`      ${values.slice(i, i + 8).join(', ')}`);
    return `    ${COLUMNS[c]} : ARRAY[0..${last}] OF LREAL := [\n${lines.join(',\n')}\n    ];`;
  };
  const { integers, reals } = localVariables(form);
  return `(* Motion of the axis "${axis.replaceAll('*', '')}": ${rows.length} points, ${form === 'pvt' ? 'cubic' : 'quintic'} between them.
   Time in s, position in ${plain(units[1]!.symbol)}, velocity in ${plain(units[2]!.symbol)}, acceleration in ${plain(units[3]!.symbol)}. *)
FUNCTION_BLOCK ${plcName(axis)}_Motion
  VAR_INPUT
    Time : LREAL;
  END_VAR
  VAR_OUTPUT
    Position : LREAL;
    Velocity : LREAL;
    Acceleration : LREAL;
  END_VAR
  VAR
    ${integers.join(', ')} : DINT;
    ${reals.join(', ')} : LREAL;
${COLUMNS.slice(0, form === 'pvt' ? 3 : 4)
  .map((_, c) => array(c))
  .join('\n')}
  END_VAR

${interpolationBody(form, last)
  .split('\n')
  .map((line) => `  ${line}`)
  .join('\n')}
END_FUNCTION_BLOCK
`;
}

const plain = (symbol: string) => symbol.replace('°', 'deg').replace('²', '^2').replace('³', '^3');

/**
 * Reads the table back out of Structured Text written by {@link structuredText}, into SI rows.
 * @throws TrajectoryError where an array is missing or they differ in length
 */
export function readStructuredText(text: string, { kind, units }: Pick<Trajectory, 'kind' | 'units'>): number[][] {
  const columns = COLUMNS.flatMap((name) => {
    const match = new RegExp(
      `${name}\\s*:\\s*ARRAY\\s*\\[0\\.\\.(\\d+)\\]\\s*OF\\s+LREAL\\s*:=\\s*\\[([^\\]]*)\\]`,
    ).exec(text);
    if (!match) {
      if (name === 'accelerations') return [];
      throw new TrajectoryError(`The text has no array “${name}”.`);
    }
    const values = match[2]!.split(',').map((cell) => Number(cell));
    if (values.length !== Number(match[1]) + 1 || values.some((value) => !Number.isFinite(value)))
      throw new TrajectoryError(`The array “${name}” does not hold ${Number(match[1]) + 1} numbers.`);
    return [values];
  });
  return rowsOf(columns, { kind, units });
}

/** Columns in the units of a file, as SI rows. */
export function rowsOf(
  columns: readonly (readonly number[])[],
  { kind, units }: Pick<Trajectory, 'kind' | 'units'>,
): number[][] {
  const scale = columnUnits({ kind, units, form: columns.length === 3 ? 'pvt' : 'pvat' });
  if (columns.some((column) => column.length !== columns[0]!.length))
    throw new TrajectoryError('The arrays differ in length.');
  return columns[0]!.map((_, i) => columns.map((column, c) => column[i]! * scale[c]!.factor));
}
