import type { Axis } from '@yoke/core';

/** Dash patterns that go with the axis colours, for print and for readers who see few of them. */
const DASHES = ['', '7 3', '2 3', '9 3 2 3', '5 2 1 2 1 2', '12 4', '3 2', '1 3'] as const;

/** CSS colour of an axis; the same everywhere. */
export function axisColour(axis: Pick<Axis, 'colour'>): string {
  return `var(--axis-${axis.colour})`;
}

/** SVG dash pattern of an axis. */
export function axisDash(axis: Pick<Axis, 'colour'>): string {
  return DASHES[axis.colour] ?? '';
}

/** A colour such as `#fff` or `#1e6f68` at an opacity from 0 to 1. */
export function withAlpha(colour: string, alpha: number): string {
  const digits = colour.length === 4 ? colour.slice(1).replace(/./g, '$&$&') : colour.slice(1);
  const [red, green, blue] = [0, 2, 4].map((at) => parseInt(digits.slice(at, at + 2), 16));
  return `rgba(${red}, ${green}, ${blue}, ${alpha})`;
}

/** A CSS variable as a plain colour, for canvas. */
export function resolvedColour(name: string): string {
  return getComputedStyle(document.documentElement).getPropertyValue(name).trim();
}
