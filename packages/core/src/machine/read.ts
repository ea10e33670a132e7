import { z } from 'zod';
import { FORMAT_NAME, FORMAT_VERSION, machineSchema, type Machine } from './schema';
import { LEAST } from './parts';
import { CONDITION_DEPTH } from './sequence';
import { upgrade } from './upgrade';

/** One thing wrong in a document: where (`axes[0].load.slope`) and what is expected there. */
export const problemSchema = z.object({ path: z.string(), message: z.string() });
export type Problem = z.infer<typeof problemSchema>;

/** Outcome of reading a document. */
export type ReadResult = { ok: true; machine: Machine } | { ok: false; problems: Problem[] };

/**
 * Checks a parsed document and brings it to the present format version.
 * Every problem names the path of the culprit and what is expected there.
 */
export function readMachine(data: unknown): ReadResult {
  const foreign = foreignFormat(data) ?? tooDeep(data);
  if (foreign) return { ok: false, problems: [foreign] };
  const result = machineSchema.safeParse(upgrade(data), { reportInput: true });
  if (result.success) return { ok: true, machine: result.data };
  return { ok: false, problems: result.error.issues.flatMap(problemsOf) };
}

/** Reads a document from text, as {@link readMachine}; text that is no JSON is refused with its place. */
export function readMachineText(text: string): ReadResult {
  let data: unknown;
  try {
    data = JSON.parse(text.replace(/^\uFEFF/, ''));
  } catch (error) {
    return { ok: false, problems: [{ path: '(file)', message: `is no JSON: ${(error as Error).message}` }] };
  }
  return readMachine(data);
}

/** Text of a machine document, as written to `*.yoke.json`. */
export function machineText(machine: Machine): string {
  return `${JSON.stringify(machine, null, 2)}\n`;
}

/** All problems in one sentence, the first three in full. */
export function describeProblems(problems: readonly Problem[]): string {
  const shown = problems.slice(0, 3).map(({ path, message }) => `${path} ${message}`);
  const more = problems.length - shown.length;
  return shown.join('; ') + (more > 0 ? `; and ${more} more` : '') + '.';
}

function foreignFormat(data: unknown): Problem | undefined {
  if (typeof data !== 'object' || data === null || Array.isArray(data))
    return { path: '(document)', message: 'must be an object that says “format”: “yoke-machine”' };
  const { format, version } = data as Record<string, unknown>;
  if (format !== FORMAT_NAME) return { path: 'format', message: `must be “${FORMAT_NAME}”` };
  if (typeof version === 'number' && version > FORMAT_VERSION)
    return {
      path: 'version',
      message: `is ${version}, but this release reads up to ${FORMAT_VERSION}: open the document with a newer release`,
    };
  return undefined;
}

/** Levels of lists and objects in a document at most; conditions of the allowed depth take about half of them. */
const MOST_LEVELS = 64;

/**
 * Names the place where a document is nested deeper than any valid one. Looked at without recursion, before anything
 * that recurses gets to see it.
 */
function tooDeep(data: unknown): Problem | undefined {
  const values: object[] = [data as object];
  const depths = [1];
  /** Where each object hangs: place of its owner in a list of its own, and its key there. */
  const owners = [-1];
  const keys: PropertyKey[] = [''];
  for (let i = 0; i < values.length; i++) {
    const value = values[i]!;
    if (depths[i]! > MOST_LEVELS) {
      const path: PropertyKey[] = [];
      for (let k = i; owners[k]! >= 0; k = owners[k]!) path.unshift(keys[k]!);
      return {
        path: pathText(path.slice(0, 6)),
        message: `is nested more than ${MOST_LEVELS} levels deep: no part of a machine is; conditions take ${CONDITION_DEPTH} levels at most`,
      };
    }
    const note = (inner: unknown, key: PropertyKey) => {
      if (typeof inner !== 'object' || inner === null) return;
      values.push(inner);
      depths.push(depths[i]! + 1);
      owners.push(i);
      keys.push(key);
    };
    if (Array.isArray(value)) for (let k = 0; k < value.length; k++) note(value[k], k);
    else for (const key of Object.keys(value)) note((value as Record<string, unknown>)[key], key);
  }
  return undefined;
}

/** Writes a path as a person would point at it: `axes[0].load.slope`. */
function pathText(path: readonly PropertyKey[]): string {
  const text = path
    .map((key) => (typeof key === 'number' ? `[${key}]` : `.${String(key)}`))
    .join('')
    .replace(/^\./, '');
  return text || '(document)';
}

function problemsOf(issue: z.core.$ZodIssue): Problem[] {
  const path = pathText(issue.path);
  const got = 'input' in issue ? issue.input : undefined;
  switch (issue.code) {
    case 'invalid_type':
      return [
        {
          path,
          message:
            got === undefined
              ? `is missing: ${an(issue.expected)} is expected`
              : `must be ${an(issue.expected)}, not ${shown(got)}`,
        },
      ];
    case 'invalid_value':
      if (got === undefined)
        return [{ path, message: `is missing: ${issue.values.map(shown).join(' or ')} is expected` }];
      return [{ path, message: `must be ${issue.values.map(shown).join(' or ')}, not ${shown(got)}` }];
    case 'invalid_union':
      return [{ path, message: `must be ${unionChoices(issue)}` }];
    case 'too_small':
      if (issue.minimum === LEAST && typeof got === 'number')
        return [{ path, message: got <= 0 ? 'must be greater than 0' : `must be at least ${LEAST}` }];
      return [
        {
          path,
          message: `must be ${issue.inclusive ? 'at least' : 'greater than'} ${issue.minimum}${counted(issue.origin)}`,
        },
      ];
    case 'too_big':
      return [
        {
          path,
          message: `must be ${issue.inclusive ? 'at most' : 'less than'} ${issue.maximum}${counted(issue.origin)}`,
        },
      ];
    case 'unrecognized_keys':
      return issue.keys.map((key) => ({
        path: pathText([...issue.path, key]),
        message: 'is not known to the format: remove it or correct its spelling',
      }));
    default:
      return [{ path, message: issue.message }];
  }
}

/** The tags a discriminated union knows, where the issue carries them. */
function unionChoices(issue: z.core.$ZodIssueInvalidUnion): string {
  const options = 'options' in issue && Array.isArray(issue.options) ? (issue.options as unknown[]) : [];
  return options.length > 0 ? options.map(shown).join(' or ') : 'one of the kinds the format knows';
}

function counted(origin: string): string {
  return origin === 'array' ? ' entries' : origin === 'string' ? ' characters long' : '';
}

function an(type: string): string {
  return `${/^[aeio]/.test(type) ? 'an' : 'a'} ${type}`;
}

function shown(value: unknown): string {
  const text = typeof value === 'string' ? `“${value}”` : (JSON.stringify(value) ?? String(value));
  return text.length > 40 ? `${text.slice(0, 39)}…` : text;
}
