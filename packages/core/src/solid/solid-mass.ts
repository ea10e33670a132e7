import type { Tensor } from '../geometry';
import { boundsOf, type Mesh } from './mesh';

/** What a solid holds: volume (m³), centre (m), and its tensor about that for a density of one (m⁵). */
export interface VolumeProperties {
  volume: number;
  centre: [number, number, number];
  tensor: Tensor;
}

/** What a closed surface holds, m³; negative where its outside is in. */
export const volumeOf = (mesh: Mesh): number => meshVolume(mesh).volume;

/**
 * What a closed surface holds, by the divergence theorem: the sum over its triangles of the tetrahedra to one point,
 * each in closed form (Mirtich; Eberly: polyhedral mass properties). Open surfaces have none: see the soundness first.
 */
export function meshVolume(mesh: Mesh): VolumeProperties {
  const { points, triangles } = mesh;
  const box = boundsOf(mesh);
  if (!box) return { volume: 0, centre: [0, 0, 0], tensor: { xx: 0, yy: 0, zz: 0, xy: 0, xz: 0, yz: 0 } };
  // From the middle of it, so that nothing is lost far from the origin.
  const o = box.low.map((low, k) => (low + box.high[k]!) / 2) as [number, number, number];
  let volume = 0;
  const first = [0, 0, 0];
  /** ∫x², ∫y², ∫z², ∫xy, ∫xz, ∫yz. */
  const second = [0, 0, 0, 0, 0, 0];
  const PAIRS = [[0, 0], [1, 1], [2, 2], [0, 1], [0, 2], [1, 2]] as const; // prettier-ignore
  const corner = [new Float64Array(3), new Float64Array(3), new Float64Array(3)] as const;
  for (let t = 0; t < triangles.length; t += 3) {
    for (let c = 0; c < 3; c++)
      for (let k = 0; k < 3; k++) corner[c as 0 | 1 | 2][k] = points[3 * triangles[t + c]! + k]! - o[k]!;
    const [a, b, c] = corner;
    const six =
      a[0]! * (b[1]! * c[2]! - b[2]! * c[1]!) +
      a[1]! * (b[2]! * c[0]! - b[0]! * c[2]!) +
      a[2]! * (b[0]! * c[1]! - b[1]! * c[0]!);
    volume += six / 6;
    for (let k = 0; k < 3; k++) first[k] = first[k]! + (six / 24) * (a[k]! + b[k]! + c[k]!);
    for (let n = 0; n < 6; n++) {
      const [i, j] = PAIRS[n]!;
      const [si, sj] = [a[i]! + b[i]! + c[i]!, a[j]! + b[j]! + c[j]!];
      second[n] = second[n]! + (six / 120) * (a[i]! * a[j]! + b[i]! * b[j]! + c[i]! * c[j]! + si * sj);
    }
  }
  const [x, y, z] = first.map((part) => (volume === 0 ? 0 : part / volume)) as [number, number, number];
  const [xx, yy, zz] = [second[0]! - volume * x * x, second[1]! - volume * y * y, second[2]! - volume * z * z];
  return {
    volume,
    centre: [o[0] + x, o[1] + y, o[2] + z],
    tensor: {
      xx: yy + zz,
      yy: xx + zz,
      zz: xx + yy,
      xy: -(second[3]! - volume * x * y),
      xz: -(second[4]! - volume * x * z),
      yz: -(second[5]! - volume * y * z),
    },
  };
}
