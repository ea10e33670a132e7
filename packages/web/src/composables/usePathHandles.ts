import {
  addPathPoint,
  localOf,
  nearestPiece,
  pathHandles,
  removePathPoint,
  withPathHandle,
  type MechanismPath,
  type PathHandle,
} from '@yoke/core';
import { computed, type Ref } from 'vue';
import type { At } from '@/lib/board-tools';
import { intoWorld, type Projection } from '@/lib/board-view';
import { useBoard } from '@/stores/board';

type PathShape = MechanismPath['shape'];
const STILL = { x: 0, y: 0, angle: 0 };
/** Within this many pixels of a handle or of the line the pointer takes hold of it. */
const HOLD_PX = 9;

/** The chosen path under the pointer: its points and bends are drawn elsewhere, added and taken away by hand. */
export function usePathHandles(projection: Ref<Projection>) {
  const board = useBoard();
  let held: PathHandle | null = null;

  /** The one path that is chosen, while the pointer chooses. */
  const path = computed<MechanismPath | null>(() => {
    const { selection, tool, hand, mechanism } = board;
    if (selection.length !== 1 || tool !== 'choose' || hand) return null;
    return mechanism?.paths.find(({ id }) => id === selection[0]) ?? null;
  });
  const poseOf = (one: MechanismPath | null) =>
    board.poses[board.mechanism?.bodies.findIndex(({ id }) => id === one?.body) ?? -1] ?? STILL;
  const pose = computed(() => poseOf(path.value));
  /** All that can be taken hold of, in the world. */
  const handles = computed(() =>
    path.value
      ? pathHandles(path.value.shape).map((handle) => ({ handle, at: intoWorld(pose.value, handle.at) as At }))
      : [],
  );

  const pixels = (a: Readonly<At>, b: Readonly<At>) => Math.hypot(a[0] - b[0], a[1] - b[1]) * projection.value.scale;

  /** Changes the shape of the chosen path; a sentence in its place is told. */
  function change(label: string, make: (shape: PathShape) => PathShape | string, key?: string): boolean {
    const id = path.value?.id;
    const made = path.value ? make(path.value.shape) : '';
    if (typeof made === 'string') {
      board.message = made;
      return false;
    }
    const problem = board.draw(
      label,
      (draft) => {
        const found = draft.mechanism.paths.find((one) => one.id === id);
        if (found) found.shape = structuredClone(made) as typeof found.shape;
      },
      key,
    );
    return problem === null;
  }

  /** Takes hold of what lies under the pointer. @returns whether something does */
  function take(at: At): boolean {
    const near = handles.value
      .map((one, index) => ({ ...one, index, off: pixels(one.at, at) }))
      .filter(({ off }) => off < HOLD_PX)
      .sort((a, b) => a.off - b.off)[0];
    held = near?.handle ?? null;
    board.pathHandle = near?.index ?? null;
    if (near) {
      board.pathPiece = near.handle.what === 'bend' ? near.handle.piece : board.pathPiece;
      return true;
    }
    return false;
  }

  /** The piece of a path at a place; null where the path is far or has no course. */
  function pieceAt(at: At, one = path.value): ReturnType<typeof nearestPiece> | null {
    if (!one) return null;
    try {
      const found = nearestPiece(one.shape, localOf({ pose: poseOf(one) }, at));
      return found.distance * projection.value.scale < HOLD_PX ? found : null;
    } catch {
      return null;
    }
  }

  /** A path that is pointed at, thin as its line is: the chosen one before others. */
  const pathAt = (at: At): MechanismPath | undefined =>
    [path.value, ...(board.mechanism?.paths ?? [])].find((one) => one && pieceAt(at, one)) ?? undefined;

  function drag(to: At, gesture: number): void {
    const handle = held;
    if (handle)
      change('move a point of the path', (shape) => withPathHandle(shape, handle, localOf({ pose: pose.value }, to)), `path-${gesture}`); // prettier-ignore
  }

  /** Adds a point where the path is pointed at. @returns whether there was a path */
  function add(at: At): boolean {
    const found = pieceAt(at);
    if (!found) return false;
    if (handles.value.some((one) => pixels(one.at, at) < HOLD_PX)) {
      board.message = 'There is a point already: double click on the line between.';
      return true;
    }
    if (change('add a point to the path', (shape) => addPathPoint(shape, found.piece, found.at)))
      board.pathHandle = handles.value.findIndex(
        ({ handle }) => Math.hypot(handle.at[0] - found.at[0], handle.at[1] - found.at[1]) < 1e-9,
      );
    return true;
  }

  /** Takes the point away that was taken hold of. @returns whether one was */
  function remove(): boolean {
    const chosen = board.pathHandle === null ? undefined : handles.value[board.pathHandle];
    if (!chosen || !path.value) return false;
    const { handle } = chosen;
    if (handle.what === 'bend') {
      board.message = 'An arc cannot be without what it bends by: make it a line in the panel.';
      return true;
    }
    if (change('take a point of the path away', (shape) => removePathPoint(shape, handle.index)))
      board.pathHandle = null;
    return true;
  }

  return { path, pose, handles, take, pieceAt, pathAt, drag, add, remove };
}
