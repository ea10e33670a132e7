import { sha256 } from '@noble/hashes/sha2';
import { bytesToHex } from '@noble/hashes/utils';
import type { Point3 } from '../geometry';
import {
  boundsOf,
  crossingOf,
  meshVolume,
  oriented,
  soundnessOf,
  soundnessWords,
  triangleCount,
  type Mesh,
  type VolumeProperties,
} from '../solid';
import type { ImportedGeometry } from './imported';
import { packGeometry, type KeptSolid } from './kept';

/** What a document says of a solid of a file. */
export interface ExaminedSolid {
  /** Under which it is found in its file, and in a newer one: its branches and its name. */
  key: string;
  name: string;
  path: readonly string[];
  colour: string | null;
  triangles: number;
  /** Of its corners and triangles: another one tells that it was changed. */
  digest: string;
  /** What it holds; null where it is no closed skin. */
  holds: VolumeProperties | null;
  /** What keeps it from holding anything, or makes it doubtful, with what can be done. */
  problem: string | null;
  low: Point3;
  high: Point3;
}

export interface ExaminedFile {
  solids: ExaminedSolid[];
  notes: string[];
  /** To be kept, as {@link packGeometry} makes it. */
  content: Uint8Array;
}

/** The name of a solid under which documents find it. */
export const keyOf = ({ path, name }: { path: readonly string[]; name: string }): string => [...path, name].join(' / ');

/** As it is kept: in single precision, so that what is computed is computed of what is kept. */
const asKept = ({ points, triangles }: Mesh): Mesh => ({
  points: Float64Array.from(Float32Array.from(points)),
  triangles,
});

function digestOf({ points, triangles }: Mesh): string {
  const hash = sha256.create();
  hash.update(new Uint8Array(Float32Array.from(points).buffer));
  hash.update(new Uint8Array(Uint32Array.from(triangles).buffer));
  return bytesToHex(hash.digest()).slice(0, 32);
}

/**
 * Looks at every solid of a file: what it holds, what is wrong with it; turned edges are turned.
 * @param progress is told the share done, 0 to 1
 */
export async function examined(
  { solids, notes }: ImportedGeometry,
  progress: (share: number) => void = () => undefined,
): Promise<ExaminedFile> {
  const kept: KeptSolid[] = [];
  const keys = new Set<string>();
  const told = solids.map((solid, i): ExaminedSolid => {
    let mesh = asKept(solid.mesh);
    let soundness = soundnessOf(mesh);
    if (soundness.turnedEdges > 0 || soundness.insideOut) {
      mesh = oriented(mesh);
      soundness = soundnessOf(mesh);
    }
    let key = keyOf(solid);
    for (let n = 2; keys.has(key); n++) key = `${keyOf(solid)} ${n}`;
    keys.add(key);
    kept.push({ key, mesh });
    const crossing = soundness.closed ? crossingOf(mesh) : null;
    const box = boundsOf(mesh)!;
    progress((i + 1) / solids.length);
    return {
      key,
      name: solid.name,
      path: solid.path,
      colour: solid.colour,
      triangles: triangleCount(mesh),
      digest: digestOf(mesh),
      holds: soundness.closed ? meshVolume(mesh) : null,
      problem: soundnessWords(soundness) ?? (crossing ? CROSSES : null),
      low: box.low,
      high: box.high,
    };
  });
  return { solids: told, notes: [...notes], content: await packGeometry(kept) };
}

const CROSSES =
  'Its skin crosses itself, so what it holds is counted twice in places: mend it where it was drawn, or type its mass.';
