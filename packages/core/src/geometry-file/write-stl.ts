import { cross, length3, minus } from '../geometry';
import { cornersAt, triangleCount, type Mesh } from '../solid';

/** Bytes of a header, and of a triangle. */
const HEAD = 84;
const FACET = 50;

/**
 * Writes a surface as binary STL, in millimetres: the format knows no unit, and that is what is taken for granted.
 * @param name stands in the header
 */
export function writeStl(mesh: Mesh, name: string): Uint8Array<ArrayBuffer> {
  const count = triangleCount(mesh);
  const buffer = new ArrayBuffer(HEAD + FACET * count);
  const view = new DataView(buffer);
  // A header that begins with “solid” would be taken for the text form.
  new TextEncoder().encodeInto(`Yoke, mm: ${name}`.slice(0, 78), new Uint8Array(buffer, 0, 80));
  view.setUint32(80, count, true);
  for (let t = 0; t < count; t++) {
    const [a, b, c] = cornersAt(mesh, t);
    const n = cross(minus(b, a), minus(c, a));
    const size = length3(n) || 1;
    const at = HEAD + FACET * t;
    n.forEach((part, k) => view.setFloat32(at + 4 * k, part / size, true));
    [a, b, c].forEach((corner, i) => corner.forEach((part, k) => view.setFloat32(at + 12 + 12 * i + 4 * k, 1000 * part, true))); // prettier-ignore
  }
  return new Uint8Array(buffer);
}
