import type { Point2 } from '../geometry';

/** A line of a drawing as far as joining goes. */
export interface JoinableLine {
  layer: string;
  closed: boolean;
  points: [number, number][];
}

/** An end of an open line. */
interface End {
  line: number;
  /** Whether it is the last point. */
  last: boolean;
}

/** Ends looked at for one that meets; more than this many ends within one place are no drawing. */
const MOST_LOOKS = 64;

/** Ends of lines by the place they are at, in squares as wide as ends may be apart. */
class EndGrid {
  private readonly cells = new Map<string, End[]>();

  constructor(
    private readonly lines: readonly JoinableLine[],
    private readonly apart: number,
  ) {}

  private key(layer: string, ix: number, iy: number): string {
    return `${ix} ${iy} ${layer}`;
  }

  private square([x, y]: Point2): [number, number] {
    return [Math.floor(x / this.apart), Math.floor(y / this.apart)];
  }

  private pointOf({ line, last }: End): Point2 {
    const { points } = this.lines[line]!;
    return last ? points.at(-1)! : points[0]!;
  }

  add(end: End): void {
    const [ix, iy] = this.square(this.pointOf(end));
    const key = this.key(this.lines[end.line]!.layer, ix, iy);
    const cell = this.cells.get(key);
    if (cell) cell.push(end);
    else this.cells.set(key, [end]);
  }

  /** Takes out an end that meets a place; ends of lines that are used are dropped on the way. */
  take(layer: string, at: Point2, used: Uint8Array): End | null {
    const [ix, iy] = this.square(at);
    for (let dx = -1; dx <= 1; dx++)
      for (let dy = -1; dy <= 1; dy++) {
        const cell = this.cells.get(this.key(layer, ix + dx, iy + dy));
        if (!cell) continue;
        for (let i = cell.length - 1, looks = 0; i >= 0 && looks < MOST_LOOKS; i--) {
          const end = cell[i]!;
          const [x, y] = this.pointOf(end);
          const gone = used[end.line] === 1;
          const meets = !gone && Math.hypot(x - at[0], y - at[1]) < this.apart;
          if (gone || meets) {
            cell[i] = cell.at(-1)!;
            cell.pop();
          }
          if (meets) return end;
          if (!gone) looks++;
        }
      }
    return null;
  }
}

/**
 * Joins open lines of one layer whose ends meet (within 1e-5 of the drawing's size) into longer lines, and closes
 * those that come back. Ends are found by their place, so the time grows in proportion to the number of lines.
 */
export function joinLines<T extends JoinableLine>(lines: readonly T[], progress?: (share: number) => void): T[] {
  let size = 1e-9;
  for (const { points } of lines) for (const [x, y] of points) size = Math.max(size, Math.abs(x), Math.abs(y));
  const apart = 1e-5 * size;
  const open = lines.filter(({ closed }) => !closed);
  const joined: T[] = lines.filter(({ closed }) => closed);
  const grid = new EndGrid(open, apart);
  const used = new Uint8Array(open.length);
  open.forEach((_, line) => {
    grid.add({ line, last: false });
    grid.add({ line, last: true });
  });
  open.forEach((line, index) => {
    if (index % 2000 === 0) progress?.(index / open.length);
    if (used[index] === 1) return;
    used[index] = 1;
    /** Goes on from a place as far as lines meet it: pieces in the order and sense in which they are passed. */
    const follow = (from: Point2): [number, number][][] => {
      const pieces: [number, number][][] = [];
      for (let at = from; ;) {
        const end = grid.take(line.layer, at, used);
        if (!end) return pieces;
        used[end.line] = 1;
        const { points } = open[end.line]!;
        const piece = end.last ? [...points].reverse() : points;
        pieces.push(piece.slice(1));
        at = piece.at(-1)!;
      }
    };
    const behind = follow(line.points.at(-1)!);
    const before = follow(line.points[0]!);
    const points = [...before.reverse().flatMap((piece) => piece.reverse()), ...line.points, ...behind.flat()];
    const [first, last] = [points[0]!, points.at(-1)!];
    const closed = points.length > 3 && Math.hypot(first[0] - last[0], first[1] - last[1]) < apart;
    joined.push({ ...line, closed, points: closed ? points.slice(0, -1) : points });
  });
  return joined;
}
