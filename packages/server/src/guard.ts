import { timingSafeEqual } from 'node:crypto';
import type { Request, RequestHandler } from 'express';
import { HttpProblem } from './problem';

/** Names and addresses under which a server on loopback is reached. */
export const LOOPBACK_NAMES = ['localhost', '127.0.0.1', '[::1]', '::1'];

const withoutPort = (host: string): string => host.replace(/:\d{1,5}$/, '').toLowerCase();

/**
 * Refuses requests that name a host this server does not answer to, so that a web page elsewhere cannot reach it by
 * pointing a name of its own here.
 */
export function knownHostsOnly(hosts: readonly string[]): RequestHandler {
  const known = new Set(hosts.map((host) => host.toLowerCase()));
  return (request, _response, next) => {
    const host = withoutPort(request.headers.host ?? '');
    if (known.has(host)) return next();
    next(new HttpProblem(403, 'Unknown host', `This server does not answer under the name “${host.slice(0, 100)}”.`));
  };
}

/** Methods that change nothing. */
const READING = new Set(['GET', 'HEAD', 'OPTIONS']);

/**
 * Lets changing requests through only from the application's own page (Sec-Fetch-Site and Origin, which no page can
 * forge) or with the token of the command line as `Authorization: Bearer …`.
 */
export function ownOriginOnly(token: string | undefined): RequestHandler {
  return (request, _response, next) => {
    if (READING.has(request.method) || fromOwnPage(request) || hasToken(request, token)) return next();
    next(
      new HttpProblem(
        403,
        'Foreign request',
        'Changes are taken from the application’s own page only, or with the token that stands in the data folder (Authorization: Bearer …).',
      ),
    );
  };
}

function fromOwnPage(request: Request): boolean {
  const site = request.get('Sec-Fetch-Site');
  const origin = request.get('Origin');
  if (site === undefined && origin === undefined) return false;
  if (site !== undefined && site !== 'same-origin') return false;
  if (origin === undefined) return true;
  try {
    const { protocol, host } = new URL(origin);
    return (protocol === 'http:' || protocol === 'https:') && host === (request.headers.host ?? '').toLowerCase();
  } catch {
    return false;
  }
}

function hasToken(request: Request, token: string | undefined): boolean {
  const given = request.get('Authorization') ?? '';
  if (!token || !given.startsWith('Bearer ')) return false;
  const [a, b] = [Buffer.from(given.slice('Bearer '.length).trim()), Buffer.from(token)];
  return a.length === b.length && timingSafeEqual(a, b);
}

/** Whether a request brings a body along. */
const hasBody = (request: Request): boolean =>
  request.headers['transfer-encoding'] !== undefined || Number(request.headers['content-length'] ?? 0) > 0;

/**
 * Refuses bodies of another content type than the one the route reads; where it reads none, any body.
 * @param type media type without parameters, or null for a route without a body
 */
export function bodyOf(type: 'application/json' | 'text/csv' | 'model/gltf-binary' | null): RequestHandler {
  return (request, _response, next) => {
    const [given = '', ...parameters] = (request.get('Content-Type') ?? '').split(';').map((part) => part.trim());
    if (type === null) {
      const empty = !hasBody(request) && (given === '' || given.toLowerCase() === 'application/json');
      return next(
        empty ? undefined : new HttpProblem(415, 'No body wanted', 'This request takes no body: leave it out.'),
      );
    }
    const charset = parameters.find((parameter) => /^charset=/i.test(parameter))?.slice('charset='.length);
    const isUtf8 = charset === undefined || /^"?utf-?8"?$/i.test(charset);
    if (given.toLowerCase() === type && isUtf8) return next();
    next(new HttpProblem(415, 'Other content wanted', `Send the body as ${type} in UTF-8 (Content-Type: ${type}).`));
  };
}
