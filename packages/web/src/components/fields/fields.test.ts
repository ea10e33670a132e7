/** @jest-environment jsdom */
import { opened, show } from '../../../test/mounting';
import QuantityField from './QuantityField.vue';

const quantity = async (props: Record<string, unknown>) => {
  const taken: (number | null)[] = [];
  const commit = (value: number | null) => (taken.push(value), null);
  const shown = await show(QuantityField, { value: 0.12, kind: 'length', label: 'Length', commit, ...props });
  return { ...shown, taken };
};

beforeEach(() => opened());

describe('a number with its unit', () => {
  test('is shown in the unit of choice, and taken in any unit of its kind', async () => {
    const { field, type, taken, text } = await quantity({});
    expect(field('Length').value).toBe('120');
    expect(text()).toContain('mm');
    await type('Length', '2 in');
    await type('Length', '1.5 m');
    expect(taken).toEqual([0.0508, 1.5]);
  });

  test('typed wrong it stays, with the reason; Escape brings back what was', async () => {
    const { field, type, taken, alerts } = await quantity({});
    await type('Length', '12 kg');
    expect(field('Length').value).toBe('12 kg');
    expect(alerts()[0]).toContain('kg');
    expect(field('Length').getAttribute('aria-invalid')).toBe('true');
    field('Length').dispatchEvent(new KeyboardEvent('keydown', { key: 'Escape', code: 'Escape', bubbles: true }));
    await new Promise((resolve) => setTimeout(resolve));
    expect([field('Length').value, alerts(), taken]).toEqual(['120', [], []]);
  });

  test('bounds are said in its unit', async () => {
    const { type, alerts, taken } = await quantity({ min: 0.01, max: 0.2 });
    await type('Length', '5');
    expect(alerts()).toEqual(['At least 10 mm is needed.']);
    await type('Length', '300');
    expect(alerts()).toEqual(['At most 200 mm is possible.']);
    expect(taken).toEqual([]);
  });

  test('what the document refuses is said below it', async () => {
    const { type, alerts } = await quantity({ commit: () => 'The bar would have no length.' });
    await type('Length', '0');
    expect(alerts()).toEqual(['The bar would have no length.']);
  });

  test('arrow keys step the second figure, with Shift the first', async () => {
    const { field, taken } = await quantity({});
    const key = async (name: string, shiftKey = false) => {
      field('Length').dispatchEvent(new KeyboardEvent('keydown', { key: name, code: name, shiftKey, bubbles: true }));
      await new Promise((resolve) => setTimeout(resolve));
    };
    await key('ArrowUp');
    await key('ArrowDown');
    await key('ArrowDown', true);
    // Its value stays as given here: each step begins at 120 mm again.
    expect(taken).toEqual([0.13, 0.11, 0.02]);
  });

  test('empty is none where that is possible, and no number where it is not', async () => {
    const one = await quantity({ optional: true });
    await one.type('Length', ' ');
    expect(one.taken).toEqual([null]);
    one.wrapper.unmount();
    const other = await quantity({});
    await other.type('Length', '');
    expect([other.taken, other.alerts().length]).toEqual([[], 1]);
  });
});
