/** A name and where it would stand, px: the middle of its foot. */
export interface NamedSpot {
  id: string;
  text: string;
  x: number;
  y: number;
}
/** A name where it stands, and the spot that it belongs to. */
export interface SpreadLabel extends NamedSpot {
  at: { x: number; y: number };
  /** Whether it stands so far off that a line should lead to it. */
  moved: boolean;
}

/** Height of a line of 12 px, and mean width of a letter of the narrow face, px. */
const LINE = 14;
const LETTER = 5.7;
/** Places beside its own that a name may take, in lines and widths, the nearest first. */
const PLACES: readonly (readonly [across: number, down: number])[] = [
  [0, 0],
  [0, -1],
  [0, 1],
  [0, -2],
  [0, 2],
  [0.6, -1],
  [-0.6, -1],
  [0.6, 1],
  [-0.6, 1],
  [0, -3],
  [0, 3],
  [0.9, -2],
  [-0.9, -2],
  [0.9, 2],
  [-0.9, 2],
  [0, -4],
  [0, 4], // prettier-ignore
];

/**
 * Puts names beside each other where they would lie over each other. One that finds no place within a few lines is left
 * out.
 * @param before where they stood last: a name stays on its side as long as it can, so that it does not jump
 */
export function spreadLabels(labels: readonly NamedSpot[], before: readonly SpreadLabel[] = []): SpreadLabel[] {
  const placed: (SpreadLabel & { half: number })[] = [];
  const last = new Map(before.map((label) => [label.id, [label.x - label.at.x, label.y - label.at.y] as const]));
  for (const { id, text, x, y } of labels) {
    const half = (text.length * LETTER) / 2 + 3;
    const places = PLACES.map(([across, down]) => [across * 2 * half, down * LINE] as const);
    const isFree = ([dx, dy]: readonly [number, number], air: number) =>
      placed.every(
        (other) => Math.abs(other.x - x - dx) > other.half + half + air || Math.abs(other.y - y - dy) > LINE - 1 + air,
      );
    const own = last.get(id);
    // Back to its own place only where there is room enough: else it would go to and fro.
    if (own) places.unshift(...(isFree([0, 0], 6) ? [[0, 0] as const] : []), own);
    const spot = places.find((place) => isFree(place, 0));
    if (spot)
      placed.push({ id, text, x: x + spot[0], y: y + spot[1], at: { x, y }, moved: Math.abs(spot[1]) > 1.5 * LINE || Math.abs(spot[0]) > half, half }); // prettier-ignore
  }
  return placed.map(({ half: _, ...label }) => label);
}
