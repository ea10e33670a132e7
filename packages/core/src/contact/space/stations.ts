import { STILL3, type Place3, type Point2, type Point3 } from '../../geometry';
import { ACROSS, type Belt, type Surface } from '../../machine';
import { stripPieces } from '../shapes';
import { slab, type ContactPiece } from './pieces';

/** How thick guides and edges are, m. */
const EDGE = 0.003;
/** Widest arc of a curved belt that is one piece, rad. */
const ARC = Math.PI / 36;

/** Edges along both sides of a line that is seen from the side, over its left face. */
function sideEdges(line: readonly Point2[], width: number, height: number): ContactPiece[] {
  // A strip lies to the right of its way: of the way back it lies over the face.
  const over = stripPieces([...line].reverse(), height);
  return [1, -1].flatMap((side) => over.map(({ corners }) => slab(corners, EDGE, (side * (width + EDGE)) / 2)));
}

/** Plates below the left face of a line that is seen from the side. */
export const slabsAlong = (line: readonly Point2[], thickness: number, width: number): ContactPiece[] =>
  stripPieces(line, thickness).map(({ corners }) => slab(corners, width));

/** A chute, ramp or stop in space, in the frame of what it stands in. */
export function surfacePieces({ line, thickness, width = ACROSS, edges }: Surface): ContactPiece[] {
  return [...slabsAlong(line, thickness, width), ...(edges === undefined ? [] : sideEdges(line, width, edges))];
}

/** A belt in space: what moves and what stands beside it, and how its face goes on. */
export interface BeltInSpace {
  /** In the frame {@link at}. */
  face: readonly ContactPiece[];
  guides: readonly ContactPiece[];
  /** Frame of the face in that of what it stands in. */
  at: Place3;
  /** How far the frame of the face goes on for a way along the belt, m: straight, or round its z. */
  after(way: number): Place3;
  /** Direction in the frame of the face in which it goes at a point, and the arm about its axis; 0 where straight. */
  straight: Point3 | null;
  radius: number;
}

/** Hull of a stretch between two cuts, each from the left to the right of the belt. */
function stretch(a: { left: Point2; right: Point2; z: number }, b: typeof a, low: number, high: number): ContactPiece {
  const corners = [a, b].flatMap(({ left, right, z }) =>
    [left, right].flatMap(([x, y]) => [x, y, z + low, x, y, z + high]),
  );
  return { kind: 'hull', corners: Float64Array.from(corners) };
}

/** Makes a belt ready, in the frame of what it stands in. */
export function beltInSpace(belt: Belt): BeltInSpace {
  const { from, to, thickness, width = ACROSS, guides, seen = 'side', turn = 0, rise = 0 } = belt;
  const [dx, dy] = [to[0] - from[0], to[1] - from[1]];
  const chord = Math.hypot(dx, dy);
  if (seen === 'side') {
    const way: Point3 = [dx / chord, dy / chord, 0];
    return {
      face: slabsAlong([from, to], thickness, width),
      guides: guides === undefined ? [] : sideEdges([from, to], width, guides),
      at: STILL3,
      after: (shift) => ({ ...STILL3, x: shift * way[0], y: shift * way[1] }),
      straight: way,
      radius: 0,
    };
  }
  if (Math.abs(turn) < 1e-6) {
    const length = Math.hypot(chord, rise);
    const way: Point3 = [dx / length, dy / length, rise / length];
    const [nx, ny] = [-dy / chord, dx / chord];
    const cut = ([x, y]: Point2, z: number, half: number, beside = 0) => ({
      left: [x + nx * (half + beside), y + ny * (half + beside)] as Point2,
      right: [x + nx * (beside - half), y + ny * (beside - half)] as Point2,
      z,
    });
    const run = (half: number, beside: number, low: number, high: number) =>
      stretch(cut(from, 0, half, beside), cut(to, rise, half, beside), low, high);
    return {
      face: [run(width / 2, 0, -thickness, 0)],
      guides: guides === undefined ? [] : [1, -1].map((side) => run(EDGE / 2, (side * (width + EDGE)) / 2, 0, guides)),
      at: STILL3,
      after: (shift) => ({ ...STILL3, x: shift * way[0], y: shift * way[1], z: shift * way[2] }),
      straight: way,
      radius: 0,
    };
  }
  // An arc: about its middle, which lies to the left where it turns to the left.
  const radius = chord / (2 * Math.sin(Math.abs(turn) / 2));
  const side = Math.sign(turn);
  const height = radius * Math.cos(turn / 2) * side;
  const middle: Point2 = [(from[0] + to[0]) / 2 - (dy / chord) * height, (from[1] + to[1]) / 2 + (dx / chord) * height];
  const start = Math.atan2(from[1] - middle[1], from[0] - middle[0]);
  const count = Math.max(2, Math.ceil(Math.abs(turn) / ARC));
  const cutAt = (k: number, inner: number, outer: number) => {
    const angle = start + (turn * k) / count;
    const at = (r: number): Point2 => [r * Math.cos(angle), r * Math.sin(angle)];
    return { left: at(inner), right: at(outer), z: (rise * k) / count };
  };
  // Corners lie on the outer arc’s tangents, so that no part of the width is missing between them.
  const wide = 1 / Math.cos(turn / count / 2);
  const run = (inner: number, outer: number, low: number, high: number) =>
    Array.from({ length: count }, (_, k) =>
      stretch(cutAt(k, inner, outer * wide), cutAt(k + 1, inner, outer * wide), low, high),
    );
  const [inner, outer] = [Math.max(radius - width / 2, 1e-4), radius + width / 2];
  const length = radius * Math.abs(turn);
  return {
    face: run(inner, outer, -thickness, 0),
    guides:
      guides === undefined
        ? []
        : [...run(Math.max(inner - EDGE, 1e-4), inner, 0, guides), ...run(outer, outer + EDGE, 0, guides)],
    at: { ...STILL3, x: middle[0], y: middle[1] },
    after(shift) {
      const half = (side * shift) / radius / 2;
      return { ...STILL3, z: (rise * shift) / length, qw: Math.cos(half), qz: Math.sin(half) };
    },
    straight: null,
    radius: side * radius,
  };
}
