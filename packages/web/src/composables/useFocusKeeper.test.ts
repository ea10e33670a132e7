/** @jest-environment jsdom */
import '../../test/computing';
import { defineComponent, h, nextTick, ref } from 'vue';
import { show } from '../../test/mounting';
import { useFocusKeeper } from './useFocusKeeper';

/** Rows with a button each that takes its row away. */
const Rows = defineComponent(() => {
  useFocusKeeper();
  const rows = ref(['one', 'two', 'three']);
  return () =>
    h('div', [
      h('ul', rows.value.map((row) => h('li', { key: row }, [h('button', { onClick: () => (rows.value = rows.value.filter((r) => r !== row)) }, row)]))), // prettier-ignore
      h('button', 'after'),
    ]);
});

async function gone(name: string, how: 'keydown' | 'pointerdown'): Promise<string> {
  const button = [...document.querySelectorAll('button')].find(({ textContent }) => textContent === name)!;
  button.focus();
  button.dispatchEvent(how === 'keydown' ? new KeyboardEvent(how, { key: 'Enter', bubbles: true }) : new Event(how, { bubbles: true })); // prettier-ignore
  button.click();
  await nextTick();
  await new Promise((resolve) => setTimeout(resolve, 60));
  return document.activeElement === document.body ? '' : (document.activeElement!.textContent ?? '');
}

test('where a row goes by keys, the next one has the focus; by the pointer none has', async () => {
  await show(Rows);
  expect(await gone('two', 'keydown')).toBe('three');
  expect(await gone('three', 'keydown')).toBe('one');
  expect(await gone('one', 'pointerdown')).toBe('');
});
