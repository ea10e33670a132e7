import { clearanceAt, clearancesOver, guidesOf, type Mechanism, type PairClearance, type PosedRun } from '@yoke/core';
import { hullOf } from '@yoke/core/geometry-file';
import { ClearanceSolid, type Clearance, type Mesh } from '@yoke/core/solid';
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
  over(
    pairs: readonly (readonly [string, string])[],
    how: 'exact' | 'quick',
    curves: boolean,
    progress: (share: number) => void,
  ): PairClearance[] {
    if (!mechanism || !run) return [];
    // In the search of all pairs those that guide each other are looked at now and then: they mostly touch by design.
    const guided = curves ? () => false : guidesOf(mechanism);
    return clearancesOver(mechanism, run, pairs, how === 'exact' ? exact : hulls(), { curves, guided, progress });
  },
  at: (pair: readonly [string, string], time: number): Clearance | null =>
    mechanism && run ? clearanceAt(mechanism, run, pair, exact, time) : null,
};

export type ClearanceWorker = typeof worker;
expose(worker);
