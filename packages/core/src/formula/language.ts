/** One function of the formula language, as the editor offers it. */
export interface FunctionHelp {
  name: string;
  /** How it is called. */
  call: string;
  /** What it gives, in a sentence. */
  says: string;
}

/** All functions of the language. Angles go in with their unit; plain numbers are taken as radians by sin, cos, tan. */
export const FUNCTIONS: readonly FunctionHelp[] = [
  {
    name: 'rise',
    call: 'rise(x, from, to, law)',
    says: 'Goes smoothly from 0 to 1 while x goes from one place to the other, under a law of the library (polynomial 3-4-5 if none is named).',
  },
  {
    name: 'pulse',
    call: 'pulse(x, from, to, flank, law)',
    says: '1 while x is between the places, else 0; a flank makes it rise and fall smoothly inside.',
  },
  {
    name: 'lookup',
    call: 'lookup(x, [places], [values], way)',
    says: 'Reads a table: line, cubic or quintic between its rows; the ends hold outside.',
  },
  { name: 'clamp', call: 'clamp(x, low, high)', says: 'x, but never below low nor above high (saturation).' },
  { name: 'position', call: 'position("Axis")', says: 'Where another axis is.' },
  { name: 'velocity', call: 'velocity("Axis")', says: 'How fast another axis goes.' },
  { name: 'acceleration', call: 'acceleration("Axis")', says: 'How another axis accelerates.' },
  { name: 'sin', call: 'sin(angle)', says: 'Sine.' },
  { name: 'cos', call: 'cos(angle)', says: 'Cosine.' },
  { name: 'tan', call: 'tan(angle)', says: 'Tangent.' },
  { name: 'asin', call: 'asin(x)', says: 'The angle whose sine is x.' },
  { name: 'acos', call: 'acos(x)', says: 'The angle whose cosine is x.' },
  { name: 'atan', call: 'atan(x)', says: 'The angle whose tangent is x.' },
  { name: 'atan2', call: 'atan2(y, x)', says: 'The direction of (x, y), between −180 and 180 degrees.' },
  { name: 'sqrt', call: 'sqrt(x)', says: 'Square root; halves the units too.' },
  { name: 'exp', call: 'exp(x)', says: 'e to the power of x.' },
  { name: 'ln', call: 'ln(x)', says: 'Natural logarithm.' },
  { name: 'abs', call: 'abs(x)', says: 'Size without sign.' },
  { name: 'sign', call: 'sign(x)', says: '−1, 0 or 1.' },
  { name: 'min', call: 'min(a, b, …)', says: 'The smallest.' },
  { name: 'max', call: 'max(a, b, …)', says: 'The largest.' },
  { name: 'floor', call: 'floor(x)', says: 'The whole number at or below x.' },
  { name: 'mod', call: 'mod(x, length)', says: 'What is left of x beyond whole multiples of a length.' },
];

/** Names that stand for a value. */
export const VARIABLES: readonly FunctionHelp[] = [
  { name: 't', call: 't', says: 'Time since the cycle began.' },
  { name: 'T', call: 'T', says: 'Length of the cycle.' },
  { name: 'master', call: 'master', says: 'Position of the master: an angle, or a length where it is linear.' },
  { name: 'pi', call: 'pi', says: 'Half a turn, as a plain number.' },
];

/** Ways in which lookup goes from row to row. */
export const LOOKUP_WAYS = ['line', 'cubic', 'quintic'] as const;

/** The name nearest to one that is not known, if there is one within two letters. */
export function nearestName(name: string, known: Iterable<string>): string | undefined {
  let best: string | undefined;
  let least = Math.min(2, name.length - 1) + 1;
  for (const other of known) {
    const distance = editDistance(name.toLowerCase(), other.toLowerCase());
    if (distance < least) [best, least] = [other, distance];
  }
  return best;
}

/** Letters to change, add or drop to turn one word into the other (Levenshtein). */
function editDistance(a: string, b: string): number {
  let row = Array.from({ length: b.length + 1 }, (_, j) => j);
  for (let i = 1; i <= a.length; i++) {
    const next = [i];
    for (let j = 1; j <= b.length; j++)
      next.push(Math.min(row[j]! + 1, next[j - 1]! + 1, row[j - 1]! + (a[i - 1] === b[j - 1] ? 0 : 1)));
    row = next;
  }
  return row[b.length]!;
}
