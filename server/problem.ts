import type { ErrorRequestHandler, RequestHandler } from 'express';
import type { Logger } from 'pino';
import { ZodError, type ZodType } from 'zod';
import { describeIssue, foundAt } from '../core/document';

/** A refusal as RFC 9457 describes it: status, code, sentence, and what it is about. */
export class Problem extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    message: string,
    readonly more: Record<string, unknown> = {},
  ) {
    super(message);
  }
}

export const notFound = (what: string): Problem =>
  new Problem(404, 'not-found', `${what} is not there: it may have been deleted.`);

/** Reads a request body. @throws ZodError, answered as a problem with the path of each mistake */
export function readBody<T>(schema: ZodType<T>, body: unknown): T {
  return schema.parse(body);
}

export const unknownRoute: RequestHandler = (request) => {
  throw new Problem(404, 'no-route', `${request.method} ${request.path} is no address of this server.`);
};

const CONNECTION_CODES = new Set([
  'ECONNREFUSED',
  'ECONNRESET',
  'EPIPE',
  'ENOENT',
  '57P01',
  '57P03',
  '08006',
  '08001',
  '08003',
  '53300',
]);

function asProblem(error: unknown, body: unknown): Problem | null {
  if (error instanceof Problem) return error;
  if (error instanceof ZodError) {
    const errors = error.issues.map((issue) => ({
      path: issue.path.join('/'),
      detail: describeIssue(issue, foundAt(body, issue.path)),
    }));
    const detail = errors.map((entry) => `${entry.path || 'body'}: ${entry.detail}`).join(' ');
    return new Problem(400, 'bad-request', detail, { errors });
  }
  const { code, type, message, status } = error as {
    code?: string;
    type?: string;
    message?: string;
    status?: number;
  };
  if (
    (code && CONNECTION_CODES.has(code)) ||
    /timeout exceeded when trying to connect|Connection terminated/.test(message ?? '')
  )
    return new Problem(
      503,
      'database-away',
      'PostgreSQL does not answer. Nothing is lost: edits are held in the page and sent when it is back.',
    );
  if (type === 'entity.too.large')
    return new Problem(413, 'too-large', 'This is too large to be sent at once: at most 32 MB.');
  if (type === 'entity.parse.failed') return new Problem(400, 'bad-json', 'The body is no JSON.');
  if (code === '22P02') return new Problem(404, 'not-found', 'There is nothing with this id.');
  if (status === 404) return new Problem(404, 'not-found', 'There is nothing here.');
  return null;
}

/** Answers every error as `application/problem+json`; what is our fault is logged whole and told briefly. */
export function answerProblems(log: Logger): ErrorRequestHandler {
  // Express tells an error handler by its four parameters.
  return (error: unknown, request, response, _next) => {
    const problem = asProblem(error, request.body);
    if (!problem)
      log.error({ error, path: request.path, request: response.locals.requestId as string }, 'unexpected');
    const { status, code, message, more } =
      problem ?? new Problem(500, 'unexpected', 'Something went wrong on the server; it has been logged.');
    if (response.headersSent) {
      response.destroy();
      return;
    }
    response
      .status(status)
      .type('application/problem+json')
      .send(
        JSON.stringify({
          type: 'about:blank',
          title: code,
          status,
          code,
          detail: message,
          request: response.locals.requestId as string,
          ...more,
        }),
      );
  };
}
