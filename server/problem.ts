import type { ErrorRequestHandler, RequestHandler } from 'express';
import type { Logger } from 'pino';
import type { ZodError, ZodType } from 'zod';
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

/** Faults told of one body, and characters of the sentence that tells them. */
const FAULTS = 20;
const SENTENCE = 2000;

/** What is wrong with a body, each fault with its path. */
export function badRequest(error: ZodError, body: unknown): Problem {
  const errors = error.issues.slice(0, FAULTS).map((issue) => ({
    path: issue.path.map(String).join('/'),
    detail: describeIssue(issue, foundAt(body, issue.path)),
  }));
  const detail = errors.map((entry) => `${entry.path || 'body'}: ${entry.detail}`).join(' ');
  return new Problem(400, 'bad-request', detail.slice(0, SENTENCE), { errors });
}

/** Reads a request body. @throws Problem with the path of each mistake */
export function readBody<T>(schema: ZodType<T>, body: unknown): T {
  const parsed = schema.safeParse(body);
  if (parsed.success) return parsed.data;
  throw badRequest(parsed.error, body);
}

/** Reads the JSON of a body. @throws Problem when it is none */
export function readJson(bytes: Uint8Array): unknown {
  try {
    return JSON.parse(new TextDecoder('utf-8', { fatal: true }).decode(bytes));
  } catch {
    throw new Problem(400, 'bad-json', 'The body is no JSON in UTF-8.');
  }
}

export const busy = (): Problem =>
  new Problem(503, 'busy', 'The server has too much to do at once. Nothing is lost: it is asked again.');

export const unknownRoute: RequestHandler = (request) => {
  throw new Problem(404, 'no-route', `${request.method} ${request.path} is no address of this server.`);
};

/** PostgreSQL or the way to it is not to be had now. */
const AWAY = new Set([
  'ECONNREFUSED',
  'ECONNRESET',
  'EPIPE',
  'ENOENT',
  'ETIMEDOUT',
  '57P01',
  '57P02',
  '57P03',
  '25006',
]);
/** PostgreSQL is there and cannot do it now; each begins a class of codes or is one. */
const OVERTAXED: readonly (readonly [start: string, words: string])[] = [
  ['53100', 'The disk of the database is full: make room, then all goes on.'],
  ['53200', 'PostgreSQL is out of memory.'],
  ['53', 'PostgreSQL has too much to do at once.'],
  ['57014', 'PostgreSQL took too long and was stopped.'],
  ['55P03', 'Somebody else holds this just now.'],
  ['40', 'Two things were changed at the same moment.'],
];
const HELD = 'Nothing is lost: edits are held in the page and sent again.';

export const databaseAway = (): Problem =>
  new Problem(503, 'database-away', `PostgreSQL does not answer. ${HELD}`);

/** A refusal for an error that is nobody's fault in the program; `null` for one that is. */
export function asProblem(error: unknown): Problem | null {
  if (error instanceof Problem) return error;
  const {
    code = '',
    type,
    message = '',
    status,
    expose,
  } = error as { code?: unknown; type?: string; message?: string; status?: number; expose?: boolean };
  if (typeof code === 'string') {
    if (
      AWAY.has(code) ||
      code.startsWith('08') ||
      /timeout exceeded when trying to connect|Query read timeout|Connection terminated|Client has encountered a connection error|not queryable/.test(
        message,
      )
    )
      return databaseAway();
    const overtaxed = OVERTAXED.find(([start]) => code.startsWith(start));
    if (overtaxed) return new Problem(503, 'database-busy', `${overtaxed[1]} ${HELD}`);
    if (code === '22P02') return new Problem(404, 'not-found', 'There is nothing with this id.');
  }
  if (type === 'entity.too.large') return new Problem(413, 'too-large', 'This is too large to be sent here.');
  if (type === 'entity.parse.failed') return new Problem(400, 'bad-json', 'The body is no JSON in UTF-8.');
  if (status === 404) return new Problem(404, 'not-found', 'There is nothing here.');
  // What Express and its readers of bodies refuse: a broken address, a body that breaks off.
  if (status !== undefined && status >= 400 && status < 500)
    return new Problem(status, 'bad-request', expose ? message.slice(0, 300) : 'This cannot be read.');
  return null;
}

/** Answers every error as `application/problem+json`; what is our fault is logged whole and told briefly. */
export function answerProblems(log: Logger): ErrorRequestHandler {
  // Express tells an error handler by its four parameters.
  return (err: unknown, request, response, _next) => {
    const problem = asProblem(err);
    if (!problem)
      log.error({ err, path: request.path, request: response.locals.requestId as string }, 'unexpected');
    const { status, code, message, more } =
      problem ??
      new Problem(
        500,
        'unexpected',
        'Something went wrong on the server. Its log has the reason under the number of this request.',
      );
    if (response.headersSent) {
      response.destroy();
      return;
    }
    if (status === 503) response.set('Retry-After', '1');
    response
      .status(status)
      .set('Cache-Control', 'no-store')
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
