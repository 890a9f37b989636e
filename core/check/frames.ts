import type { Setup } from '../document';

/** At most so many frames are looked at for what may happen only now and then. */
const FRAMES_LOOKED_AT = 240;

/** Frames of the range to look at: all of a short one, evenly spread ones of a long one. */
export function framesToLookAt({ first, last }: Pick<Setup, 'first' | 'last'>): number[] {
  const step = Math.max(1, Math.ceil((last - first + 1) / FRAMES_LOOKED_AT));
  const frames: number[] = [];
  for (let frame = first; frame <= last; frame += step) frames.push(frame);
  return frames;
}
