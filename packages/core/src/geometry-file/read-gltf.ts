import { Primitive, WebIO, type JSONDocument, type Material, type Node } from '@gltf-transform/core';
import { hexColour, ImportError, type ImportedGeometry, type ImportedSolid } from './imported';
import { welded } from '../solid';

/**
 * Reads a glTF file (in metres by its standard), as GLB or as text that holds its buffers; y up as here.
 * What lies in files beside it is not fetched.
 * @throws ImportError
 */
export async function readGltf(content: Uint8Array): Promise<ImportedGeometry> {
  const io = new WebIO();
  const isBinary = new TextDecoder('latin1').decode(content.subarray(0, 4)) === 'glTF';
  let document: Awaited<ReturnType<WebIO['readBinary']>>;
  try {
    document = isBinary ? await io.readBinary(content) : await io.readJSON(jsonOf(content));
  } catch (error) {
    if (error instanceof ImportError) throw error;
    throw new ImportError(`The glTF file cannot be read: ${(error as Error).message}. Save it anew as GLB, without compression.`); // prettier-ignore
  }
  const solids: ImportedSolid[] = [];
  let others = 0;
  const visit = (node: Node, path: readonly string[]) => {
    const own = node.getMesh();
    const children = node.listChildren();
    const branch = node.getName() && children.length > 0 ? [...path, node.getName()] : path;
    const primitives = own?.listPrimitives() ?? [];
    primitives.forEach((primitive, i) => {
      const position = primitive.getAttribute('POSITION');
      if (primitive.getMode() !== Primitive.Mode.TRIANGLES || !position) return void others++;
      const matrix = node.getWorldMatrix();
      const points = new Float64Array(3 * position.getCount());
      const at: number[] = [];
      for (let k = 0; k < position.getCount(); k++) {
        position.getElement(k, at);
        for (let row = 0; row < 3; row++)
          points[3 * k + row] =
            matrix[row]! * at[0]! + matrix[row + 4]! * at[1]! + matrix[row + 8]! * at[2]! + matrix[row + 12]!;
      }
      const index = primitive.getIndices()?.getArray();
      const triangles = index ? Uint32Array.from(index) : Uint32Array.from({ length: position.getCount() }, (_, k) => k); // prettier-ignore
      if (!points.every(Number.isFinite) || triangles.some((k) => k >= position.getCount()))
        throw new ImportError(`“${node.getName()}” has corners that are not in the file: save it anew.`);
      const called = node.getName() || own!.getName() || 'Solid';
      solids.push({
        name: primitives.length > 1 ? `${called} ${i + 1}` : called,
        path: branch,
        colour: colourOf(primitive.getMaterial()),
        mesh: welded({ points, triangles: triangles.slice(0, triangles.length - (triangles.length % 3)) }),
      });
    });
    for (const child of children) visit(child, branch);
  };
  const root = document.getRoot();
  const scene = root.getDefaultScene() ?? root.listScenes()[0];
  for (const node of scene?.listChildren() ?? []) visit(node, []);
  const notes = [
    ...(others > 0 ? [`${others === 1 ? 'One piece' : `${others} pieces`} of lines, points or strips: left out.`] : []),
    ...(root.listAnimations().length > 0 ? ['Motions in the file are not taken over: they are made here.'] : []),
    ...(root.listSkins().length > 0 ? ['Skins that bend are taken as they stand.'] : []),
  ];
  return { solids, metres: true, notes };
}

/** @throws ImportError where what it needs lies beside it */
function jsonOf(content: Uint8Array): JSONDocument {
  const json = JSON.parse(new TextDecoder().decode(content)) as JSONDocument['json'];
  const beside = [...(json.buffers ?? []), ...(json.images ?? [])].flatMap(({ uri }) => uri && !uri.startsWith('data:') ? [uri] : []); // prettier-ignore
  if ((json.buffers ?? []).some(({ uri }) => uri !== undefined && !uri.startsWith('data:')))
    throw new ImportError(`The file needs ${beside[0]}, which lies beside it: save it as GLB, which holds everything.`);
  return { json: { ...json, images: [], textures: [] }, resources: {} };
}

function colourOf(material: Material | null): string | null {
  if (!material) return null;
  // Colours of the standard are linear; on screens they are not (sRGB, IEC 61966-2-1).
  const screen = (share: number) => (share <= 0.0031308 ? 12.92 * share : 1.055 * share ** (1 / 2.4) - 0.055);
  return hexColour(material.getBaseColorFactor().slice(0, 3).map(screen));
}
