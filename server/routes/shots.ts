import { Router } from 'express';
import { z } from 'zod';
import { revision } from '../../wire';
import { readBytes, sent, soundId } from '../body';
import type { Desk } from '../desk/desk';
import { Gate } from '../gate';
import { eventStream, type News } from '../news';
import { notFound, readBody } from '../problem';
import type { Database } from '../store/database';
import {
  changesBetween,
  DOCUMENT_BYTES,
  isFresh,
  readHead,
  readPicture,
  readRevision,
  readSnapshot,
  SHOT_CHANNEL,
  type ShotHead,
} from '../store/shots';

const MB = 1024 * 1024;
/** Bytes that one request with changes may have. */
const CHANGES_BYTES = 32 * MB;
/** Bytes of documents and of changes that are on their way at once. */
const OUTGOING_BYTES = 4 * DOCUMENT_BYTES;
const INCOMING_BYTES = 8 * CHANGES_BYTES;

/** Opening a shot and keeping its changes. */
export function shotRoutes(db: Database, news: News, desk: Desk): Router {
  const router = Router();
  router.param('id', soundId);
  const outgoing = new Gate(OUTGOING_BYTES);
  const incoming = new Gate(INCOMING_BYTES);

  /** JSON of a shot's document: as it is stored where that is the document of now, else put together. */
  const whole = async (
    head: ShotHead,
  ): Promise<{
    head: Pick<ShotHead, 'id' | 'name' | 'projectId' | 'projectName' | 'revision'>;
    pieces: Uint8Array[];
  }> => {
    const pieces = isFresh(head) ? await readSnapshot(db, head.id, head.revision) : [];
    if (pieces.length > 0) return { head, pieces };
    const made = await desk.do(head.id, 'wholeShot', head.id);
    return { head: made.head, pieces: [made.json] };
  };

  router.get('/shots/:id', async (request, response) => {
    const found = await readHead(db, request.params.id);
    if (!found) throw notFound('The shot');
    await outgoing.through(found.size, async () => {
      const { head, pieces } = await whole(found);
      const { id, name, projectId, projectName, revision: at } = head;
      const start = JSON.stringify({ id, name, projectId, projectName, revision: at });
      response.type('application/json').set('Cache-Control', 'no-store');
      response.write(`${start.slice(0, -1)},"document":`);
      for (const piece of pieces) if (!response.write(piece) && !response.destroyed) await sent(response);
      response.end('}');
    });
  });

  router.get('/shots/:id/changes', async (request, response) => {
    const since = readBody(z.coerce.number().pipe(revision), request.query.since ?? 0);
    response.type('application/json').set('Cache-Control', 'no-store');
    let between = '[';
    for await (const { patches, ...change } of changesBetween(db, request.params.id, since)) {
      if (response.destroyed) return;
      const taken = response.write(`${between}${JSON.stringify(change).slice(0, -1)},"patches":${patches}}`);
      if (!taken) await sent(response);
      between = ',';
    }
    response.end(between === '[' ? '[]' : ']');
  });

  router.post('/shots/:id/changes', async (request, response) => {
    const announced = Math.min(Number(request.headers['content-length'] ?? CHANGES_BYTES), CHANGES_BYTES);
    const answer = await incoming.through(announced, async () => {
      const body = await readBytes(request, response, CHANGES_BYTES, 'One request with changes');
      return desk.do(request.params.id, 'takeChanges', request.params.id, body);
    });
    response.json(answer);
  });

  router.get('/shots/:id/events', async (request, response) => {
    const { id } = request.params;
    const at = await readRevision(db, id);
    if (at === null) throw notFound('The shot');
    const stream = eventStream(response);
    const tell = async (told: string | null): Promise<void> => {
      const now = told === null ? await readRevision(db, id).catch(() => null) : Number(told);
      if (now !== null) stream.send({ revision: now });
    };
    stream.whenEnded(news.follow(SHOT_CHANNEL, id, (told) => void tell(told)));
    // Read once followed: what is kept in between is told twice rather than never.
    await tell(null);
  });

  router.get('/shots/:id/picture', async (request, response) => {
    const picture = await readPicture(db, request.params.id);
    if (!picture) throw notFound('The picture');
    response.set('Cache-Control', 'private, max-age=31536000, immutable').type('image/png').send(picture);
  });

  return router;
}
