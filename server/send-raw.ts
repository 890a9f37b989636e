import { connect } from 'node:net';
import type { OddRequest } from './malformed';

export interface RawAnswer {
  /** 0 when the line was closed without an answer. */
  readonly status: number;
  readonly type: string;
  readonly body: string;
}

/** Sends text down a line of its own and reads until it is closed, or `limitMs` are over. */
export function sendText(port: number, text: string, limitMs = 20_000): Promise<string> {
  return new Promise((resolve) => {
    let said = '';
    const socket = connect(port, '127.0.0.1', () => socket.write(text));
    const end = (): void => {
      socket.destroy();
      resolve(said);
    };
    socket.setTimeout(limitMs, end);
    socket.on('data', (bytes) => (said += bytes.toString('latin1')));
    socket.on('error', () => resolve(said)).on('close', () => resolve(said));
  });
}

/** Sends a request as it is, with nothing put right on the way as a kept library would. */
export async function sendRaw(port: number, { method, path, headers, body }: OddRequest): Promise<RawAnswer> {
  const lines = [`${method} ${path} HTTP/1.1`, `Host: 127.0.0.1:${port}`, 'Connection: close'];
  for (const [name, value] of Object.entries(headers)) lines.push(`${name}: ${value}`);
  if (body !== null) lines.push(`Content-Length: ${Buffer.byteLength(body)}`);
  const said = await sendText(port, `${lines.join('\r\n')}\r\n\r\n${body ?? ''}`);
  const end = said.indexOf('\r\n\r\n');
  return {
    status: Number(/HTTP\/1\.1 (?!100)(\d{3})/.exec(said)?.[1] ?? 0),
    type: /content-type: ([^\r;]*)/i.exec(said)?.[1] ?? '',
    body: end < 0 ? '' : said.slice(end + 4),
  };
}
