import { randomUUID } from 'node:crypto';
import { Router } from 'express';
import { SOUND_BYTES } from '../../core/format';
import { soundHash, withBody } from '../body';
import type { Desk } from '../desk/desk';
import { Gate } from '../gate';
import type { FileStore } from '../files';
import { notFound } from '../problem';
import { sendRange } from '../send-stream';
import { describeAsset, openAsset } from '../store/assets';
import type { Database } from '../store/database';

/** Bytes of files that are on their way in at once, on the disk for work. */
const INCOMING_BYTES = 2 * SOUND_BYTES;

/** Storing pictures, meshes and sounds by their bytes, and giving them out. */
export function assetRoutes(db: Database, files: FileStore, desk: Desk): Router {
  const router = Router();
  router.param('hash', soundHash);
  const incoming = new Gate(INCOMING_BYTES);

  router.post('/assets', async (request, response) => {
    // Without a length it may be as long as a file may be.
    const announced = Math.min(Number(request.headers['content-length'] ?? SOUND_BYTES), SOUND_BYTES);
    const stored = await incoming.through(announced, async () => {
      return withBody(request, response, SOUND_BYTES, 'A file', (path) =>
        desk.do(randomUUID(), 'keepFile', path),
      );
    });
    response.status(201).json(stored);
  });

  router.get('/assets/:hash', async (request, response) => {
    const { hash } = request.params;
    const facts = await describeAsset(db, hash);
    if (!facts) throw notFound('The file');
    await sendRange(response, request.headers.range, facts.size, async (from, to) => {
      const whole = from === 0 && to === facts.size;
      const asset = await openAsset(db, files, hash, whole ? undefined : { from, to });
      if (!asset) throw notFound('The file');
      response
        .set('Cache-Control', 'private, max-age=31536000, immutable')
        .set('Content-Disposition', 'attachment')
        .set('Accept-Ranges', 'bytes')
        .type(asset.type);
      return asset.bytes;
    });
  });
  return router;
}
