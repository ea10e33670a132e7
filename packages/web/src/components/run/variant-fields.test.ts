/** @jest-environment jsdom */
import '../../../test/computing';
import { addElement, newVariant, type Mechanism, type Variant } from '@yoke/core';
import { h, nextTick } from 'vue';
import { api } from '@/api/client';
import { useMachine } from '@/stores/machine';
import { fourBar } from '../../../../core/test/mechanisms';
import { opened, show } from '../../../test/mounting';
import VariantFields from './VariantFields.vue';

const variant = (): Variant => useMachine().document!.variants[0]!;
const undo = async () => (useMachine().undo(), nextTick());

beforeEach(async () => {
  jest.spyOn(api, 'listMotors').mockResolvedValue({ motors: [], former: null });
  await opened((machine) => {
    Object.assign(machine, fourBar([0.4, 0.1, 0.35, 0.25], 0.6).machine);
    const m = machine.mechanism as Mechanism;
    const ends = { a: { body: 'ground', point: m.ground[0]!.id }, b: { body: m.bodies[1]!.id, point: 'p2' } };
    addElement(m, { kind: 'spring', name: 'Return', ...ends, rate: 500, free: 0.1 });
    addElement(m, { kind: 'damper', name: 'Dashpot', ...ends, rate: 20 });
    machine.loose.materials = [
      { id: 'm', name: 'steel' },
      { id: 'n', name: 'card' },
    ];
    machine.loose.pairs = [{ id: 'p', a: 'm', b: 'n', friction: 0.4, restitution: 0.1 }];
    machine.variants = [newVariant('v', 'Twice as fast')];
  });
});
const shown = () => show({ render: () => h(VariantFields, { variant: variant() }) });

describe('a variant', () => {
  test('is faster, without gravity, loads or friction', async () => {
    const { type, choose, alerts } = await shown();
    await type('Times as fast', '2');
    expect(variant().speed).toBe(2);
    await type('Times as fast', '0');
    expect(alerts()).toHaveLength(1);
    expect(variant().speed).toBe(2);
    for (const label of ['Gravity', 'Loads', 'Friction']) await choose(label, false);
    expect(variant()).toMatchObject({ gravity: false, loads: false, friction: false });
    await undo();
    expect(variant().friction).toBe(true);
  });

  test('leaves elements out, and gives others another rate; emptied, they are as they were', async () => {
    const { choose, type, field } = await shown();
    const [spring, damper] = useMachine().document!.mechanism.elements.map(({ id }) => id);
    await choose('Return', false);
    expect(variant().off).toEqual([spring]);
    await choose('Return', true);
    expect(variant().off).toEqual([]);
    expect(field('Dashpot: rate').placeholder).toBe('as it is');
    await type('Dashpot: rate', '35');
    expect(variant().changes).toEqual([{ element: damper, rate: 35, free: null }]);
    await type('Dashpot: rate', '');
    expect(variant().changes).toEqual([]);
  });

  test('two materials meet otherwise: what is not typed stays as it is', async () => {
    const { type, field } = await shown();
    expect(field('steel – card: friction').placeholder).toBe('0.4');
    await type('steel – card: friction', '0.25');
    expect(variant().pairs).toEqual([{ pair: 'p', friction: 0.25, restitution: 0.1 }]);
    await type('steel – card: bounce', '0.3');
    expect(variant().pairs).toEqual([{ pair: 'p', friction: 0.25, restitution: 0.3 }]);
    await type('steel – card: friction', '');
    expect(variant().pairs).toEqual([]);
    expect(useMachine().document!.loose.pairs[0]).toMatchObject({ friction: 0.4, restitution: 0.1 });
  });

  test('has a name of its own', async () => {
    const { type } = await shown();
    await type('Name', 'Night shift');
    expect(variant().name).toBe('Night shift');
  });
});
