import { Writable } from 'node:stream';
import express from 'express';
import pino from 'pino';
import { expect, it } from 'vitest';
import { answerProblems } from './problem';

it('a fault of ours is told with a number, under which the log has the whole of it', async () => {
  const lines: string[] = [];
  const log = pino(
    new Writable({
      write: (chunk: Buffer, _encoding, done) => {
        lines.push(chunk.toString());
        done();
      },
    }),
  );
  const app = express();
  app.use((_request, response, next) => {
    response.locals.requestId = 'number-of-this-request';
    next();
  });
  app.get('/fault', () => {
    throw new Error('a wheel came off');
  });
  app.use(answerProblems(log));
  const server = app.listen(0, '127.0.0.1');
  await new Promise((resolve) => server.once('listening', resolve));
  const { port } = server.address() as { port: number };
  const answer = await fetch(`http://127.0.0.1:${port}/fault`);
  const body = (await answer.json()) as Record<string, string>;
  server.close();
  expect(answer.status).toBe(500);
  expect(body).toMatchObject({ code: 'unexpected', request: 'number-of-this-request' });
  expect(JSON.stringify(body)).not.toContain('wheel');
  expect(lines).toHaveLength(1);
  const line = JSON.parse(lines[0]!) as { request: string; path: string; err: { message: string } };
  expect(line).toMatchObject({ request: 'number-of-this-request', path: '/fault' });
  expect(line.err.message).toBe('a wheel came off');
});
