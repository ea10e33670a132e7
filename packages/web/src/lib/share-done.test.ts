import { ref } from 'vue';
import { shareDone } from './share-done';

test('what ended work tells late is not heard, nor what an earlier one tells of a later one', () => {
  const progress = ref<number | null>(null);
  const begin = shareDone(progress);
  const first = begin();
  expect(progress.value).toBe(0);
  first.tell(0.5);
  expect(progress.value).toBe(0.5);
  first.end();
  first.tell(1);
  expect(progress.value).toBeNull();
  const second = begin();
  const third = begin();
  third.tell(0.25);
  second.tell(0.9);
  second.end();
  expect(progress.value).toBe(0.25);
  third.end();
  expect(progress.value).toBeNull();
  // What was stopped from outside stays so.
  const fourth = begin();
  progress.value = null;
  fourth.tell(0.7);
  expect(progress.value).toBeNull();
});
