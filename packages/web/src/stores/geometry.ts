import {
  allSolids,
  machineText,
  mirroredMesh,
  solidMesh,
  type BodySolid,
  type GeometryFile,
  type Machine,
  type OwnShape,
} from '@yoke/core';
import { sharpEdges, type Face, type Mesh, type VolumeProperties } from '@yoke/core/solid';
import { transfer, wrap, type Remote } from 'comlink';
import { defineStore } from 'pinia';
import { computed, shallowRef } from 'vue';
import { api } from '@/api/client';
import type { LoadedSolid, ShapesWorker } from '@/worker/shapes';
import { useMachine } from './machine';

type FileState = { kind: 'loading' } | { kind: 'there'; solids: Map<string, LoadedSolid> } | { kind: 'missing'; message: string }; // prettier-ignore

const flipped = (edges: Float32Array) => edges.map((part, i) => (i % 3 === 0 ? -part : part));
const inMirror = ({ mesh, edges, coarse }: LoadedSolid): LoadedSolid => ({
  mesh: mirroredMesh(mesh),
  edges: flipped(edges),
  coarse,
});
function ownLoaded(shape: OwnShape): LoadedSolid {
  const mesh = solidMesh({ shape }, null)!;
  return { mesh, edges: sharpEdges(mesh), coarse: null };
}

/** The true shapes of the machine: loaded when they are first wanted, and kept while the page is open. */
export const useGeometry = defineStore('geometry', () => {
  const machine = useMachine();
  /** Kept geometry by its hash. */
  const files = shallowRef<ReadonlyMap<string, FileState>>(new Map());
  const put = (hash: string, state: FileState) => (files.value = new Map(files.value).set(hash, state));

  let helper: Remote<ShapesWorker> | null = null;
  const shapesWorker = (): Remote<ShapesWorker> =>
    (helper ??= wrap<ShapesWorker>(new Worker(new URL('../worker/shapes.ts', import.meta.url), { type: 'module' })));

  /** Opens geometry that this page has at hand. */
  async function open(hash: string, content: Uint8Array): Promise<void> {
    put(hash, { kind: 'loading' });
    try {
      const solids = await shapesWorker().open(transfer(content, [content.buffer]));
      put(hash, { kind: 'there', solids: new Map(solids) });
    } catch (error) {
      put(hash, { kind: 'missing', message: (error as Error).message });
    }
  }
  async function load(hash: string): Promise<void> {
    put(hash, { kind: 'loading' });
    try {
      await open(hash, await api.readGeometry(hash));
    } catch (error) {
      put(hash, { kind: 'missing', message: (error as Error).message });
    }
  }
  /** Loads again what could not be loaded. */
  function again(): void {
    for (const [hash, { kind }] of files.value) if (kind === 'missing') void load(hash);
  }

  const wanted = computed<readonly GeometryFile[]>(() => machine.document?.mechanism.shapes?.files ?? []);
  /** What was asked for: nothing is loaded before somebody wants to see it or compute with it. */
  const asked = new Set<string>();
  function want(hash: string): void {
    if (asked.has(hash)) return;
    asked.add(hash);
    // Not while whoever asks is being worked out.
    queueMicrotask(() => void (files.value.has(hash) || load(hash)));
  }
  /** Files whose geometry could not be had, in words. */
  const missing = computed(() =>
    wanted.value.flatMap(({ name, hash }) => {
      const state = files.value.get(hash);
      return state?.kind === 'missing' ? [`${name}: ${state.message}`] : [];
    }),
  );
  const loading = computed(() => wanted.value.some(({ hash }) => files.value.get(hash)?.kind === 'loading'));

  const own = new WeakMap<OwnShape, LoadedSolid>();
  const mirrored = new WeakMap<LoadedSolid, LoadedSolid>();
  /** A solid as it is drawn; null while it is not there. */
  function loadedOf({ shape, mirrored: isMirrored }: Pick<BodySolid, 'shape' | 'mirrored'>): LoadedSolid | null {
    let found: LoadedSolid | undefined;
    if (shape.kind === 'file') {
      const hash = wanted.value.find(({ id }) => id === shape.file)?.hash;
      if (hash !== undefined) want(hash);
      const state = hash === undefined ? undefined : files.value.get(hash);
      found = state?.kind === 'there' ? state.solids.get(shape.key) : undefined;
    } else {
      found = own.get(shape);
      if (!found) own.set(shape, (found = ownLoaded(shape)));
    }
    if (!found || !isMirrored) return found ?? null;
    const known = mirrored.get(found) ?? inMirror(found);
    mirrored.set(found, known);
    return known;
  }

  const faces = new WeakMap<Mesh, Promise<Face[]>>();
  /** Faces of a solid that something can be placed by: worked out once, beside the page. */
  function facesOf(mesh: Mesh): Promise<Face[]> {
    const known = faces.get(mesh) ?? shapesWorker().faces({ points: mesh.points, triangles: mesh.triangles });
    faces.set(mesh, known);
    return known;
  }

  /** What the hull about a solid holds. */
  const hullVolume = ({ points, triangles }: Mesh): Promise<VolumeProperties> =>
    shapesWorker().hullVolume({ points, triangles });

  /**
   * A machine with its shapes as one file.
   * @throws Error that names a file of shapes which is not there
   */
  async function packed(whole: Machine): Promise<Uint8Array<ArrayBuffer>> {
    const geometry = new Map<string, Uint8Array>();
    for (const { name, hash } of whole.mechanism.shapes?.files ?? [])
      try {
        geometry.set(hash, await api.readGeometry(hash));
      } catch (error) {
        throw new Error(`The machine was not saved with its shapes. ${name}: ${(error as Error).message}`, { cause: error }); // prettier-ignore
      }
    return shapesWorker().pack({ document: machineText(whole), geometry });
  }

  /** Every solid of the machine with its carrier. */
  const all = computed(() => (machine.document ? allSolids(machine.document.mechanism) : []));

  return { all, files, missing, loading, again, open, loadedOf, facesOf, hullVolume, packed };
});
