import { STLLoader } from 'three/examples/jsm/loaders/STLLoader.js';
import type { BufferGeometry } from 'three';
import { ImportError, type ImportedGeometry } from './imported';
import { welded, type Mesh } from '../solid';

/** Part of a geometry of three.js as a mesh; corners that meet are joined. */
export function meshOf(geometry: BufferGeometry, begin = 0, count = Infinity): Mesh {
  const { array } = geometry.getAttribute('position');
  const index = geometry.getIndex();
  const all = index ? Uint32Array.from(index.array) : Uint32Array.from({ length: array.length / 3 }, (_, i) => i);
  const triangles = all.subarray(begin, Math.min(all.length, begin + count));
  return welded(compact({ points: Float64Array.from(array), triangles: triangles.slice(0, triangles.length - (triangles.length % 3)) })); // prettier-ignore
}

/** Without corners that no triangle has. */
function compact({ points, triangles }: Mesh): Mesh {
  const place = new Int32Array(points.length / 3).fill(-1);
  const kept: number[] = [];
  const moved = triangles.map((i) => {
    if (place[i]! < 0) {
      place[i] = kept.length / 3;
      kept.push(points[3 * i]!, points[3 * i + 1]!, points[3 * i + 2]!);
    }
    return place[i]!;
  });
  return { points: Float64Array.from(kept), triangles: moved };
}

/** Reads an STL file, in text or binary: it has no unit. @param name of the solid where the file says none @throws ImportError */
export function readStl(content: Uint8Array, name: string): ImportedGeometry {
  let geometry: BufferGeometry;
  try {
    // A copy, so that the buffer begins where the file does.
    geometry = new STLLoader().parse(content.slice().buffer);
  } catch {
    throw new ImportError('The STL file breaks off before its last triangle: save it anew.');
  }
  const position = geometry.getAttribute('position');
  if (!position || position.count === 0)
    throw new ImportError('There is no triangle in this STL file: it may be of another kind, or empty.');
  if (!Array.from(position.array).every(Number.isFinite))
    throw new ImportError('The STL file has corners that are no numbers: save it anew.');
  const names = (geometry.userData.groupNames ?? []) as (string | undefined)[];
  const groups = geometry.groups.length > 1 ? geometry.groups : [{ start: 0, count: Infinity }];
  const solids = groups.map(({ start, count }, i) => ({
    name: names[i]?.trim() || (groups.length > 1 ? `${name} ${i + 1}` : name),
    path: [],
    colour: null,
    mesh: meshOf(geometry, start, count),
  }));
  return { solids, metres: false, notes: [] };
}
