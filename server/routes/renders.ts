import { Router, type Response } from 'express';
import { z } from 'zod';
import { filmFileName } from '../../core/film';
import { isRunning, RUNNING_STATES, type RenderJob } from '../../wire';
import { readBytes, sent, soundId } from '../body';
import type { Desk } from '../desk/desk';
import { FilmNews } from '../film-news';
import { notFound, Problem, readBody } from '../problem';
import { eventStream, type News } from '../news';
import type { Database } from '../store/database';
import {
  deleteRender,
  listMachines,
  listRenders,
  readFilm,
  readFrame,
  readRender,
  setStatus,
} from '../store/renders';

const REQUEST_BYTES = 100 * 1024;
/** PostgreSQL counts frames in 32 bits. */
const FRAMES = 2 ** 31 - 1;

/** Renders: start, follow, cancel, fetch. */
export function renderRoutes(db: Database, news: News, desk: Desk): Router {
  const router = Router();
  router.param('id', soundId);

  const films = new FilmNews(db, news);
  const find = async (id: string): Promise<RenderJob> => {
    const job = await readRender(db, id);
    if (!job) throw notFound('The render');
    return job;
  };

  router.get('/renders', async (_request, response) => {
    response.json({ jobs: await listRenders(db), machines: await listMachines(db) });
  });

  router.post('/shots/:id/renders', async (incoming, response) => {
    const body = await readBytes(incoming, response, REQUEST_BYTES, 'The order of a film');
    const { id } = incoming.params;
    response.status(201).json(await find(await desk.do(id, 'startRender', id, body)));
  });

  router.get('/renders/:id', async (incoming, response) => {
    response.json(await find(incoming.params.id));
  });

  router.post('/renders/:id/cancel', async (incoming, response) => {
    const job = await find(incoming.params.id);
    const stopped = await setStatus(db, job.id, RUNNING_STATES, 'cancelled');
    if (!stopped)
      throw new Problem(
        409,
        'not-running',
        `This render is ${job.status}: only one that is running can be cancelled.`,
      );
    response.json(await find(job.id));
  });

  router.delete('/renders/:id', async (incoming, response) => {
    const job = await find(incoming.params.id);
    if (!(await deleteRender(db, job.id)))
      throw new Problem(409, 'running', 'This render is running: cancel it first.');
    response.status(204).end();
  });

  router.get('/renders/:id/events', async (incoming, response) => {
    const { id } = incoming.params;
    await find(id);
    const stream = eventStream(response);
    stream.whenEnded(
      films.follow(id, (job) => {
        stream.send(job);
        if (!isRunning(job)) stream.end();
      }),
    );
  });

  router.get('/renders/:id/frames/:frame', async (incoming, response) => {
    const frame = readBody(z.coerce.number().int().min(-FRAMES).max(FRAMES), incoming.params.frame);
    const picture = await readFrame(db, incoming.params.id, frame);
    if (!picture) throw notFound('The frame');
    response.set('Cache-Control', 'private, max-age=31536000, immutable').type('image/png').send(picture);
  });

  router.get('/renders/:id/film', async (incoming, response) => {
    const job = await find(incoming.params.id);
    if (job.status !== 'done' || job.filmSize === null) throw notFound('The film');
    const name = filmFileName(job.fileName ?? job.shotName, job.format);
    response.set({
      'Content-Type': job.filmType ?? 'application/octet-stream',
      'Accept-Ranges': 'bytes',
      'Cache-Control': 'private, max-age=31536000, immutable',
    });
    const disposition = 'download' in incoming.query ? 'attachment' : 'inline';
    // RFC 8187: quotes and parentheses are to be written by their codes, too.
    const written = encodeURIComponent(name).replace(
      /['()]/g,
      (sign) => `%${sign.charCodeAt(0).toString(16).toUpperCase()}`,
    );
    response.set('Content-Disposition', `${disposition}; filename*=UTF-8''${written}`);
    await sendRange(response, incoming.headers.range, job.filmSize, (from, to) =>
      readFilm(db, job.id, from, to),
    );
  });

  return router;
}

/** Answers a whole body or the one byte range asked for (RFC 9110 section 14). */
async function sendRange(
  response: Response,
  range: string | undefined,
  size: number,
  read: (from: number, to: number) => AsyncIterable<Buffer>,
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
    response.status(206).set('Content-Range', `bytes ${from}-${to - 1}/${size}`);
  }
  response.set('Content-Length', String(to - from));
  for await (const bytes of read(from, to)) {
    if (response.destroyed) return;
    if (!response.write(bytes)) await sent(response);
  }
  response.end();
}
