import { randomUUID } from 'node:crypto';
import { Router } from 'express';
import { SOUND_BYTES } from '../../core/format';
import { readBytes, soundHash } from '../body';
import type { Desk } from '../desk/desk';
import { Gate } from '../gate';
import type { FileStore } from '../files';
import { notFound } from '../problem';
import { sendStream } from '../send-stream';
import { openAsset } from '../store/assets';
import type { Database } from '../store/database';

/** Bytes of files that are on their way in at once. */
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
      const bytes = await readBytes(request, response, SOUND_BYTES, 'A file');
      return desk.do(randomUUID(), 'keepFile', bytes);
    });
    response.status(201).json(stored);
  });

  router.get('/assets/:hash', async (request, response) => {
    const asset = await openAsset(db, files, request.params.hash);
    if (!asset) throw notFound('The file');
    response
      .set('Cache-Control', 'private, max-age=31536000, immutable')
      .set('Content-Disposition', 'attachment')
      .type(asset.type)
      .set('Content-Length', String(asset.size));
    await sendStream(response, asset.bytes);
  });
  return router;
}
