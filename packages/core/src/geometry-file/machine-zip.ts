import { sha256 } from '@noble/hashes/sha2';
import { bytesToHex } from '@noble/hashes/utils';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { ImportError } from './imported';

const DOCUMENT = 'machine.yoke.json';
const GEOMETRY = /^geometry\/([0-9a-f]{64})\.glb$/;
/** The most that such a file may hold once it is unpacked, bytes. */
const MOST_BYTES = 600e6;

/** A machine as it is handed over: its document as text, and the geometry that it names, by its SHA-256. */
export interface MachineZip {
  document: string;
  geometry: ReadonlyMap<string, Uint8Array>;
}

/** Packs a machine with its geometry into one file (ZIP): `machine.yoke.json`, and `geometry/` with a GLB for each file of solids. */
export function packMachineZip({ document, geometry }: MachineZip): Uint8Array<ArrayBuffer> {
  const files: Record<string, Uint8Array> = { [DOCUMENT]: strToU8(document) };
  for (const [hash, content] of geometry) files[`geometry/${hash}.glb`] = content;
  return new Uint8Array(zipSync(files, { level: 6 }));
}

/** Opens such a file again. @throws ImportError with what is wrong and what to do */
export function readMachineZip(content: Uint8Array): MachineZip {
  let files: Record<string, Uint8Array>;
  let held = 0;
  try {
    files = unzipSync(content, {
      filter: ({ name, originalSize }) => {
        if (name !== DOCUMENT && !GEOMETRY.test(name)) return false;
        held += originalSize;
        if (held > MOST_BYTES) throw new ImportError(`The file holds more than ${MOST_BYTES / 1e6} MB: take geometry out of the machine that is not needed.`); // prettier-ignore
        return true;
      },
    });
  } catch (error) {
    if (error instanceof ImportError) throw error;
    throw new ImportError('The ZIP file is broken or cut short: have it sent again.');
  }
  const document = files[DOCUMENT];
  if (!document) throw new ImportError(`There is no ${DOCUMENT} in this ZIP file: save the machine with its shapes in Deliver, and take that file.`); // prettier-ignore
  const geometry = new Map<string, Uint8Array>();
  for (const [name, own] of Object.entries(files)) {
    const hash = GEOMETRY.exec(name)?.[1];
    if (hash === undefined) continue;
    if (bytesToHex(sha256(own)) !== hash)
      throw new ImportError(`${name} was changed on its way: have the file sent again.`);
    geometry.set(hash, own);
  }
  return { document: strFromU8(document), geometry };
}
