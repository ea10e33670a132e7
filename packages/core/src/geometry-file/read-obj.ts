import { OBJLoader } from 'three/examples/jsm/loaders/OBJLoader.js';
import { Mesh as Drawn, type Material, type MeshPhongMaterial } from 'three';
import { ImportError, type ImportedGeometry, type ImportedSolid } from './imported';
import { meshOf } from './read-stl';

/** Reads an OBJ file: its objects and groups as solids; it has no unit. @param name where the file says none @throws ImportError */
export function readObj(content: Uint8Array, name: string): ImportedGeometry {
  const text = new TextDecoder().decode(content);
  const { group, strange } = parsed(text);
  const solids: ImportedSolid[] = [];
  let lines = 0;
  group.traverse((child) => {
    if (!(child instanceof Drawn)) return void (child !== group && lines++);
    const { array } = child.geometry.getAttribute('position') as { array: ArrayLike<number> };
    if (!Array.from(array).every(Number.isFinite))
      throw new ImportError(`“${child.name || name}” has corners that the OBJ file does not give: save it anew.`);
    const materials = ([] as Material[]).concat(child.material as Material | Material[]);
    const [own] = materials;
    const colour = own && 'color' in own && own.name === '' ? null : colourOf(own as MeshPhongMaterial | undefined);
    solids.push({ name: child.name || name, path: [], colour, mesh: meshOf(child.geometry) });
  });
  const library = /^mtllib\s+(\S.*)$/m.exec(text)?.[1]?.trim();
  const notes = [
    ...(library ? [`Colours stand in ${library}, which an OBJ file only names: they are not taken over.`] : []),
    ...(strange.length > 0
      ? [
          `${strange.length === 1 ? 'One line' : `${strange.length} lines`} not understood, such as ${strange[0]}: left out.`,
        ]
      : []),
    ...(lines > 0 ? [`${lines === 1 ? 'One object' : `${lines} objects`} of lines or points alone: left out.`] : []),
  ];
  return { solids, metres: false, notes };
}

/** Words with which the lines that are read begin; comments and empty lines say nothing. */
const KNOWN = new Set(['v', 'vn', 'vt', 'f', 'l', 'p', 'o', 'g', 's', 'usemtl', 'mtllib']);

/** What the loader makes of a text, without the lines that it does not know. */
function parsed(text: string): { group: ReturnType<OBJLoader['parse']>; strange: string[] } {
  const strange: string[] = [];
  // A line that ends in a backslash goes on in the next one.
  const lines = text.replace(/\\\r?\n/g, ' ').split(/\r?\n/);
  const known = lines.filter((line) => {
    const [word = ''] = line.trim().split(/\s/, 1);
    if (word === '' || word.startsWith('#')) return false;
    if (!KNOWN.has(word)) strange.push(`“${line.trim().slice(0, 40)}”`);
    return KNOWN.has(word);
  });
  try {
    return { group: new OBJLoader().parse(known.join('\n')), strange };
  } catch {
    throw new ImportError('The OBJ file cannot be read: save it anew, with faces of corners by number.');
  }
}

/** A material that only a library describes is white here: no colour that could be meant. */
function colourOf(material: MeshPhongMaterial | undefined): string | null {
  if (!material?.color) return null;
  const hex = `#${material.color.getHexString()}`;
  return hex === '#ffffff' ? null : hex;
}
