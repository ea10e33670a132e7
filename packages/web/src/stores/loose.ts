import { addHandler, HANDLERS, type Loose, type LooseList, type Machine } from '@yoke/core';
import { defineStore } from 'pinia';
import { computed, ref } from 'vue';
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

  /** Moves anything in the picture by a distance in m: what handles parts, or a sensor. */
  function drag(id: string, dx: number, dy: number, key: string): void {
    machine.edit(
      'moved in the picture',
      (draft) => {
        const shift = (p: Point) => {
          p[0] += dx;
          p[1] += dy;
        };
        const l = draft.loose;
        const turned = (body: string): { shift: (p: Point) => void } => {
          const pose = draft.mechanism.bodies.find((b) => b.id === body)?.pose;
          const angle = -(pose?.angle ?? 0);
          return {
            shift: (p) => {
              p[0] += Math.cos(angle) * dx - Math.sin(angle) * dy;
              p[1] += Math.sin(angle) * dx + Math.cos(angle) * dy;
            },
          };
        };
        for (const item of [...l.belts, ...l.platforms, ...l.sinks])
          if (item.id === id) [item.from, item.to].forEach((p) => shift(p as Point));
        for (const item of l.surfaces)
          if (item.id === id) item.line.forEach((p) => turned(item.body).shift(p as Point));
        for (const item of [...l.sources, ...l.grippers]) if (item.id === id) turned(item.body).shift(item.at as Point);
        for (const { id: own, sensing } of draft.sequence.sensors)
          if (own === id && 'from' in sensing)
            [sensing.from, sensing.to].forEach((p) => turned(sensing.body).shift(p as Point));
      },
      key,
    );
  }

  return { chosen, item, loose, edit, editItem, add, remove, drag };
});
