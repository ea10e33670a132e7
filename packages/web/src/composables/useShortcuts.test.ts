/** @jest-environment jsdom */
import '../../test/computing';
import { newAxis } from '@yoke/core';
import { defineComponent, h, nextTick } from 'vue';
import { api } from '@/api/client';
import { QuantityField } from '@/components/fields';
import { useMachine } from '@/stores/machine';
import { opened, show } from '../../test/mounting';
import { useShortcuts } from './useShortcuts';

/** What was asked for by a key. */
const asked: string[] = [];
const told = (what: string) => () => void asked.push(what);

/** A page with one field of the document and the keys of the application. */
const Page = defineComponent(() => {
  const machine = useMachine();
  useShortcuts({ help: told('help'), find: told('find'), words: told('words'), guide: told('guide') });
  return () =>
    h(QuantityField, {
      value: machine.axis!.home,
      kind: 'length',
      label: 'Home',
      commit: (value: number | null) => machine.editAxis('home', (draft) => void (draft.home = value!)),
    });
});

beforeEach(async () => {
  jest.spyOn(api, 'listMotors').mockResolvedValue({ motors: [], former: null });
  await opened((machine) => machine.axes.push(newAxis('linear', [], 2)));
});

/** Presses a key where the hand is; tells whether the application took it for itself. */
async function key(target: HTMLElement, name: string, more: KeyboardEventInit = {}): Promise<boolean> {
  const event = new KeyboardEvent('keydown', { key: name, bubbles: true, cancelable: true, ...more });
  target.dispatchEvent(event);
  await nextTick();
  return event.defaultPrevented;
}
async function typed(box: HTMLInputElement, text: string): Promise<void> {
  box.value = text;
  box.dispatchEvent(new Event('input', { bubbles: true }));
  await nextTick();
}
const home = () => useMachine().axis!.home;

test('while a field is typed into, undo is left to the typing; once that was taken it is that of the document', async () => {
  const shown = await show(Page);
  const box = shown.field('Home');
  box.focus();
  await typed(box, '50');
  expect(await key(box, 'z', { ctrlKey: true })).toBe(false);
  expect(box.value).toBe('50');
  await key(box, 'Enter');
  expect(home()).toBeCloseTo(0.05, 12);
  expect(await key(box, 'z', { ctrlKey: true })).toBe(true);
  expect(home()).toBe(0);
  expect(box.value).toBe('0');
  expect(await key(box, 'y', { ctrlKey: true })).toBe(true);
  expect(home()).toBeCloseTo(0.05, 12);
});

test('a field that was left is no longer typed into', async () => {
  const { field, type } = await show(Page);
  await type('Home', '30');
  const box = field('Home');
  expect(home()).toBeCloseTo(0.03, 12);
  box.focus();
  expect(await key(box, 'z', { ctrlKey: true })).toBe(true);
  expect(home()).toBe(0);
  // Keys that write something stay with the field.
  expect(await key(box, ' ')).toBe(false);
});

test('keys ask for the finder, the words, the guide and the sheet; not while one types', async () => {
  const { field } = await show(Page);
  asked.length = 0;
  for (const name of ['/', 'w', 'G', '?']) expect(await key(document.body, name)).toBe(true);
  expect(asked).toEqual(['find', 'words', 'guide', 'help']);
  const box = field('Home');
  box.focus();
  expect(await key(box, '/')).toBe(false);
  expect(asked).toHaveLength(4);
});

test('after a choice by the pointer the keys are the machine’s again; by keys the focus stays', async () => {
  await show(Page);
  const list = document.createElement('select');
  list.innerHTML = '<option>a</option><option>b</option>';
  document.body.append(list);
  const chosen = async (how: 'pointerdown' | 'keydown') => {
    list.focus();
    list.dispatchEvent(new Event(how, { bubbles: true }));
    list.dispatchEvent(new Event('change', { bubbles: true }));
    await new Promise((resolve) => setTimeout(resolve, 90));
    return document.activeElement === list;
  };
  expect(await chosen('keydown')).toBe(true);
  expect(await chosen('pointerdown')).toBe(false);
  list.remove();
});
