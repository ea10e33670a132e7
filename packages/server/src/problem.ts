import type { ErrorRequestHandler, Response } from 'express';
import type { Problem } from '@yoke/core';
import type { Logger } from 'pino';

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

function send(response: Response, { status, title, message, extra }: HttpProblem): void {
  response
    .status(status)
    .type('application/problem+json')
    .send(JSON.stringify({ type: 'about:blank', title, status, detail: message, ...extra }));
}

/** Answers every error with problem details; unknown ones are logged and told in general words. */
export function problemHandler(log: Logger): ErrorRequestHandler {
  return (error: unknown, request, response, next) => {
    if (response.headersSent) return next(error);
    if (error instanceof HttpProblem) return send(response, error);
    const { status, type } = error as { status?: number; type?: string };
    if (type === 'entity.too.large')
      return send(response, new HttpProblem(413, 'Too large', 'The file is larger than 8 MB.'));
    if (status !== undefined && status >= 400 && status < 500)
      return send(response, new HttpProblem(status, 'Bad request', 'The request body could not be read.'));
    log.error({ err: error, path: request.path }, 'request failed');
    return send(
      response,
      new HttpProblem(500, 'Server error', 'Something failed on the server; nothing was changed. Try again.'),
    );
  };
}
