import { cross, dot, length3, minus, plus, unit3, type Point3 } from '../geometry';
import { acrossOf, axisOfNormals, fitBall, fitCentre, fitRound, goAllWays, type RoundFit } from './fits';
import { cornersAt, pointAt, welded, type Mesh } from './mesh';
import { patchesOf, type Patch } from './patches';

/** A face of a solid that something can be placed by, with how far its triangles lie from it (m). */
export type Face = { triangles: readonly number[]; area: number; residual: number } & (
  | { kind: 'flat'; at: Point3; normal: Point3 }
  | ({ kind: 'hole' } & RoundFit)
  | ({ kind: 'shaft' } & RoundFit)
  | { kind: 'ball'; at: Point3; radius: number }
  | { kind: 'hollow'; at: Point3; radius: number }
);

/** Patches that meet at less than this (cosine) go round smoothly. */
const SMOOTH = Math.cos(46 * (Math.PI / 180));
/** Corners lie on a round face within this share of its radius. */
const NEAR = 2e-3;
/** Normals lie square to an axis, or along a radius, within this (sine). */
const ASKEW = 0.2;
/** A round face goes at least so far round, rad, over so many patches. */
const LEAST_ROUND = Math.PI / 4;
const LEAST_PATCHES = 4;

/**
 * Finds flat faces, holes, shafts, balls and hollows of a solid from its triangles, the largest first. Round faces are
 * sought from two patches that meet smoothly, and grown as long as corners lie on them; what is neither flat nor round
 * nor a ball (cones, fillets along curves, free forms) is left out.
 * @returns the welded mesh, by whose triangles the faces go
 */
export function facesOf(surface: Mesh): { mesh: Mesh; faces: Face[] } {
  const mesh = welded(surface);
  const patches = patchesOf(mesh);
  const search = new FaceSearch(mesh, patches);
  return { mesh, faces: search.all().sort((a, b) => b.area - a.area) };
}

/** The way from an axis straight to a point, and how far that is. */
function fromAxis(point: Point3, { axis, at }: Pick<RoundFit, 'axis' | 'at'>): { way: Point3; far: number } {
  const from = minus(point, at);
  const way = plus(from, axis, -dot(from, axis));
  return { way, far: length3(way) };
}

class FaceSearch {
  private readonly taken: Uint8Array;

  constructor(
    private readonly mesh: Mesh,
    private readonly patches: readonly Patch[],
  ) {
    this.taken = new Uint8Array(patches.length);
  }

  all(): Face[] {
    const faces: Face[] = [];
    // Balls first: narrow strips of one look like strips of a shaft.
    for (const seek of [this.ball, this.round])
      this.patches.forEach((patch, p) => {
        for (const q of patch.neighbours.keys()) {
          if (this.taken[p] || this.taken[q] || dot(patch.normal, this.patches[q]!.normal) < SMOOTH) continue;
          const face = seek.call(this, p, q);
          if (face) faces.push(face);
        }
      });
    this.patches.forEach((patch, p) => {
      if (!this.taken[p] && this.standsAlone(p)) faces.push(this.flat(patch));
    });
    return faces;
  }

  private corner(i: number): Point3 {
    return pointAt(this.mesh, i);
  }

  /** Patches that hang together with two and fit as they do. */
  private grown(p: number, q: number, fits: (patch: Patch) => boolean): number[] {
    const members = [p, q];
    const seen = new Set(members);
    for (const at of members)
      for (const next of this.patches[at]!.neighbours.keys()) {
        if (seen.has(next) || this.taken[next]) continue;
        seen.add(next);
        const isSmooth = dot(this.patches[at]!.normal, this.patches[next]!.normal) > SMOOTH;
        if (isSmooth && fits(this.patches[next]!)) members.push(next);
        // It may be met from another side.
        else seen.delete(next);
      }
    return members;
  }

  private take(members: readonly number[]): Pick<Face, 'triangles' | 'area'> {
    for (const p of members) this.taken[p] = 1;
    return {
      triangles: members.flatMap((p) => this.patches[p]!.triangles),
      area: members.reduce((sum, p) => sum + this.patches[p]!.area, 0),
    };
  }

  private cornersOf(members: readonly number[]): Point3[] {
    return [...new Set(members.flatMap((p) => this.patches[p]!.corners))].map((i) => this.corner(i));
  }

  /** A hole or shaft of which two patches are facets: their edge lies along its axis. */
  private round(p: number, q: number): Face | null {
    const [one, other] = [this.patches[p]!, this.patches[q]!];
    const [from, to] = one.neighbours.get(q)!;
    const edge = minus(this.corner(to), this.corner(from));
    const turn = cross(one.normal, other.normal);
    if (length3(edge) === 0 || length3(turn) < 1e-6) return null;
    const axis = unit3(turn);
    if (Math.abs(dot(unit3(edge), axis)) < 1 - 1e-4) return null;
    const [u, v] = acrossOf(axis);
    const circle = fitCentre(this.cornersOf([p, q]).map((at) => [dot(at, u), dot(at, v)]));
    if (!circle) return null;
    const at = plus(plus([0, 0, 0], u, circle.at[0]), v, circle.at[1]);
    const sense = this.outward(one, { axis, at });
    const lies = (on: Pick<RoundFit, 'axis' | 'at' | 'radius'>) => (patch: Patch) =>
      Math.abs(dot(patch.normal, on.axis)) < ASKEW &&
      this.outward(patch, on) === sense &&
      patch.corners.every((i) => Math.abs(fromAxis(this.corner(i), on).far - on.radius) < NEAR * on.radius);
    const begin = lies({ axis, at, radius: circle.radius });
    if (!begin(one) || !begin(other)) return null;
    let members = this.grown(p, q, begin);
    let fit: RoundFit | null = null;
    // Two facets tell the axis but roughly: what was grown tells it better, and then more of it is found.
    for (let more = true; more;) {
      if (members.length < LEAST_PATCHES) return null;
      const facets = members.flatMap((m) => this.patches[m]!.triangles).map((t) => cornersAt(this.mesh, t));
      fit = fitRound(axisOfNormals(members.map((m) => this.patches[m]!)), facets);
      if (!fit) return null;
      const wider = this.grown(p, q, lies(fit));
      more = wider.length > members.length;
      if (more) members = wider;
    }
    if (!fit || fit.round < LEAST_ROUND || fit.residual > NEAR * fit.radius) return null;
    return { kind: sense > 0 ? 'shaft' : 'hole', ...this.take(members), ...fit };
  }

  /** Whether a patch looks away from an axis (1) or towards it (−1). */
  private outward(patch: Patch, on: Pick<RoundFit, 'axis' | 'at'>): number {
    return Math.sign(dot(fromAxis(this.corner(patch.corners[0]!), on).way, patch.normal));
  }

  /** A ball or hollow of which two patches are facets. */
  private ball(p: number, q: number): Face | null {
    const first = fitBall(this.cornersOf([p, q, ...this.around(p)]));
    if (!first) return null;
    const { at, radius } = first;
    const lies = (patch: Patch) => {
      const corners = patch.corners.map((i) => minus(this.corner(i), at));
      const middle = corners.reduce((sum, part) => plus(sum, part, 1 / corners.length), [0, 0, 0] as Point3);
      const along = dot(unit3(middle), patch.normal);
      return (
        corners.every((part) => Math.abs(length3(part) - radius) < NEAR * radius) && 1 - along * along < ASKEW * ASKEW
      );
    };
    if (!lies(this.patches[p]!) || !lies(this.patches[q]!)) return null;
    const members = this.grown(p, q, lies);
    // One ring of facets alone may as well be of a cone.
    if (members.length < 3 * LEAST_PATCHES || !goAllWays(members.map((m) => this.patches[m]!))) return null;
    const fit = fitBall(this.cornersOf(members));
    if (!fit || fit.residual > NEAR * fit.radius) return null;
    const outward = dot(minus(this.corner(this.patches[p]!.corners[0]!), fit.at), this.patches[p]!.normal) > 0;
    return { kind: outward ? 'ball' : 'hollow', ...this.take(members), ...fit };
  }

  /** Patches that meet one smoothly. */
  private around(p: number): number[] {
    const { neighbours, normal } = this.patches[p]!;
    return [...neighbours.keys()].filter((q) => !this.taken[q] && dot(this.patches[q]!.normal, normal) > SMOOTH);
  }

  /** Whether a patch is a flat face and no facet of something bent: nothing like it goes on smoothly. */
  private standsAlone(p: number): boolean {
    const around = this.around(p);
    return around.every((q) => this.patches[p]!.area > 4 * this.patches[q]!.area);
  }

  private flat(patch: Patch): Face {
    const { normal, triangles, area } = patch;
    let [total, at] = [0, [0, 0, 0] as Point3];
    for (const t of triangles) {
      const [a, b, c] = cornersAt(this.mesh, t);
      const own = length3(cross(minus(b, a), minus(c, a))) / 2;
      at = plus(at, plus(plus(a, b), c), own / 3);
      total += own;
    }
    const middle = at.map((part) => part / (total || 1)) as [number, number, number];
    const residual = Math.max(...patch.corners.map((i) => Math.abs(dot(minus(this.corner(i), middle), normal))));
    return { kind: 'flat', triangles, area, residual, at: middle, normal };
  }
}
