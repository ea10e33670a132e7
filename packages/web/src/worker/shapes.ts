import { hullOf, packMachineZip, unpackGeometry, type MachineZip } from '@yoke/core/geometry-file';
import {
  facesOf,
  meshVolume,
  sharpEdges,
  triangleCount,
  type Face,
  type Mesh,
  type VolumeProperties,
} from '@yoke/core/solid';
import { expose, transfer } from 'comlink';
import { MeshoptSimplifier } from 'meshoptimizer/simplifier';

/** A solid as it is drawn and computed with. */
export interface LoadedSolid {
  mesh: Mesh;
  /** Both ends of each sharp edge, m. */
  edges: Float32Array;
  /** Triangles of fewer corners, for pictures that follow each other quickly; null where there are few enough. */
  coarse: Uint32Array | null;
}

/** Triangles of a file that are drawn while the picture moves, about; and of a solid at least. */
const MOVING = 30_000;
const FEWEST = 60;
/** How far the coarse skin may lie beside the true one: a share of the size of the solid. */
const OFF = 0.05;

/** A skin with so great a share of its triangles, about, on corners of its own. */
function coarser({ points, triangles }: Mesh, share: number): Uint32Array | null {
  const wanted = Math.max(FEWEST, Math.round((triangles.length / 3) * share));
  if (triangles.length / 3 <= wanted) return null;
  const [found] = MeshoptSimplifier.simplify(triangles, Float32Array.from(points), 3, 3 * wanted, OFF);
  return found;
}

/** What is worked out of solids beside the page. */
const worker = {
  /** Opens kept geometry: its solids by their keys. */
  async open(content: Uint8Array): Promise<[string, LoadedSolid][]> {
    const solids = [...(await unpackGeometry(content))];
    const all = solids.reduce((sum, [, mesh]) => sum + triangleCount(mesh), 0);
    await MeshoptSimplifier.ready;
    const found = solids.map(([key, mesh]): [string, LoadedSolid] => {
      const coarse = all > MOVING ? coarser(mesh, MOVING / all) : null;
      return [key, { mesh, edges: sharpEdges(mesh), coarse }];
    });
    return transfer(
      found,
      found.flatMap(([, { mesh, edges, coarse }]) =>
        [mesh.points, mesh.triangles, edges, coarse].flatMap((own) => (own ? [own.buffer] : [])),
      ),
    );
  },
  /** What the hull about a solid holds. */
  hullVolume: (mesh: Mesh): VolumeProperties => meshVolume(hullOf(mesh)),
  /** A machine and its geometry as one file. */
  pack(zip: MachineZip): Uint8Array<ArrayBuffer> {
    const content = packMachineZip(zip);
    return transfer(content, [content.buffer]);
  },
  /** Faces of a solid that something can be placed by. */
  faces: (mesh: Mesh): Face[] => facesOf(mesh).faces,
};

export type ShapesWorker = typeof worker;
expose(worker);
