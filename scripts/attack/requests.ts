import { request } from 'node:http';
import { Scatter } from '@yoke/core';

/** A server to be sent requests to. */
export interface Target {
  host: string;
  port: number;
  token: string;
  /** Identifiers of machines that exist, so that some requests get further than to a 404. */
  ids: readonly string[];
}

/** The part of an OpenAPI description that says which routes there are. */
interface Description {
  paths: Record<string, Record<string, unknown>>;
}

const METHODS = ['get', 'post', 'put', 'delete', 'patch', 'head', 'options'];
const TYPES = [
  'application/json',
  'text/csv',
  'text/plain',
  'application/json; charset=utf-16',
  'multipart/form-data',
  '',
  'a/b',
];
const STRANGE = [
  '',
  '0',
  '-1',
  'null',
  '%00',
  '%ff',
  '..%2f..%2fetc',
  "'; DROP TABLE machines;--",
  '\u{1F331}',
  'x'.repeat(3000),
  '1e9',
  '00000000-0000-4000-8000-000000000000',
];
const HEADERS: Record<string, string[]> = {
  'If-Match': ['"1"', '"999999999"', '*', 'W/"1"', '"x"', '', '"1", "2"', '"99999999999999999999"'],
  'Idempotency-Key': ['', 'x', '11111111-2222-4333-8444-555555555555', '{}', 'a'.repeat(500)],
  'Content-Encoding': ['gzip', 'br', 'x'],
  Origin: ['null', 'http://elsewhere.example', 'http://', '::'],
  Authorization: ['', 'Bearer', 'Basic eDp4', 'Bearer x'],
  Accept: ['*/*', 'text/html', ''],
};

function body(scatter: Scatter, pick: <T>(list: readonly T[]) => T): string {
  const deep = '{"op":"not","of":'.repeat(5000) + '1' + '}'.repeat(5000);
  return pick([
    '',
    '{',
    'null',
    '[]',
    '{}',
    '"text"',
    '{"format":"yoke-machine"}',
    '{"format":"yoke-machine","version":4}',
    '{"format":"yoke-machine","version":99}',
    '{"name":"x","document":{}}',
    '{"document":null,"wishes":null}',
    '{"__proto__":{"x":1},"constructor":1}',
    deep,
    '['.repeat(20_000),
    ' '.repeat(20_000) + 'x',
    'type,family\n"open',
    '\u0000\u0001\ufffd',
    '{"a":'.repeat(100) + '1' + '}'.repeat(100),
    String(scatter.uniform()),
  ]);
}

/** One bad request, by its seed, on a route of the description or beside it. */
function make(scatter: Scatter, description: Description, { ids, token }: Target) {
  const pick = <T>(list: readonly T[]): T => list[Math.floor(scatter.uniform() * list.length)]!;
  const [route, methods] = pick(Object.entries(description.paths));
  const path = route.replace(/\{\w+\}/g, () =>
    scatter.uniform() < 0.4 && ids.length > 0 ? pick(ids) : encodeURI(pick(STRANGE)),
  );
  const known = Object.keys(methods).filter((method) => METHODS.includes(method));
  const method = scatter.uniform() < 0.8 ? pick(known) : pick(METHODS);
  const query =
    scatter.uniform() < 0.4
      ? `?${pick(['limit', 'offset', 'deleted', 'mode', 'x'])}=${encodeURIComponent(pick(STRANGE))}`
      : '';
  const headers: Record<string, string> = {};
  // Most come from somebody who is let in, else nothing but the guard would be tried.
  if (scatter.uniform() < 0.85) headers.Authorization = `Bearer ${token}`;
  if (scatter.uniform() < 0.8) headers['Content-Type'] = scatter.uniform() < 0.6 ? 'application/json' : pick(TYPES);
  for (const [name, values] of Object.entries(HEADERS))
    if (scatter.uniform() < 0.25 && !(name in headers)) headers[name] = pick(values);
  const sent = method === 'get' || method === 'head' ? '' : body(scatter, pick);
  return { method: method.toUpperCase(), path: path + query, headers, sent };
}

/** The status of the answer; 0 where there is none. */
function send({ host, port }: Target, { method, path, headers, sent }: ReturnType<typeof make>): Promise<number> {
  return new Promise((resolve) => {
    try {
      const going = request(
        {
          host,
          port,
          method,
          path,
          headers: { ...headers, ...(sent ? { 'Content-Length': String(Buffer.byteLength(sent)) } : {}) },
        },
        (response) => {
          response.resume();
          response.once('close', () => resolve(response.statusCode ?? 0));
        },
      );
      going.once('error', () => resolve(0));
      going.end(sent);
    } catch {
      // Not even Node's own client sends this.
      resolve(400);
    }
  });
}

/** What a row of bad requests came to: how often each status was answered, and those that must not be. */
export interface RequestReport {
  statuses: Record<number, number>;
  wrong: { seed: number; status: number; request: string }[];
}

/** Sends bad requests by their seeds, some at a time. Answers of 500 and above, and none at all, are wrong. */
export async function sendBadRequests(target: Target, from: number, count: number): Promise<RequestReport> {
  const url = `http://${target.host}:${target.port}/api/openapi.json`;
  const description = (await (await fetch(url)).json()) as Description;
  const report: RequestReport = { statuses: {}, wrong: [] };
  let seed = from;
  const next = async () => {
    while (seed < from + count) {
      const own = seed++;
      const made = make(new Scatter(own), description, target);
      const status = await send(target, made);
      report.statuses[status] = (report.statuses[status] ?? 0) + 1;
      if (status === 0 || status >= 500)
        report.wrong.push({
          seed: own,
          status,
          request: `${made.method} ${made.path} ${JSON.stringify(made.headers)} ${made.sent.slice(0, 80)}`.slice(
            0,
            400,
          ),
        });
    }
  };
  await Promise.all(Array.from({ length: 8 }, next));
  return report;
}
