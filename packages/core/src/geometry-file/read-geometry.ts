import { ImportError, IMPORT_LIMITS, limited, toldApart, type ImportedGeometry } from './imported';
import { readGltf } from './read-gltf';
import { readObj } from './read-obj';
import { readStep, type StepKernel } from './read-step';
import { readStl } from './read-stl';

/** Kinds of files of geometry, by the ending of their names. */
export const GEOMETRY_FILES = ['step', 'stp', 'stl', 'obj', 'glb', 'gltf'] as const;

/**
 * Reads a file of geometry by the ending of its name.
 * @param kernel gives what reads STEP files: it is large, and made only when one comes
 * @throws ImportError with what is wrong and what to do
 */
export async function readGeometry(
  content: Uint8Array,
  fileName: string,
  kernel: () => Promise<StepKernel>,
): Promise<ImportedGeometry> {
  const ending = /\.([a-z]+)$/i.exec(fileName)?.[1]?.toLowerCase() ?? '';
  const name = fileName.replace(/\.[a-z]+$/i, '') || 'Solid';
  if (content.length > IMPORT_LIMITS.bytes)
    throw new ImportError(`The file has ${Math.round(content.length / 1e6)} MB, of ${IMPORT_LIMITS.bytes / 1e6} at most: save it coarser, or in parts.`); // prettier-ignore
  const read = await readAs(ending, content, name, kernel);
  return limited({ ...read, solids: toldApart(read.solids) });
}

async function readAs(
  ending: string,
  content: Uint8Array,
  name: string,
  kernel: () => Promise<StepKernel>,
): Promise<ImportedGeometry> {
  switch (ending) {
    case 'step':
    case 'stp':
      return readStep(content, await kernel());
    case 'stl':
      return readStl(content, name);
    case 'obj':
      return readObj(content, name);
    case 'glb':
    case 'gltf':
      return readGltf(content);
    default:
      throw new ImportError(`Files that end in ${ending ? `.${ending}` : 'nothing'} are not read: save it as ${GEOMETRY_FILES.map((own) => `.${own}`).join(', ')}.`); // prettier-ignore
  }
}
