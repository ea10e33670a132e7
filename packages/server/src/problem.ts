import type { ErrorRequestHandler, Response } from 'express';
import type { Problem } from '@yoke/core';
import type { Logger } from 'pino';
import { BaseError } from 'sequelize';

/** Largest body of a request, as Express and people read it. */
export const BODY_LIMIT = '8mb';

/** A request that cannot be served; sent as problem details (RFC 9457). */
export class HttpProblem extends Error {
  override name = 'HttpProblem';
  constructor(
    readonly status: number,
    readonly title: string,
    detail: string,
    readonly extra: { problems?: readonly Problem[]; revision?: number } = {},
  ) {
    super(detail);
  }
}

/** Seconds after which a request that met no database is worth trying again. */
const RETRY_AFTER = 2;

function send(response: Response, { status, title, message, extra }: HttpProblem): void {
  if (status === 503) response.set('Retry-After', String(RETRY_AFTER));
  response
    .status(status)
    .type('application/problem+json')
    .send(JSON.stringify({ type: 'about:blank', title, status, detail: message, ...extra }));
}

/** What Sequelize and the driver say of the database when it is away, or ends while they wait for it. */
const AWAY_NAMES = /^Sequelize(Connection|HostNotReachable|HostNotFound|InvalidConnection|AccessDenied)/;
const AWAY_CODES =
  /^(ECONNREFUSED|ECONNRESET|EPIPE|ER_SOCKET|ER_CONNECTION|ER_GET_CONNECTION|ER_CMD_CONNECTION_CLOSED|ER_SERVER_SHUTDOWN|ER_POOL)/;

/** Whether an error says that the database is away, and not that something was wrong with what it was asked. */
export function isDatabaseAway(error: unknown): boolean {
  if (!(error instanceof BaseError)) return false;
  if (AWAY_NAMES.test(error.name)) return true;
  const { code = '', fatal = false } = (error as { original?: { code?: string; fatal?: boolean } }).original ?? {};
  return fatal || AWAY_CODES.test(code);
}

/** What an error was, in few words and without anything of what it was about: documents do not go into logs. */
export function logged(error: unknown): Record<string, unknown> {
  const { name, message, stack, original } = error as Error & { original?: { code?: string; sqlMessage?: string } };
  if (original) return { name, code: original.code, reason: (original.sqlMessage ?? '').slice(0, 200) };
  return {
    name,
    reason: String(message).slice(0, 200),
    at: stack
      ?.split('\n')
      .slice(1, 6)
      .map((line) => line.trim()),
  };
}

/** Answers every error with problem details; unknown ones are logged and told in general words. */
export function problemHandler(log: Logger): ErrorRequestHandler {
  return (error: unknown, request, response, next) => {
    if (response.headersSent) return next(error);
    if (error instanceof HttpProblem) return send(response, error);
    const { status, type, limit } = error as { status?: number; type?: string; limit?: number };
    if (type === 'entity.too.large') {
      const most = Math.round((limit ?? 0) / 1e6);
      return send(response, new HttpProblem(413, 'Too large', `What was sent is larger than ${most} MB.`));
    }
    if (status !== undefined && status >= 400 && status < 500)
      return send(response, new HttpProblem(status, 'Bad request', 'The request could not be read.'));
    const about = { method: request.method, path: request.path, bytes: request.get('Content-Length') };
    if (isDatabaseAway(error)) {
      log.warn({ ...about, ...logged(error) }, 'the database is away');
      return send(
        response,
        new HttpProblem(
          503,
          'Database away',
          'The database does not answer just now; it is being started again. Try again in a moment.',
        ),
      );
    }
    log.error({ ...about, ...logged(error) }, 'request failed');
    // Whether a change had been made by then is not known, so nothing is claimed.
    const detail = 'Something failed on the server. Look whether the change was made before you try again.';
    return send(response, new HttpProblem(500, 'Server error', detail));
  };
}
