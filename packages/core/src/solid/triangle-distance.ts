/** What the last call of {@link triangleDistance} found: the nearest places on both triangles. */
export const nearest = { first: new Float64Array(3), second: new Float64Array(3) };

const place = new Float64Array(3);
const other = new Float64Array(3);
const corner = new Float64Array(3);

/**
 * Square of the distance of two triangles, m²; 0 where they touch or cross. Each holds its corners one after the other.
 * The nearest places, of corners and faces or of edges, come to {@link nearest} (Ericson, Real-Time Collision Detection,
 * chapter 5: closest points of a point and a triangle, and of two segments).
 * @param enough squares above this need not be known: the search ends with it where nothing is nearer
 */
export function triangleDistance(a: Float64Array, b: Float64Array, enough: number): number {
  // Boxes about both, along the axes: most pairs are told apart by these.
  let between = 0;
  for (let c = 0; c < 3; c++) {
    const [lowA, highA] = [Math.min(a[c]!, a[c + 3]!, a[c + 6]!), Math.max(a[c]!, a[c + 3]!, a[c + 6]!)];
    const [lowB, highB] = [Math.min(b[c]!, b[c + 3]!, b[c + 6]!), Math.max(b[c]!, b[c + 3]!, b[c + 6]!)];
    const way = lowA > highB ? lowA - highB : lowB > highA ? lowB - highA : 0;
    between += way * way;
  }
  if (between >= enough) return enough;
  let best = enough;
  const keep = (square: number, first: Float64Array, second: Float64Array) => {
    if (square >= best) return;
    best = square;
    nearest.first.set(first);
    nearest.second.set(second);
  };
  for (let i = 0; i < 9 && best > 0; i += 3) {
    corner[0] = a[i]!;
    corner[1] = a[i + 1]!;
    corner[2] = a[i + 2]!;
    keep(pointTriangle(corner, b, place), corner, place);
    corner[0] = b[i]!;
    corner[1] = b[i + 1]!;
    corner[2] = b[i + 2]!;
    keep(pointTriangle(corner, a, place), place, corner);
  }
  for (let i = 0; i < 9 && best > 0; i += 3)
    for (let k = 0; k < 9 && best > 0; k += 3) keep(segments(a, i, (i + 3) % 9, b, k, (k + 3) % 9), place, other);
  if (best > 0)
    for (let i = 0; i < 9; i += 3) {
      if (pierces(a, i, (i + 3) % 9, b, place) || pierces(b, i, (i + 3) % 9, a, place)) {
        keep(0, place, place);
        break;
      }
    }
  return best;
}

/** Square of the distance of a point from a triangle; the nearest place into `out`. */
export function pointTriangle(p: Float64Array, t: Float64Array, out: Float64Array): number {
  const [ax, ay, az] = [t[0]!, t[1]!, t[2]!];
  const [bx, by, bz] = [t[3]! - ax, t[4]! - ay, t[5]! - az];
  const [cx, cy, cz] = [t[6]! - ax, t[7]! - ay, t[8]! - az];
  const [px, py, pz] = [p[0]! - ax, p[1]! - ay, p[2]! - az];
  const put = (u: number, v: number): number => {
    const [x, y, z] = [u * bx + v * cx, u * by + v * cy, u * bz + v * cz];
    out[0] = ax + x;
    out[1] = ay + y;
    out[2] = az + z;
    return (px - x) ** 2 + (py - y) ** 2 + (pz - z) ** 2;
  };
  const d1 = bx * px + by * py + bz * pz;
  const d2 = cx * px + cy * py + cz * pz;
  if (d1 <= 0 && d2 <= 0) return put(0, 0);
  const [qx, qy, qz] = [px - bx, py - by, pz - bz];
  const d3 = bx * qx + by * qy + bz * qz;
  const d4 = cx * qx + cy * qy + cz * qz;
  if (d3 >= 0 && d4 <= d3) return put(1, 0);
  const vc = d1 * d4 - d3 * d2;
  if (vc <= 0 && d1 >= 0 && d3 <= 0) return put(d1 / (d1 - d3), 0);
  const [rx, ry, rz] = [px - cx, py - cy, pz - cz];
  const d5 = bx * rx + by * ry + bz * rz;
  const d6 = cx * rx + cy * ry + cz * rz;
  if (d6 >= 0 && d5 <= d6) return put(0, 1);
  const vb = d5 * d2 - d1 * d6;
  if (vb <= 0 && d2 >= 0 && d6 <= 0) return put(0, d2 / (d2 - d6));
  const va = d3 * d6 - d5 * d4;
  if (va <= 0 && d4 - d3 >= 0 && d5 - d6 >= 0) {
    const w = (d4 - d3) / (d4 - d3 + (d5 - d6));
    return put(1 - w, w);
  }
  const sum = va + vb + vc;
  return sum > 0 ? put(vb / sum, vc / sum) : put(0, 0);
}

const clamp = (value: number) => (value < 0 ? 0 : value > 1 ? 1 : value);

/** Square of the distance of an edge of `a` and one of `b`; the nearest places into `place` and `other`. */
function segments(a: Float64Array, i: number, j: number, b: Float64Array, k: number, l: number): number {
  const [ux, uy, uz] = [a[j]! - a[i]!, a[j + 1]! - a[i + 1]!, a[j + 2]! - a[i + 2]!];
  const [vx, vy, vz] = [b[l]! - b[k]!, b[l + 1]! - b[k + 1]!, b[l + 2]! - b[k + 2]!];
  const [rx, ry, rz] = [a[i]! - b[k]!, a[i + 1]! - b[k + 1]!, a[i + 2]! - b[k + 2]!];
  const uu = ux * ux + uy * uy + uz * uz;
  const vv = vx * vx + vy * vy + vz * vz;
  const ur = ux * rx + uy * ry + uz * rz;
  const vr = vx * rx + vy * ry + vz * rz;
  const uv = ux * vx + uy * vy + uz * vz;
  const across = uu * vv - uv * uv;
  let s = across > 1e-14 * uu * vv ? clamp((uv * vr - ur * vv) / across) : 0;
  let t = vv > 0 ? (uv * s + vr) / vv : 0;
  if (t < 0 || t > 1) {
    t = clamp(t);
    s = uu > 0 ? clamp((uv * t - ur) / uu) : 0;
  }
  for (let c = 0; c < 3; c++) {
    place[c] = a[i + c]! + s * (a[j + c]! - a[i + c]!);
    other[c] = b[k + c]! + t * (b[l + c]! - b[k + c]!);
  }
  return (place[0]! - other[0]!) ** 2 + (place[1]! - other[1]!) ** 2 + (place[2]! - other[2]!) ** 2;
}

/**
 * Whether an edge of `a` goes through the face of `t` (Möller and Trumbore); where, into `out`.
 * @param within share of the edge and of the face by which it must stay away from their ends and edges: 0 counts touching
 */
export function pierces(
  a: Float64Array,
  i: number,
  j: number,
  t: Float64Array,
  out: Float64Array,
  within = 0,
): boolean {
  const [dx, dy, dz] = [a[j]! - a[i]!, a[j + 1]! - a[i + 1]!, a[j + 2]! - a[i + 2]!];
  const [bx, by, bz] = [t[3]! - t[0]!, t[4]! - t[1]!, t[5]! - t[2]!];
  const [cx, cy, cz] = [t[6]! - t[0]!, t[7]! - t[1]!, t[8]! - t[2]!];
  const [hx, hy, hz] = [dy * cz - dz * cy, dz * cx - dx * cz, dx * cy - dy * cx];
  const det = bx * hx + by * hy + bz * hz;
  if (det === 0) return false;
  const [sx, sy, sz] = [a[i]! - t[0]!, a[i + 1]! - t[1]!, a[i + 2]! - t[2]!];
  const u = (sx * hx + sy * hy + sz * hz) / det;
  if (u < within || u > 1 - within) return false;
  const [qx, qy, qz] = [sy * bz - sz * by, sz * bx - sx * bz, sx * by - sy * bx];
  const v = (dx * qx + dy * qy + dz * qz) / det;
  if (v < within || u + v > 1 - within) return false;
  const s = (cx * qx + cy * qy + cz * qz) / det;
  if (s < within || s > 1 - within) return false;
  for (let c = 0; c < 3; c++) out[c] = a[i + c]! + s * (a[j + c]! - a[i + c]!);
  return true;
}
