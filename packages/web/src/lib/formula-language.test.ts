import { CompletionContext } from '@codemirror/autocomplete';
import { EditorState } from '@codemirror/state';
import { FUNCTIONS } from '@yoke/core';
import { callAt, completeFormula, formulaLanguage } from './formula-language';

const names = { axes: ['Lift', 'Tray belt'], constants: [{ name: 'gap', text: '12 mm' }] };
/** Completions where the bar stands. */
function offered(text: string, explicit = true): string[] | null {
  const at = text.indexOf('|');
  const state = EditorState.create({ doc: text.replace('|', '') });
  const found = completeFormula(new CompletionContext(state, at, explicit), names);
  return found && found.options.map(({ label }) => label);
}

describe('completion', () => {
  test('offers functions, values, constants, laws and units', () => {
    const all = offered('2 * ri|')!;
    for (const name of ['rise', 'master', 'gap', 'modifiedSine', 'mm', 'position']) expect(all).toContain(name);
  });
  test('inside quotation marks only the axes', () => {
    expect(offered('position("|')).toEqual(['Lift', 'Tray belt']);
  });
  test('keeps quiet after a number until it is asked', () => {
    expect(offered('2 |', false)).toBeNull();
    expect(offered('2 |')).not.toBeNull();
  });
});

describe('the call a place lies in', () => {
  const call = (text: string) => {
    const found = callAt(text.replace('|', ''), text.indexOf('|'));
    return found && [found.help.name, found.argument];
  };
  test.each([
    ['rise(|', ['rise', 0]],
    ['rise(t, 0 s|', ['rise', 1]],
    ['rise(t, max(1 s, 2 s), |', ['rise', 2]],
    ['2 * (t + |', null],
    ['lookup(t, [0 s, 1 s|', ['lookup', 2]],
    ['rise(t, 0 s, 1 s)|', null],
    ['sin(2 * (t / T) + |', ['sin', 0]],
  ])('%s', (text, expected) => expect(call(text)).toEqual(expected));
});

test('every word is coloured by what it is', () => {
  const { tokenTable: _none, ...parser } = (
    formulaLanguage as unknown as {
      streamParser: { token: (s: unknown, state: null) => string | null; tokenTable: object };
    }
  ).streamParser;
  const kinds = (text: string) => {
    let place = 0;
    const found: [string, string | null][] = [];
    while (place < text.length) {
      const begin = place;
      const stream = {
        eatSpace: () => {
          const { length } = /^\s*/.exec(text.slice(place))![0];
          place += length;
          return length > 0;
        },
        match: (pattern: RegExp) => {
          const match = new RegExp(`^(?:${pattern.source})`).exec(text.slice(place));
          if (match) place += match[0].length;
          return match;
        },
        next: () => text[place++],
      };
      const kind = parser.token(stream, null);
      if (kind) found.push([text.slice(begin, place), kind]);
    }
    return found;
  };
  expect(kinds('2.5 mm * rise(t, gap, "x") # end')).toEqual([
    ['2.5', 'number'],
    ['mm', 'unit'],
    ['*', 'operator'],
    ['rise', 'keyword'],
    ['(', 'operator'],
    ['t', 'variableName'],
    [',', 'operator'],
    ['gap', 'propertyName'],
    [',', 'operator'],
    ['"x"', 'string'],
    [')', 'operator'],
    ['# end', 'comment'],
  ]);
  for (const { name } of FUNCTIONS) expect(kinds(name)).toEqual([[name, 'keyword']]);
});
