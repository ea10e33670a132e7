import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { GLOSSARY, glossaryText, wordFor } from './glossary';

test('docs/glossary.md is what the application explains', () => {
  expect(readFileSync(join(__dirname, '../../../../docs/glossary.md'), 'utf8')).toBe(glossaryText());
});

test('words stand in the order of the alphabet, each once, each explained in a sentence or more', () => {
  const words = GLOSSARY.map(({ word }) => word);
  expect(words).toEqual([...words].sort((a, b) => a.localeCompare(b, 'en')));
  const labels = GLOSSARY.flatMap(({ word, labels: more = [] }) => [word, ...more].map((label) => label.toLowerCase()));
  expect(new Set(labels).size).toBe(labels.length);
  for (const { text } of GLOSSARY) expect(text).toMatch(/^[A-Z].{20,}\.$/);
});

test('what a newcomer may not know is explained, by its word or by the label of a field', () => {
  for (const word of ['Law', 'Cue', 'Duty', 'Inertia ratio', 'Mobility', 'Engage']) expect(wordFor(word)?.word).toBe(word); // prettier-ignore
  expect(wordFor(' inertia ratio to ')?.word).toBe('Inertia ratio');
  expect(wordFor('Colour')).toBeUndefined();
});
