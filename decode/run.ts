import { spawn } from 'node:child_process';

/** A file that is no sound or video, or a broken one; the message says what is wrong with it. */
export class BrokenMedia extends Error {}

/** ffmpeg is not there. */
export class NoDecoder extends Error {}

const MESSAGE_LENGTH = 300;

/**
 * Runs a program of ffmpeg's.
 * @param limit bytes that it may write
 * @param heard takes what it complains of where it ends well all the same
 * @returns what it wrote
 * @throws BrokenMedia with its last words; NoDecoder
 */
export function run(
  program: string,
  args: readonly string[],
  limit: number,
  heard?: (said: string) => void,
): Promise<Buffer> {
  return new Promise((resolve, reject) => {
    const child = spawn(program, args, { stdio: ['ignore', 'pipe', 'pipe'] });
    const chunks: Buffer[] = [];
    let size = 0;
    let said = '';
    child.stdout.on('data', (chunk: Buffer) => {
      size += chunk.length;
      if (size > limit) child.kill('SIGKILL');
      else chunks.push(chunk);
    });
    child.stderr.on('data', (text: Buffer) => (said = (said + text.toString()).slice(-MESSAGE_LENGTH)));
    child.on('error', (error) =>
      reject(new NoDecoder(`${program} could not be started: ${error.message}. Install Debian's ffmpeg.`)),
    );
    child.on('close', (code) => {
      if (size > limit) reject(new BrokenMedia('it is longer than it says'));
      else if (code !== 0) reject(new BrokenMedia(said.trim().split('\n').at(-1) ?? 'it cannot be read'));
      else {
        heard?.(said);
        resolve(Buffer.concat(chunks));
      }
    });
  });
}
