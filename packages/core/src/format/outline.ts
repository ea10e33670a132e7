import { joinLines } from './join-lines';

/** A drawing that cannot be read; the message names the reason and what to do. */
export class OutlineError extends Error {
  override name = 'OutlineError';
}

/** One line of a drawing in the units of its file. */
export interface Outline {
  layer: string;
  closed: boolean;
  points: [number, number][];
}

/** What was read from a drawing, and what was not understood: each kind with its number. */
export interface OutlineDrawing {
  outlines: Outline[];
  layers: string[];
  /** Millimetres in one unit of the file, where the file says so. */
  unit: number | null;
  ignored: { what: string; count: number }[];
}

/** What is read of a drawing at most: characters of its file, lines, and points once curves are written out. */
export const DRAWING_MOST = { characters: 30_000_000, lines: 200_000, points: 500_000 } as const;

/** Told the share done of reading a drawing, from 0 to 1. */
export type ReadProgress = (share: number) => void;

/** Refuses a file that is larger than is read. @throws OutlineError */
export function checkSize(text: string): void {
  if (text.length > DRAWING_MOST.characters)
    throw new OutlineError(
      `The drawing has ${Math.ceil(text.length / 1e6)} MB; ${DRAWING_MOST.characters / 1e6} MB are read at most: save only the parts that are needed.`,
    );
}

/** Pieces into which a full circle is divided. */
const CIRCLE_PIECES = 96;

/** Points of an arc from direction `start` over `sweep` (once round at most), both ends included. */
export function arcPoints(cx: number, cy: number, r: number, start: number, sweep: number): [number, number][] {
  const turns = Math.min(1, Math.abs(sweep) / (2 * Math.PI));
  const pieces = Math.max(2, Math.ceil(turns * CIRCLE_PIECES));
  return Array.from({ length: pieces + 1 }, (_, i) => {
    const angle = start + (sweep * i) / pieces;
    return [cx + r * Math.cos(angle), cy + r * Math.sin(angle)];
  });
}

/** Gathers the lines of a drawing, and refuses what is beyond all bounds or no number. */
export class LineCollector {
  readonly lines: Outline[] = [];
  private readonly ignored = new Map<string, number>();
  private points = 0;

  /** Takes a line; one without two places, or with places that are no numbers, is counted as not understood. @throws OutlineError */
  add(line: Outline, what: string): void {
    if (line.points.length < 2 || !line.points.every(([x, y]) => Math.abs(x) < 1e12 && Math.abs(y) < 1e12)) {
      this.ignore(`${what} without a place`);
      return;
    }
    this.points += line.points.length;
    if (this.lines.length >= DRAWING_MOST.lines || this.points > DRAWING_MOST.points)
      throw new OutlineError(
        `The drawing has more than ${DRAWING_MOST.lines.toLocaleString('en-GB')} lines or ${DRAWING_MOST.points.toLocaleString('en-GB')} points: save only the parts that are needed, or thin its lines.`,
      );
    this.lines.push(line);
  }

  ignore(what: string): void {
    const known = this.ignored.get(what);
    // A file can hold as many kinds as it has words.
    if (known !== undefined || this.ignored.size < 50) this.ignored.set(what.slice(0, 60), (known ?? 0) + 1);
  }

  /**
   * The drawing, its lines joined where they meet.
   * @throws OutlineError where there is no line, with `wanted` said
   */
  finish(unit: number | null, wanted: string, progress?: ReadProgress): OutlineDrawing {
    const outlines = joinLines(this.lines, progress);
    if (outlines.length === 0)
      throw new OutlineError(
        `The drawing holds no ${wanted}${this.ignored.size > 0 ? `, only ${[...this.ignored.keys()].join(', ')}` : ''}.`,
      );
    return {
      outlines,
      layers: [...new Set(outlines.map(({ layer }) => layer))],
      unit,
      ignored: [...this.ignored].map(([what, count]) => ({ what, count })),
    };
  }
}
