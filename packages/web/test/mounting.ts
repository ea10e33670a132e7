import { newMachine, type Machine } from '@yoke/core';
import { enableAutoUnmount, mount, type VueWrapper } from '@vue/test-utils';
import { createPinia, setActivePinia } from 'pinia';
import { nextTick, type Component } from 'vue';
import { createMemoryHistory, createRouter } from 'vue-router';
import { api } from '@/api/client';
import { useMachine } from '@/stores/machine';
import { useRun } from '@/stores/run';
import './dom';

enableAutoUnmount(afterEach);

/** Opens a machine in stores of its own, as if it had been read from the server; gives its store. */
export async function opened(change: (machine: Machine) => void = () => undefined) {
  setActivePinia(createPinia());
  const document = newMachine('Test');
  document.cycle = { given: 'time', time: 2 };
  change(document);
  jest.spyOn(api, 'readMachine').mockResolvedValue({ machine: document, revision: 1 });
  jest.spyOn(api, 'saveMachine').mockResolvedValue(2);
  const machine = useMachine();
  await machine.open('m1');
  return machine;
}

/** Waits until the run of the machine is there. @throws Error where it fails */
export async function ran(): Promise<void> {
  const results = useRun();
  while (results.stale || !results.run) {
    if (results.failure !== null) throw new Error(results.failure);
    await new Promise((resolve) => setTimeout(resolve, 5));
  }
  await nextTick();
}

/** A component on a page of its own, found by what people see of it. */
export interface Shown {
  wrapper: VueWrapper;
  /** All that is to be read. */
  text(): string;
  /** The box or list with this label. */
  field(label: string): HTMLInputElement;
  /** Types into a box and leaves it. */
  type(label: string, text: string): Promise<void>;
  /** Chooses in the list with this label, by the value that stands for what is seen. */
  choose(label: string, value: unknown): Promise<void>;
  /** Presses the button with this name. */
  press(name: string): Promise<void>;
  buttons(): string[];
  /** What is wrong, as it is said. */
  alerts(): string[];
}

const STAGES = ['build', 'move', 'cue', 'run', 'size', 'deliver'];

const named = (element: Element): string =>
  (element.getAttribute('aria-label') ?? element.textContent ?? '').replace(/\s+/g, ' ').trim();

/** Shows a component with its properties, with the present stores and all routes leading nowhere. */
export async function show(component: Component, props: Record<string, unknown> = {}): Promise<Shown> {
  const router = createRouter({
    history: createMemoryHistory(),
    routes: [
      ...STAGES.map((name) => ({ path: `/machine/:id/${name}`, name, component: { template: '<i />' } })),
      { path: '/:path(.*)*', component: { template: '<i />' } },
    ],
  });
  await router.push('/machine/m1/build');
  const wrapper = mount(component, { props, attachTo: document.body, global: { plugins: [router] } });
  const root = () => wrapper.element.parentElement ?? document.body;
  const field = (label: string) => {
    const caption = [...root().querySelectorAll('label')].find((found) => named(found) === label);
    const found =
      (caption && document.getElementById(caption.htmlFor)) ??
      caption?.querySelector('input, textarea, select') ??
      root().querySelector(`[aria-label="${label}"]`);
    if (!found)
      throw new Error(
        `There is no field “${label}”, but: ${[...root().querySelectorAll('label')].map(named).join(', ')}.`,
      );
    return found as HTMLInputElement;
  };
  const settle = () => new Promise((resolve) => setTimeout(resolve));
  return {
    wrapper,
    field,
    text: () => (root().textContent ?? '').replace(/\s+/g, ' ').trim(),
    async type(label, text) {
      const box = field(label);
      box.focus();
      box.value = text;
      box.dispatchEvent(new Event('input', { bubbles: true }));
      await settle();
      box.dispatchEvent(new Event('change', { bubbles: true }));
      box.blur();
      await settle();
    },
    async choose(label, value) {
      const list = wrapper.findAllComponents({ name: 'ElSelect' }).find((found) => found.props('ariaLabel') === label);
      const toggle = wrapper
        .findAllComponents({ name: 'ElSwitch' })
        .find((found) => found.props('ariaLabel') === label);
      if (!list && !toggle) throw new Error(`There is no list “${label}”.`);
      (list ?? toggle)!.vm.$emit('update:modelValue', value);
      (list ?? toggle)!.vm.$emit('change', value);
      await settle();
    },
    async press(name) {
      const button = [...root().querySelectorAll('button')].find((found) => named(found) === name);
      if (!button)
        throw new Error(
          `There is no button “${name}”, but: ${[...root().querySelectorAll('button')].map(named).join(', ')}.`,
        );
      button.click();
      await settle();
    },
    buttons: () => [...root().querySelectorAll('button')].map(named),
    alerts: () => [...root().querySelectorAll('[role="alert"]')].map((found) => named(found)),
  };
}
