import { Router } from 'express';
import { z } from 'zod';
import { filmFileName } from '../../core/film';
import { isRunning, turnBody, type RenderDeed, type RenderJob } from '../../wire';
import { readBytes, readSmall, soundId } from '../body';
import type { Desk } from '../desk/desk';
import { FileGone, type FileStore } from '../files';
import { FilmNews } from '../film-news';
import { notFound, Problem, readBody } from '../problem';
import { eventStream, type News } from '../news';
import { sendRange } from '../send-stream';
import type { Database } from '../store/database';
import { openFilm } from '../store/films';
import { readFrame, readStory } from '../store/frames';
import { listMachines } from '../store/machines';
import {
  cancelRender,
  deleteRender,
  drawAnew,
  listRenders,
  pauseRender,
  readRender,
  resumeRender,
  retryRender,
  skipFrames,
  setTurn,
} from '../store/renders';

const REQUEST_BYTES = 100 * 1024;
/** PostgreSQL counts frames in 32 bits. */
const FRAMES = 2 ** 31 - 1;

/** Renders: start, follow, fetch, and what can be done with them meanwhile. */
export function renderRoutes(db: Database, files: FileStore, news: News, desk: Desk): Router {
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

  const deeds: Record<RenderDeed, { readonly can: string; readonly do: (id: string) => Promise<boolean> }> = {
    cancel: { can: 'one that is running can be cancelled', do: (id) => cancelRender(db, id) },
    pause: { can: 'one that waits or is being drawn can be paused', do: (id) => pauseRender(db, id) },
    resume: { can: 'one that is paused can go on', do: (id) => resumeRender(db, id) },
    anew: { can: 'one that is not complete can be begun anew', do: (id) => drawAnew(db, id) },
    retry: {
      can: 'one that waits because of frames that could not be drawn, or has failed, can be tried again',
      do: (id) => retryRender(db, id),
    },
    skip: {
      can: 'one with frames that could not be drawn, and others that could, can go on without them',
      do: (id) => skipFrames(db, id),
    },
  };
  for (const [name, deed] of Object.entries(deeds))
    router.post(`/renders/:id/${name}`, async (incoming, response) => {
      // A route made of parts does not tell its parameters to the compiler.
      const job = await find(String(incoming.params.id));
      if (!(await deed.do(job.id)))
        throw new Problem(409, 'not-now', `This render is ${job.status}: only ${deed.can}.`);
      response.json(await find(job.id));
    });

  router.post('/renders/:id/turn', async (incoming, response) => {
    const { turn } = readBody(turnBody, await readSmall(incoming, response));
    const job = await find(incoming.params.id);
    if (!(await setTurn(db, job.id, turn)))
      throw new Problem(409, 'not-now', `This render is ${job.status}: its turn is over.`);
    response.json(await find(job.id));
  });

  router.get('/renders/:id/story', async (incoming, response) => {
    await find(incoming.params.id);
    response.json(await readStory(db, incoming.params.id));
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
    const picture = await readFrame(db, files, incoming.params.id, frame);
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
    try {
      await sendRange(response, incoming.headers.range, job.filmSize, (from, to) =>
        openFilm(db, files, job.id, from, to),
      );
    } catch (error) {
      if (!(error instanceof FileGone)) throw error;
      throw new Problem(
        410,
        'film-gone',
        `The file of this film is gone from ${files.place}. Render it again.`,
      );
    }
  });

  return router;
}
