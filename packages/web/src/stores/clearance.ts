import {
  bodyMesh,
  freeId,
  GROUND,
  isNearer,
  samePair,
  solidsMesh,
  solidsOn,
  toldClearances,
  unknownClearance,
  type BodySolid,
  type ClearanceWatch,
  type Clearances,
  type Machine,
  type PairClearance,
  type WatchedClearance,
} from '@yoke/core';
import type { Mesh, Clearance } from '@yoke/core/solid';
import { proxy, wrap, type Remote } from 'comlink';
import { defineStore } from 'pinia';
import { computed, ref, shallowRef, toRaw, watch } from 'vue';
import type { ClearanceWorker } from '@/worker/clearance';
import { useCursor } from './cursor';
import { useGeometry } from './geometry';
import { useMachine } from './machine';
import { useRun } from './run';
import { shareDone } from '@/lib/share-done';

export type BodyPair = readonly [string, string];

const NOTHING: Clearances = { watches: [], byDesign: [] };

/** Clearances on true shapes over the run: what is watched, all pairs in one action, and the pair that is looked at. */
export const useClearance = defineStore('clearance', () => {
  const machine = useMachine();
  const results = useRun();
  const geometry = useGeometry();
  const cursor = useCursor();

  const kept = computed<Clearances>(() => machine.document?.clearances ?? NOTHING);
  const watched = shallowRef<readonly WatchedClearance[]>([]);
  /** Of all pairs: what came out, how, and of which run. */
  const all = shallowRef<{
    pairs: readonly PairClearance[];
    how: 'exact' | 'quick';
    run: object;
    skins: object;
  } | null>(null);
  /** Share done of what is being computed; null while nothing is. */
  const progress = ref<number | null>(null);
  const begun = shareDone(progress);
  const failure = ref<string | null>(null);
  /** The space that bodies sweep over a run, seen in depth. */
  const swept = shallowRef<{ name: string; mesh: Mesh; outside: number; run: object } | null>(null);
  /** The pair that is looked at, and how it stands at the cursor. */
  const looked = shallowRef<BodyPair | null>(null);
  const now = shallowRef<Clearance | null>(null);

  let thread: Worker | null = null;
  let remote: Remote<ClearanceWorker> | null = null;
  /** What the thread has been given: a run, with the skins of its bodies. */
  let opened: readonly [run: object, skins: object] | null = null;
  let given: ReadonlyMap<string, Mesh> = new Map();
  function theWorker(): Remote<ClearanceWorker> {
    if (!remote) {
      thread = new Worker(new URL('../worker/clearance.ts', import.meta.url), { type: 'module' });
      remote = wrap<ClearanceWorker>(thread);
    }
    return remote;
  }
  /** Ends of all that waits for the thread, for when it is ended. */
  const ends = new Set<(reason: Error) => void>();
  async function asked<T>(answer: Promise<T>): Promise<T> {
    let end: (reason: Error) => void = () => undefined;
    try {
      return await Promise.race([answer, new Promise<never>((_, reject) => ends.add((end = reject)))]);
    } finally {
      ends.delete(end);
    }
  }
  /** Ends what is being computed. */
  function stop(): void {
    thread?.terminate();
    for (const end of [...ends]) end(new Error('it was stopped'));
    thread = remote = null;
    opened = null;
    given = new Map();
    progress.value = null;
  }

  /** Skins of all bodies, and of the ground where it has any; null where some are not there. */
  const skins = computed<ReadonlyMap<string, Mesh> | null>((before) => {
    const m = machine.document?.mechanism;
    if (!m) return null;
    const meshOf = (solid: Parameters<typeof geometry.loadedOf>[0]) => geometry.loadedOf(solid)?.mesh ?? null;
    const found = new Map<string, Mesh | null>(m.bodies.map((body) => [body.id, skinOf(body, meshOf)]));
    const ground = solidsOn(m, GROUND);
    if (ground.length > 0) found.set(GROUND, groundSkin(ground, meshOf));
    for (const mesh of found.values()) if (mesh === null) return null;
    // The same skins are the same map: what goes by them need not be computed anew.
    const same = before?.size === found.size && [...found].every(([id, mesh]) => before.get(id) === mesh);
    return same ? before : (found as Map<string, Mesh>);
  });
  const skinned = new WeakMap<object, { of: readonly unknown[]; mesh: Mesh }>();
  /** The skin of what does not move. */
  function groundSkin(solids: readonly BodySolid[], meshOf: Parameters<typeof bodyMesh>[1]): Mesh | null {
    const of = [solids, ...solids.map((solid) => meshOf(solid))];
    const before = skinned.get(solids);
    if (before && before.of.every((part, i) => part === of[i])) return before.mesh;
    const mesh = solidsMesh(solids, meshOf);
    if (mesh) skinned.set(solids, { of, mesh });
    return mesh;
  }
  /** The skin of a body: made anew only where something of it has changed. */
  function skinOf(body: Machine['mechanism']['bodies'][number], meshOf: Parameters<typeof bodyMesh>[1]): Mesh | null {
    const own = toRaw(body);
    const of = [own.solids, own.shape, own.points, own.thickness, ...(own.solids ?? []).map((solid) => meshOf(solid))];
    const before = skinned.get(own);
    if (before && before.of.every((part, i) => part === of[i])) return before.mesh;
    const mesh = bodyMesh(own, meshOf);
    if (mesh) skinned.set(own, { of, mesh });
    return mesh;
  }

  /** Gives the thread the run that is shown. */
  async function open(): Promise<boolean> {
    const { run, document } = results;
    const own = skins.value;
    if (!run?.mechanism || !document || !own) return false;
    if (opened?.[0] === run && opened[1] === own) return true;
    const { bodies, q, v, a, reached, assembled } = run.mechanism;
    const parts = [...own].map(([id, mesh]) => {
      const isThere = given.get(id) === mesh;
      return { id, mesh: isThere ? null : mesh };
    });
    await asked(theWorker().open(toRaw(document.mechanism), { times: run.times, mechanism: { bodies, q, v, a, reached, assembled } }, parts)); // prettier-ignore
    given = own;
    opened = [run, own];
    return true;
  }

  const isByDesign = (pair: BodyPair) => kept.value.byDesign.some((own) => samePair(own, pair));
  const lack = (text: string) =>
    void (results.beside = { findings: [unknownClearance({ clearances: kept.value }, text)], pending: false });
  /** Computes what is watched for the run that is shown. */
  async function compute(): Promise<void> {
    const { run, document, stale } = results;
    const watches = kept.value.watches;
    if (watches.length === 0 || !document || (run && !stale && !run.mechanism)) {
      watched.value = [];
      results.beside = { findings: [], pending: false };
      return;
    }
    results.beside = { findings: [], pending: true };
    if (stale || !run) return;
    if (geometry.missing.length > 0) {
      watched.value = [];
      return lack(`Clearances are not known: ${geometry.missing[0]}`);
    }
    if (!skins.value) return;
    const own = kept.value;
    const job = begun();
    failure.value = null;
    try {
      if (!(await open())) return;
      const found = await asked(theWorker().watches(toRaw(own), proxy(job.tell))); // prettier-ignore
      if (results.run !== run || kept.value !== own) return;
      watched.value = found;
      results.beside = { findings: toldClearances(machine.document!, found), pending: false };
    } catch (error) {
      failure.value = `Clearances are not known: ${(error as Error).message}.`;
      lack(failure.value);
    } finally {
      job.end();
    }
  }

  let busy = false;
  let again = false;
  async function begin(): Promise<void> {
    if (busy) {
      again = true;
      return;
    }
    busy = true;
    do {
      again = false;
      await compute();
    } while (again);
    busy = false;
  }
  // Shapes are loaded where something is watched, and not before.
  watch([() => results.run, () => results.stale, kept, () => kept.value.watches.length > 0 && skins.value, () => geometry.missing], () => void begin(), { immediate: true }); // prettier-ignore

  /** Every pair of bodies, and of a body and the ground, that does not touch by design. */
  const everyPair = computed<BodyPair[]>(() => {
    const ids = [...(skins.value?.keys() ?? [])];
    return ids.flatMap((a, i) => ids.slice(i + 1).map((b): BodyPair => [a, b])).filter((pair) => !isByDesign(pair));
  });
  /** Searches all pairs of the machine. */
  async function searchAll(how: 'exact' | 'quick'): Promise<void> {
    const { run } = results;
    const own = skins.value;
    if (!run || !own || results.stale) return;
    const job = begun();
    failure.value = null;
    try {
      if (!(await open())) return;
      const pairs = await asked(theWorker().over(everyPair.value, how, proxy(job.tell))); // prettier-ignore
      if (results.run !== run) return;
      all.value = { pairs: pairs.toSorted((one, other) => Number(isNearer(other, one)) - Number(isNearer(one, other))), how, run, skins: own }; // prettier-ignore
    } catch (error) {
      failure.value = `All pairs are not known: ${(error as Error).message}.`;
    } finally {
      job.end();
    }
  }

  function change(label: string, recipe: (own: Clearances) => void): string | null {
    return machine.edit(label, (draft) => {
      const document = draft as Machine;
      document.clearances ??= { watches: [], byDesign: [] };
      recipe(document.clearances);
    });
  }
  const addWatch = (a: string[], b: string[]) =>
    change('watch a clearance', ({ watches }) => {
      const name = freeId('Clearance ', watches.map((own) => own.name)); // prettier-ignore
      watches.push({ id: freeId('c', watches.map((own) => own.id)), name, a, b, least: 0.002, stop: true }); // prettier-ignore
    });
  const dropWatch = (id: string) => change('watch a clearance no more', (own) => void (own.watches = own.watches.filter((watch) => watch.id !== id))); // prettier-ignore
  const leaveOut = (pair: BodyPair) =>
    change('touch by design', ({ byDesign }) => void byDesign.push([pair[0], pair[1]]));
  const takeIn = (pair: BodyPair) => change('do not touch by design', (own) => void (own.byDesign = own.byDesign.filter((other) => !samePair(other, pair)))); // prettier-ignore
  const changeWatch = (id: string, recipe: (watch: ClearanceWatch) => void) =>
    change('clearance', ({ watches }) => {
      const found = watches.find((own) => own.id === id);
      if (found) recipe(found);
    });

  /** Something made of the run and the skins of its bodies, beside the page. @throws Error where they are not there, or it was stopped */
  async function made<T>(make: (worker: Remote<ClearanceWorker>) => Promise<T>): Promise<T> {
    if (results.stale) throw new Error('The run is being computed: wait for it.');
    // Shapes that are on their way are waited for.
    while (!skins.value && geometry.missing.length === 0) await new Promise((resolve) => setTimeout(resolve, 100));
    if (!(await open())) throw new Error(geometry.missing[0] ?? 'There is no run of bodies to make shapes of.');
    return asked(make(theWorker()));
  }

  /** Looks at a pair, at a time. */
  function look(pair: BodyPair, time: number): void {
    looked.value = pair;
    cursor.stopAt(time);
  }
  watch([looked, () => cursor.time, () => results.run, () => results.stale], async ([pair, time]) => {
    let found: Clearance | null = null;
    try {
      if (pair && !results.stale && (await open())) found = await asked(theWorker().at(pair, time));
    } catch {
      // It was stopped: nothing is known of this pair.
    }
    if (looked.value === pair && cursor.time === time) now.value = found;
  });
  watch(
    () => machine.id,
    () => {
      stop();
      watched.value = [];
      all.value = looked.value = now.value = swept.value = null;
    },
  );

  return { kept, watched, all, progress, failure, again: begin, looked, now, skins, everyPair, searchAll, made, swept, stop, change, addWatch, dropWatch, changeWatch, leaveOut, takeIn, look }; // prettier-ignore
});
