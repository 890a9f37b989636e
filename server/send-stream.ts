import { Readable } from 'node:stream';
import type { Response } from 'express';
import { sent } from './body';
import { whenGone } from './when-gone';

type Bytes = Readable | AsyncIterable<Buffer> | Buffer;

/** Sends bytes as they come, no faster than they are taken; what they come from is closed when nobody takes them. */
export async function sendStream(response: Response, bytes: Bytes): Promise<void> {
  if (Buffer.isBuffer(bytes)) {
    response.end(bytes);
    return;
  }
  const leave = whenGone(response, () => {
    if (bytes instanceof Readable) bytes.destroy();
  });
  try {
    for await (const piece of bytes as AsyncIterable<Buffer>) {
      if (response.destroyed) return;
      if (!response.write(piece)) await sent(response);
    }
    response.end();
  } catch (error) {
    // Nobody is there any more, or the answer has begun and cannot be taken back: then it breaks off.
    if (!response.destroyed && !response.headersSent) throw error;
    response.destroy();
  } finally {
    leave();
  }
}

/**
 * Answers all bytes or the one range asked for (RFC 9110 section 14).
 * @param read gives bytes `[from, to)`
 */
export async function sendRange(
  response: Response,
  range: string | undefined,
  size: number,
  read: (from: number, to: number) => Promise<Bytes>,
): Promise<void> {
  const match = /^bytes=(\d*)-(\d*)$/.exec(range ?? '');
  let [from, to] = [0, size];
  if (match && (match[1] || match[2])) {
    from = match[1] ? Number(match[1]) : Math.max(0, size - Number(match[2]));
    to = match[1] && match[2] ? Math.min(size, Number(match[2]) + 1) : size;
    if (from >= to) {
      response.status(416).set('Content-Range', `bytes */${size}`).end();
      return;
    }
  }
  const bytes = await read(from, to);
  if (match && (match[1] || match[2]))
    response.status(206).set('Content-Range', `bytes ${from}-${to - 1}/${size}`);
  response.set('Content-Length', String(to - from));
  await sendStream(response, bytes);
}
