import { Document, WebIO } from '@gltf-transform/core';
import type { Mesh } from '../solid';
import { ImportError } from './imported';

/** A solid under the name by which documents find it. */
export interface KeptSolid {
  key: string;
  mesh: Mesh;
}

/** Geometry as it is kept beside documents: one GLB, each solid a node of its own by its key, corners in single precision. */
export async function packGeometry(solids: readonly KeptSolid[]): Promise<Uint8Array> {
  const document = new Document();
  const buffer = document.createBuffer();
  const scene = document.createScene();
  for (const { key, mesh } of solids) {
    const points = document.createAccessor().setType('VEC3').setArray(Float32Array.from(mesh.points)).setBuffer(buffer);
    const corners = document.createAccessor().setType('SCALAR').setArray(mesh.triangles).setBuffer(buffer);
    const primitive = document.createPrimitive().setAttribute('POSITION', points).setIndices(corners);
    scene.addChild(document.createNode(key).setMesh(document.createMesh(key).addPrimitive(primitive)));
  }
  return new WebIO().writeBinary(document);
}

/** Kept geometry, by key. @throws ImportError */
export async function unpackGeometry(content: Uint8Array): Promise<Map<string, Mesh>> {
  let document: Document;
  try {
    document = await new WebIO().readBinary(content);
  } catch {
    throw new ImportError('The geometry that was kept cannot be read: import the file anew.');
  }
  const found = new Map<string, Mesh>();
  for (const node of document.getRoot().listNodes()) {
    const [primitive] = node.getMesh()?.listPrimitives() ?? [];
    const points = primitive?.getAttribute('POSITION')?.getArray();
    const triangles = primitive?.getIndices()?.getArray();
    if (points && triangles)
      found.set(node.getName(), { points: Float64Array.from(points), triangles: Uint32Array.from(triangles) });
  }
  return found;
}
