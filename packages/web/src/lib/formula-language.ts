import type { Completion, CompletionContext, CompletionResult } from '@codemirror/autocomplete';
import type { EditorView } from '@codemirror/view';
import { HighlightStyle, StreamLanguage } from '@codemirror/language';
import { tags } from '@lezer/highlight';
import { FUNCTIONS, LAWS, LOOKUP_WAYS, UNITS, VARIABLES } from '@yoke/core';

const FUNCTION_NAMES = new Set(FUNCTIONS.map(({ name }) => name));
const VARIABLE_NAMES = new Set(VARIABLES.map(({ name }) => name).concat('arc'));
const LAW_NAMES = new Set<string>([...LAWS.map(({ id }) => id), ...LOOKUP_WAYS]);
const WORDS = new Set(['and', 'or', 'not', 'xor']);

/** Colours of the formula language, word by word. */
export const formulaLanguage = StreamLanguage.define<null>({
  name: 'formula',
  startState: () => null,
  token(stream) {
    if (stream.eatSpace()) return null;
    if (stream.match(/#.*/)) return 'comment';
    if (stream.match(/"[^"]*"|'[^']*'/)) return 'string';
    if (stream.match(/(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?/)) return 'number';
    const word = stream.match(/[A-Za-z_]\w*/) as RegExpMatchArray | null;
    if (word) {
      const [name] = word;
      if (WORDS.has(name)) return 'operatorKeyword';
      if (FUNCTION_NAMES.has(name)) return 'keyword';
      if (VARIABLE_NAMES.has(name)) return 'variableName';
      if (LAW_NAMES.has(name)) return 'atom';
      if (Object.hasOwn(UNITS, name)) return 'unit';
      return 'propertyName';
    }
    stream.next();
    return 'operator';
  },
  tokenTable: { keyword: tags.keyword, unit: tags.unit },
});

/** Colours follow the theme through its variables. */
export const formulaColours = HighlightStyle.define([
  { tag: tags.keyword, color: 'var(--primary)', fontWeight: '500' },
  { tag: tags.operatorKeyword, color: 'var(--primary)' },
  { tag: tags.number, color: 'var(--ink)' },
  { tag: tags.unit, color: 'var(--ink-soft)' },
  { tag: tags.variableName, color: 'var(--attention-ink)' },
  { tag: tags.string, color: 'var(--good)' },
  { tag: tags.atom, color: 'var(--good)' },
  { tag: tags.propertyName, color: 'var(--ink)', fontStyle: 'italic' },
  { tag: tags.comment, color: 'var(--ink-soft)', fontStyle: 'italic' },
]);

/** What a formula may name besides the words of the language. */
export interface FormulaNames {
  axes: readonly string[];
  constants: readonly { name: string; text: string }[];
}

/** Functions that name an axis between quotation marks. */
const OF_AXIS = ['position', 'velocity', 'acceleration'];

/** Puts in a call with both brackets (and quotation marks), the cursor between them. */
const callOf = (name: string) => (view: EditorView, _completion: Completion, from: number, to: number) => {
  const [open, close] = OF_AXIS.includes(name) ? ['("', '")'] : ['(', ')'];
  view.dispatch({
    changes: { from, to, insert: `${name}${open}${close}` },
    selection: { anchor: from + name.length + open.length },
  });
};

/** Completions at a place: functions, values, laws inside calls, axes inside quotation marks, constants, units. */
export function completeFormula(
  context: CompletionContext,
  { axes, constants }: FormulaNames,
): CompletionResult | null {
  const quoted = context.matchBefore(/"[^"]*/);
  if (quoted) return { from: quoted.from + 1, options: axes.map((label) => ({ label, type: 'text', detail: 'axis' })) };
  const word = context.matchBefore(/\b[A-Za-z_]\w*/);
  if (!word && !context.explicit) return null;
  return {
    from: word?.from ?? context.pos,
    validFor: /^\w*$/,
    options: [
      ...FUNCTIONS.map(({ name, call, says }) => ({
        label: name,
        type: 'function',
        detail: call.slice(name.length),
        info: says,
        apply: callOf(name),
      })),
      ...VARIABLES.map(({ name, says }) => ({ label: name, type: 'variable', info: says })),
      ...constants.map(({ name, text }) => ({ label: name, type: 'constant', detail: `= ${text}` })),
      ...LAWS.map(({ id, name }) => ({ label: id, type: 'enum', detail: name })),
      ...Object.keys(UNITS)
        .filter((name) => name !== 'pi')
        .map((label) => ({ label, type: 'unit', boost: -10 })),
    ],
  };
}

/** The function whose brackets a place lies in, with the number of the value it is at. */
export function callAt(text: string, place: number): { help: (typeof FUNCTIONS)[number]; argument: number } | null {
  let depth = 0;
  let argument = 0;
  for (let i = place - 1; i >= 0; i--) {
    const sign = text[i]!;
    if (sign === ')' || sign === ']') depth++;
    else if (sign === '[') depth = Math.max(0, depth - 1);
    else if (sign === '(') {
      if (depth > 0) depth--;
      else {
        const name = /\b([A-Za-z_]\w*)\s*$/.exec(text.slice(0, i))?.[1];
        const help = FUNCTIONS.find((f) => f.name === name);
        if (help) return { help, argument };
        argument = 0;
      }
    } else if (sign === ',' && depth === 0) argument++;
  }
  return null;
}
