import {
  convexHull,
  convexPieces,
  discArea,
  polygonArea,
  simplified,
  type AreaProperties,
  type Point2,
  type RoundShape,
} from '../geometry';
import { densityOf, seenFromFront, type Body, type MassProperties, type Material, type PartKind } from '../machine';

const anticlockwise = (corners: readonly Point2[]): Point2[] => {
  const twice = corners.reduce((sum, [x, y], i) => {
    const [nx, ny] = corners[(i + 1) % corners.length]!;
    return sum + x * ny - nx * y;
  }, 0);
  return twice < 0 ? [...corners].reverse() : [...corners];
};

/** Corners of a box about its middle. */
function boxCorners(width: number, height: number): Point2[] {
  const [w, h] = [width / 2, height / 2];
  return [
    [-w, -h],
    [w, -h],
    [w, h],
    [-w, h],
  ];
}

/** Convex pieces with which a kind of part touches others, in the frame of the part. */
export function partPieces({ shape: own }: Pick<PartKind, 'shape'>): RoundShape[] {
  const shape = seenFromFront(own);
  if (!shape) return own.kind === 'capsule' ? [capsulePiece(own)] : [];
  if (shape.kind === 'circle') return [{ corners: [[0, 0]], radius: shape.radius }];
  if (shape.kind === 'box') return [{ corners: boxCorners(shape.width, shape.height), radius: 0 }];
  if (shape.as === 'hull') return [{ corners: convexHull(shape.points), radius: 0 }];
  const outline = shape.as === 'simplified' ? simplified(shape.points, shape.tolerance) : shape.points;
  return convexPieces(outline).map((corners) => ({ corners: anticlockwise(corners), radius: 0 }));
}

const capsulePiece = ({ radius, length }: { radius: number; length: number }): RoundShape => ({
  corners: [
    [0, radius - length / 2],
    [0, length / 2 - radius],
  ],
  radius,
});

/** Area of a kind of part as drawn. */
export function partArea({ shape: own }: Pick<PartKind, 'shape'>): AreaProperties {
  const shape = seenFromFront(own) ?? { kind: 'circle', radius: 1 };
  if (shape.kind === 'circle') return discArea([0, 0], shape.radius);
  return polygonArea(shape.kind === 'box' ? boxCorners(shape.width, shape.height) : shape.points);
}

/**
 * Mass (kg), centre of mass (m) and inertia (kg·m²) of a kind of part: from its drawn area and thickness, from a typed
 * mass spread evenly over the area, or as a full ball (2/5 m r²). What says no density has that of its material.
 */
export function partMass(
  kind: Pick<PartKind, 'shape' | 'mass'> & { material?: string },
  materials: readonly Material[] = [],
): MassProperties {
  const density = densityOf(kind, materials) ?? 0;
  const { area, centre, polar } = partArea(kind);
  const { mass } = kind;
  if (mass.given === 'ball' && kind.shape.kind === 'circle') {
    const r = kind.shape.radius;
    const m = (4 / 3) * Math.PI * r ** 3 * density;
    return { mass: m, centre, inertia: 0.4 * m * r * r };
  }
  const perArea = mass.given === 'typed' ? mass.mass / area : mass.given === 'shape' ? mass.thickness * density : 0;
  return { mass: perArea * area, centre, inertia: perArea * polar };
}

/** Convex pieces with which a body of the mechanism touches parts, or its hull, in the frame of the body. */
export function bodyPieces(body: Pick<Body, 'shape' | 'points'>, as: 'hull' | 'exact'): RoundShape[] {
  const { shape } = body;
  if (shape.kind === 'disc') return [{ corners: [shape.centre], radius: shape.radius }];
  if (shape.kind === 'bar') {
    const points = body.points.map(({ at }): Point2 => at);
    return [{ corners: points.length > 2 ? convexHull(points) : points, radius: shape.width / 2 }];
  }
  if (as === 'hull') return [{ corners: convexHull(shape.outline), radius: 0 }];
  return convexPieces(shape.outline).map((corners) => ({ corners: anticlockwise(corners), radius: 0 }));
}

/** The outline of a body as drawn, for exact distances (holes are not counted). */
export function bodyOutline(body: Pick<Body, 'shape' | 'points'>): RoundShape {
  if (body.shape.kind === 'plate') return { corners: anticlockwise(body.shape.outline), radius: 0 };
  return bodyPieces(body, 'exact')[0]!;
}

/** A strip of some thickness to the right of each line of a chain: what parts touch is the chain itself. */
export function stripPieces(line: readonly Point2[], thickness: number): RoundShape[] {
  return line.slice(1).flatMap((to, i) => {
    const from = line[i]!;
    const length = Math.hypot(to[0] - from[0], to[1] - from[1]);
    if (length === 0) return [];
    const nx = ((to[1] - from[1]) / length) * thickness;
    const ny = (-(to[0] - from[0]) / length) * thickness;
    return [{ corners: anticlockwise([from, to, [to[0] + nx, to[1] + ny], [from[0] + nx, from[1] + ny]]), radius: 0 }];
  });
}
