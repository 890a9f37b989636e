import type { Request, RequestHandler, RequestParamHandler, Response } from 'express';
import { Problem, readJson } from './problem';
import { whenGone } from './when-gone';

const MB = 1024 * 1024;
/** A sender that has sent nothing for so long is cut off. */
const SILENCE_MS = Number(process.env.WHIRL_SILENCE_MS ?? 15_000);
/** What is read past a limit and thrown away, so that the sender comes to hear the refusal. */
const READ_ON = 256 * MB;

const megabytes = (bytes: number): string => `${Math.round((bytes / MB) * 10) / 10} MB`;

/**
 * Reads the body of a request, at most `limit` bytes of it. `what` names it in a refusal: "A file".
 * @throws Problem 413 for a longer one, 408 when the sender falls silent, 400 when it breaks off
 */
export function readBytes(
  request: Request,
  response: Response,
  limit: number,
  what: string,
): Promise<Buffer> {
  return new Promise((resolve, reject) => {
    const chunks: Buffer[] = [];
    let size = 0;
    const ended = (): void => {
      clearTimeout(silence);
      request.off('data', take).off('end', whole).off('error', broken).off('close', broken);
    };
    const silence = setTimeout(() => {
      ended();
      // What may still come on this line belongs to nothing any more.
      response.set('Connection', 'close');
      reject(new Problem(408, 'silent', `Nothing has come for ${SILENCE_MS / 1000} seconds: send it again.`));
    }, SILENCE_MS);
    const take = (chunk: Buffer): void => {
      silence.refresh();
      size += chunk.length;
      if (size <= limit) chunks.push(chunk);
      else if (size <= READ_ON) chunks.length = 0;
      else request.destroy();
    };
    const whole = (): void => {
      ended();
      if (size <= limit) resolve(Buffer.concat(chunks));
      else
        reject(
          new Problem(
            413,
            'too-large',
            `${what} may have ${megabytes(limit)}, this one has ${megabytes(size)}.`,
          ),
        );
    };
    const broken = (): void => {
      ended();
      reject(new Problem(400, 'broken-off', 'The line broke before all of it had come.'));
    };
    request.on('data', take).on('end', whole).on('error', broken).on('close', broken);
  });
}

/** Waits until what was written to a response has gone, or nobody is there to take it. */
export function sent(response: Response): Promise<void> {
  return new Promise((resolve) => {
    const leave = whenGone(response, resolve);
    response.once('drain', () => {
      leave();
      resolve();
    });
  });
}

const SMALL = 100 * 1024;

/** The JSON of a small body; documents and files have ways of their own. @throws Problem as `readBytes`, and for no JSON */
export async function readSmall(request: Request, response: Response): Promise<unknown> {
  return readJson(await readBytes(request, response, SMALL, 'A request'));
}

/** Refuses bodies that are packed, or written in anything but UTF-8, before one is read. */
export const plainBodies: RequestHandler = (request, _response, next) => {
  const { 'content-encoding': packing = 'identity', 'content-type': type = '' } = request.headers;
  if (packing !== 'identity')
    throw new Problem(
      415,
      'packed',
      `Bodies are taken unpacked only, this one is "${packing.slice(0, 40)}".`,
    );
  const charset = /charset=["']?([^;"'\s]*)/i.exec(type)?.[1] ?? 'utf-8';
  if (!/^(utf-8|utf8|us-ascii)$/i.test(charset))
    throw new Problem(415, 'charset', `Bodies are taken in UTF-8, this one is "${charset.slice(0, 40)}".`);
  next();
};

const UUID = /^[0-9a-f]{8}-([0-9a-f]{4}-){3}[0-9a-f]{12}$/i;

const HASH = /^[0-9a-f]{64}$/;

/** Refuses a hash of an address that can be none. */
export const soundHash: RequestParamHandler = (_request, _response, next, hash: string) => {
  if (HASH.test(hash)) next();
  else next(new Problem(404, 'not-found', 'There is no file with this hash.'));
};

/** Refuses an id of an address that can be none. */
export const soundId: RequestParamHandler = (_request, _response, next, id: string) => {
  if (UUID.test(id)) next();
  else next(new Problem(404, 'not-found', 'There is nothing with this id.'));
};
