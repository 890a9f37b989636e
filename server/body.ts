import { open } from 'node:fs/promises';
import { join } from 'node:path';
import type { Request, RequestHandler, RequestParamHandler, Response } from 'express';
import { Problem, readJson } from './problem';
import { whenGone } from './when-gone';
import { inWorkFolder } from './work-folder';

const MB = 1024 * 1024;
/** A sender that has sent nothing for so long is cut off. */
const SILENCE_MS = Number(process.env.WHIRL_SILENCE_MS ?? 15_000);
/** The last share of that time, begun only once this process runs: while it was held up, what has come was not heard. */
const LAST_SHARE = 0.1;
/** What is read past a limit and thrown away, so that the sender comes to hear the refusal. */
const READ_ON = 256 * MB;

const megabytes = (bytes: number): string => `${Math.round((bytes / MB) * 10) / 10} MB`;

/**
 * Takes the body of a request piece by piece, at most `limit` bytes of it; no faster than `take` is done with a piece.
 * `what` names it in a refusal: "A file".
 * @throws Problem 413 for a longer one, 408 when the sender falls silent, 400 when it breaks off, and as `take` does
 */
function takePieces(
  request: Request,
  response: Response,
  limit: number,
  what: string,
  take: (piece: Buffer) => Promise<void> | undefined,
): Promise<void> {
  return new Promise((resolve, reject) => {
    let size = 0;
    let writing: Promise<void> | undefined;
    let last: NodeJS.Timeout | undefined;
    const heard = (): void => {
      clearTimeout(last);
      silence.refresh();
    };
    const ended = (): void => {
      clearTimeout(silence);
      clearTimeout(last);
      request.off('data', come).off('end', whole).off('error', broken).off('close', broken);
    };
    const fail = (error: unknown): void => {
      ended();
      // What is still being written is over before anybody clears up.
      void (writing ?? Promise.resolve()).catch(() => undefined).then(() => reject(error as Error));
    };
    const cutOff = (): void => {
      // What may still come on this line belongs to nothing any more.
      response.set('Connection', 'close');
      fail(new Problem(408, 'silent', `Nothing has come for ${SILENCE_MS / 1000} seconds: send it again.`));
    };
    const silence = setTimeout(
      () => {
        last = setTimeout(cutOff, SILENCE_MS * LAST_SHARE);
      },
      SILENCE_MS * (1 - LAST_SHARE),
    );
    const come = (piece: Buffer): void => {
      heard();
      size += piece.length;
      if (size > limit) {
        if (size > READ_ON) request.destroy();
        return;
      }
      writing = take(piece);
      if (!writing) return;
      request.pause();
      writing.then(() => {
        heard();
        request.resume();
      }, fail);
    };
    const whole = (): void => {
      if (size > limit)
        fail(
          new Problem(
            413,
            'too-large',
            `${what} may have ${megabytes(limit)}, this one has ${megabytes(size)}.`,
          ),
        );
      else {
        ended();
        resolve(writing);
      }
    };
    const broken = (): void =>
      fail(new Problem(400, 'broken-off', 'The line broke before all of it had come.'));
    request.on('data', come).on('end', whole).on('error', broken).on('close', broken);
  });
}

/** Reads the body of a request, at most `limit` bytes of it. @throws Problem as `takePieces` */
export async function readBytes(
  request: Request,
  response: Response,
  limit: number,
  what: string,
): Promise<Buffer> {
  const pieces: Buffer[] = [];
  await takePieces(request, response, limit, what, (piece) => void pieces.push(piece));
  return Buffer.concat(pieces);
}

/**
 * Puts the body of a request into a file as it comes, so that no more than a piece of it is in memory, and removes the
 * file once `use` is done with it.
 * @throws Problem as `takePieces`
 */
export async function withBody<T>(
  request: Request,
  response: Response,
  limit: number,
  what: string,
  use: (path: string) => Promise<T>,
): Promise<T> {
  return inWorkFolder(async (folder) => {
    const path = join(folder, 'body');
    const file = await open(path, 'w');
    try {
      await takePieces(request, response, limit, what, async (piece) => {
        await file.writeFile(piece);
      });
    } finally {
      await file.close();
    }
    return use(path);
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
