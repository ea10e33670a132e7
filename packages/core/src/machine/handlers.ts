import { freeId } from './defaults';
import { looseParts, type Loose } from './loose';
import type { Machine } from './schema';

/** Lists of what loose parts are made of and handled by. */
export type LooseList = 'kinds' | 'sources' | 'sinks' | 'belts' | 'surfaces' | 'platforms' | 'grippers';
export type LooseThing<L extends LooseList = LooseList> = Loose[L][number];

/** What handles parts, or a kind of part: what people call it, and what it begins as. */
interface Handler<L extends LooseList> {
  one: string;
  many: string;
  /** Content of a new one; a sentence where the machine lacks what it needs. */
  first(machine: Machine): Omit<LooseThing<L>, 'id' | 'name'> | string;
}

/** Material of what is new: parts are of the second, stations of the first. */
const made = (of: 'part' | 'station', { loose: { materials } }: Machine): string =>
  (of === 'part' ? (materials[1] ?? materials[0]) : materials[0])?.id ?? '';

/** Loose parts and what handles them, in the order of their way. */
export const HANDLERS: { readonly [L in LooseList]: Handler<L> } = {
  kinds: {
    one: 'Kind of part',
    many: 'Kinds of part',
    first: (machine) => ({
      colour: machine.loose.kinds.length % 8,
      material: made('part', machine),
      shape: { kind: 'box', width: 0.06, height: 0.04 },
      mass: { given: 'typed', mass: 0.2 },
    }),
  },
  sources: {
    one: 'Source',
    many: 'Sources',
    first({ loose: { kinds, belts } }) {
      const [kind] = kinds;
      if (!kind) return 'A source needs a kind of part: add that first.';
      const { shape } = kind;
      const lift = shape.kind === 'box' ? shape.height / 2 : shape.kind === 'circle' ? shape.radius : 0.03;
      const [belt] = belts;
      return {
        kind: kind.id,
        body: 'ground',
        at: belt ? [belt.from[0] + 0.06, belt.from[1] + lift + 0.0005] : [0, 0.3],
        angle: 0,
        velocity: [0, 0],
        release: { how: 'interval', first: 0.2, interval: 2, count: null },
        scatter: { time: 0, place: 0, angle: 0 },
      };
    },
  },
  sinks: {
    one: 'Sink',
    many: 'Sinks',
    first: () => ({ from: [0.8, -0.1], to: [1, 0.2], counts: 'done' }),
  },
  belts: {
    one: 'Belt',
    many: 'Belts',
    first(machine) {
      const y = 0.2 * machine.loose.belts.length;
      return {
        material: made('station', machine),
        from: [0, y],
        to: [0.6, y],
        thickness: 0.02,
        drive: { by: 'speed', speed: 0.2, running: true },
      };
    },
  },
  surfaces: {
    one: 'Chute, ramp or stop',
    many: 'Chutes, ramps, stops',
    first(machine) {
      const y = 0.1 * machine.loose.surfaces.length;
      return {
        body: 'ground',
        material: made('station', machine),
        line: [
          [0, 0.3 + y],
          [0.3, 0.15 + y],
        ],
        thickness: 0.005,
      };
    },
  },
  platforms: {
    one: 'Sprung platform',
    many: 'Sprung platforms',
    first: (machine) => ({
      material: made('station', machine),
      from: [0.7, 0],
      to: [1, 0],
      thickness: 0.01,
      angle: -Math.PI / 2,
      travel: 0.03,
      rate: 500,
      preload: 5,
      damping: 30,
      mass: 0.3,
    }),
  },
  grippers: {
    one: 'Gripper',
    many: 'Grippers and suckers',
    first({ mechanism: { bodies, joints } }) {
      const body = bodies.at(-1);
      const tied = joints.flatMap((joint) => [joint.b, ...('a' in joint ? [joint.a] : [])]);
      // Where nothing ties the body it reaches out.
      const free = body?.points.find(({ id }) => !tied.some((end) => end.body === body.id && end.point === id));
      return body
        ? { body: body.id, at: [...(free ?? body.points[0]!).at], reach: 0.03, force: 50, kinds: [] }
        : 'A gripper sits on a body: draw one in Build first.';
    },
  },
};
export const LOOSE_LISTS = Object.keys(HANDLERS) as LooseList[];

/** Two materials to begin with, and a pair of everyday values. */
function beginMaterials({ loose }: Machine): void {
  if (loose.materials.length > 0) return;
  loose.materials.push({ id: 'm1', name: 'steel' }, { id: 'm2', name: 'cardboard' });
  loose.pairs.push({ id: 'p1', a: 'm1', b: 'm2', friction: 0.3, restitution: 0.2 });
}

/**
 * Adds a kind of part, or what handles parts, with starting values that do something; changes the machine.
 * @returns its identifier, or why it cannot be
 */
export function addHandler<L extends LooseList>(machine: Machine, list: L): { id: string } | { problem: string } {
  const { one, first } = HANDLERS[list];
  const items: { id: string; name: string }[] = machine.loose[list];
  const asked = first(machine);
  if (typeof asked === 'string') return { problem: asked };
  // What is new is made of something: with no material yet, of the first two.
  beginMaterials(machine);
  const begun = first(machine);
  const names = new Set(items.map(({ name }) => name));
  const made = {
    id: freeId(list.slice(0, 2), items.map(({ id }) => id)), // prettier-ignore
    name: names.has(one) ? freeId(`${one} `, names) : one,
  };
  items.push(Object.assign({}, begun, made));
  return { id: made.id };
}

/** The schema of one thing of a list. */
export const handlerSchema = (list: LooseList) => looseParts[list];
