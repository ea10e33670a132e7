import { changeWords, channelFacts } from './index';

const times = Float64Array.from({ length: 101 }, (_, k) => k / 50);

test('a sine over two cycles: extremes with their times, RMS 1/√2', () => {
  const facts = channelFacts(
    { times, cycleTime: 2 },
    times.map((t) => Math.sin(Math.PI * t)),
  )!;
  expect(facts.maximum).toEqual({ value: 1, time: 0.5, share: 0.25 });
  expect(facts.minimum.time).toBe(1.5);
  expect(facts.minimum.share).toBe(0.75);
  expect(facts.rms).toBeCloseTo(Math.SQRT1_2, 3);
  expect(facts.complete).toBe(true);
});

test('of a run that broke off the facts are those up to there, and said to be incomplete', () => {
  const samples = times.map((t) => (t > 0.4 ? NaN : t));
  expect(channelFacts({ times, cycleTime: 2 }, samples)).toMatchObject({
    maximum: { value: 0.4, time: 0.4 },
    minimum: { value: 0, time: 0 },
    complete: false,
  });
  expect(channelFacts({ times, cycleTime: 2 }, samples.fill(NaN))).toBeNull();
});

test('differences are read as percent, as factors where large, and tell a change of sign', () => {
  expect(changeWords(1.5, 1)).toBe('+50.0 %');
  expect(changeWords(-0.5, -1)).toBe('−50.0 %');
  expect(changeWords(40, 2)).toBe('× 20');
  expect(changeWords(-3, 2)).toBe('+50.0 %, other sign');
  expect([changeWords(1, 0), changeWords(1, 1e-14, 1e-9), changeWords(1e-14, 1, 1e-9)]).toEqual(['', '', '−100 %']);
  expect(changeWords(1, 1)).toBe('0.0 %');
});
