import earcut from 'earcut';
import { plateArea, polygonArea, type Point2 } from '../geometry';
import { gaussNodes } from '../numeric';
import { joined, type Mesh } from './mesh';
import type { VolumeProperties } from './solid-mass';

/**
 * Solids that need no file, m: boxes, cylinders, tubes and balls about their middle, what is long along z; a turned
 * outline of places (r, z) about z; an outline in the plane, with holes, half its thickness to either side.
 */
export type OwnSolid =
  | { kind: 'box'; size: readonly [number, number, number] }
  | { kind: 'cylinder'; radius: number; length: number }
  | { kind: 'tube'; outer: number; inner: number; length: number }
  | { kind: 'ball'; radius: number }
  | { kind: 'turned'; outline: readonly Point2[] }
  | { kind: 'plate'; outline: readonly Point2[]; holes: readonly (readonly Point2[])[]; thickness: number };

/** Corners of a full circle that stays within `chord` (m) of its chords: 12 at least, 512 at most. */
export function segmentsOf(radius: number, chord: number): number {
  const most = chord < radius ? Math.PI / Math.acos(1 - chord / radius) : 0;
  return Math.min(512, Math.max(12, Math.ceil(most)));
}

/**
 * The skin of a solid.
 * @param chord how far round faces may lie from their chords, m
 */
export function ownMesh(solid: OwnSolid, chord: number): Mesh {
  switch (solid.kind) {
    case 'box': {
      const [x, y, z] = solid.size.map((side) => side / 2) as [number, number, number];
      return extruded([[-x, -y], [x, -y], [x, y], [-x, y]], [], 2 * z); // prettier-ignore
    }
    case 'cylinder':
      return extruded(circle(solid.radius, chord), [], solid.length);
    case 'tube':
      return turnedMesh(tubeOutline(solid), chord);
    case 'ball': {
      const half = Math.ceil(segmentsOf(solid.radius, chord) / 2);
      const outline = Array.from({ length: half + 1 }, (_, i): Point2 => {
        const angle = -Math.PI / 2 + (Math.PI * i) / half;
        // The poles lie on the axis itself.
        return [i === 0 || i === half ? 0 : solid.radius * Math.cos(angle), solid.radius * Math.sin(angle)];
      });
      return turnedMesh(outline, chord);
    }
    case 'turned':
      return turnedMesh(solid.outline, chord);
    case 'plate':
      return extruded(solid.outline, solid.holes, solid.thickness);
  }
}

const circle = (radius: number, chord: number): Point2[] => {
  const count = segmentsOf(radius, chord);
  return Array.from({ length: count }, (_, i): Point2 => {
    const angle = (2 * Math.PI * i) / count;
    return [radius * Math.cos(angle), radius * Math.sin(angle)];
  });
};

const tubeOutline = ({ outer, inner, length }: Extract<OwnSolid, { kind: 'tube' }>): Point2[] => [
  [inner, -length / 2],
  [outer, -length / 2],
  [outer, length / 2],
  [inner, length / 2],
];

/** Twice the signed area of a polygon: positive anticlockwise. */
const sense = (corners: readonly Point2[]): number =>
  corners.reduce((sum, [x, y], i) => {
    const [nx, ny] = corners[(i + 1) % corners.length]!;
    return sum + x * ny - nx * y;
  }, 0);
const anticlockwise = (corners: readonly Point2[]): readonly Point2[] =>
  sense(corners) < 0 ? [...corners].reverse() : corners;

/** An outline with holes, half its thickness to either side of its plane. */
function extruded(outline: readonly Point2[], holes: readonly (readonly Point2[])[], thickness: number): Mesh {
  const rings = [anticlockwise(outline), ...holes.map((hole) => [...anticlockwise(hole)].reverse())];
  const corners = rings.flat();
  const starts = rings.slice(0, -1).reduce<number[]>((all, ring) => [...all, (all.at(-1) ?? 0) + ring.length], []);
  const cap = earcut(corners.flat(), starts);
  const count = corners.length;
  const points = [-1, 1].flatMap((side) => corners.flatMap(([x, y]) => [x, y, (side * thickness) / 2]));
  const triangles: number[] = [];
  for (let t = 0; t < cap.length; t += 3) {
    const [a, b, c] = [cap[t]!, cap[t + 1]!, cap[t + 2]!];
    const isUp = sense([corners[a]!, corners[b]!, corners[c]!]) > 0;
    const [p, q] = isUp ? [b, c] : [c, b];
    triangles.push(a, q, p, count + a, count + p, count + q);
  }
  let begin = 0;
  for (const ring of rings) {
    for (let i = 0; i < ring.length; i++) {
      const [a, b] = [begin + i, begin + ((i + 1) % ring.length)];
      triangles.push(a, b, count + b, a, count + b, count + a);
    }
    begin += ring.length;
  }
  return { points: Float64Array.from(points), triangles: Uint32Array.from(triangles) };
}

/** An outline of places (r, z) turned once about z; places with r = 0 are one point each. */
function turnedMesh(outline: readonly Point2[], chord: number): Mesh {
  const ring = anticlockwise(outline);
  const count = segmentsOf(Math.max(...ring.map(([r]) => r)), chord);
  const points: number[] = [];
  /** By place and step the point there. */
  const at = ring.map(([r, z]) => {
    const begin = points.length / 3;
    const steps = r === 0 ? 1 : count;
    for (let i = 0; i < steps; i++) {
      const angle = (2 * Math.PI * i) / count;
      points.push(r * Math.cos(angle), r * Math.sin(angle), z);
    }
    return (step: number) => begin + (step % steps);
  });
  const triangles: number[] = [];
  const add = (a: number, b: number, c: number) => {
    if (a !== b && b !== c && c !== a) triangles.push(a, b, c);
  };
  at.forEach((here, i) => {
    const next = at[(i + 1) % at.length]!;
    if (ring[i]![0] === 0 && ring[(i + 1) % ring.length]![0] === 0) return;
    for (let step = 0; step < count; step++) {
      add(here(step), here(step + 1), next(step + 1));
      add(here(step), next(step + 1), next(step));
    }
  });
  return joined([{ points: Float64Array.from(points), triangles: Uint32Array.from(triangles) }]);
}

/** What a solid holds, in closed form (its mesh holds less where it is round). */
export function ownVolume(solid: OwnSolid): VolumeProperties {
  switch (solid.kind) {
    case 'box': {
      const [x, y, z] = solid.size;
      const volume = x * y * z;
      const about = (one: number, other: number) => (volume * (one ** 2 + other ** 2)) / 12;
      return middle(volume, about(y, z), about(x, z), about(x, y));
    }
    case 'cylinder':
      return round(solid.radius, 0, solid.length);
    case 'tube':
      return round(solid.outer, solid.inner, solid.length);
    case 'ball': {
      const volume = (4 / 3) * Math.PI * solid.radius ** 3;
      const about = (2 / 5) * volume * solid.radius ** 2;
      return middle(volume, about, about, about);
    }
    case 'turned':
      return turnedVolume(solid.outline);
    case 'plate': {
      const { thickness } = solid;
      const { area, centre, xx, yy, xy, polar } = plateArea(solid.outline, solid.holes);
      const across = (area * thickness ** 3) / 12;
      return {
        volume: area * thickness,
        centre: [...centre, 0],
        tensor: { xx: xx * thickness + across, yy: yy * thickness + across, zz: polar * thickness, xy: xy * thickness, xz: 0, yz: 0 }, // prettier-ignore
      };
    }
  }
}

const middle = (volume: number, xx: number, yy: number, zz: number, z = 0): VolumeProperties => ({
  volume,
  centre: [0, 0, z],
  tensor: { xx, yy, zz, xy: 0, xz: 0, yz: 0 },
});

function round(outer: number, inner: number, length: number): VolumeProperties {
  const volume = Math.PI * (outer ** 2 - inner ** 2) * length;
  const square = outer ** 2 + inner ** 2;
  const across = volume * (square / 4 + length ** 2 / 12);
  return middle(volume, across, across, (volume * square) / 2);
}

/** A turned outline: integrals over its area by Green's theorem, exact along straight edges. */
function turnedVolume(outline: readonly Point2[]): VolumeProperties {
  const ring = anticlockwise(outline);
  /** ∫ rᵖ zᵠ over the area. */
  const moment = (p: number, q: number) => {
    let sum = 0;
    ring.forEach(([r, z], i) => {
      const [nr, nz] = ring[(i + 1) % ring.length]!;
      gaussNodes(0, 1, (s, weight) => {
        const [ar, az] = [r + s * (nr - r), z + s * (nz - z)];
        sum += (weight * (nz - z) * ar ** (p + 1) * az ** q) / (p + 1);
      });
    });
    return sum;
  };
  const volume = 2 * Math.PI * moment(1, 0);
  const z = volume === 0 ? 0 : (2 * Math.PI * moment(1, 1)) / volume;
  const polar = 2 * Math.PI * moment(3, 0);
  const across = polar / 2 + 2 * Math.PI * moment(1, 2) - volume * z ** 2;
  return middle(volume, across, across, polar, z);
}

/** What cannot be of a solid, as a sentence; null where all is well. */
export function ownSolidProblem(solid: OwnSolid): string | null {
  const positive = (values: readonly number[]) => values.every((value) => Number.isFinite(value) && value > 0);
  switch (solid.kind) {
    case 'box':
      return positive(solid.size) ? null : 'Give a box three sides longer than nothing.';
    case 'cylinder':
      return positive([solid.radius, solid.length]) ? null : 'Give a cylinder a radius and a length.';
    case 'tube':
      if (!positive([solid.outer, solid.inner, solid.length])) return 'Give a tube two radii and a length.';
      return solid.inner < solid.outer ? null : 'Make the hole of a tube smaller than the tube.';
    case 'ball':
      return positive([solid.radius]) ? null : 'Give a ball a radius.';
    case 'turned':
      if (solid.outline.length < 3) return 'An outline needs three corners at least.';
      if (solid.outline.some(([r]) => r < 0)) return 'A turned outline must not cross its axis: keep every radius at or above nothing.'; // prettier-ignore
      return polygonArea(solid.outline).area > 0 ? null : 'An outline must have an area.';
    case 'plate':
      if (solid.outline.length < 3) return 'An outline needs three corners at least.';
      return plateArea(solid.outline, solid.holes).area > 0 && solid.thickness > 0
        ? null
        : 'A plate must have an area and a thickness.';
  }
}
