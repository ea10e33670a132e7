import { Net, type Transition } from '.';

// Evolution rules of IEC 60848, examples worked by hand from the rules (from memory).
const t = (id: string, from: number[], to: number[], more: Partial<Transition> = {}): Transition => ({
  id,
  from,
  to,
  ...more,
});
const active = (net: Net) => [...net.active].flatMap((on, i) => (on ? [i] : []));
const inputs =
  (...names: string[]) =>
  ({ id }: Transition) =>
    names.includes(id);

test('rule 2: a transition clears only when enabled and true', () => {
  const net = new Net(3, [t('a', [0], [1]), t('b', [1], [2])], [0]);
  net.evolve(inputs('b'));
  expect(active(net)).toEqual([0]);
  net.evolve(inputs('a'));
  expect(active(net)).toEqual([1]);
});

test('rule 4: transitions that can clear together do so simultaneously', () => {
  // Two parallel sequences step on in the same pass.
  const net = new Net(4, [t('a', [0], [1]), t('b', [2], [3])], [0, 2]);
  const { passes } = net.evolve((_, fresh) => fresh);
  expect(passes.map((pass) => pass.map(({ id }) => id))).toEqual([['a', 'b']]);
  expect(active(net)).toEqual([1, 3]);
});

test('rule 5: a step activated and deactivated at once stays active', () => {
  // Step 1 is left by b and entered by a in the same pass.
  const net = new Net(3, [t('a', [0], [1]), t('b', [1], [2])], [0, 1]);
  net.evolve((_, fresh) => fresh);
  expect(active(net)).toEqual([1, 2]);
});

test('transient evolution passes through steps until the situation is stable', () => {
  const net = new Net(4, [t('a', [0], [1]), t('b', [1], [2]), t('c', [2], [3])], [0]);
  const { passes } = net.evolve(inputs('a', 'b', 'c'));
  expect(passes).toHaveLength(3);
  expect(active(net)).toEqual([3]);
});

test('an edge clears one transition of a row, not those behind it', () => {
  const net = new Net(3, [t('a', [0], [1]), t('b', [1], [2])], [0]);
  // Both wait for the same rising edge: the second needs a new one.
  net.evolve((_, fresh) => fresh);
  expect(active(net)).toEqual([1]);
  net.evolve((_, fresh) => fresh);
  expect(active(net)).toEqual([2]);
});

test('parallel branches begin together and join when all have ended', () => {
  // 0 → (1, 2); 1 → 3; 2 → 4; (3, 4) → 5
  const net = new Net(6, [t('fork', [0], [1, 2]), t('l', [1], [3]), t('r', [2], [4]), t('join', [3, 4], [5])], [0]);
  net.evolve(inputs('fork', 'join'));
  expect(active(net)).toEqual([1, 2]);
  net.evolve(inputs('l', 'join'));
  expect(active(net)).toEqual([2, 3]);
  net.evolve(inputs('r', 'join'));
  expect(active(net)).toEqual([5]);
});

test('alternatives: the standard clears both where both hold; exclusive ones go by priority', () => {
  const both = new Net(3, [t('a', [0], [1]), t('b', [0], [2])], [0]);
  both.evolve(() => true);
  expect(active(both)).toEqual([1, 2]);
  const one = new Net(
    3,
    [t('a', [0], [1], { exclusive: 'x' }), t('b', [0], [2], { exclusive: 'x', priority: 1 })],
    [0],
  );
  expect(one.evolve(() => true).races).toEqual([]);
  expect(active(one)).toEqual([2]);
  const race = new Net(3, [t('a', [0], [1], { exclusive: 'x' }), t('b', [0], [2], { exclusive: 'x' })], [0]);
  expect(race.evolve(() => true).races).toEqual([{ taken: 'a', left: ['b'] }]);
  expect(active(race)).toEqual([1]);
});

test('a loop without conditions is found endless', () => {
  const net = new Net(2, [t('a', [0], [1]), t('b', [1], [0])], [0]);
  expect(net.evolve(() => true).endless).toHaveLength(1);
});

test('a step activated while it was active is told', () => {
  const net = new Net(2, [t('a', [0], [1])], [0, 1]);
  const again: number[] = [];
  net.evolve(
    () => true,
    (_, steps) => again.push(...steps),
  );
  expect(again).toEqual([1]);
});
