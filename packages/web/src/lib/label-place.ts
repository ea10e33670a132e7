/** A point of a drawing, px. */
export interface Spot {
  x: number;
  y: number;
}
/** A rectangle of a drawing, px. */
export interface Box {
  left: number;
  top: number;
  right: number;
  bottom: number;
}

/** How far a label stays from what it labels, px. */
const GAP = 8;
/** How many times as far it may go where a curve is in the way. */
const DISTANCES = [1, 3, 6, 10];
/** Room that curves keep from a label, px. */
const AIR = 2;

const overlap = (a: Box, b: Box) => a.left < b.right && b.left < a.right && a.top < b.bottom && b.top < a.bottom;

/** Whether the straight line between two points meets a box (Liang and Barsky). */
function meets({ left, top, right, bottom }: Box, from: Spot, to: Spot): boolean {
  const [dx, dy] = [to.x - from.x, to.y - from.y];
  let [enters, leaves] = [0, 1];
  for (const [way, room] of [
    [-dx, from.x - left],
    [dx, right - from.x],
    [-dy, from.y - top],
    [dy, bottom - from.y],
  ] as const) {
    if (way === 0 && room < 0) return false;
    if (way < 0) enters = Math.max(enters, room / way);
    if (way > 0) leaves = Math.min(leaves, room / way);
  }
  return enters <= leaves;
}

/** Lines of a curve (x rising) that meet a box, counted up to a number. */
function crossings(curve: readonly Spot[], box: Box, most: number): number {
  let [low, high] = [0, curve.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (curve[middle]!.x < box.left) low = middle + 1;
    else high = middle;
  }
  let count = 0;
  for (let k = Math.max(1, low); k < curve.length && curve[k - 1]!.x <= box.right && count < most; k++)
    if (meets(box, curve[k - 1]!, curve[k]!)) count++;
  return count;
}

/**
 * Where a label goes beside what it labels: within the area, off the curves and off other labels; where there is no
 * such place, where it covers least.
 * @param curves points of each curve in px, x rising
 * @param taken boxes of labels that stand already
 */
export function placeLabel(
  at: Spot,
  { width, height }: { width: number; height: number },
  area: Box,
  curves: readonly (readonly Spot[])[],
  taken: readonly Box[] = [],
): Box {
  const levels = [0, -1, 1, -2, 2].map((level) => at.y + level * (height / 2 + GAP));
  const beside = DISTANCES.flatMap((far) => [at.x + far * GAP, at.x - far * GAP - width]);
  let best: { box: Box; cost: number } | null = null;
  for (const y of levels)
    for (const left of [...beside, at.x - width / 2]) {
      const box = { left, top: y - height / 2, right: left + width, bottom: y + height / 2 };
      const beyond =
        Math.max(0, area.left - box.left, box.right - area.right) +
        Math.max(0, area.top - box.top, box.bottom - area.bottom);
      const wide = { left: left - AIR, top: box.top - AIR, right: box.right + AIR, bottom: box.bottom + AIR };
      let cost = 1000 * beyond + 100 * taken.filter((other) => overlap(wide, other)).length;
      for (const curve of curves) if (!best || cost < best.cost) cost += crossings(curve, wide, best?.cost ?? Infinity);
      if (cost === 0) return box;
      if (!best || cost < best.cost) best = { box, cost };
    }
  return best!.box;
}
