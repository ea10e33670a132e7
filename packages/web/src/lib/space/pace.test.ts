import { Pace } from './pace';

beforeEach(() => void jest.useFakeTimers());
afterEach(() => void jest.useRealTimers());

test('pictures that come in time are whole, also where one of them was late', () => {
  const pace = new Pace(() => undefined);
  expect([10, 16, 120, 16, 90, 100, 12].map((waited) => pace.next(waited))).toEqual(Array.from({ length: 7 }, () => false)); // prettier-ignore
});

test('three slow ones in a row, or one that is felt, make them coarse from then on', () => {
  const pace = new Pace(() => undefined);
  expect([100, 100, 100, 10, 10].map((waited) => pace.next(waited))).toEqual([false, false, true, true, true]);
  expect(new Pace(() => undefined).next(900)).toBe(true);
});

test('a whole picture is asked for once the view stands still, and coarse ones follow when it moves again', () => {
  const ask = jest.fn();
  const pace = new Pace(ask);
  expect(pace.next(900)).toBe(true);
  pace.settle();
  jest.advanceTimersByTime(200);
  // It moves on: not yet.
  expect(pace.next(20)).toBe(true);
  pace.settle();
  jest.advanceTimersByTime(200);
  expect(ask).not.toHaveBeenCalled();
  jest.advanceTimersByTime(200);
  expect(ask).toHaveBeenCalledTimes(1);
  // Drawn whole however long it takes, and no other one is asked for.
  expect(pace.next(2000)).toBe(false);
  jest.advanceTimersByTime(5000);
  expect(ask).toHaveBeenCalledTimes(1);
  expect(pace.next(20)).toBe(true);
});

test('an ended view asks for nothing more', () => {
  const ask = jest.fn();
  const pace = new Pace(ask);
  pace.next(900);
  pace.settle();
  pace.end();
  jest.advanceTimersByTime(5000);
  expect(ask).not.toHaveBeenCalled();
});
