import { hullOf, packMachineZip, unpackGeometry, type MachineZip } from '@yoke/core/geometry-file';
import { facesOf, meshVolume, sharpEdges, type Face, type Mesh, type VolumeProperties } from '@yoke/core/solid';
import { expose, transfer } from 'comlink';

/** A solid as it is drawn and computed with. */
export interface LoadedSolid {
  mesh: Mesh;
  /** Both ends of each sharp edge, m. */
  edges: Float32Array;
}

/** What is worked out of solids beside the page. */
const worker = {
  /** Opens kept geometry: its solids by their keys. */
  async open(content: Uint8Array): Promise<[string, LoadedSolid][]> {
    const found = [...(await unpackGeometry(content))].map(([key, mesh]): [string, LoadedSolid] => [
      key,
      { mesh, edges: sharpEdges(mesh) },
    ]);
    return transfer(
      found,
      found.flatMap(([, { mesh, edges }]) => [mesh.points.buffer, mesh.triangles.buffer, edges.buffer]),
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
