import {
  allSolids,
  assignSolids,
  bodyOfSolids,
  changesOf,
  dropSolids,
  GROUND,
  replaceFile,
  sameSolid,
  solidFrame,
  solidsOn,
  takeFile,
  UNASSIGNED,
  type BodySolid,
  type FileChanges,
  type Machine,
  type Mechanism,
  type SolidRef,
  type TakenFile,
} from '@yoke/core';
import { turned, type Point3 } from '@yoke/core/geometry';
import { lineIn, lineOf, type Face, type FaceLine, type Mesh } from '@yoke/core/solid';
import { defineStore } from 'pinia';
import { computed, ref, shallowRef, watch } from 'vue';
import { api } from '@/api/client';
import { useAside } from './aside';
import { useBoard } from './board';
import { useGeometry } from './geometry';
import { useMachine } from './machine';

/** A face that was pressed, and how it stands in the world. */
export interface ChosenFace {
  solid: SolidRef;
  face: Face;
  /** The mesh that it was found on. */
  mesh: Mesh;
  line: FaceLine;
}
/** A file that was read and may take the place of one that is there. */
interface Replacing {
  file: string;
  taken: TakenFile;
  content: Uint8Array<ArrayBuffer>;
  changes: FileChanges;
}

/** Solids of the machine as they are worked on: what is chosen, what they move with, files read and replaced. */
export const useSolids = defineStore('solids', () => {
  const machine = useMachine();
  const board = useBoard();
  const geometry = useGeometry();
  const aside = useAside();
  const chosen = shallowRef<SolidRef[]>([]);
  const faces = shallowRef<ChosenFace[]>([]);
  /** What the last action came to, or why it could not be done. */
  const message = ref('');
  /** What of the last file was not understood. */
  const notes = shallowRef<readonly string[]>([]);
  /** Asked of who opened a file that does not say what one is: the size of the largest solid in its own unit. */
  const asking = shallowRef<{ size: number; answer(metres: number): void } | null>(null);
  const replacing = shallowRef<Replacing | null>(null);

  const mechanism = computed(() => machine.document?.mechanism ?? null);
  const find = ({ carrier, id }: SolidRef): BodySolid | undefined =>
    mechanism.value ? solidsOn(mechanism.value, carrier).find((own) => own.id === id) : undefined;
  /** What is chosen and still there. */
  const there = computed(() => chosen.value.filter((own) => find(own)));
  watch(
    () => machine.id,
    () => {
      chosen.value = [];
      faces.value = [];
      message.value = '';
      notes.value = [];
      replacing.value = null;
    },
  );
  // A face goes by how its solid stands and what it is of.
  watch(mechanism, (m) => {
    faces.value = faces.value.flatMap((own) => {
      const solid = m && find(own.solid);
      if (!solid || geometry.loadedOf(solid)?.mesh !== own.mesh) return [];
      return [{ ...own, line: lineIn(solidFrame(m, own.solid, solid), lineOf(own.face)) }];
    });
  });

  function choose(refs: readonly SolidRef[], more = false): void {
    if (!more) chosen.value = [...refs];
    else if (refs.every((own) => chosen.value.some((other) => sameSolid(own, other))))
      chosen.value = chosen.value.filter((own) => !refs.some((other) => sameSolid(own, other)));
    else chosen.value = [...chosen.value, ...refs.filter((own) => !chosen.value.some((other) => sameSolid(own, other)))]; // prettier-ignore
    if (!more) faces.value = [];
  }

  /** Looks for the face that was pressed; with `more` it comes beside the one before it. */
  async function press(solid: SolidRef, triangle: number, more: boolean): Promise<void> {
    const own = find(solid);
    const loaded = own && geometry.loadedOf(own);
    if (!own || !loaded || !mechanism.value) return;
    const before = mechanism.value;
    const found = (await geometry.facesOf(loaded.mesh)).find(({ triangles }) => triangles.includes(triangle));
    if (mechanism.value !== before || !there.value.some((other) => sameSolid(other, solid))) return;
    const line = found && lineIn(solidFrame(before, solid, own), lineOf(found));
    faces.value =
      found && line ? [...(more ? faces.value.slice(-1) : []), { solid, face: found, mesh: loaded.mesh, line }] : [];
    message.value = found ? '' : 'Here is neither a flat face nor a hole, shaft or ball: press another place.';
  }

  /** Corners of solids in the world, as the machine is drawn. */
  function cornersOf(m: Mechanism, refs: readonly SolidRef[]): Point3[] {
    return refs.flatMap((own) => {
      const solid = solidsOn(m, own.carrier).find(({ id }) => id === own.id);
      const points = solid && geometry.loadedOf(solid)?.mesh.points;
      if (!solid || !points) return [];
      const { at, axes } = solidFrame(m, own, solid);
      return Array.from({ length: points.length / 3 }, (_, i): Point3 => {
        const [x, y, z] = turned(axes, [points[3 * i]!, points[3 * i + 1]!, points[3 * i + 2]!]);
        return [x + at[0], y + at[1], z + at[2]];
      });
    });
  }
  const bodyCorners = (m: Mechanism) => (body: string) =>
    body === GROUND ? [] : cornersOf(m, solidsOn(m, body).map(({ id }) => ({ carrier: body, id }))); // prettier-ignore

  /** Makes a change of the drawing; what it came to is said. */
  function edit(label: string, recipe: (m: Mechanism, machine: Machine) => void): string | null {
    const problem = board.draw(label, (draft) => recipe(draft.mechanism as Mechanism, draft as Machine));
    message.value = problem ?? '';
    return problem;
  }
  /**
   * Places something that may be impossible: what cannot be leaves nothing half done, and is said.
   * @returns its identifier, or null
   */
  function place(
    label: string,
    make: (m: Mechanism, machine: Machine) => { id: string; name: string } | string,
  ): string | null {
    const tried = JSON.parse(JSON.stringify(machine.document)) as Machine;
    const found = make(tried.mechanism, tried);
    if (typeof found === 'string') {
      message.value = found;
      return null;
    }
    if (edit(label, (m, whole) => void make(m, whole)) !== null) return null;
    message.value = `${found.name} placed.`;
    return found.id;
  }

  const named = (refs: readonly SolidRef[]) => (refs.length === 1 ? `“${find(refs[0]!)?.name ?? ''}”` : `${refs.length} solids`); // prettier-ignore
  function assign(to: string): void {
    const refs = there.value;
    let now: SolidRef[] = [];
    const what = named(refs);
    const where = to === GROUND ? 'the ground' : to === UNASSIGNED ? 'nothing yet' : `“${mechanism.value!.bodies.find(({ id }) => id === to)?.name}”`; // prettier-ignore
    if (edit(`give solids to ${where}`, (m) => (now = assignSolids(m, refs, to))) !== null) return;
    chosen.value = now;
    message.value = to === UNASSIGNED ? `${what}: not assigned.` : `${what} ${refs.length === 1 ? 'moves' : 'move'} with ${where} now.`.replace('move with the ground', 'are ground').replace('moves with the ground', 'is ground'); // prettier-ignore
  }
  /** Makes one body of what is chosen, or one of each. */
  function makeBody(each: boolean): void {
    const groups = each ? there.value.map((own) => [own]) : [there.value];
    const made: string[] = [];
    const problem = edit(each ? 'a body of each solid' : 'a body of solids', (m) => {
      for (const refs of groups) {
        const name = refs.length === 1 ? solidsOn(m, refs[0]!.carrier).find(({ id }) => id === refs[0]!.id)!.name : branchOf(m, refs); // prettier-ignore
        made.push(bodyOfSolids(m, refs, cornersOf(m, refs), name).id);
      }
    });
    if (problem !== null) return;
    const m = mechanism.value!;
    chosen.value = made.flatMap((carrier) => solidsOn(m, carrier).map(({ id }) => ({ carrier, id })));
    const names = made.map((id) => `“${m.bodies.find((body) => body.id === id)!.name}”`);
    message.value = names.length > 4 ? `${names.length} bodies made.` : `${names.join(', ')} made.`;
  }
  /** The branch of their files that solids have in common. */
  function branchOf(m: Mechanism, refs: readonly SolidRef[]): string | undefined {
    const paths = refs.map(({ carrier, id }) => {
      const { shape } = solidsOn(m, carrier).find((own) => own.id === id)!;
      return shape.kind === 'file' ? shape.key.split(' / ').slice(0, -1) : [];
    });
    const [first = []] = paths;
    return first.filter((part, i) => paths.every((path) => path[i] === part)).at(-1);
  }
  function drop(): void {
    const what = named(there.value);
    if (edit('delete solids', (m) => dropSolids(m, there.value)) !== null) return;
    chosen.value = [];
    message.value = `Deleted ${what}. Undo brings ${what.startsWith('“') ? 'it' : 'them'} back.`;
  }

  async function readFile(file: File): Promise<{ taken: Omit<TakenFile, 'hash'>; content: Uint8Array<ArrayBuffer> }> {
    const read = await aside.readGeometry(
      file,
      ({ size }) =>
        new Promise<number>((resolve) => {
          // Answered once: then it is read on.
          const answer = (metres: number) => {
            asking.value = null;
            resolve(metres);
          };
          asking.value = { size, answer };
        }),
    );
    notes.value = read.notes;
    return { taken: { name: file.name.slice(0, 200), solids: read.solids }, content: read.content };
  }
  /** Reads a file; its solids come in, or what it changes of one that is there is told first. */
  async function open(file: File, instead: string | null): Promise<void> {
    const target = machine.id;
    message.value = '';
    notes.value = [];
    replacing.value = null;
    try {
      const { taken, content } = await readFile(file);
      if (machine.id !== target) return;
      if (instead !== null) {
        const whole = { ...taken, hash: '' };
        replacing.value = {
          file: instead,
          taken: whole,
          content,
          changes: changesOf(mechanism.value!, instead, whole),
        };
        return;
      }
      const hash = await keep(content);
      if (machine.id !== target) return;
      let made = '';
      if (edit(`import ${taken.name}`, (m) => (made = takeFile(m, { ...taken, hash }).id)) !== null) return;
      const came = allSolids(mechanism.value!).filter(({ solid }) => solid.shape.kind === 'file' && solid.shape.file === made); // prettier-ignore
      message.value = `${came.length === 1 ? 'One solid' : `${came.length} solids`} of ${taken.name} came in, not assigned yet.`;
    } catch (error) {
      message.value = (error as Error).message;
    } finally {
      asking.value = null;
    }
  }
  /** Keeps geometry on the server, and has it at hand here. */
  async function keep(content: Uint8Array<ArrayBuffer>): Promise<string> {
    const hash = await api.keepGeometry(content);
    if (geometry.files.get(hash)?.kind !== 'there') await geometry.open(hash, content.slice());
    return hash;
  }
  /** Takes the newer file that was read in the place of the one that is there. */
  async function replace(): Promise<void> {
    const pending = replacing.value;
    if (!pending) return;
    try {
      const hash = await keep(pending.content);
      if (edit(`replace ${pending.taken.name}`, (m) => replaceFile(m, pending.file, { ...pending.taken, hash })) !== null) return; // prettier-ignore
      replacing.value = null;
      message.value = `${pending.taken.name} has taken its place.`;
    } catch (error) {
      message.value = (error as Error).message;
    }
  }

  return { chosen: there, faces, message, notes, asking, replacing, find, choose, press, cornersOf, bodyCorners, edit, place, assign, makeBody, drop, open, replace }; // prettier-ignore
});
