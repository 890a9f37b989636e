import { Router } from 'express';
import { z } from 'zod';
import { parseShot, type DocumentProblem, type Shot } from '../../core/document';
import { apply, netChange, type Patch } from '../../core/edit';
import { changesBody } from '../../wire';
import { eventStream, type News } from '../news';
import { notFound, Problem, readBody } from '../problem';
import { inTransaction, type Database } from '../store/database';
import {
  askForPicture,
  changesSince,
  keepChanges,
  readPicture,
  readRevision,
  readShot,
  sentBefore,
  SHOT_CHANNEL,
} from '../store/shots';

/** Seconds that a shot is left alone before its card picture is drawn again; longer keeps cards off a busy machine. */
const PICTURE_DELAY = Number(process.env.WHIRL_CARD_DELAY ?? 6);

type Sent = ReturnType<typeof changesBody.parse>['changes'][number];

const refused = (label: string, problems: readonly DocumentProblem[]): Problem =>
  new Problem(422, 'bad-document', `"${label}" was refused. ${problems[0]!.path}: ${problems[0]!.message}`, {
    errors: problems,
  });

/** A change with what stands in the document before it, whatever the sender took it for: so undo of it is right. */
function applied(document: Shot, { label, patches }: Sent): { document: Shot; patches: Patch[] } {
  const odd = patches.find(({ path }) => path.includes('__proto__'));
  if (odd)
    throw new Problem(
      422,
      'bad-document',
      `"${label}" was refused. ${odd.path.join('/')}: __proto__ is no name in a document.`,
    );
  try {
    const net = netChange(document, { label, patches });
    return { document: apply(document, net), patches: [...net.patches] };
  } catch (error) {
    throw new Problem(422, 'change-does-not-fit', error instanceof Error ? error.message : String(error));
  }
}

/** Applies changes one after the other. @throws Problem naming the first that does not fit or leads to nothing sound */
function allApplied(start: Shot, sent: readonly Sent[]): { document: Shot; patches: Patch[][] } {
  let document = start;
  const patches: Patch[][] = [];
  const steps = sent.map((change) => {
    const next = applied(document, change);
    patches.push(next.patches);
    return (document = next.document);
  });
  const parsed = parseShot(document);
  if (parsed.ok) return { document: parsed.shot, patches };
  // Looked at once as a whole; only where that is not sound, one by one for the change to name.
  for (const [i, step] of steps.entries()) {
    const found = parseShot(step);
    if (!found.ok) throw refused(sent[i]!.label, found.problems);
  }
  throw refused(sent.at(-1)!.label, parsed.problems);
}

/** Opening a shot and keeping its changes. */
export function shotRoutes(db: Database, news: News): Router {
  const router = Router();

  router.get('/shots/:id', async (request, response) => {
    const shot = await readShot(db, request.params.id);
    if (!shot) throw notFound('The shot');
    response.json(shot);
  });

  router.get('/shots/:id/changes', async (request, response) => {
    const since = readBody(z.coerce.number().int().min(0), request.query.since ?? 0);
    response.json(await changesSince(db, request.params.id, since));
  });

  router.post('/shots/:id/changes', async (request, response) => {
    const { base, changes } = readBody(changesBody, request.body);
    const answer = await inTransaction(db, async (client) => {
      const shot = await readShot(client, request.params.id, true);
      if (!shot) throw notFound('The shot');
      const missed = await changesSince(client, shot.id, base);
      const known = await sentBefore(
        client,
        shot.id,
        changes.map((change) => change.id),
      );
      const fresh = changes.filter((change) => !known.has(change.id));
      // What the sender has missed that is not its own, sent twice after a lost answer.
      const foreign = missed.filter((change) => !changes.some((sent) => sent.id === change.senderId));
      if (base > shot.revision)
        throw new Problem(
          409,
          'base-unknown',
          `Revision ${base} is not known here: the shot is at ${shot.revision}.`,
          { revision: shot.revision, missed: [] },
        );
      if (foreign.length > 0)
        throw new Problem(409, 'stale', `The shot has moved on to revision ${shot.revision}.`, {
          revision: shot.revision,
          missed,
        });
      if (fresh.length === 0) return { revision: shot.revision };
      const { document, patches } = allApplied(shot.document, fresh);
      const kept = fresh.map(({ id, label }, i) => ({
        revision: shot.revision + 1 + i,
        senderId: id,
        label,
        patches: patches[i]!,
      }));
      await keepChanges(client, shot.id, kept, document);
      await askForPicture(client, shot.id, PICTURE_DELAY);
      return { revision: kept.at(-1)!.revision };
    });
    response.json(answer);
  });

  router.get('/shots/:id/events', async (request, response) => {
    const { id } = request.params;
    const revision = await readRevision(db, id);
    if (revision === null) throw notFound('The shot');
    const stream = eventStream(request, response);
    const tell = async (told: string | null): Promise<void> => {
      const now = told === null ? await readRevision(db, id).catch(() => null) : Number(told);
      if (now !== null) stream.send({ revision: now });
    };
    response.on(
      'close',
      news.follow(SHOT_CHANNEL, id, (told) => void tell(told)),
    );
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
