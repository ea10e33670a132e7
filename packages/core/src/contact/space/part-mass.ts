import { eigs } from 'mathjs';
import { cross, quaternionOf, unit3, type Point3, type Tensor } from '../../geometry';
import { densityOf, type Material, type PartKind } from '../../machine';
import { ownVolume, type VolumeProperties } from '../../solid';
import { depthOf, spacePieces, type ContactPiece } from './pieces';

/** kg, m and kg·m² about the centre of mass, along the axes of the part. */
export interface SpaceMass {
  mass: number;
  centre: Point3;
  tensor: Tensor;
}

const NOTHING: Tensor = { xx: 0, yy: 0, zz: 0, xy: 0, xz: 0, yz: 0 };

const diagonal = (xx: number, yy: number, zz: number): Tensor => ({ ...NOTHING, xx, yy, zz });

/** Volume (m³), centre (m) and, for a density of one, tensor (m⁵) of pieces that do not overlap, but for boxes. */
function volumeOfPiece(piece: ContactPiece): VolumeProperties {
  if (piece.kind === 'hull') throw new Error('hulls are weighed by their outline');
  const at: VolumeProperties['centre'] = [...piece.at];
  if (piece.kind === 'box') {
    const [a, b, c] = piece.half.map((part) => 2 * part) as [number, number, number];
    const volume = a * b * c;
    const share = volume / 12;
    return { volume, centre: at, tensor: diagonal(share * (b * b + c * c), share * (a * a + c * c), share * (a * a + b * b)) };
  }
  if (piece.kind === 'ball') return { ...ownVolume({ kind: 'ball', radius: piece.radius }), centre: at };
  const { half, radius: r, axis } = piece;
  // Handbook: cylinder, and two half balls whose middles lie 3/8 r beyond its ends.
  const round = piece.kind === 'capsule' ? (4 / 3) * Math.PI * r ** 3 : 0;
  const straight = Math.PI * r * r * 2 * half;
  const along = (straight * r * r) / 2 + round * 0.4 * r * r;
  const side = straight * ((r * r) / 4 + (half * half) / 3) + round * (0.4 * r * r + half * half + 0.75 * half * r);
  return {
    volume: straight + round,
    centre: at,
    tensor: axis === 1 ? diagonal(side, along, side) : diagonal(side, side, along),
  };
} // prettier-ignore

/** About the common centre, by the parallel-axis theorem. */
function together(parts: readonly VolumeProperties[]): VolumeProperties {
  const volume = parts.reduce((sum, part) => sum + part.volume, 0);
  const middle = (k: number) => parts.reduce((sum, part) => sum + part.volume * part.centre[k]!, 0) / volume;
  const centre: VolumeProperties['centre'] = [middle(0), middle(1), middle(2)];
  const tensor = parts.reduce((sum, { volume: v, centre: at, tensor: t }): Tensor => {
    const [x, y, z] = [at[0] - centre[0], at[1] - centre[1], at[2] - centre[2]];
    return {
      xx: sum.xx + t.xx + v * (y * y + z * z),
      yy: sum.yy + t.yy + v * (x * x + z * z),
      zz: sum.zz + t.zz + v * (x * x + y * y),
      xy: sum.xy + t.xy - v * x * y,
      xz: sum.xz + t.xz - v * x * z,
      yz: sum.yz + t.yz - v * y * z,
    };
  }, NOTHING);
  return { volume, centre, tensor };
}

/** What a kind of part holds, its density taken as one. */
export function volumeOfPart(kind: Pick<PartKind, 'shape' | 'mass'>): VolumeProperties {
  const { shape } = kind;
  // As it is drawn, also where it touches with its hull.
  if (shape.kind === 'outline')
    return ownVolume({ kind: 'plate', outline: shape.points, holes: [], thickness: depthOf(kind) });
  const pieces = spacePieces(kind);
  // Walls that cross each other count once.
  if (shape.kind === 'tray') {
    const { width, height, depth, wall, floor, along, across } = shape;
    const rises = (height - floor) / 2;
    const crossings = Array.from({ length: (along + 1) * (across + 1) }, (_, n) => {
      const [i, j] = [n % (along + 1), Math.floor(n / (along + 1))];
      const at: VolumeProperties['centre'] = [
        (i / along - 0.5) * (width - wall),
        floor / 2,
        (j / across - 0.5) * (depth - wall),
      ];
      const { volume, centre, tensor: t } = volumeOfPiece({ kind: 'box', at, half: [wall / 2, rises, wall / 2] });
      return { volume: -volume, centre, tensor: diagonal(-t.xx, -t.yy, -t.zz) };
    });
    return together([...pieces.map(volumeOfPiece), ...crossings]);
  }
  return together(pieces.map(volumeOfPiece));
}

/** Mass, centre and tensor of a kind of part in space: of its density, or a typed mass spread evenly over its volume. */
export function spaceMass(
  kind: Pick<PartKind, 'shape' | 'mass'> & { material?: string },
  materials: readonly Material[] = [],
): SpaceMass {
  const { volume, centre, tensor } = volumeOfPart(kind);
  const density = kind.mass.given === 'typed' ? kind.mass.mass / volume : (densityOf(kind, materials) ?? 0);
  const by = (part: number) => density * part;
  return {
    mass: density * volume,
    centre,
    tensor: { xx: by(tensor.xx), yy: by(tensor.yy), zz: by(tensor.zz), xy: by(tensor.xy), xz: by(tensor.xz), yz: by(tensor.yz) },
  };
} // prettier-ignore

/** Principal moments (kg·m²) of a tensor, and the turn of their axes, as the physics library wants them. */
export function principalOf({ xx, yy, zz, xy, xz, yz }: Tensor): {
  moments: Point3;
  turn: { w: number; x: number; y: number; z: number };
} {
  if (xy === 0 && xz === 0 && yz === 0) return { moments: [xx, yy, zz], turn: { w: 1, x: 0, y: 0, z: 0 } };
  const found = eigs([[xx, xy, xz], [xy, yy, yz], [xz, yz, zz]]).eigenvectors; // prettier-ignore
  const [a, b] = found.map(({ vector }) => unit3((vector as number[]).map(Number) as [number, number, number]));
  const c = cross(a!, b!);
  const [w, x, y, z] = quaternionOf([a![0], b![0], c[0], a![1], b![1], c[1], a![2], b![2], c[2]]);
  const moments = found.map(({ value }) => Number(value)) as [number, number, number];
  return { moments, turn: { w, x, y, z } };
}
