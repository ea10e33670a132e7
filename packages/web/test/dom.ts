// What components find in a browser and jsdom has not.
import { TextDecoder, TextEncoder } from 'node:util';

Object.assign(globalThis, { TextDecoder, TextEncoder });

/** Tells nobody: nothing has a size here. */
class StillObserver implements ResizeObserver {
  observe(): void {}
  unobserve(): void {}
  disconnect(): void {}
}
globalThis.ResizeObserver ??= StillObserver;
globalThis.structuredClone ??= <T>(value: T): T => copy(value);
performance.mark ??= (name) => ({
  name,
  detail: null,
  duration: 0,
  entryType: 'mark',
  startTime: 0,
  toJSON: () => name,
});
if (typeof window !== 'undefined') {
  window.matchMedia ??= (media) =>
    Object.assign(new EventTarget(), {
      matches: false,
      media,
      onchange: null,
      addListener: () => undefined,
      removeListener: () => undefined,
    });
  Element.prototype.scrollIntoView ??= () => undefined;
}

/** A copy of plain data and arrays of numbers. */
function copy<T>(value: T): T {
  if (typeof value !== 'object' || value === null) return value;
  if (ArrayBuffer.isView(value)) return Reflect.construct(value.constructor, [value]) as T;
  if (Array.isArray(value)) return value.map(copy) as T;
  return Object.fromEntries(Object.entries(value).map(([key, inner]) => [key, copy(inner)])) as T;
}
