import type { Condition, Machine } from '../machine';
import { formatEntry, parseQuantity, type QuantityKind, type UnitSystem } from '../quantity';

/** What conditions can speak of: things with names. */
export type Named = Pick<Machine, 'axes' | 'units'> & {
  sequence: Pick<Machine['sequence'], 'sensors' | 'flags' | 'cues'>;
  loose: Pick<Machine['loose'], 'grippers'>;
};

/** A condition that cannot be read: the message, and the stretch of the text it is about. */
export class ConditionError extends Error {
  override name = 'ConditionError';
  constructor(
    message: string,
    readonly from: number,
    readonly to: number,
  ) {
    super(message);
  }
}

type Subject = { what: 'sensor' | 'flag' | 'cue' | 'axis' | 'gripper'; id: string; name: string };

const subjectsOf = (named: Named): Subject[] =>
  [
    ...named.sequence.sensors.map(({ id, name }): Subject => ({ what: 'sensor', id, name })),
    ...named.sequence.cues.map(({ id, name }): Subject => ({ what: 'cue', id, name })),
    ...named.sequence.flags.map(({ id, name }): Subject => ({ what: 'flag', id, name })),
    ...named.axes.map(({ id, name }): Subject => ({ what: 'axis', id, name })),
    ...named.loose.grippers.map(({ id, name }): Subject => ({ what: 'gripper', id, name })),
  ].sort((a, b) => b.name.length - a.name.length);

const kindOf = (named: Named, axis: string): QuantityKind =>
  named.axes.find(({ id }) => id === axis)?.kind === 'rotary' ? 'angle' : 'length';

/** Tightest band in which an axis counts as in position where none is written: m or rad. */
const WITHIN = 1e-4;

/** What can be said of each subject, as people write it. */
export const SAYINGS = {
  sensor: ['on', 'off', 'comes on', 'goes off'],
  flag: ['set', 'clear'],
  cue: ['running', 'ended', 'ended >= 3'],
  axis: ['at 100 mm', 'at rest'],
  gripper: ['holds', 'empty'],
} as const;

/**
 * Reads a condition as people write it: `Tray eye on and not (Full set or Lift running)`, `Eye comes on`,
 * `Place ended >= 12`, `Lift at 120 mm`, `Lift at rest`, `time 2 s`, `Gripper holds`. Names may stand in quotation
 * marks; `and` binds closer than `or`. `↑` and `↓` before a sensor (IEC 60848) stand for its edges.
 * @throws ConditionError naming what is wrong and where
 */
export function parseCondition(text: string, named: Named): Condition | null {
  if (text.trim() === '') return null;
  return new Reader(text, named, subjectsOf(named)).whole();
}

class Reader {
  private at = 0;

  constructor(
    private readonly text: string,
    private readonly named: Named,
    private readonly subjects: readonly Subject[],
  ) {}

  whole(): Condition {
    const condition = this.or();
    this.space();
    if (this.at < this.text.length) this.fail('Here “and”, “or” or the end is expected.', this.at, this.text.length);
    return condition;
  }

  private fail(message: string, from: number, to: number): never {
    throw new ConditionError(message, from, Math.max(to, from + 1));
  }

  private space(): void {
    while (/\s/.test(this.text[this.at] ?? '')) this.at++;
  }

  private word(...words: string[]): string | null {
    this.space();
    for (const word of words) {
      const pattern = word.split(' ').join('\\s+');
      const match = new RegExp(`^${pattern}(?![\\p{L}\\p{N}_])`, 'iu').exec(this.text.slice(this.at));
      if (!match) continue;
      this.at += match[0].length;
      return word;
    }
    return null;
  }

  private sign(sign: string): boolean {
    this.space();
    if (!this.text.startsWith(sign, this.at)) return false;
    this.at += sign.length;
    return true;
  }

  private or(): Condition {
    const of = [this.and()];
    while (this.word('or')) of.push(this.and());
    return of.length === 1 ? of[0]! : { op: 'or', of };
  }

  private and(): Condition {
    const of = [this.not()];
    while (this.word('and')) of.push(this.not());
    return of.length === 1 ? of[0]! : { op: 'and', of };
  }

  private not(): Condition {
    if (this.word('not')) return { op: 'not', of: this.not() };
    if (this.sign('(')) {
      const from = this.at - 1;
      const inner = this.or();
      if (!this.sign(')')) this.fail('This bracket is not closed.', from, from + 1);
      return inner;
    }
    return this.term();
  }

  private term(): Condition {
    this.space();
    const from = this.at;
    if (this.at >= this.text.length)
      this.fail('Something is missing at the end.', this.text.length - 1, this.text.length);
    for (const [sign, op] of [
      ['↑', 'rises'],
      ['↓', 'falls'],
    ] as const)
      if (this.sign(sign)) {
        const subject = this.subject();
        if (subject.what !== 'sensor')
          this.fail(`“${subject.name}” is no sensor: only sensors have edges.`, from, this.at);
        return { op, sensor: subject.id };
      }
    // A thing that is itself called “time…” goes first.
    if (!this.peek() && this.word('time')) return { op: 'time', at: this.quantity('time') };
    const subject = this.subject();
    const { id } = subject;
    switch (subject.what) {
      case 'sensor': {
        const said = this.word('comes on', 'goes off', 'on', 'off') ?? 'on';
        if (said === 'comes on') return { op: 'rises', sensor: id };
        if (said === 'goes off') return { op: 'falls', sensor: id };
        return said === 'on' ? { op: 'on', sensor: id } : { op: 'not', of: { op: 'on', sensor: id } };
      }
      case 'flag':
        return this.word('set', 'clear') === 'clear'
          ? { op: 'not', of: { op: 'flag', flag: id } }
          : { op: 'flag', flag: id };
      case 'cue': {
        if (this.word('running')) return { op: 'running', cue: id };
        if (!this.word('ended')) return this.unsaid(subject, from);
        const is = (['>=', '<', '='] as const).find((sign) => this.sign(sign));
        if (!is) return { op: 'ended', cue: id };
        const value = this.quantity('number');
        if (!Number.isInteger(value) || value < 0) this.fail('Cues end a whole number of times.', from, this.at);
        return { op: 'count', cue: id, is, value };
      }
      case 'gripper':
        if (this.word('empty')) return { op: 'not', of: { op: 'holds', gripper: id } };
        return this.word('holds') ? { op: 'holds', gripper: id } : this.unsaid(subject, from);
      case 'axis': {
        if (this.word('at rest')) return { op: 'rests', axis: id };
        if (!this.word('at')) return this.unsaid(subject, from);
        const value = this.quantity(kindOf(this.named, id));
        const within = this.sign('±') ? this.quantity(kindOf(this.named, id)) : WITHIN;
        if (!(within > 0)) this.fail('The band behind ± must be greater than 0.', from, this.at);
        return { op: 'at', axis: id, value, within };
      }
    }
  }

  private unsaid({ what, name }: Subject, from: number): never {
    this.fail(
      `What about the ${what} “${name}”? Write ${SAYINGS[what].map((s) => `“${s}”`).join(', ')} behind it.`,
      from,
      this.at,
    );
  }

  private peek(): Subject | null {
    const rest = this.text.slice(this.at).toLowerCase();
    return (
      this.subjects.find(({ name }) => {
        const wanted = name.toLowerCase();
        return rest.startsWith(wanted) && !/[\p{L}\p{N}_]/u.test(rest[wanted.length] ?? ' ');
      }) ?? null
    );
  }

  private subject(): Subject {
    this.space();
    const from = this.at;
    const open = this.text[this.at] ?? '';
    const close = { '“': '”', '"': '"', "'": "'" }[open];
    if (close !== undefined) {
      const end = this.text.indexOf(close, this.at + 1);
      if (end < 0) this.fail('This quotation mark is not closed.', from, this.text.length);
      const name = this.text
        .slice(this.at + 1, end)
        .trim()
        .toLowerCase();
      this.at = end + 1;
      const found = this.subjects.find((s) => s.name.toLowerCase() === name);
      return found ?? this.fail(`There is nothing called ${this.text.slice(from, this.at)} here.`, from, this.at);
    }
    const found = this.peek();
    if (found) {
      this.at += found.name.length;
      return found;
    }
    const unknown = /^[^\s()]+/.exec(this.text.slice(this.at))?.[0] ?? '';
    return this.fail(
      `“${unknown}” is no sensor, flag, cue, axis or gripper of this machine: write one of their names, or “time”.`,
      from,
      from + unknown.length,
    );
  }

  private quantity(kind: QuantityKind): number {
    this.space();
    const from = this.at;
    // A number with its unit ends where the next word of the language begins.
    const match = /^[-−+]?[\d.,/ \t]+(?:(?!(?:and|or|not)\b)[\p{L}°%][\p{L}°%/²³·]*)?/iu.exec(this.text.slice(this.at));
    const typed = match?.[0] ?? '';
    this.at += typed.length;
    const read = parseQuantity(typed, kind, this.named.units);
    return read.ok ? read.value : this.fail(read.message, from, Math.max(this.at, from + 1));
  }
}

/** A condition as text that reads back to itself; names that could be misread stand in quotation marks. */
export function conditionText(condition: Condition | null, named: Named): string {
  if (!condition) return '';
  const subjects = subjectsOf(named);
  const system: UnitSystem = named.units;
  const name = (what: Subject['what'], id: string): string => {
    const found = subjects.find((s) => s.what === what && s.id === id);
    if (!found) return `“${id}”`;
    const reserved = /(^|\s)(and|or|not|on|off|at|time|running|ended|holds|empty|set|clear|comes|goes)(\s|$)/i;
    const shadowed = subjects.some((s) => s !== found && s.name.toLowerCase() === found.name.toLowerCase());
    return reserved.test(found.name) || /[()"“”]/.test(found.name) || shadowed ? `“${found.name}”` : found.name;
  };
  const show = (c: Condition, inside: 'or' | 'and' | 'not' | null): string => {
    switch (c.op) {
      case 'and':
      case 'or': {
        const text = c.of.map((part) => show(part, c.op)).join(` ${c.op} `);
        return inside === null || (inside === 'or' && c.op === 'and') ? text : `(${text})`;
      }
      case 'not': {
        const inner = c.of;
        if (inner.op === 'on') return `${name('sensor', inner.sensor)} off`;
        if (inner.op === 'flag') return `${name('flag', inner.flag)} clear`;
        if (inner.op === 'holds') return `${name('gripper', inner.gripper)} empty`;
        return `not ${show(inner, 'not')}`;
      }
      case 'on':
        return `${name('sensor', c.sensor)} on`;
      case 'rises':
        return `${name('sensor', c.sensor)} comes on`;
      case 'falls':
        return `${name('sensor', c.sensor)} goes off`;
      case 'flag':
        return `${name('flag', c.flag)} set`;
      case 'running':
        return `${name('cue', c.cue)} running`;
      case 'ended':
        return `${name('cue', c.cue)} ended`;
      case 'count':
        return `${name('cue', c.cue)} ended ${c.is} ${String(c.value)}`;
      case 'at': {
        const kind = kindOf(named, c.axis);
        const band = c.within === WITHIN ? '' : ` ± ${formatEntry(c.within, kind, system)}`;
        return `${name('axis', c.axis)} at ${formatEntry(c.value, kind, system)}${band}`;
      }
      case 'rests':
        return `${name('axis', c.axis)} at rest`;
      case 'time':
        return `time ${formatEntry(c.at, 'time', system)}`;
      case 'holds':
        return `${name('gripper', c.gripper)} holds`;
    }
  };
  return show(condition, null);
}
