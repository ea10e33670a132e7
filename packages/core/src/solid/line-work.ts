import type { Point2 } from '../geometry';

/** A line of a drawing, m. */
export interface DrawnLine {
  /** Index of the solid that it belongs to. */
  solid: number;
  hidden: boolean;
  points: Point2[];
  closed: boolean;
}

/** A straight line without end, and what is drawn on it: from a place in a direction, m. */
interface Ruler {
  at: Point2;
  along: Point2;
  drawn: [from: number, to: number][];
}

/** Directions within this and lines within this share of the drawing are looked at together. */
const ANGLES = 4096;

/** Gathers straight pieces of lines: what was drawn before is not drawn again, and pieces that follow one another are one line. */
export class LineWork {
  private readonly rulers = new Map<string, Ruler[]>();
  private readonly pieces = new Map<string, { solid: number; hidden: boolean; ends: [Point2, Point2][] }>();

  /**
   * @param near places nearer to each other are one, m
   * @param shortest pieces that are left over are as long at least, m
   */
  constructor(
    private readonly near: number,
    private readonly shortest: number,
  ) {}

  /** Draws a piece, but for what has been drawn there before. */
  add(solid: number, hidden: boolean, from: Point2, to: Point2): void {
    const ruler = this.rulerFor(from, to);
    const on = (p: Point2) => (p[0] - ruler.at[0]) * ruler.along[0] + (p[1] - ruler.at[1]) * ruler.along[1];
    const [low, high] = [on(from), on(to)].sort((a, b) => a - b) as [number, number];
    let at = low;
    const free: [number, number][] = [];
    for (const [a, b] of ruler.drawn) {
      if (b <= at || a >= high) continue;
      if (a > at) free.push([at, a]);
      at = Math.max(at, b);
    }
    if (at < high) free.push([at, high]);
    const key = `${solid}${hidden ? '-' : '='}`;
    let list = this.pieces.get(key);
    if (!list) this.pieces.set(key, (list = { solid, hidden, ends: [] }));
    const whole = free.length === 1 && free[0]![0] === low && free[0]![1] === high;
    const place = (s: number): Point2 => [ruler.at[0] + s * ruler.along[0], ruler.at[1] + s * ruler.along[1]];
    // A whole piece keeps its ends to the last digit.
    if (whole) list.ends.push([from, to]);
    else for (const [a, b] of free) if (b - a > this.shortest) list.ends.push([place(a), place(b)]);
    ruler.drawn = united([...ruler.drawn, [low, high]]);
  }

  /** The line without end on which a piece lies: one that is known, or a new one. */
  private rulerFor(from: Point2, to: Point2): Ruler {
    const length = Math.hypot(to[0] - from[0], to[1] - from[1]);
    const side = to[0] < from[0] || (to[0] === from[0] && to[1] < from[1]) ? -1 : 1;
    const along: Point2 = [(side * (to[0] - from[0])) / length, (side * (to[1] - from[1])) / length];
    const angle = Math.round(((Math.atan2(along[1], along[0]) + Math.PI / 2) * ANGLES) / Math.PI);
    const away = Math.round((along[0] * from[1] - along[1] * from[0]) / (1000 * this.near));
    const isOn = (ruler: Ruler, p: Point2) =>
      Math.abs(ruler.along[0] * (p[1] - ruler.at[1]) - ruler.along[1] * (p[0] - ruler.at[0])) <= this.near;
    for (let i = -1; i <= 1; i++)
      for (let j = -1; j <= 1; j++)
        for (const turned of angle + i === 0 || angle + i >= ANGLES ? [0, ANGLES] : [angle + i])
          for (const sign of turned === angle + i ? [1] : [-1])
            for (const ruler of this.rulers.get(`${turned} ${sign * (away + j)}`) ?? [])
              if (isOn(ruler, from) && isOn(ruler, to)) return ruler;
    const made: Ruler = { at: from, along, drawn: [] };
    const key = `${angle} ${away}`;
    const there = this.rulers.get(key);
    if (there) there.push(made);
    else this.rulers.set(key, [made]);
    return made;
  }

  /** All that was drawn, pieces that follow one another as one line. */
  finish(): DrawnLine[] {
    return [...this.pieces.values()].flatMap(({ solid, hidden, ends }) =>
      chained(ends, this.near).map((line) => ({ solid, hidden, ...line })),
    );
  }
}

/** Intervals put together where they meet, in order. */
function united(intervals: [number, number][]): [number, number][] {
  intervals.sort(([a], [b]) => a - b);
  const made: [number, number][] = [];
  for (const [from, to] of intervals) {
    const last = made.at(-1);
    if (last && from <= last[1]) last[1] = Math.max(last[1], to);
    else made.push([from, to]);
  }
  return made;
}

/** Pieces joined where just two of them meet; corners on straight lines go. */
function chained(ends: readonly [Point2, Point2][], near: number): { points: Point2[]; closed: boolean }[] {
  const places: { at: Point2; pieces: number[] }[] = [];
  const cells = new Map<string, number[]>();
  const placeOf = (p: Point2): number => {
    const [i, j] = [Math.round(p[0] / (4 * near)), Math.round(p[1] / (4 * near))];
    for (let k = i - 1; k <= i + 1; k++)
      for (let l = j - 1; l <= j + 1; l++)
        for (const known of cells.get(`${k} ${l}`) ?? []) {
          const { at } = places[known]!;
          if (Math.hypot(at[0] - p[0], at[1] - p[1]) <= 2 * near) return known;
        }
    const cell = cells.get(`${i} ${j}`);
    if (cell) cell.push(places.length);
    else cells.set(`${i} ${j}`, [places.length]);
    places.push({ at: p, pieces: [] });
    return places.length - 1;
  };
  const pieces = ends.map(([from, to]) => [placeOf(from), placeOf(to)] as const).filter(([a, b]) => a !== b);
  pieces.forEach(([a, b], i) => {
    places[a]!.pieces.push(i);
    places[b]!.pieces.push(i);
  });
  const taken = new Uint8Array(pieces.length);
  /** Follows pieces from a place until they end or fork. */
  const follow = (start: number, first: number): number[] => {
    const way = [start];
    for (let piece: number | undefined = first; piece !== undefined;) {
      taken[piece] = 1;
      const [a, b]: readonly [number, number] = pieces[piece]!;
      const next: number = a === way.at(-1)! ? b : a;
      way.push(next);
      const on: readonly number[] = places[next]!.pieces;
      piece = on.length === 2 ? on.find((own) => !taken[own]) : undefined;
    }
    return way;
  };
  const ways: number[][] = [];
  places.forEach(({ pieces: on }, start) => {
    if (on.length !== 2) for (const piece of on) if (!taken[piece]) ways.push(follow(start, piece));
  });
  // What is left has no end.
  pieces.forEach(([start], piece) => {
    if (!taken[piece]) ways.push(follow(start, piece));
  });
  return ways.map((way) => {
    const closed = way.length > 3 && way[0] === way.at(-1);
    const points = (closed ? way.slice(0, -1) : way).map((place) => places[place]!.at);
    return { closed, points: withoutStraight(points, closed, near) };
  });
}

function withoutStraight(points: Point2[], closed: boolean, near: number): Point2[] {
  const kept = [...points];
  for (let i = closed ? 0 : 1; i < kept.length - (closed ? 0 : 1) && kept.length > 2;) {
    const [a, b, c] = [kept[(i + kept.length - 1) % kept.length]!, kept[i]!, kept[(i + 1) % kept.length]!];
    const length = Math.hypot(c[0] - a[0], c[1] - a[1]);
    const off =
      length > 0 ? Math.abs((b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])) / length : Infinity;
    const forward = (b[0] - a[0]) * (c[0] - b[0]) + (b[1] - a[1]) * (c[1] - b[1]) > 0;
    if (off <= near && forward) kept.splice(i, 1);
    else i++;
  }
  return kept;
}
