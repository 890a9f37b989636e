import type { Inset, Shot } from '../document';
import { framesPerSecond } from '../time';

type Setup = Pick<Shot['setup'], 'first' | 'last' | 'rate'>;

/** Inner frames for each frame of the shot that it stands in: the inner shot keeps its own time. */
const stride = (inset: Inset, inner: Setup, outer: Setup): number =>
  (inset.speed * framesPerSecond(inner.rate)) / framesPerSecond(outer.rate);

/** Frames [from, to) of the outer shot at which an inner one is seen. */
export function spanOfInset(inset: Inset, inner: Setup, outer: Setup): { from: number; to: number } {
  const once = inset.start + (inner.last - inner.first + 1) / stride(inset, inner, outer);
  return { from: inset.start, to: inset.plays === 'once' ? once : (inset.until ?? Infinity) };
}

/**
 * Frame of the inner shot that is shown at a frame of the outer one; `null` where none is. Played over and over, its
 * first frame follows its last; to and fro it turns at its last frame; otherwise its last frame is held.
 */
export function innerFrame(inset: Inset, inner: Setup, outer: Setup, frame: number): number | null {
  const { from, to } = spanOfInset(inset, inner, outer);
  if (!(frame >= from && frame < to)) return null;
  const gone = (frame - from) * stride(inset, inner, outer);
  const turns = inner.last - inner.first;
  if (turns <= 0) return inner.first;
  const into = goneInto(inset.plays, gone, turns);
  return inset.backwards ? inner.last - into : inner.first + into;
}

function goneInto(plays: Inset['plays'], gone: number, turns: number): number {
  if (plays === 'loop') return gone - (turns + 1) * Math.floor(gone / (turns + 1));
  if (plays === 'back-and-forth') {
    const both = gone - 2 * turns * Math.floor(gone / (2 * turns));
    return both <= turns ? both : 2 * turns - both;
  }
  return plays === 'once' ? gone : Math.min(gone, turns);
}
