import { z } from 'zod';
import { field } from './field';
import type { Before, Offers } from './kinds';
import { offer } from './kinds';
import { id, name, point, size } from './parts';
import { refTo } from './refer';

type At = [number, number];

/** One piece of a path, from where the one before it ends. */
export const pieceSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('line'), to: point }),
  z.strictObject({ kind: z.literal('arc'), via: point, to: point }),
  z.strictObject({ kind: z.literal('spline'), through: z.array(point).min(1).max(2000) }),
  z.strictObject({ kind: z.literal('transition'), to: point }),
]);
export type PathPiece = z.infer<typeof pieceSchema>;

const shape = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('circle'), centre: point, radius: field(size, 'Radius', { quantity: 'length' }) }),
  z.strictObject({ kind: z.literal('loop'), through: z.array(point).min(3).max(2000) }),
  z.strictObject({
    kind: z.literal('chain'),
    start: point,
    pieces: z.array(pieceSchema).min(1).max(200),
    closed: field(z.boolean(), 'Closed'),
  }),
]);
export type PathShape = z.infer<typeof shape>;

/** A path on a body or on the ground, in the frame of its carrier. */
export const pathSchema = z.strictObject({
  id,
  name,
  body: refTo('body', { description: 'Body that carries the path, or “ground”', ground: true, whenGone: 'goes' }),
  plane: refTo('plane', { whenGone: 'goes' })
    .nullable()
    .meta({ description: 'Plane in which a path of the ground lies; null for one on a body' }),
  shape: field(shape, 'Shape'),
});

/** The points of a path that are drawn and typed: its centre, or all that it goes through. */
export const pathPoints = (of: PathShape): readonly At[] =>
  of.kind === 'loop'
    ? of.through
    : of.kind === 'chain'
      ? [of.start, ...of.pieces.flatMap((piece) => (piece.kind === 'spline' ? piece.through : [piece.to]))]
      : [of.centre];

/** A path with each of its points put elsewhere. */
export function mapPath<S extends PathShape>(of: S, move: (at: Readonly<At>) => At): S {
  if (of.kind === 'circle') return { ...of, centre: move(of.centre) };
  if (of.kind === 'loop') return { ...of, through: of.through.map(move) };
  return {
    ...of,
    start: move(of.start),
    pieces: of.pieces.map((piece) =>
      piece.kind === 'spline'
        ? { ...piece, through: piece.through.map(move) }
        : piece.kind === 'arc'
          ? { ...piece, via: move(piece.via), to: move(piece.to) }
          : { ...piece, to: move(piece.to) },
    ),
  };
}

/**
 * Where a point lies when the line that it stands beside is turned and stretched into another one; where the line has
 * no length it goes along with its beginning.
 */
export function carriedAlong(
  point: Readonly<At>,
  [from, to]: readonly [Readonly<At>, Readonly<At>],
  [newFrom, newTo]: readonly [Readonly<At>, Readonly<At>],
): At {
  const [dx, dy] = [to[0] - from[0], to[1] - from[1]];
  const square = dx * dx + dy * dy;
  const [px, py] = [point[0] - from[0], point[1] - from[1]];
  if (square === 0) return [newFrom[0] + px, newFrom[1] + py];
  const along = (px * dx + py * dy) / square;
  const beside = (py * dx - px * dy) / square;
  const [ex, ey] = [newTo[0] - newFrom[0], newTo[1] - newFrom[1]];
  return [newFrom[0] + along * ex - beside * ey, newFrom[1] + along * ey + beside * ex];
}

/** A path with one of its {@link pathPoints} put elsewhere; arcs keep their form between the points that they join. */
export function withPathPoint(of: PathShape, index: number, at: At): PathShape {
  let k = -1;
  const next = (own: Readonly<At>): At => (++k === index ? at : [...own]);
  if (of.kind === 'circle') return { ...of, centre: next(of.centre) };
  if (of.kind === 'loop') return { ...of, through: of.through.map(next) };
  const start = next(of.start);
  let from = start;
  const pieces = of.pieces.map((piece, i): PathPiece => {
    if (piece.kind === 'spline') {
      const through = piece.through.map(next);
      from = through.at(-1)!;
      return { ...piece, through };
    }
    const begin = from;
    const to = (from = next(piece.to));
    if (piece.kind !== 'arc') return { ...piece, to };
    const was = pieceEnds(of, i);
    const stands = begin[0] === was[0][0] && begin[1] === was[0][1] && to[0] === was[1][0] && to[1] === was[1][1];
    return { ...piece, via: stands ? [...piece.via] : carriedAlong(piece.via, was, [begin, to]), to };
  });
  return { ...of, start, pieces };
}

const circlePoint = ({ centre: [x, y], radius }: Extract<PathShape, { kind: 'circle' }>, angle: number): At => [
  x + radius * Math.cos(angle),
  y + radius * Math.sin(angle),
];
const shapeOf = ({ was }: Before) => was.shape as PathShape;
/** Points at which a smooth loop goes round where a circle was. */
const ROUND = 8;

/** The shapes of a path: each takes over as much as it can of the one there is, and what is closed stays closed. */
export const PATH_SHAPES: Offers<PathShape, 'kind'> = {
  chain: {
    label: 'Pieces',
    hint: 'Lines, arcs, splines and smooth transitions, one after the other',
    first(before) {
      const from = shapeOf(before);
      if (from.kind === 'circle') {
        const [start, top, left, bottom] = [0, 1, 2, 3].map((k) => circlePoint(from, (k * Math.PI) / 2)) as [At, At, At, At]; // prettier-ignore
        return {
          kind: 'chain',
          start,
          closed: true,
          pieces: (
            [
              [top, left],
              [bottom, start],
            ] as const
          ).map(([via, to]) => ({ kind: 'arc', via, to: [...to] })),
        };
      }
      const [start, ...rest] = pathPoints(from).map((at): At => [...at]) as [At, ...At[]];
      return {
        kind: 'chain',
        start,
        closed: from.kind === 'loop' || from.closed,
        pieces: rest.map((to) => ({ kind: 'line', to })),
      };
    },
  },
  loop: {
    label: 'Smooth loop',
    hint: 'A closed curve through all points',
    first(before) {
      const from = shapeOf(before);
      if (from.kind === 'circle') {
        const through = Array.from({ length: ROUND }, (_, k) => circlePoint(from, (2 * Math.PI * k) / ROUND));
        return { kind: 'loop', through };
      }
      const through = pathPoints(from).map((at): At => [...at]);
      const [first, second] = through as [At, At];
      // Two points do not make a loop: a third one beside them does.
      if (through.length === 2) through.push([first[0] - (second[1] - first[1]), first[1] + (second[0] - first[0])]);
      return { kind: 'loop', through };
    },
  },
  circle: {
    label: 'Circle',
    hint: 'About the middle of the points there are',
    first(before) {
      const from = shapeOf(before);
      if (from.kind === 'circle') return { ...from };
      const points = pathPoints(from);
      const mean = (k: 0 | 1) => points.reduce((sum, at) => sum + at[k], 0) / points.length;
      const centre: At = [mean(0), mean(1)];
      const away = points.reduce((sum, [x, y]) => sum + Math.hypot(x - centre[0], y - centre[1]), 0) / points.length;
      return { kind: 'circle', centre, radius: Math.max(1e-6, away) };
    },
  },
};
offer(shape, PATH_SHAPES);

/** How far an arc or a spline bulges beside the straight line at first, as a share of its length. */
const BULGE = 0.2;
/** Where the piece that is changed begins and ends: told beside it. */
const ends = ({ was }: Before): { from: At; to: At; middle: At } => {
  const from = was.from as At;
  const to: At = [...(was.at as At)];
  const middle: At = [
    (from[0] + to[0]) / 2 - (to[1] - from[1]) * BULGE,
    (from[1] + to[1]) / 2 + (to[0] - from[0]) * BULGE,
  ];
  return { from, to, middle };
};
/** The pieces of a path: between the same two points, whatever one is made into. */
export const PATH_PIECES: Offers<PathPiece, 'kind'> = {
  line: { label: 'Line', first: (before) => ({ kind: 'line', to: ends(before).to }) },
  arc: {
    label: 'Arc',
    first(before) {
      const { to, middle } = ends(before);
      return { kind: 'arc', via: middle, to };
    },
  },
  spline: {
    label: 'Spline',
    first(before) {
      const { to, middle } = ends(before);
      return { kind: 'spline', through: [middle, to] };
    },
  },
  transition: {
    label: 'Smooth transition',
    hint: 'Curvature and its change are those of its neighbours at both ends',
    first: (before) => ({ kind: 'transition', to: ends(before).to }),
  },
};

/** Between which points a piece of a chain runs. */
export function pieceEnds({ start, pieces }: Extract<PathShape, { kind: 'chain' }>, index: number): [from: At, to: At] {
  const end = (piece: PathPiece | undefined): At =>
    piece === undefined ? start : piece.kind === 'spline' ? piece.through.at(-1)! : piece.to;
  return [end(pieces[index - 1]), end(pieces[index])];
}
