import { addHandler, GROUND, HANDLERS, type Loose, type LooseList, type Machine } from '@yoke/core';
import type { Draft } from 'immer';
import { defineStore } from 'pinia';
import { computed, ref, watch } from 'vue';
import { snapTo } from '@/lib/ticks';
import { useMachine } from './machine';

type Point = [number, number];

/** Loose parts of the open machine: what is chosen, and edits of it. */
export const useLoose = defineStore('loose', () => {
  const machine = useMachine();
  const chosen = ref<{ list: LooseList; id: string } | null>(null);
  const loose = computed<Loose | null>(() => machine.document?.loose ?? null);

  const edit = (label: string, change: (loose: Loose, machine: Machine) => void, key?: string): string | null =>
    machine.edit(label, (draft) => change(draft.loose as Loose, draft as Machine), key);

  /** The thing that is chosen. */
  const item = computed(() => {
    if (!chosen.value || !loose.value) return null;
    const { list, id } = chosen.value;
    const items: readonly { id: string; name: string }[] = loose.value[list];
    return items.find((one) => one.id === id) ?? null;
  });
  /** Changes the thing that is chosen. */
  const editItem = (label: string, change: (item: { id: string; name: string }) => void): string | null =>
    edit(label, (l) => {
      const items: { id: string; name: string }[] = l[chosen.value!.list];
      const found = items.find(({ id }) => id === chosen.value!.id);
      if (found) change(found);
    });

  /** Adds one to a list, with starting values that do something. */
  function add(list: LooseList): string | null {
    const made: ReturnType<typeof addHandler>[] = [];
    const problem = edit(`a new ${HANDLERS[list].one.toLowerCase()}`, (_, m) => void made.push(addHandler(m, list)));
    if (problem !== null) return problem;
    const [one] = made;
    if (one && 'id' in one) chosen.value = { list, id: one.id };
    return one && 'problem' in one ? one.problem : null;
  }

  function remove(list: LooseList, id: string): string | null {
    const problem = edit('a thing less', (l) => {
      const items = l[list] as { id: string }[];
      items.splice(items.findIndex((item) => item.id === id), 1); // prettier-ignore
    });
    if (problem === null) chosen.value = null;
    return problem === null ? null : `It stays: something speaks of it. ${problem}`;
  }

  /** Points of a thing in the picture, with the body whose frame they stand in. */
  function pointsOf(draft: Draft<Machine>, id: string): { points: Point[]; body: string } | null {
    const found = anyPointsOf(draft, id);
    // The hand moves along the front plane: what is drawn in another one is moved by its numbers.
    const { planes, bodies } = draft.mechanism;
    const plane = bodies.find((body) => body.id === found?.body)?.plane ?? found?.plane ?? planes[0]?.id;
    return plane === planes[0]?.id ? found : null;
  }
  function anyPointsOf(
    draft: Draft<Machine>,
    id: string,
  ): { points: Point[]; body: string; plane?: string | undefined } | null {
    // prettier-ignore
    const l = draft.loose;
    for (const item of [...l.belts, ...l.platforms, ...l.sinks])
      if (item.id === id) return { points: [item.from as Point, item.to as Point], body: GROUND, plane: item.plane };
    for (const item of l.surfaces)
      if (item.id === id) return { points: item.line as Point[], body: item.body, plane: item.plane };
    for (const item of [...l.sources, ...l.grippers])
      if (item.id === id) return { points: [item.at as Point], body: item.body, plane: item.plane };
    for (const { id: own, sensing } of draft.sequence.sensors)
      if (own === id && 'from' in sensing)
        return { points: [sensing.from as Point, sensing.to as Point], body: sensing.body, plane: sensing.plane };
    return null;
  }

  /** Where what is dragged stood before. */
  let held: { key: string; points: Point[] } | null = null;

  /**
   * Moves anything in the picture: what handles parts, or a sensor. Its first point comes to stand on round figures.
   * @param by how far the hand has dragged since it took hold, m
   * @param grid round figures, m
   * @param corner of a chute, where one corner alone is dragged
   */
  function drag(id: string, by: Point, grid: number, key: string, corner?: number): void {
    machine.edit(
      'moved in the picture',
      (draft) => {
        const found = pointsOf(draft, id);
        if (!found) return;
        if (held?.key !== key) held = { key, points: found.points.map(([x, y]) => [x, y]) };
        const angle = -(draft.mechanism.bodies.find((b) => b.id === found.body)?.pose.angle ?? 0);
        const own: Point = [
          Math.cos(angle) * by[0] - Math.sin(angle) * by[1],
          Math.sin(angle) * by[0] + Math.cos(angle) * by[1],
        ];
        const first = held.points[corner ?? 0]!;
        // All points go the same way, so that what is drawn keeps its length and slope.
        const way = ([0, 1] as const).map((k) =>
          own[k] === 0 ? 0 : snapTo(first[k] + own[k], [], 0, grid) - first[k],
        );
        found.points.forEach((p, i) => {
          if (corner !== undefined && i !== corner) return;
          for (const k of [0, 1] as const) p[k] = Number((held!.points[i]![k] + way[k]!).toPrecision(12));
        });
      },
      key,
    );
  }

  /** Corners of a chute that is being drawn in the picture; null while none is. */
  const drawn = ref<Point[] | null>(null);
  function beginDrawing(): void {
    drawn.value = [];
  }
  const giveUp = () => void (drawn.value = null);
  function addCorner(at: Point): void {
    const last = drawn.value?.at(-1);
    if (drawn.value && !(last && last[0] === at[0] && last[1] === at[1])) drawn.value = [...drawn.value, at];
  }
  /** Makes what is drawn a chute; of less than two corners nothing. */
  function finishDrawing(): string | null {
    const line = drawn.value ?? [];
    drawn.value = null;
    if (line.length < 2) return 'A chute has two corners at least: click them one after the other.';
    let id = '';
    const problem = edit('a chute drawn', (l, m) => {
      const made = addHandler(m, 'surfaces');
      if (!('id' in made)) return;
      id = made.id;
      l.surfaces.find((surface) => surface.id === id)!.line = line;
    });
    if (problem === null && id) chosen.value = { list: 'surfaces', id };
    return problem;
  }
  watch(() => machine.id, giveUp);

  return {
    chosen,
    item,
    loose,
    edit,
    editItem,
    add,
    remove,
    drag,
    drawn,
    beginDrawing,
    giveUp,
    addCorner,
    finishDrawing,
  };
});
