import { applyVariant, newVariant } from '../machine';
import { cue, cuedAxis, move, sheetOf, stop, wait } from '../../test/cycles';
import { simulateCycle } from '.';

// All times by 1/k, speeds by k, accelerations by k², jerk by k³ (similarity in time; common practice, VDI 2143 part 1).
test.each([0.5, 2, 3])('a machine led by cues, its cycle %s times as fast', (k) => {
  const under = { ...move('x', 0.3, 0.5), time: null, law: null } as ReturnType<typeof move>;
  const machine = sheetOf(
    [
      cue('a', move('x', 0.1, 0.5)),
      cue('b', wait(0.2), { after: ['a'], delay: 0.05 }),
      cue('c', under, { after: ['b'] }),
      cue('d', { do: 'speed', axis: 'y', speed: 0.1, ramp: 0.2, time: 1 }, { after: ['c'] }),
      cue('e', { ...under, value: 0 } as typeof under, { when: { op: 'time', at: 3 } }),
      cue('f', stop, { after: ['d', 'e'] }),
    ],
    {},
    {
      axes: [
        cuedAxis('x', { limits: { ...cuedAxis('x').limits, velocity: 0.8, acceleration: 4, jerk: 60 } }),
        cuedAxis('y', { colour: 1 }),
      ],
    },
  );
  const slow = simulateCycle(machine).record;
  const fast = simulateCycle(applyVariant(machine, { ...newVariant('v', 'Fast'), speed: k })).record;
  expect(slow.end).toBe('stop');
  expect(slow.moves.length).toBeGreaterThan(3);
  expect(fast.duration * k).toBeCloseTo(slow.duration, 6);
  expect(fast.moves.map(({ cue: id, from, to }) => [id, from * k, to * k])).toEqual(
    slow.moves.map(({ cue: id, from, to }) => [id, expect.closeTo(from, 6), expect.closeTo(to, 6)]),
  );
  expect(fast.findings.map(({ code }) => code)).toEqual(slow.findings.map(({ code }) => code));
});
