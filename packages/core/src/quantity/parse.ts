import { create, unitDependencies, createUnitDependencies, type Unit } from 'mathjs';
import { displayUnit, KINDS, type QuantityKind, type UnitSystem } from './kinds';

const math = create({ ...unitDependencies, ...createUnitDependencies });
math.createUnit!({ rev: '360 deg', rpm: '6 deg/s' });
math.createUnit!('cpm', math.unit!(1 / 60, 'Hz'));

/** Outcome of reading a typed quantity: an SI value, or a sentence that says what is wrong. */
export type ParsedQuantity = { ok: true; value: number } | { ok: false; message: string };

/** Shorthands of the trade, rewritten to what the unit parser knows. Longest first. */
const SHORTHANDS: [RegExp, string][] = [
  [/[·⋅*]/g, ' '],
  [/²/g, '^2'],
  [/³/g, '^3'],
  [/°|º/g, 'deg'],
  [/µ|μ/g, 'u'],
  [/Ω|Ω/g, 'ohm'],
  [/^\/ ?min(ute)?$/g, 'cpm'],
  [/^\/ ?s$/g, 'Hz'],
  [/\b(m|c|k)?Nm\b/g, '$1N m'],
  [/\bNcm\b/g, 'N cm'],
  [/\bkg(m|cm|mm)(?:\^?2)\b/g, 'kg $1^2'],
  [/\b(s|m|cm|mm|in|ft)([23])\b/g, '$1^$2'],
  [/\blbf?[- ]?ft\b/g, 'lbf ft'],
  [/\blbf-in\b/g, 'lbf in'],
  [/\bmin\b/g, 'minute'],
  [/\blbs\b/g, 'lb'],
  [/\b(revs|turns?)\b/g, 'rev'],
];

const NUMBER = /^(?:\d+(?:\.\d*)?|\.\d+)(?:[eE][+-]?\d+)?/;
/** Longest entry that is looked at. */
const LONGEST = 200;

/** What an entry is made of: a sign, a whole number before a fraction, one or two numbers, and the rest. */
interface Entry {
  sign: string;
  whole: string | undefined;
  first: string;
  divider: string | undefined;
  second: string | undefined;
  rest: string;
}

/** Takes an entry apart from the left, each sign looked at once. */
function takeApart(typed: string): Entry | null {
  const sign = /^[+-]/.exec(typed)?.[0] ?? '';
  let left = typed.slice(sign.length).trimStart();
  let whole = /^\d+(?=\s)/.exec(left)?.[0];
  if (whole !== undefined) {
    const behind = left.slice(whole.length).trimStart();
    if (NUMBER.test(behind)) left = behind;
    else whole = undefined;
  }
  const first = NUMBER.exec(left)?.[0];
  if (first === undefined) return null;
  left = left.slice(first.length).trimStart();
  let divider: string | undefined;
  let second: string | undefined;
  if (left.startsWith('/') || left.startsWith(':')) {
    const behind = left.slice(1).trimStart();
    second = NUMBER.exec(behind)?.[0];
    if (second !== undefined) {
      divider = left[0];
      left = behind.slice(second.length);
    }
  }
  return { sign, whole, first, divider, second, rest: left.trim() };
}

/**
 * Drops the noise of binary floating point where a short decimal was meant, so that 304.8 mm is 0.3048 m;
 * numbers with no short decimal (1/3) stay as they are.
 */
export function tidy(value: number): number {
  const rounded = Number(value.toPrecision(15));
  return rounded === Number(value.toPrecision(12)) ? rounded : value;
}

/**
 * Reads a typed quantity such as `12 in`, `1/3 s`, `1 1/2 in`, `5 lbf in` or `90 rpm`.
 *
 * @param text what was typed; a bare number is taken in the unit shown under `system`
 * @param kind what is wanted
 * @param system display units in force
 * @returns the value in SI units, or a message naming what is wrong and what to type instead
 */
export function parseQuantity(text: string, kind: QuantityKind, system: UnitSystem): ParsedQuantity {
  const typed = text.trim().replace(/−/g, '-');
  const spec = KINDS[kind];
  const wanted = `type ${spec.noun}, for example ${spec.example}`;
  if (typed === '') return fail(`Nothing typed: ${wanted}.`);
  if (typed.length > LONGEST) return fail(`“${typed.slice(0, 20)}…” is too long for a quantity: ${wanted}.`);
  if (/\d,\d/.test(typed)) return fail(commaHint(typed));

  const entry = takeApart(typed);
  if (!entry) return fail(`“${typed}” does not start with a number: ${wanted}.`);
  const { sign, whole, first, divider, second, rest } = entry;
  if (whole !== undefined && second === undefined && first === '1' && rest.startsWith('/'))
    return convert(Number(`${sign}${whole}`), rest, kind, wanted);
  if (whole !== undefined && second === undefined) return fail(`“${typed}” holds two numbers side by side: ${wanted}.`);
  if (divider === ':' && kind !== 'number') return fail(`A colon belongs to a ratio only: ${wanted}.`);
  const fraction = Number(first) / (second === undefined ? 1 : Number(second));
  const number = (sign === '-' ? -1 : 1) * (Number(whole ?? 0) + fraction);
  if (!Number.isFinite(number)) return fail(`“${typed}” is not a finite number: ${wanted}.`);

  const symbol = rest;
  if (symbol === '') return { ok: true, value: tidy(number * displayUnit(kind, system).factor) };
  if (symbol === '%') {
    if (spec.si === '') return { ok: true, value: tidy(number / 100) };
    return fail(`A percentage is no ${nounOf(kind)}: ${wanted}.`);
  }
  return convert(number, symbol, kind, wanted);
}

function convert(number: number, symbol: string, kind: QuantityKind, wanted: string): ParsedQuantity {
  const parsed = readUnit(symbol);
  if (!parsed) return fail(`The unit “${symbol}” is not known: ${wanted}.`);
  const si = KINDS[kind].si;
  if (si === '') return fail(`${KINDS[kind].noun} takes no unit, so leave out “${symbol}”.`);
  const factor = factorTo(parsed, si);
  if (factor !== undefined) return { ok: true, value: tidy(number * factor) };
  const is = (Object.keys(KINDS) as QuantityKind[]).find(
    (other) => KINDS[other].si !== '' && factorTo(parsed, KINDS[other].si) !== undefined,
  );
  return fail(`“${symbol}” is ${is ? `the unit of ${KINDS[is].noun}` : 'another kind of unit'}: ${wanted}.`);
}

function readUnit(symbol: string): Unit | undefined {
  let expression = symbol;
  for (const [pattern, replacement] of SHORTHANDS) expression = expression.replace(pattern, replacement);
  if (expression.length > 60) return undefined;
  try {
    return math.unit!(`1 ${expression}`);
  } catch {
    return undefined;
  }
}

/** SI value of one `unit`, or undefined where it measures something else. An angle may be left out (`N m s`). */
function factorTo(unit: Unit, si: string): number | undefined {
  for (const target of [si, si.replace(/\/rad/, '')]) {
    const wanted = math.unit!(`1 ${target}`);
    if (unit.equalBase(wanted)) return unit.toNumber(target);
  }
  return undefined;
}

function commaHint(typed: string): string {
  const point = typed.replace(/(\d),(\d)/g, '$1.$2');
  const plain = typed.replace(/(\d),(?=\d)/g, '$1');
  return `A comma is not read inside a number: type “${point}” for a decimal point, or “${plain}” for thousands.`;
}

function nounOf(kind: QuantityKind): string {
  return KINDS[kind].noun.replace(/^an? /, '');
}

function fail(message: string): ParsedQuantity {
  return { ok: false, message: message.charAt(0).toUpperCase() + message.slice(1) };
}
