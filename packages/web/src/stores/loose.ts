import { freeId, type Loose, type Machine } from '@yoke/core';
import { defineStore } from 'pinia';
import { computed, ref } from 'vue';
import { useMachine } from './machine';

/** Lists of what loose parts are made of and handled by, with what people call one of them. */
export const LOOSE_LISTS = [
  { key: 'kinds', one: 'Kind of part', many: 'Kinds of part' },
  { key: 'sources', one: 'Source', many: 'Sources' },
  { key: 'sinks', one: 'Sink', many: 'Sinks' },
  { key: 'belts', one: 'Belt', many: 'Belts' },
  { key: 'surfaces', one: 'Chute, ramp or stop', many: 'Chutes, ramps, stops' },
  { key: 'platforms', one: 'Sprung platform', many: 'Sprung platforms' },
  { key: 'grippers', one: 'Gripper', many: 'Grippers and suckers' },
] as const;
export type LooseList = (typeof LOOSE_LISTS)[number]['key'];

type Point = [number, number];

/** Loose parts of the open machine: what is chosen, and edits of it. */
export const useLoose = defineStore('loose', () => {
  const machine = useMachine();
  const chosen = ref<{ list: LooseList; id: string } | null>(null);
  const loose = computed<Loose | null>(() => machine.document?.loose ?? null);

  const edit = (label: string, change: (loose: Loose, machine: Machine) => void, key?: string): string | null =>
    machine.edit(label, (draft) => change(draft.loose as Loose, draft as Machine), key);

  /** Two materials to begin with, and a pair of everyday values. */
  function beginMaterials(l: Loose): { part: string; station: string } {
    if (l.materials.length === 0) {
      l.materials.push({ id: 'm1', name: 'steel' }, { id: 'm2', name: 'cardboard' });
      l.pairs.push({ id: 'p1', a: 'm1', b: 'm2', friction: 0.3, restitution: 0.2 });
    }
    return { part: l.materials[1]?.id ?? l.materials[0]!.id, station: l.materials[0]!.id };
  }

  /** Adds one to a list, with starting values that do something. */
  function add(list: LooseList): string | null {
    const one = LOOSE_LISTS.find(({ key }) => key === list)!.one;
    const current = loose.value;
    if (!current) return 'No machine is open.';
    if (list === 'grippers' && machine.document!.mechanism.bodies.length === 0)
      return 'A gripper sits on a body: draw one in Build first.';
    if (list === 'sources' && current.kinds.length === 0) return 'A source needs a kind of part: add that first.';
    const items = current[list] as readonly { id: string; name: string }[];
    const id = freeId(`${list[0]!}${list[1]!}`, items.map((item) => item.id)); // prettier-ignore
    const names = new Set(items.map(({ name }) => name));
    const name = names.has(one) ? freeId(`${one} `, names) : one;
    const n = items.length;
    const problem = edit(`a new ${one.toLowerCase()}`, (l, m) => {
      const { part, station } = beginMaterials(l);
      const from: Point = [0, 0.2 * n];
      const to: Point = [0.6, 0.2 * n];
      switch (list) {
        case 'kinds':
          l.kinds.push({
            id,
            name,
            colour: n % 8,
            material: part,
            shape: { kind: 'box', width: 0.06, height: 0.04 },
            mass: { given: 'typed', mass: 0.2 },
          });
          break;
        case 'sources': {
          const belt = l.belts[0];
          const kind = l.kinds[0]!;
          const lift =
            kind.shape.kind === 'box' ? kind.shape.height / 2 : kind.shape.kind === 'circle' ? kind.shape.radius : 0.03;
          const at: Point = belt ? [belt.from[0] + 0.06, belt.from[1] + lift + 0.0005] : [0, 0.3];
          l.sources.push({
            id,
            name,
            kind: kind.id,
            body: 'ground',
            at,
            angle: 0,
            velocity: [0, 0],
            release: { how: 'interval', first: 0.2, interval: 2, count: null },
            scatter: { time: 0, place: 0, angle: 0 },
          });
          break;
        }
        case 'sinks':
          l.sinks.push({ id, name, from: [0.8, -0.1], to: [1, 0.2], counts: 'done' });
          break;
        case 'belts':
          l.belts.push({
            id,
            name,
            material: station,
            from,
            to,
            thickness: 0.02,
            drive: { by: 'speed', speed: 0.2, running: true },
          });
          break;
        case 'surfaces':
          l.surfaces.push({ id, name, body: 'ground', material: station, line: [[0, 0.3 + 0.1 * n], [0.3, 0.15 + 0.1 * n]], thickness: 0.005 }); // prettier-ignore
          break;
        case 'platforms':
          l.platforms.push({
            id,
            name,
            material: station,
            from: [0.7, 0],
            to: [1, 0],
            thickness: 0.01,
            angle: -Math.PI / 2,
            travel: 0.03,
            rate: 500,
            preload: 5,
            damping: 30,
            mass: 0.3,
          });
          break;
        case 'grippers':
          l.grippers.push({
            id,
            name,
            body: m.mechanism.bodies.at(-1)!.id,
            at: [...m.mechanism.bodies.at(-1)!.points[0]!.at],
            reach: 0.03,
            force: 50,
            kinds: [],
          });
          break;
      }
    });
    if (problem === null) chosen.value = { list, id };
    return problem;
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

  return { chosen, loose, edit, add, remove, drag };
});
