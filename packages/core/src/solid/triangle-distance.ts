/** What the last call of {@link triangleDistance} found: the nearest places on both triangles. */
export const nearest = { first: new Float64Array(3), second: new Float64Array(3) };

const place = new Float64Array(3);
const other = new Float64Array(3);

/** Square of the distance of the boxes about two triangles, along the axes, m². */
function boxSquare(a: Float64Array, b: Float64Array): number {
  let sum = 0;
  for (let c = 0; c < 3; c++) {
    const a0 = a[c]!;
    const a1 = a[c + 3]!;
    const a2 = a[c + 6]!;
    const b0 = b[c]!;
    const b1 = b[c + 3]!;
    const b2 = b[c + 6]!;
    const lowA = a0 < a1 ? (a0 < a2 ? a0 : a2) : a1 < a2 ? a1 : a2;
    const lowB = b0 < b1 ? (b0 < b2 ? b0 : b2) : b1 < b2 ? b1 : b2;
    const highA = a0 > a1 ? (a0 > a2 ? a0 : a2) : a1 > a2 ? a1 : a2;
    const highB = b0 > b1 ? (b0 > b2 ? b0 : b2) : b1 > b2 ? b1 : b2;
    const way = lowA > highB ? lowA - highB : lowB > highA ? lowB - highA : 0;
    sum += way * way;
  }
  return sum;
}

/** Whether the boxes about two triangles, along the axes, have nothing in common: of most neighbours that is all to be asked. */
export const boxesApart = (a: Float64Array, b: Float64Array): boolean => boxSquare(a, b) > 0;

/**
 * Whether two triangles go through each other: an edge of one through the face of the other; where, into `out`.
 * @param within as {@link pierces} has it
 */
export function trianglesCross(a: Float64Array, b: Float64Array, out: Float64Array, within = 0): boolean {
  if (boxesApart(a, b)) return false;
  for (let i = 0; i < 9; i += 3) {
    const next = i < 6 ? i + 3 : 0;
    if (pierces(a, i, next, b, out, within) || pierces(b, i, next, a, out, within)) return true;
  }
  return false;
}

/**
 * Square of the distance of two triangles, m²; 0 where they touch or cross. Each holds its corners one after the other.
 * The nearest places, of corners and faces or of edges, come to {@link nearest} (Ericson, Real-Time Collision Detection,
 * chapter 5: closest points of a point and a triangle, and of two segments).
 * @param enough squares above this need not be known: the search ends with it where nothing is nearer
 * @param mayCross whether they may go through each other: not where that was looked for before
 */
export function triangleDistance(a: Float64Array, b: Float64Array, enough: number, mayCross = true): number {
  // Most pairs are told apart by the boxes about them.
  if (boxSquare(a, b) >= enough) return enough;
  if (mayCross && trianglesCross(a, b, place)) {
    nearest.first.set(place);
    nearest.second.set(place);
    return 0;
  }
  let best = enough;
  for (let i = 0; i < 9 && best > 0; i += 3) {
    let square = pointTriangle(a, i, b, place);
    if (square < best) {
      best = square;
      for (let c = 0; c < 3; c++) {
        nearest.first[c] = a[i + c]!;
        nearest.second[c] = place[c]!;
      }
    }
    square = pointTriangle(b, i, a, place);
    if (square < best) {
      best = square;
      for (let c = 0; c < 3; c++) {
        nearest.first[c] = place[c]!;
        nearest.second[c] = b[i + c]!;
      }
    }
  }
  for (let i = 0; i < 9 && best > 0; i += 3)
    for (let k = 0; k < 9 && best > 0; k += 3) {
      const square = segments(a, i, i < 6 ? i + 3 : 0, b, k, k < 6 ? k + 3 : 0);
      if (square >= best) continue;
      best = square;
      nearest.first.set(place);
      nearest.second.set(other);
    }
  return best;
}

/** Square of the distance of corner `i` of `p` from a triangle; the nearest place into `out`. */
export function pointTriangle(p: Float64Array, i: number, t: Float64Array, out: Float64Array): number {
  const ax = t[0]!;
  const ay = t[1]!;
  const az = t[2]!;
  const bx = t[3]! - ax;
  const by = t[4]! - ay;
  const bz = t[5]! - az;
  const cx = t[6]! - ax;
  const cy = t[7]! - ay;
  const cz = t[8]! - az;
  const px = p[i]! - ax;
  const py = p[i + 1]! - ay;
  const pz = p[i + 2]! - az;
  const d1 = bx * px + by * py + bz * pz;
  const d2 = cx * px + cy * py + cz * pz;
  const d3 = d1 - (bx * bx + by * by + bz * bz);
  const d4 = d2 - (cx * bx + cy * by + cz * bz);
  const d5 = d1 - (bx * cx + by * cy + bz * cz);
  const d6 = d2 - (cx * cx + cy * cy + cz * cz);
  const vc = d1 * d4 - d3 * d2;
  const vb = d5 * d2 - d1 * d6;
  const va = d3 * d6 - d5 * d4;
  // Shares of both edges from the first corner, by which of corners, edges and face is nearest.
  let u = 0;
  let v = 0;
  if (d1 <= 0 && d2 <= 0) u = 0;
  else if (d3 >= 0 && d4 <= d3) u = 1;
  else if (vc <= 0 && d1 >= 0 && d3 <= 0) u = d1 / (d1 - d3);
  else if (d6 >= 0 && d5 <= d6) v = 1;
  else if (vb <= 0 && d2 >= 0 && d6 <= 0) v = d2 / (d2 - d6);
  else if (va <= 0 && d4 - d3 >= 0 && d5 - d6 >= 0) {
    v = (d4 - d3) / (d4 - d3 + (d5 - d6));
    u = 1 - v;
  } else {
    const sum = va + vb + vc;
    if (sum > 0) {
      u = vb / sum;
      v = vc / sum;
    }
  }
  const x = u * bx + v * cx;
  const y = u * by + v * cy;
  const z = u * bz + v * cz;
  out[0] = ax + x;
  out[1] = ay + y;
  out[2] = az + z;
  return (px - x) ** 2 + (py - y) ** 2 + (pz - z) ** 2;
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
