/** @jest-environment jsdom */
import '../../../test/computing';
import { addBar, addPlane, HANDLERS, LOOSE_LISTS, readMachine, type Loose, type Mechanism } from '@yoke/core';
import { nextTick } from 'vue';
import { api } from '@/api/client';
import { useLoose } from '@/stores/loose';
import { useMachine } from '@/stores/machine';
import { opened, show } from '../../../test/mounting';
import LoosePart from './LoosePart.vue';

const loose = (): Loose => useMachine().document!.loose as Loose;
const names = () => loose().materials.map(({ name }) => name);
const undo = async () => (useMachine().undo(), nextTick());

beforeEach(async () => {
  jest.spyOn(api, 'listMotors').mockResolvedValue({ motors: [], former: null });
  await opened((machine) => {
    addBar(machine.mechanism as Mechanism, [0, 0], [0.2, 0], 'Flap');
    machine.loose.materials = [
      { id: 'm1', name: 'steel' },
      { id: 'm2', name: 'rubber' },
    ];
    machine.loose.pairs = [{ id: 'p1', a: 'm1', b: 'm2', friction: 0.7, restitution: 0.1 }];
  });
});

describe('what parts meet', () => {
  test.each([...LOOSE_LISTS])(
    'one of “%s” is added as a document takes it, chosen, renamed and deleted',
    async (list) => {
      const { press, text, type } = await show(LoosePart);
      // A source needs a kind of part, a gripper a body: what is lacking is said, and nothing is added.
      if (list === 'sources') await press(`Add: ${HANDLERS.kinds.many}`);
      await press(`Add: ${HANDLERS[list].many}`);
      expect(loose()[list]).toHaveLength(1);
      expect(readMachine(structuredClone(JSON.parse(JSON.stringify(useMachine().document)))).ok).toBe(true);
      expect(useLoose().chosen).toMatchObject({ list });
      await type(HANDLERS[list].one, 'My own');
      expect(loose()[list][0]).toMatchObject({ name: 'My own' });
      expect(text()).toContain('My own');
      await press('Delete');
      expect(loose()[list]).toHaveLength(0);
      expect(useLoose().chosen).toBeNull();
      await undo();
      expect(loose()[list]).toHaveLength(1);
    },
  );

  test('a source without any kind of part says what it needs', async () => {
    const { press, alerts } = await show(LoosePart);
    await press(`Add: ${HANDLERS.sources.many}`);
    expect(alerts()[0]).toMatch(/kind of part/i);
    expect(loose().sources).toHaveLength(0);
  });

  test('a kind of part that a source releases stays, and says so', async () => {
    const { press, alerts } = await show(LoosePart);
    await press(`Add: ${HANDLERS.kinds.many}`);
    await press(`Add: ${HANDLERS.sources.many}`);
    useLoose().chosen = { list: 'kinds', id: loose().kinds[0]!.id };
    await nextTick();
    await press('Delete');
    expect(alerts()[0]).toMatch(/^It stays/);
    expect(loose().kinds).toHaveLength(1);
  });

  test('a kind of part weighs what its shape and density say', async () => {
    const { press, text, type, choose } = await show(LoosePart);
    await press(`Add: ${HANDLERS.kinds.many}`);
    await choose('Shape', 'box');
    await type('Width', '100 mm');
    await type('Height', '50 mm');
    await choose('Mass', 'shape');
    await type('Thickness', '20 mm');
    await type('Density', '1000');
    // 0.1 m × 0.05 m × 0.02 m of water's density.
    expect(text()).toContain('0.1 kg a part');
  });
});

describe('materials and their pairs', () => {
  test('a new material gets a name; with a known one its pairs come from handbooks', async () => {
    const { press } = await show(LoosePart);
    await press('Add a material');
    expect(names()).toEqual(['steel', 'rubber', 'material 3']);
    const shown = await show(LoosePart);
    const boxes = [...document.querySelectorAll<HTMLInputElement>('.material input')];
    // Behind the name stands the density.
    const last = boxes.at(-2)!;
    last.value = 'wood';
    last.dispatchEvent(new Event('input', { bubbles: true }));
    last.dispatchEvent(new Event('change', { bubbles: true }));
    await nextTick();
    expect(names()).toContain('wood');
    expect(loose().materials.at(-1)!.density).toBe(600);
    expect(loose().pairs.length).toBeGreaterThan(1);
    expect(shown.text()).toMatch(/steel – wood|wood – steel/);
  });

  test('a material of which something is made stays; another goes with its pairs', async () => {
    const { press, alerts, buttons } = await show(LoosePart);
    await press(`Add: ${HANDLERS.belts.many}`);
    const made = loose().belts[0]!.material;
    const own = loose().materials.find(({ id }) => id === made)!.name;
    await press(`Delete ${own}`);
    expect(alerts()[0]).toBe(`${own} stays: ${loose().belts[0]!.name} is made of it.`);
    const other = buttons().find((label) => /^Delete (steel|rubber)$/.test(label) && label !== `Delete ${own}`)!;
    await press(other);
    expect(loose().materials).toHaveLength(1);
    expect(loose().pairs).toEqual([]);
  });

  test('pairs are added until each has its values, typed within what is possible, and deleted', async () => {
    const { press, type, alerts } = await show(LoosePart);
    await type('Friction', '0.55');
    expect(loose().pairs[0]).toMatchObject({ friction: 0.55 });
    await type('Bounce', '1.5');
    expect(alerts()).toEqual(['At most 1 is possible.']);
    expect(loose().pairs[0]).toMatchObject({ restitution: 0.1 });
    // Two materials have three pairs: each with itself, and one with the other.
    await press('Add a pair');
    await press('Add a pair');
    expect(loose().pairs).toHaveLength(3);
    await press('Add a pair');
    expect(alerts()).toContain('Every pair of materials has its values already.');
    await press('Delete the pair');
    expect(loose().pairs).toHaveLength(2);
  });
});

test('a body touches parts as it is told, of a material that is chosen, or lets them through', async () => {
  const { field } = await show(LoosePart);
  const set = async (label: string, value: string) => {
    const list = field(label);
    list.value = value;
    list.dispatchEvent(new Event('change', { bubbles: true }));
    await nextTick();
  };
  const [body] = useMachine().document!.mechanism.bodies;
  await set('Contact of Flap', 'exact');
  expect(loose().solids).toEqual([{ body: body!.id, material: 'm1', as: 'exact' }]);
  await set('Material of Flap', 'm2');
  await set('Contact of Flap', 'hull');
  expect(loose().solids).toEqual([{ body: body!.id, material: 'm2', as: 'hull' }]);
  await set('Contact of Flap', 'none');
  expect(loose().solids).toEqual([]);
});

test('parts are let move in space, take shapes of space, and stay there while they have one', async () => {
  const { field, press, alerts, buttons, text, choose } = await show(LoosePart);
  const move = async (value: string) => {
    const list = field('Parts move');
    list.value = value;
    list.dispatchEvent(new Event('change', { bubbles: true }));
    await nextTick();
  };
  await press(`Add: ${HANDLERS.kinds.many}`);
  await move('space');
  expect(loose().space).toBe(true);
  expect(text()).toContain('Depth');
  useLoose().edit(
    'a tray',
    (l) =>
      void (l.kinds[0]!.shape = {
        kind: 'tray',
        width: 0.3,
        height: 0.05,
        depth: 0.2,
        wall: 0.003,
        floor: 0.003,
        along: 3,
        across: 2,
      }),
  );
  await move('plane');
  expect(alerts()[0]).toMatch(/is a part in space/);
  expect(loose().space).toBe(true);
  // A source gives rows at once, or one part.
  await press(`Add: ${HANDLERS.sources.many}`);
  await press('Give parts in rows');
  expect(loose().sources[0]!.pattern).toMatchObject({ alongX: 2 });
  expect(text()).toContain('Pitch across');
  await press('One part at a time');
  expect(loose().sources[0]!.pattern).toBeUndefined();
  expect(buttons()).toContain('Give parts in rows');
  // A gripper takes within reach, or holds between fingers, which have a face of some material.
  await press(`Add: ${HANDLERS.grippers.many}`);
  expect(text()).toContain('Reach');
  await press('Hold between fingers');
  expect(loose().grippers[0]!.fingers).toMatchObject({ material: loose().materials[0]!.id });
  expect(text()).toContain('Each presses with');
  expect(text()).not.toContain('Reach');
  await press('Take within reach');
  expect(loose().grippers[0]!.fingers).toBeUndefined();
  // A plane is chosen for what stands on the ground, and left again.
  useMachine().edit('a plane', (m) => void addPlane(m.mechanism as Mechanism, { name: 'Side' }));
  await press(`Add: ${HANDLERS.belts.many}`);
  await choose('In the plane', useMachine().document!.mechanism.planes[1]!.id);
  expect(loose().belts[0]!.plane).toBe(useMachine().document!.mechanism.planes[1]!.id);
  await choose('In the plane', '');
  expect(loose().belts[0]!.plane).toBeUndefined();
  await choose('Seen from', 'above');
  expect(loose().belts[0]!.seen).toBe('above');
  expect(text()).toContain('Turns to the left by');
  await choose('Seen from', 'side');
  expect(loose().belts[0]!.seen).toBeUndefined();
  useLoose().edit('a box', (l) => void (l.kinds[0]!.shape = { kind: 'box', width: 0.06, height: 0.04 }));
  await move('plane');
  expect(loose().space).toBeUndefined();
  expect(text()).not.toContain('Depth');
});

describe('in the picture', () => {
  test('a chute is drawn corner by corner; less than two corners are none, and Escape gives it up', async () => {
    const { press } = await show(LoosePart);
    const store = useLoose();
    await press('Draw a chute, ramp or stop in the picture');
    store.addCorner([0, 0.3]);
    expect(store.finishDrawing()).toMatch(/two corners/);
    expect(loose().surfaces).toHaveLength(0);
    store.beginDrawing();
    for (const at of [[0, 0.3], [0, 0.3], [0.2, 0.1], [0.3, 0.1]] as [number, number][]) store.addCorner(at); // prettier-ignore
    expect(store.finishDrawing()).toBeNull();
    expect(loose().surfaces[0]!.line).toEqual([[0, 0.3], [0.2, 0.1], [0.3, 0.1]]); // prettier-ignore
    expect(store.chosen).toEqual({ list: 'surfaces', id: loose().surfaces[0]!.id });
    store.beginDrawing();
    store.addCorner([1, 1]);
    store.giveUp();
    expect([store.drawn, loose().surfaces.length]).toEqual([null, 1]);
  });

  test('what is dragged stands on round figures, keeps its length, and is one step to take back', async () => {
    await show(LoosePart);
    const store = useLoose();
    store.add('belts');
    const { id, from, to } = loose().belts[0]!;
    const length = to[0] - from[0];
    for (const x of [0.0123, 0.0347, 0.0512]) store.drag(id, [x, 0.0004], 0.002, 'one');
    const belt = () => loose().belts[0]!;
    expect(belt().from[0]).toBe(Number((from[0] + 0.052).toPrecision(12)));
    expect(belt().from[1]).toBe(from[1]);
    expect(belt().to[0] - belt().from[0]).toBeCloseTo(length, 12);
    await undo();
    expect(belt().from).toEqual(from);
  });

  test('one corner of a chute is dragged alone', async () => {
    await show(LoosePart);
    const store = useLoose();
    store.add('surfaces');
    const { id, line } = loose().surfaces[0]!;
    store.drag(id, [0.1, 0.0501], 0.01, 'two', 1);
    expect(loose().surfaces[0]!.line).toEqual([line[0], [line[1]![0] + 0.1, line[1]![1] + 0.05]]);
  });
});

test('a material brings its density, and what is made of it has that', async () => {
  const { type, press, text } = await show(LoosePart);
  await press(`Add: ${HANDLERS.kinds.many}`);
  await press('Add a material');
  const made = loose().materials.at(-1)!;
  useLoose().edit('material', (l) => void (l.kinds[0]!.material = made.id));
  useLoose().edit('name', (l) => void (l.materials.at(-1)!.density = 500));
  useLoose().edit('mass', (l) => void (l.kinds[0]!.mass = { given: 'shape', thickness: 0.02 }));
  await nextTick();
  // 60 × 40 × 20 mm of 500 kg/m³.
  expect(text()).toContain('0.024 kg a part');
  await type(`Density of ${made.name}`, '1000');
  expect(text()).toContain('0.048 kg a part');
  await type(`Density of ${made.name}`, '');
  expect(loose().materials.at(-1)!.density).toBe(1000);
});
