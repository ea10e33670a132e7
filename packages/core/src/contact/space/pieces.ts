import { convexHull, convexPieces, simplified, type ConvexSolid, type Point2, type Point3 } from '../../geometry';
import type { PartKind, PartShape } from '../../machine';

/** A convex piece as the physics library is told of it, and as distances are taken to it; m, in the frame of its body. */
export type ContactPiece =
  | { kind: 'box'; at: Point3; half: Point3 }
  | { kind: 'ball'; at: Point3; radius: number }
  | { kind: 'cylinder' | 'capsule'; at: Point3; axis: 1 | 2; half: number; radius: number }
  | { kind: 'hull'; corners: Float64Array };

/** Half the length of the straight part of a capsule, m. */
const straight = ({ length, radius }: { length: number; radius: number }) => Math.max(length / 2 - radius, 1e-7);

/** How far a flat shape of a part reaches across its plane, m. */
export function depthOf({ shape, mass }: Pick<PartKind, 'shape' | 'mass'>): number {
  const thick = mass.given === 'shape' ? mass.thickness : null;
  switch (shape.kind) {
    case 'circle':
      return shape.depth ?? thick ?? shape.radius;
    case 'box':
      return shape.depth ?? thick ?? Math.min(shape.width, shape.height);
    case 'outline':
      return shape.depth ?? thick ?? 0.02;
    case 'tray':
      return shape.depth;
    default:
      return 2 * shape.radius;
  }
}

/** A flat outline as thick as it is, about a level, m. */
export function slab(outline: readonly Point2[], thickness: number, level = 0): ContactPiece {
  const [low, high] = [level - thickness / 2, level + thickness / 2];
  return { kind: 'hull', corners: Float64Array.from(outline.flatMap(([x, y]) => [x, y, low, x, y, high])) };
}

/** Slabs of an outline that may have hollows. */
export function slabs(
  outline: readonly Point2[],
  as: 'hull' | 'exact' | 'simplified',
  tolerance: number,
  thickness: number,
): ContactPiece[] {
  if (as === 'hull') return [slab(convexHull(outline), thickness)];
  return convexPieces(as === 'simplified' ? simplified(outline, tolerance) : outline).map((piece) => slab(piece, thickness)); // prettier-ignore
}

/** Floor, walls and walls between the pockets of a box with an inside. */
function trayPieces({ width, height, depth, wall, floor, along, across }: Extract<PartShape, { kind: 'tray' }>): ContactPiece[] {
  const box = (at: Point3, half: Point3): ContactPiece => ({ kind: 'box', at, half });
  const rises = (height - floor) / 2;
  const middle = floor / 2;
  const pieces = [box([0, (floor - height) / 2, 0], [width / 2, floor / 2, depth / 2])];
  for (let i = 0; i <= along; i++)
    pieces.push(box([(i / along - 0.5) * (width - wall), middle, 0], [wall / 2, rises, depth / 2]));
  for (let i = 0; i <= across; i++)
    pieces.push(box([0, middle, (i / across - 0.5) * (depth - wall)], [width / 2, rises, wall / 2]));
  return pieces;
} // prettier-ignore

/** Convex pieces with which a kind of part touches others in space, in the frame of the part. */
export function spacePieces(kind: Pick<PartKind, 'shape' | 'mass'>): ContactPiece[] {
  const { shape } = kind;
  const at: Point3 = [0, 0, 0];
  const half = depthOf(kind) / 2;
  switch (shape.kind) {
    case 'circle':
      return kind.mass.given === 'ball'
        ? [{ kind: 'ball', at, radius: shape.radius }]
        : [{ kind: 'cylinder', at, axis: 2, half, radius: shape.radius }];
    case 'box':
      return [{ kind: 'box', at, half: [shape.width / 2, shape.height / 2, half] }];
    case 'outline':
      return slabs(shape.points, shape.as, shape.tolerance, 2 * half);
    case 'ball':
      return [{ kind: 'ball', at, radius: shape.radius }];
    case 'cylinder':
      return [{ kind: 'cylinder', at, axis: 1, half: shape.length / 2, radius: shape.radius }];
    case 'capsule':
      return [{ kind: 'capsule', at, axis: 1, half: straight(shape), radius: shape.radius }];
    case 'tray':
      return trayPieces(shape);
  }
}

/** The corners of a box. */
function boxCorners([x, y, z]: Point3, [a, b, c]: Point3): Float64Array {
  const signs = [-1, 1];
  return Float64Array.from(
    signs.flatMap((i) => signs.flatMap((j) => signs.flatMap((k) => [x + i * a, y + j * b, z + k * c]))),
  );
}

/** A piece as distances are taken to it. */
export function solidOf(piece: ContactPiece): ConvexSolid {
  if (piece.kind === 'hull') return { corners: piece.corners, radius: 0 };
  if (piece.kind === 'box') return { corners: boxCorners(piece.at, piece.half), radius: 0 };
  if (piece.kind === 'ball') return { corners: Float64Array.from(piece.at), radius: piece.radius };
  const { at, axis, half, radius } = piece;
  const ends = [-half, half].flatMap((shift) => at.map((part, k) => (k === axis ? part + shift : part)));
  const corners = Float64Array.from(ends);
  return piece.kind === 'capsule' ? { corners, radius } : { corners, radius: 0, disc: { axis, radius } };
}

/** The box about pieces, in the frame of their body: its middle and half its sizes, m. */
export function boxAbout(pieces: readonly ContactPiece[]): { at: Point3; half: Point3 } {
  const low = [Infinity, Infinity, Infinity];
  const high = [-Infinity, -Infinity, -Infinity];
  for (const piece of pieces) {
    const { corners, radius, disc } = solidOf(piece);
    for (let i = 0; i < corners.length; i++) {
      const k = i % 3;
      const reach = radius + (disc && disc.axis !== k ? disc.radius : 0);
      low[k] = Math.min(low[k]!, corners[i]! - reach);
      high[k] = Math.max(high[k]!, corners[i]! + reach);
    }
  }
  return {
    at: [(low[0]! + high[0]!) / 2, (low[1]! + high[1]!) / 2, (low[2]! + high[2]!) / 2],
    half: [(high[0]! - low[0]!) / 2, (high[1]! - low[1]!) / 2, (high[2]! - low[2]!) / 2],
  };
}
