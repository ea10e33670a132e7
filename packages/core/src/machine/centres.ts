import { circleThrough, roundsOf } from '../geometry';
import type { Body } from './body';
import type { Mechanism } from './mechanism';
import { pieceEnds, type PathShape } from './path';

/** The centre of something round, in the frame of its carrier, m. */
export interface RoundCentre {
  /** Body that carries it, or the ground. */
  body: string;
  at: [number, number];
  radius: number;
}

/** Centres of holes and round edges of a body, in its frame. */
function centresOfShape({ shape }: Pick<Body, 'shape'>): Omit<RoundCentre, 'body'>[] {
  if (shape.kind === 'disc') return [{ at: [...shape.centre], radius: shape.radius }];
  if (shape.kind !== 'plate') return [];
  return [...shape.holes, shape.outline].flatMap((line) =>
    roundsOf(line).map(({ centre, radius }) => ({ at: centre, radius })),
  );
}

/** Centres of the arcs of a path, in the frame of its carrier. */
function centresOfPath(shape: PathShape): Omit<RoundCentre, 'body'>[] {
  if (shape.kind === 'circle') return [{ at: [...shape.centre], radius: shape.radius }];
  if (shape.kind !== 'chain') return [];
  return shape.pieces.flatMap((piece, i) => {
    if (piece.kind !== 'arc') return [];
    const [from, to] = pieceEnds(shape, i);
    const circle = circleThrough(from, piece.via, to);
    return circle ? [{ at: [circle.centre[0], circle.centre[1]] as [number, number], radius: circle.radius }] : [];
  });
}

/** What is round on a shape that has not changed is not looked for again. */
const known = new WeakMap<object, Omit<RoundCentre, 'body'>[]>();
function remembered<S extends object>(shape: S, find: () => Omit<RoundCentre, 'body'>[]) {
  const found = known.get(shape) ?? find();
  known.set(shape, found);
  return found;
}

/** Centres of all holes, round edges, discs and arcs of paths: places for pins, points and measurements. */
export function roundCentres({ bodies, paths }: Pick<Mechanism, 'bodies' | 'paths'>): RoundCentre[] {
  return [
    ...bodies.flatMap((body) =>
      remembered(body.shape, () => centresOfShape(body)).map((centre) => ({ body: body.id, ...centre })),
    ),
    ...paths.flatMap(({ body, shape }) =>
      remembered(shape, () => centresOfPath(shape)).map((centre) => ({ body, ...centre })),
    ),
  ];
}
