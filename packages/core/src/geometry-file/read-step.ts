import { hexColour, ImportError, type ImportedGeometry, type ImportedSolid } from './imported';

/** A part of what a STEP kernel gives: a mesh of a solid with the faces it is of. */
interface KernelMesh {
  name: string;
  color?: readonly [number, number, number] | null;
  attributes: { position: { array: readonly number[] } };
  index: { array: readonly number[] };
}
interface KernelNode {
  name: string;
  meshes: readonly number[];
  children: readonly KernelNode[];
}

/** The kernel that reads STEP files, as occt-import-js makes it: the same in a browser's worker and in Node. */
export interface StepKernel {
  ReadStepFile(
    content: Uint8Array,
    params: {
      linearUnit: 'meter';
      linearDeflectionType: 'bounding_box_ratio';
      linearDeflection: number;
      angularDeflection: number;
    },
  ): { success: boolean; root?: KernelNode; meshes?: readonly KernelMesh[] };
}

/** Round faces lie within a thousandth of the size of their solid, and 0.3 rad from chord to chord. */
const FINENESS = {
  linearDeflectionType: 'bounding_box_ratio',
  linearDeflection: 0.001,
  angularDeflection: 0.3,
} as const;

/**
 * Reads a STEP file (ISO 10303-21): its solids in metres, with the branches of the assembly, names and colours.
 * @throws ImportError
 */
export function readStep(content: Uint8Array, kernel: StepKernel): ImportedGeometry {
  const begin = new TextDecoder('latin1').decode(content.subarray(0, 400));
  if (!begin.includes('ISO-10303-21'))
    throw new ImportError('This is no STEP file: it does not begin with ISO-10303-21. Save it as STEP AP203, AP214 or AP242.'); // prettier-ignore
  let read: ReturnType<StepKernel['ReadStepFile']>;
  try {
    read = kernel.ReadStepFile(content, { linearUnit: 'meter', ...FINENESS });
  } catch {
    throw new ImportError('The STEP file breaks off or contradicts itself: save it anew, or in parts to find the faulty one.'); // prettier-ignore
  }
  const { root, meshes } = read;
  if (!read.success || !root || !meshes)
    throw new ImportError('The STEP file cannot be read: save it anew as AP214, without anything but solids.');
  const solids: ImportedSolid[] = [];
  const empty: string[] = [];
  const visit = (node: KernelNode, path: readonly string[]) => {
    for (const i of node.meshes) {
      const { name, color, attributes, index } = meshes[i]!;
      const called = name || node.name || 'Solid';
      // A branch of its own for each solid tells nothing that its name does not.
      const branch = node.meshes.length === 1 && node.children.length === 0 ? path : [...path, node.name];
      if (index.array.length === 0) empty.push(called);
      else
        solids.push({
          name: called,
          path: branch.filter(Boolean),
          colour: color ? hexColour(color) : null,
          mesh: { points: Float64Array.from(attributes.position.array), triangles: Uint32Array.from(index.array) },
        });
    }
    for (const child of node.children) visit(child, node.name ? [...path, node.name] : path);
  };
  visit(root, []);
  const notes = empty.length > 0 ? [`${empty.join(', ')}: ${empty.length === 1 ? 'this solid has' : 'these solids have'} no faces that could be read.`] : []; // prettier-ignore
  return { solids, metres: true, notes };
}
