import {
  clearanceAt,
  clearancesOver,
  framesAt,
  guidesOf,
  reachedBy,
  sweptOver,
  VIEWS,
  watchedOver,
  writeView,
  type Clearances,
  type Mechanism,
  type PairClearance,
  type PosedRun,
  type View,
  type ViewDrawing,
  type WatchedClearance,
} from '@yoke/core';
import { hullOf, writeGltf, writeStl } from '@yoke/core/geometry-file';
import { ClearanceSolid, joined, type Clearance, type Mesh, type Swept } from '@yoke/core/solid';
import { plus, turned } from '@yoke/core/geometry';
import { expose } from 'comlink';

let mechanism: Mechanism | null = null;
let run: PosedRun | null = null;
let exact = new Map<string, ClearanceSolid>();
let quick: Map<string, ClearanceSolid> | null = null;
/** Skins that were given last, by body. */
const known = new Map<string, ClearanceSolid>();

/** Hulls instead of skins: quick, and never farther apart than these. */
function hulls(): Map<string, ClearanceSolid> {
  quick ??= new Map(
    [...exact].map(([id, { mesh }]) => {
      const hull = hullOf(mesh);
      return [id, new ClearanceSolid(hull.triangles.length > 0 ? hull : mesh)];
    }),
  );
  return quick;
}

/** Clearances over a run, computed beside everything else. */
const worker = {
  /**
   * Takes a run and the skins of its bodies.
   * @param skins in the frames of their bodies, of the ground in the world; no mesh where it is the one that was given last
   */
  open(of: Mechanism, its: PosedRun, skins: readonly { id: string; mesh: Mesh | null }[]): void {
    mechanism = of;
    run = its;
    quick = null;
    exact = new Map(
      skins.map(({ id, mesh }) => {
        const solid = mesh ? new ClearanceSolid(mesh) : known.get(id)!;
        known.set(id, solid);
        return [id, solid];
      }),
    );
  },
  /** What comes of all watches. */
  watches: (clearances: Clearances, progress: (share: number) => void): WatchedClearance[] =>
    mechanism && run ? watchedOver(mechanism, run, clearances, exact, progress) : [],
  /** All of some pairs, without curves. */
  over(
    pairs: readonly (readonly [string, string])[],
    how: 'exact' | 'quick',
    progress: (share: number) => void,
  ): PairClearance[] {
    if (!mechanism || !run) return [];
    // In the search of all pairs those that guide each other are looked at now and then: they mostly touch by design.
    const guided = guidesOf(mechanism);
    return clearancesOver(mechanism, run, pairs, how === 'exact' ? exact : hulls(), { guided, progress });
  },
  at: (pair: readonly [string, string], time: number): Clearance | null =>
    mechanism && run ? clearanceAt(mechanism, run, pair, exact, time) : null,
  /** Bodies as they stand at a time, as one binary STL. */
  stl(ids: readonly string[], time: number, name: string): Uint8Array<ArrayBuffer> {
    const frames = framesAt(mechanism!, run!, ids, time);
    const parts = ids.map((id, i) => placedIn(exact.get(id)!.mesh, frames[i]!));
    return writeStl(joined(parts), name);
  },
  /** Bodies as GLB: as they stand at a time, or over all of the run where none is given. */
  gltf(
    bodies: readonly { id: string; name: string; colour: string }[],
    time: number | null,
    name: string,
  ): Promise<Uint8Array<ArrayBuffer>> {
    // prettier-ignore
    const ids = bodies.map(({ id }) => id);
    const end = reachedBy(run!);
    const count = Math.max(2, Math.min(MOST_FRAMES, Math.ceil(end * FRAMES_A_SECOND) + 1));
    const times = time === null ? Array.from({ length: count }, (_, i) => (end * i) / (count - 1)) : [time];
    const frames = times.map((own) => framesAt(mechanism!, run!, ids, own));
    const drawn = bodies.map((own) => ({ name: own.name, colour: own.colour, mesh: exact.get(own.id)!.mesh }));
    return writeGltf(name, drawn, { times: time === null ? times : [0], frames });
  },
  /** A surface as it is, as binary STL. */
  plainStl: (mesh: Mesh, name: string): Uint8Array<ArrayBuffer> => writeStl(mesh, name),
  /** The space that bodies sweep together over the run. */
  swept: (ids: readonly string[], cells: number): Swept =>
    sweptOver(
      mechanism!,
      run!,
      ids.map((id) => ({ id, mesh: exact.get(id)!.mesh })),
      cells,
    ),
  /** Bodies as they stand at a time, drawn from a side. */
  drawn(
    bodies: readonly { id: string; name: string }[],
    time: number,
    view: View,
    withHidden: boolean,
    progress: (share: number) => void,
  ): ViewDrawing {
    const ids = bodies.map(({ id }) => id);
    const frames = framesAt(mechanism!, run!, ids, time);
    const solids = bodies.map(({ id, name }, i) => ({ name, mesh: placedIn(exact.get(id)!.mesh, frames[i]!) }));
    return writeView(solids, VIEWS[view].axes, withHidden, progress);
  },
};

/** Frames of a motion that is written, a second and at most. */
const FRAMES_A_SECOND = 60;
const MOST_FRAMES = 3600;

/** A mesh as it stands in the world. */
function placedIn({ points, triangles }: Mesh, { at, axes }: ReturnType<typeof framesAt>[number]): Mesh {
  const moved = new Float64Array(points.length);
  for (let i = 0; i < points.length; i += 3)
    moved.set(plus(at, turned(axes, [points[i]!, points[i + 1]!, points[i + 2]!])), i);
  return { points: moved, triangles };
}

export type ClearanceWorker = typeof worker;
expose(worker);
