import { open, readFile } from 'node:fs/promises';
import sharp from 'sharp';
import { PICTURE_SIDE_LIMIT, VIDEO_SIDE_LIMIT } from '../../core/document';
import {
  fileKind,
  LOOKED_AT,
  MESH_TYPES,
  PICTURE_BYTES,
  refuseMesh,
  refuseMeshSize,
  SOUND_BYTES,
  VIDEO_BYTES,
  type SoundType,
  type VideoType,
} from '../../core/format';
import { BrokenMedia, probeSound, probeVideo } from '../../decode';
import { SOUND_TAKEN_SECONDS } from '../../wire';
import type { AssetFacts } from '../../wire';
import { Problem } from '../problem';
import type { FileStore } from '../files';
import { keepAsset } from '../store/assets';
import { inTransaction, type Database } from '../store/database';
import { noteSound } from '../store/sounds';

const MB = 1024 * 1024;

/** Size and transparency of a picture, read from its bytes. @throws Problem for a broken or oversized one */
async function measure({ path, size }: Incoming): Promise<Pick<AssetFacts, 'width' | 'height' | 'alpha'>> {
  if (size > PICTURE_BYTES)
    throw new Problem(
      413,
      'too-large',
      `The picture has ${Math.ceil(size / MB)} MB: pictures may have ${PICTURE_BYTES / MB} MB.`,
    );
  try {
    const picture = sharp(path, { limitInputPixels: false, failOn: 'warning' });
    const { width, height, hasAlpha, orientation = 1 } = await picture.metadata();
    // Cameras store upright pictures lying on their side, and say so.
    const [shownWidth, shownHeight] = orientation >= 5 ? [height, width] : [width, height];
    if (Math.max(width, height) > PICTURE_SIDE_LIMIT)
      throw new Problem(
        422,
        'picture-too-large',
        `The picture has ${shownWidth} by ${shownHeight} pixels: at most ${PICTURE_SIDE_LIMIT} on a side are allowed. Make it smaller and drop it again.`,
      );
    const { isOpaque } = await picture.stats();
    return { width: shownWidth, height: shownHeight, alpha: hasAlpha && !isOpaque };
  } catch (error) {
    if (error instanceof Problem) throw error;
    throw new Problem(
      422,
      'broken-picture',
      'The picture is broken: it cannot be read to its end. Save it again in the program that made it.',
    );
  }
}

/**
 * Stores a picture, a video, a mesh or a sound. Of pictures, videos and sounds no more is in memory than is looked at.
 * @param path a file with its bytes, which stays
 * @throws Problem for a file that is broken, oversized, empty or of no known kind
 */
export async function keepFile(db: Database, files: FileStore, path: string): Promise<AssetFacts> {
  const file = { path, ...(await beginningOf(path)) };
  if (file.size === 0) throw new Problem(422, 'empty-file', 'The file is empty.');
  const found = fileKind(file.beginning, file.size);
  if (found.kind === 'picture')
    return keepAsset(db, files, path, { type: found.type, ...(await measure(file)) });
  if (found.kind === 'video') return keepVideo(db, files, file, found.type);
  if (found.kind === 'sound') return keepSound(db, files, file, found.type);
  if (found.kind !== 'mesh')
    throw new Problem(
      415,
      'unknown-file',
      'This is no file that can be kept here: PNG, JPEG and WebP pictures, MP4 and WebM videos, GLB, glTF, OBJ, STL and PLY meshes, and WAV, MP3, OGG and FLAC sounds can.',
    );
  const reason =
    refuseMeshSize(file.size) ??
    refuseMesh(found.format, await readFile(path), (part) => new TextDecoder().decode(part));
  if (reason) throw new Problem(422, 'broken-mesh', reason);
  return keepAsset(db, files, path, {
    type: MESH_TYPES[found.format],
    width: null,
    height: null,
    alpha: null,
  });
}

/** A file that has come in. */
interface Incoming {
  readonly path: string;
  readonly size: number;
  /** What its kind is told from. */
  readonly beginning: Uint8Array;
}

async function beginningOf(path: string): Promise<Omit<Incoming, 'path'>> {
  const file = await open(path);
  try {
    const { size } = await file.stat();
    const { buffer, bytesRead } = await file.read(Buffer.alloc(LOOKED_AT), 0, LOOKED_AT, 0);
    return { size, beginning: buffer.subarray(0, bytesRead) };
  } finally {
    await file.close();
  }
}

/** Stores a sound, and asks for it to be read. @throws Problem for one that is broken, too large or too long */
async function keepSound(
  db: Database,
  files: FileStore,
  { path, size }: Incoming,
  type: SoundType,
): Promise<AssetFacts> {
  if (size > SOUND_BYTES)
    throw new Problem(
      413,
      'too-large',
      `The sound has ${Math.ceil(size / MB)} MB: sounds may have ${SOUND_BYTES / MB} MB. Save it as MP3, OGG or FLAC.`,
    );
  let facts;
  try {
    facts = await probeSound(path);
  } catch (error) {
    if (!(error instanceof BrokenMedia)) throw error;
    throw new Problem(
      422,
      'broken-sound',
      `The sound is broken: ${error.message}. Save it again in the program that made it.`,
    );
  }
  if (facts.seconds > SOUND_TAKEN_SECONDS)
    throw new Problem(
      422,
      'too-long',
      `The sound lasts ${Math.ceil(facts.seconds / 60)} minutes: at most ${SOUND_TAKEN_SECONDS / 60} are taken. Cut out what the shot needs.`,
    );
  return inTransaction(db, async (client) => {
    const kept = await keepAsset(client, files, path, { type, width: null, height: null, alpha: null });
    await noteSound(client, kept.hash, facts);
    return kept;
  });
}

/** Stores a video. @throws Problem for one that is broken, too large, or coded so that it cannot be shown */
async function keepVideo(
  db: Database,
  files: FileStore,
  { path, size }: Incoming,
  type: VideoType,
): Promise<AssetFacts> {
  if (size > VIDEO_BYTES)
    throw new Problem(
      413,
      'too-large',
      `The video has ${Math.ceil(size / MB)} MB: videos may have ${VIDEO_BYTES / MB} MB. Cut out what the shot needs.`,
    );
  let facts;
  try {
    facts = await probeVideo(path);
  } catch (error) {
    if (!(error instanceof BrokenMedia)) throw error;
    throw new Problem(
      422,
      'broken-video',
      `The video cannot be taken: ${error.message}. Save it as MP4 with H.264 or as WebM with VP9.`,
    );
  }
  const { width, height, alpha, rate, pictures } = facts;
  if (Math.max(width, height) > VIDEO_SIDE_LIMIT)
    throw new Problem(
      422,
      'video-too-large',
      `The video has ${width} by ${height} pixels: at most ${VIDEO_SIDE_LIMIT} on a side are allowed. Make it smaller and drop it again.`,
    );
  return keepAsset(db, files, path, { type, width, height, alpha, video: { rate, pictures } });
}
