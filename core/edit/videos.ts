import { picturesOf, shotSchema, type Picture, type Shot, type Video } from '../document';
import { Draft, type Change } from './change';
import { demand } from './demand';
import { EditRefused } from './values';

const videoShape = shotSchema.shape.looks.valueType.shape.maps.unwrap().valueType.shape.video;

/** A video of a shot and where it stands in the document. */
export interface PlacedVideo {
  /** Of the picture that it is. */
  readonly path: readonly string[];
  readonly picture: Picture & { readonly video: Video };
}

/** All videos of a shot: on looks and behind everything. */
export function videosOf(shot: Shot): PlacedVideo[] {
  return picturesOf(shot).filter((placed): placed is PlacedVideo => placed.picture.video !== undefined);
}

/** When a video begins, how fast it plays, which of its pictures are shown, and what follows them. */
export type VideoOptions = Partial<Pick<Video, 'start' | 'speed' | 'from' | 'to' | 'after'>>;

/**
 * Changes how a video plays.
 * @param path of the picture, as in `videosOf`
 * @throws EditRefused where there is no video, or for values that it cannot have
 */
export function changeVideo(shot: Shot, path: readonly string[], options: VideoOptions): Change {
  const found = videosOf(shot).find((entry) => entry.path.join('/') === path.join('/'));
  if (!found) throw new EditRefused('This video is no longer in the shot.');
  const { file, video } = found.picture;
  const next = { ...video, ...options };
  if (!(next.from < next.to && next.to <= video.pictures && next.from >= 0))
    throw new EditRefused(
      `"${file}" has the pictures 1 to ${video.pictures}: the first one shown must come before the end.`,
    );
  demand(videoShape, next, `"${file}" cannot play so.`);
  const draft = new Draft(shot);
  draft.set([...path, 'video'], next);
  return draft.change(`Change how ${file} plays`);
}
