import { create, parseDependencies, type MathNode } from 'mathjs';
import { FormulaError } from './error';

const { parse } = create({ ...parseDependencies });

/** A formula taken apart. Every part knows its place in the text. */
export type Expression = { from: number; to: number } & (
  | { kind: 'number'; value: number }
  | { kind: 'text'; value: string }
  | { kind: 'name'; name: string }
  | { kind: 'call'; name: string; args: Expression[] }
  | { kind: 'operation'; op: string; args: Expression[] }
  | { kind: 'choice'; test: Expression; yes: Expression; no: Expression }
  | { kind: 'list'; items: Expression[] }
);

/** Longest text of a formula. */
export const LONGEST_FORMULA = 4000;
/** Most names, numbers and texts in a formula. */
const MOST_PARTS = 600;
/** Deepest nesting of brackets. */
const DEEPEST = 40;
/** Deepest nesting of operations; a sum of many terms is as deep as it is long. */
const DEEPEST_TREE = 700;

interface Token {
  text: string;
  from: number;
  to: number;
}

const TOKEN = /"[^"]*"|'[^']*'|(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?|[A-Za-z_]\w*/g;
/** Words that are operators and not names. */
const WORDS = new Set(['and', 'or', 'not', 'xor']);
/** `in` is an operator of the parser; the inch goes through it under another name of the same length. */
const INCH = 'iN';

/** Comments and line ends count as blanks; all places stay where they are. */
function plainText(text: string): string {
  return text.replace(/#[^\n]*/g, (comment) => ' '.repeat(comment.length)).replace(/[\n\r\t]/g, ' ');
}

function checkSize(text: string): void {
  if (text.trim() === '')
    throw new FormulaError('The formula is empty: write for example 80 mm * sin(2 pi t / T).', 0, 0);
  if (text.length > LONGEST_FORMULA)
    throw new FormulaError(
      `The formula is too long: ${text.length} characters, ${LONGEST_FORMULA} are allowed. Move parts of it into constants.`,
      LONGEST_FORMULA,
      text.length,
    );
  let depth = 0;
  for (let i = 0; i < text.length; i++) {
    if (text[i] === '(' || text[i] === '[') depth++;
    if (text[i] === ')' || text[i] === ']') depth--;
    if (depth > DEEPEST) throw new FormulaError(`Brackets are nested more than ${DEEPEST} deep.`, i, i + 1);
  }
}

/** Characters that the language does not have, with what to do instead. */
const FOREIGN: [RegExp, string][] = [
  [/%/, 'There is no % in formulas: write 0.04 for 4 %, and mod(a, b) for a remainder.'],
  [/[{}]/, 'Curly brackets have no meaning here: use round ones.'],
  [/;/, 'One formula at a time: leave out the semicolon.'],
  [/°/, 'Write deg for degrees.'],
  [/\.\s*[A-Za-z_]/, 'A dot before a name has no meaning here: dots belong into numbers only.'],
  [/(^|[^<>=!])=([^=]|$)/, 'Nothing is assigned here: write the value itself, and == to compare.'],
  [/:=/, 'Nothing is assigned here: write the value itself.'],
];

/**
 * Takes a formula apart by the parser of mathjs; what the language does not have is refused, nothing is evaluated.
 * @throws FormulaError with the place
 */
export function parseFormula(source: string): Expression {
  checkSize(source);
  const text = plainText(source);
  const bare = text.replace(/"[^"]*"|'[^']*'/g, (quoted) => ' '.repeat(quoted.length));
  const withoutNumbers = bare.replace(/(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?/g, (n) => '0'.repeat(n.length));
  for (const [pattern, message] of FOREIGN) {
    const match = pattern.exec(withoutNumbers);
    if (match) throw new FormulaError(message, match.index, match.index + match[0].length);
  }
  const comma = /\d,\d/.exec(bare.replace(/\([^()]*\)|\[[^[\]]*\]/g, (inside) => ' '.repeat(inside.length)));
  if (comma)
    throw new FormulaError('A comma separates arguments: write a decimal point.', comma.index, comma.index + 3);
  const tokens: Token[] = [];
  for (const match of text.matchAll(TOKEN))
    if (!WORDS.has(match[0])) tokens.push({ text: match[0], from: match.index, to: match.index + match[0].length });
  if (tokens.length > MOST_PARTS)
    throw new FormulaError(`The formula has ${tokens.length} parts; ${MOST_PARTS} are allowed.`, 0, source.length);
  let tree: MathNode;
  try {
    tree = parse(text.replace(/"[^"]*"|'[^']*'|\bin\b/g, (part) => (part === 'in' ? INCH : part)));
  } catch (error) {
    const place = (error as { char?: number }).char ?? text.length;
    const at = Math.max(0, Math.min(source.length, place - 1));
    const words = (error as Error).message
      .replace(/ \(char \d+\)$/, '')
      .replace(/^SyntaxError: /, '')
      .replaceAll(INCH, 'in');
    throw new FormulaError(`${words}.`, at, Math.min(source.length, at + 1));
  }
  return new Reader(tokens, text).read(tree);
}

/** Walks the parser's tree in the order of the text and gives every leaf its place. */
class Reader {
  private next = 0;
  private depth = 0;
  private readonly length: number;
  constructor(
    private readonly tokens: readonly Token[],
    private readonly text: string,
  ) {
    this.length = text.length;
  }

  /** End of a call whose last part ends at `from`: behind its bracket. */
  private closing(from: number): number {
    const bracket = /^\s*\)/.exec(this.text.slice(from));
    return from + (bracket?.[0].length ?? 0);
  }

  private take(): Token {
    return this.tokens[this.next++] ?? { text: '', from: 0, to: this.length };
  }

  read(node: MathNode): Expression {
    if (++this.depth > DEEPEST_TREE)
      throw this.refuse('The formula is nested too deeply: move parts of it into constants.');
    const found = this.readNode(node);
    this.depth--;
    return found;
  }

  private readNode(node: MathNode): Expression {
    const n = node as MathNode & Record<string, unknown>;
    switch (n.type) {
      case 'ParenthesisNode':
        return this.read(n.content as MathNode);
      case 'ConstantNode': {
        const { from, to } = this.take();
        if (typeof n.value === 'string') return { kind: 'text', value: n.value, from, to };
        if (typeof n.value === 'number') return { kind: 'number', value: n.value, from, to };
        throw new FormulaError('true and false have no meaning here: compare two values.', from, to);
      }
      case 'SymbolNode': {
        const { from, to } = this.take();
        const name = n.name as string;
        return { kind: 'name', name: name === INCH ? 'in' : name, from, to };
      }
      case 'FunctionNode': {
        const fn = n.fn as { type: string; name?: string };
        if (fn.type !== 'SymbolNode') throw this.refuse('Only named functions can be called.');
        const { from, to } = this.take();
        const args = (n.args as MathNode[]).map((arg) => this.read(arg));
        return {
          kind: 'call',
          name: fn.name!,
          args,
          from,
          to: this.closing(Math.max(to, ...args.map((arg) => arg.to))),
        };
      }
      case 'OperatorNode': {
        const args = (n.args as MathNode[]).map((arg) => this.read(arg));
        return {
          kind: 'operation',
          op: args.length === 1 ? `unary ${n.op as string}` : (n.op as string),
          args,
          ...span(args),
        };
      }
      case 'ConditionalNode': {
        const test = this.read(n.condition as MathNode);
        const yes = this.read(n.trueExpr as MathNode);
        const no = this.read(n.falseExpr as MathNode);
        return { kind: 'choice', test, yes, no, ...span([test, yes, no]) };
      }
      case 'ArrayNode': {
        const items = (n.items as MathNode[]).map((item) => this.read(item));
        return { kind: 'list', items, ...span(items) };
      }
      case 'RelationalNode':
        throw this.refuse('Two comparisons at once: write a < b and b < c.');
      default:
        throw this.refuse('The formula has a construct that the language does not know: see the list of functions.');
    }
  }

  private refuse(message: string): FormulaError {
    return new FormulaError(message, 0, this.length);
  }
}

function span(parts: readonly Expression[]): { from: number; to: number } {
  return { from: Math.min(...parts.map(({ from }) => from)), to: Math.max(...parts.map(({ to }) => to)) };
}
