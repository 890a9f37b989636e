import { FILM_FRAMES } from '../film';
import { mostJoin, reelFrames } from './layout';
import type { Reel } from './schema';

/** The first thing wrong with a reel that has the right form, in words with its place, or `null`. */
export function reelTrouble(reel: Reel): string | null {
  const frames = reelFrames(reel);
  if (frames > FILM_FRAMES)
    return `The reel has ${frames} frames: at most ${FILM_FRAMES} are allowed. Part it in two.`;
  const ids = [...reel.items, ...reel.sounds].map(({ id }) => id);
  const twice = ids.find((id, at) => ids.indexOf(id) !== at);
  if (twice !== undefined) return `The id ${twice} is there twice: give one of them another.`;
  for (const [at, { join }] of reel.items.entries()) {
    if ((join.manner === 'cut') !== (join.frames === 0))
      return `items/${at}/join: a cut has 0 frames, and nothing else has: this ${join.manner} has ${join.frames}.`;
    const most = mostJoin(reel.items, at);
    if (join.frames > most)
      return `items/${at}/join/frames: there is room for ${most} frames, ${join.frames} are too many.`;
  }
  return null;
}
