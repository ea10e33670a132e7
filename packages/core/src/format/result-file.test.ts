import { newAxis, newMachine } from '../machine';
import { runMachine } from '../sizing';
import { readResult, writeResult } from './index';

test('a result comes back from its file to the last bit', async () => {
  const machine = newMachine('Kept');
  machine.axes.push(newAxis('linear', [], 2), newAxis('rotary', machine.axes, 2));
  machine.axes[0]!.load.force = 12.5;
  const { run, record } = await runMachine(machine, { motors: [] });
  // What a run may hold: values that are none, negative zeros, infinite ones, nothing.
  run.axes[0]!.channels.jerk.set([NaN, -0, Infinity, -Infinity, 5e-324]);
  const back = readResult(writeResult({ run, record }));
  expect(back).toEqual({ run, record });
  expect(Object.is(back.run.axes[0]!.channels.jerk[1], -0)).toBe(true);
  expect(back.run.times).toBeInstanceOf(Float64Array);
});

test('a file that is none is refused', () => {
  expect(() => readResult(Uint8Array.of(0xa0))).toThrow('no result');
});
