import sharp from 'sharp';
import { PICTURE_SIDE_LIMIT, VIDEO_SIDE_LIMIT } from '../../core/document';
import {
  fileKind,
  MESH_TYPES,
  PICTURE_BYTES,
  refuseMesh,
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
import { withFile } from '../sound/read-sound';

const MB = 1024 * 1024;

/** Size and transparency of a picture, read from its bytes. @throws Problem for a broken or oversized one */
async function measure(bytes: Buffer): Promise<Pick<AssetFacts, 'width' | 'height' | 'alpha'>> {
  if (bytes.length > PICTURE_BYTES)
    throw new Problem(
      413,
      'too-large',
      `The picture has ${Math.ceil(bytes.length / MB)} MB: pictures may have ${PICTURE_BYTES / MB} MB.`,
    );
  try {
    const picture = sharp(bytes, { limitInputPixels: false, failOn: 'warning' });
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
 * Stores a picture, a video, a mesh or a sound.
 * @throws Problem for a file that is broken, oversized, empty or of no known kind
 */
export async function keepFile(db: Database, files: FileStore, bytes: Buffer): Promise<AssetFacts> {
  if (bytes.length === 0) throw new Problem(422, 'empty-file', 'The file is empty.');
  const found = fileKind(bytes);
  if (found.kind === 'picture')
    return keepAsset(db, files, bytes, { type: found.type, ...(await measure(bytes)) });
  if (found.kind === 'video') return keepVideo(db, files, bytes, found.type);
  if (found.kind === 'sound') return keepSound(db, files, bytes, found.type);
  if (found.kind !== 'mesh')
    throw new Problem(
      415,
      'unknown-file',
      'This is no file that can be kept here: PNG, JPEG and WebP pictures, MP4 and WebM videos, GLB, glTF, OBJ, STL and PLY meshes, and WAV, MP3, OGG and FLAC sounds can.',
    );
  const reason = refuseMesh(found.format, bytes, (part) => new TextDecoder().decode(part));
  if (reason) throw new Problem(422, 'broken-mesh', reason);
  return keepAsset(db, files, bytes, {
    type: MESH_TYPES[found.format],
    width: null,
    height: null,
    alpha: null,
  });
}

/** Stores a sound, and asks for it to be read. @throws Problem for one that is broken, too large or too long */
async function keepSound(
  db: Database,
  files: FileStore,
  bytes: Buffer,
  type: SoundType,
): Promise<AssetFacts> {
  if (bytes.length > SOUND_BYTES)
    throw new Problem(
      413,
      'too-large',
      `The sound has ${Math.ceil(bytes.length / MB)} MB: sounds may have ${SOUND_BYTES / MB} MB. Save it as MP3, OGG or FLAC.`,
    );
  let facts;
  try {
    facts = await withFile(bytes, probeSound);
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
    const kept = await keepAsset(client, files, bytes, { type, width: null, height: null, alpha: null });
    await noteSound(client, kept.hash, facts);
    return kept;
  });
}

/** Stores a video. @throws Problem for one that is broken, too large, or coded so that it cannot be shown */
async function keepVideo(
  db: Database,
  files: FileStore,
  bytes: Buffer,
  type: VideoType,
): Promise<AssetFacts> {
  if (bytes.length > VIDEO_BYTES)
    throw new Problem(
      413,
      'too-large',
      `The video has ${Math.ceil(bytes.length / MB)} MB: videos may have ${VIDEO_BYTES / MB} MB. Cut out what the shot needs.`,
    );
  let facts;
  try {
    facts = await withFile(bytes, probeVideo);
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
  return keepAsset(db, files, bytes, { type, width, height, alpha, video: { rate, pictures } });
}
