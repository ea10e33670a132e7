import { triangleCount, type Mesh } from '../solid';

/** A solid as a file has it. */
export interface ImportedSolid {
  /** As the file calls it; of solids of one name in one branch the second is told apart by a number. */
  name: string;
  /** Branches of the file's tree that it stands in, from the outermost. */
  path: readonly string[];
  /** #rrggbb; null where the file says none. */
  colour: string | null;
  /** Where it stands in the file, m, or in the unit of the file where that does not say. */
  mesh: Mesh;
}

/** What a file of geometry holds. */
export interface ImportedGeometry {
  solids: readonly ImportedSolid[];
  /** Whether lengths are metres: files of some kinds do not say what one is. */
  metres: boolean;
  /** What was not understood, or left out, as sentences. */
  notes: readonly string[];
}

/** A file of geometry that cannot be read; the message says what is wrong and what to do. */
export class ImportError extends Error {
  override name = 'ImportError';
}

/** The most that is read: more than an assembly needs to be seen and computed with. */
export const IMPORT_LIMITS = { bytes: 200e6, triangles: 4e6, solids: 5000 } as const;

/** Refuses what no machine needs and a browser cannot hold. @throws ImportError */
export function limited(geometry: ImportedGeometry): ImportedGeometry {
  const { solids } = geometry;
  const triangles = solids.reduce((sum, { mesh }) => sum + triangleCount(mesh), 0);
  if (triangles === 0)
    throw new ImportError('There is no solid in this file: save solids or faces, not lines or points alone.');
  if (solids.length > IMPORT_LIMITS.solids)
    throw new ImportError(`The file has ${solids.length} solids, of ${IMPORT_LIMITS.solids} at most: save it in parts, or leave screws and the like out.`); // prettier-ignore
  if (triangles > IMPORT_LIMITS.triangles)
    throw new ImportError(`The file has ${Math.round(triangles / 1000)} thousand triangles, of ${IMPORT_LIMITS.triangles / 1000} thousand at most: save it coarser, or in parts.`); // prettier-ignore
  return geometry;
}

/** Names of their own within each branch, so that a newer file's solids are found by them. */
export function toldApart(solids: readonly ImportedSolid[]): ImportedSolid[] {
  const seen = new Map<string, number>();
  return solids.map((solid) => {
    const key = JSON.stringify([...solid.path, solid.name]);
    const count = (seen.get(key) ?? 0) + 1;
    seen.set(key, count);
    return count === 1 ? solid : { ...solid, name: `${solid.name} ${count}` };
  });
}

/** The same geometry with its lengths taken as `unit` metres. */
export function inUnit({ solids, notes }: ImportedGeometry, unit: number): ImportedGeometry {
  const scaled = (mesh: Mesh): Mesh => ({ points: mesh.points.map((part) => part * unit), triangles: mesh.triangles });
  return { solids: solids.map((solid) => ({ ...solid, mesh: scaled(solid.mesh) })), metres: true, notes };
}

/** #rrggbb of shares of red, green and blue. */
export function hexColour(shares: readonly number[]): string {
  const part = (share: number) => Math.round(255 * Math.min(1, Math.max(0, share))).toString(16).padStart(2, '0'); // prettier-ignore
  return `#${shares.slice(0, 3).map(part).join('')}`;
}
