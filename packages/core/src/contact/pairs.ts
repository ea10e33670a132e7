import { isPair, type Loose } from '../machine';

/** Values of an everyday pair of dry materials. */
export interface EverydayPair {
  a: string;
  b: string;
  friction: number;
  restitution: number;
}

/**
 * Everyday pairs of dry surfaces. Friction: middle values of sliding friction as engineering handbooks list them
 * (from memory); restitution: common practice for small parts at low speed. A start, not a measurement.
 */
export const EVERYDAY_PAIRS: readonly EverydayPair[] = [
  { a: 'steel', b: 'steel', friction: 0.15, restitution: 0.6 },
  { a: 'steel', b: 'aluminium', friction: 0.45, restitution: 0.5 },
  { a: 'steel', b: 'bronze', friction: 0.18, restitution: 0.5 },
  { a: 'steel', b: 'polyethylene', friction: 0.2, restitution: 0.4 },
  { a: 'steel', b: 'polyamide', friction: 0.3, restitution: 0.5 },
  { a: 'steel', b: 'PTFE', friction: 0.05, restitution: 0.4 },
  { a: 'steel', b: 'wood', friction: 0.4, restitution: 0.4 },
  { a: 'steel', b: 'cardboard', friction: 0.3, restitution: 0.2 },
  { a: 'steel', b: 'glass', friction: 0.5, restitution: 0.6 },
  { a: 'steel', b: 'damp soil', friction: 0.5, restitution: 0.05 },
  { a: 'rubber', b: 'steel', friction: 0.7, restitution: 0.5 },
  { a: 'rubber', b: 'cardboard', friction: 0.6, restitution: 0.3 },
  { a: 'rubber', b: 'polyethylene', friction: 0.5, restitution: 0.4 },
  { a: 'rubber', b: 'wood', friction: 0.7, restitution: 0.4 },
  { a: 'rubber', b: 'damp soil', friction: 0.6, restitution: 0.05 },
  { a: 'wood', b: 'wood', friction: 0.4, restitution: 0.4 },
  { a: 'polyethylene', b: 'polyethylene', friction: 0.25, restitution: 0.4 },
  { a: 'polyethylene', b: 'damp soil', friction: 0.4, restitution: 0.05 },
];

/** Values where the document names none for a pair. */
export const UNNAMED_PAIR = { friction: 0.3, restitution: 0.2 } as const;

/** Friction and restitution of two materials of a machine. */
export function pairOf(loose: Pick<Loose, 'pairs'>, a: string, b: string): { friction: number; restitution: number } {
  return loose.pairs.find((pair) => isPair(pair, a, b)) ?? UNNAMED_PAIR;
}

/** Everyday values for two materials by their names, or null where the table has none. */
export function everydayPair(a: string, b: string): EverydayPair | null {
  const like = (x: string, y: string) => x.trim().toLowerCase() === y.toLowerCase();
  return EVERYDAY_PAIRS.find((p) => (like(a, p.a) && like(b, p.b)) || (like(a, p.b) && like(b, p.a))) ?? null;
}

/** Densities of everyday materials by their names, kg/m³ (handbook values, rounded; soils and board as commonly used). */
const EVERYDAY_DENSITIES: Readonly<Record<string, number>> = {
  steel: 7850,
  aluminium: 2700,
  brass: 8400,
  glass: 2500,
  rubber: 1200,
  polyethylene: 950,
  polyamide: 1140,
  acetal: 1410,
  wood: 600,
  plywood: 700,
  cardboard: 700,
  'damp soil': 1400,
  peat: 400,
};

/** Density of a material by its name in kg/m³, or null where the table has none. */
export const everydayDensity = (name: string): number | null => EVERYDAY_DENSITIES[name.trim().toLowerCase()] ?? null;
