import { spreadLabels, type NamedSpot } from './spread-labels';

const spot = (id: string, x: number, y: number, text = 'Coupler'): NamedSpot => ({ id, text, x, y });

test('names stand where they belong as long as there is room', () => {
  const labels = spreadLabels([spot('a', 50, 50), spot('b', 50, 90), spot('c', 200, 50)]);
  expect(labels.map(({ x, y, moved }) => [x, y, moved])).toEqual([
    [50, 50, false],
    [50, 90, false],
    [200, 50, false],
  ]);
});

test('names at one place stand in lines over each other; one that was moved far has a line to its place', () => {
  const labels = spreadLabels(['a', 'b', 'c', 'd', 'e'].map((id) => spot(id, 100, 100)));
  const lines = labels.map(({ y }) => y).sort((a, b) => a - b);
  for (let i = 1; i < lines.length; i++) expect(lines[i]! - lines[i - 1]!).toBeGreaterThanOrEqual(13);
  expect(labels.filter(({ moved }) => moved).length).toBeGreaterThan(0);
  expect(labels.every(({ at }) => at.x === 100 && at.y === 100)).toBe(true);
});

test('a name keeps its side while its body moves', () => {
  const first = spreadLabels([spot('a', 100, 100), spot('b', 100, 100)]);
  const next = spreadLabels([spot('a', 104, 100), spot('b', 104, 100)], first);
  const offset = (labels: typeof first) => labels[1]!.y - labels[1]!.at.y;
  expect(offset(next)).toBe(offset(first));
});

test('what finds no place within a few lines is left out, and nothing else', () => {
  const many = spreadLabels(Array.from({ length: 40 }, (_, i) => spot(String(i), 100, 100)));
  expect(many.length).toBeGreaterThan(8);
  expect(many.length).toBeLessThan(40);
});
