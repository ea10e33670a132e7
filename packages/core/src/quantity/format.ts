import { displayUnit, type QuantityKind, type UnitSystem } from './kinds';

/** Figures shown while reading: enough to compare, few enough to take in. */
const READING_DIGITS = 4;
/** Figures kept in an entry box: what was typed comes back unchanged. */
const ENTRY_DIGITS = 10;
/** What is smaller than this share of a display unit is nothing that is ever measured, but what computing leaves over. */
const NOTHING = 1e-9;

/**
 * Shows a number with at most `digits` significant figures and no trailing zeros.
 * Whole numbers are never rounded below their last digit before the point.
 */
export function formatNumber(value: number, digits: number = READING_DIGITS): string {
  if (!Number.isFinite(value)) return value > 0 ? '∞' : value < 0 ? '−∞' : '–';
  const size = Math.abs(value);
  if (size === 0) return '0';
  if (size >= 1e7 || size < 1e-4) {
    const [mantissa, exponent] = value.toExponential(digits - 1).split('e');
    return `${Number(mantissa)}e${Number(exponent)}`.replace('-', '−').replace('e-', 'e−');
  }
  const before = Math.floor(Math.log10(size)) + 1;
  const places = Math.max(0, digits - before);
  const shown = value.toFixed(Math.min(places, 20));
  let end = shown.length;
  if (shown.includes('.')) {
    while (shown[end - 1] === '0') end--;
    if (shown[end - 1] === '.') end--;
  }
  const trimmed = shown.slice(0, end);
  return trimmed === '-0' ? '0' : trimmed.replace('-', '−');
}

/** Value in the display unit, as a number; the inverse of typing a bare number. */
export function toDisplay(value: number, kind: QuantityKind, system: UnitSystem): number {
  return value / displayUnit(kind, system).factor;
}

/** A value in the display unit, what computing leaves over being nothing. */
export function toReading(value: number, kind: QuantityKind, system: UnitSystem): number {
  const shown = toDisplay(value, kind, system);
  return Math.abs(shown) < NOTHING ? 0 : shown;
}

/** A value for reading, with its unit: `304.8 mm`, `2400 rpm`. */
export function formatQuantity(
  value: number,
  kind: QuantityKind,
  system: UnitSystem,
  digits: number = READING_DIGITS,
): string {
  const { symbol } = displayUnit(kind, system);
  const number = formatNumber(toReading(value, kind, system), digits);
  const space = symbol === '' || symbol === '°' ? '' : '\u00a0';
  return `${number}${space}${symbol}`;
}

/** A value for an entry box, without its unit; reading it back gives the same SI value. */
export function formatEntry(value: number, kind: QuantityKind, system: UnitSystem): string {
  return formatNumber(toDisplay(value, kind, system), ENTRY_DIGITS).replace(/−/g, '-');
}

/** A number of things in words: “1 body”, “2 bodies”. */
export const counted = (count: number, one: string, many = `${one}s`): string => `${count} ${count === 1 ? one : many}`;
