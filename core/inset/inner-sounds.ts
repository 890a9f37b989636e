import { retimedTrack, type Inset, type Shot, type Sound } from '../document';
import { framesPerSecond } from '../time';
import { spanOfInset } from './inner-frame';
import type { ShotLibrary } from './library';

/** Shots inside one another are followed so far. */
const DEEPEST = 8;

/**
 * A shot with the sounds of the shots inside it as its own, where they run forward at their own speed; any other speed
 * would be another tune. Over and over they are heard in their first pass of each round up to the shot's last frame.
 */
export function withInnerSounds(shot: Shot, library: ShotLibrary, depth = 0): Shot {
  if (depth >= DEEPEST) return shot;
  const sounds: Record<string, Sound> = { ...shot.sounds };
  for (const [id, { inset }] of Object.entries(shot.parts)) {
    const found =
      inset && !inset.silent && inset.speed === 1 && !inset.backwards ? library.shotOf(inset.shot) : null;
    if (!inset || !found) continue;
    const inner = withInnerSounds(found, library, depth + 1);
    starts(inset, inner, shot).forEach((start, round) => {
      for (const [soundId, sound] of Object.entries(inner.sounds)) {
        const heard = moved(sound, inset, inner, shot, start);
        if (heard) sounds[`snd_${id.slice(4)}-${round}-${soundId.slice(4)}`] = heard;
      }
    });
  }
  return { ...shot, sounds };
}

/** Frames of the outer shot at which the inner one begins. */
function starts(inset: Inset, inner: Shot, outer: Shot): number[] {
  const lasts =
    ((inner.setup.last - inner.setup.first + 1) * framesPerSecond(outer.setup.rate)) /
    framesPerSecond(inner.setup.rate);
  const out = [inset.start];
  if (inset.plays !== 'loop') return out;
  const until = Math.min(inset.until ?? Infinity, outer.setup.last + 1);
  for (let at = inset.start + lasts; at < until && out.length < 1000; at += lasts) out.push(at);
  return out;
}

/** A sound of an inner shot as one of the outer one, cut to what is seen of the inner one; `null` where none is left. */
function moved(sound: Sound, inset: Inset, inner: Shot, outer: Shot, start: number): Sound | null {
  const [innerRate, outerRate] = [framesPerSecond(inner.setup.rate), framesPerSecond(outer.setup.rate)];
  const place = (frame: number): number => start + ((frame - inner.setup.first) * outerRate) / innerRate;
  const begins = place(sound.start);
  const round = start + ((inner.setup.last - inner.setup.first + 1) * outerRate) / innerRate;
  const ends = Math.min(spanOfInset(inset, inner.setup, outer.setup).to, round);
  const from = Math.max(0, (start - begins) / outerRate);
  const seconds = (ends - Math.max(begins, start)) / outerRate;
  if (seconds <= 0) return null;
  const { loop: _loop, links: _links, ...rest } = sound;
  const length = Math.min((sound.length ?? Infinity) - from, seconds);
  if (length <= 0) return null;
  return {
    ...rest,
    start: Math.max(begins, start),
    ...(from > 0 ? { from: (sound.from ?? 0) + from } : {}),
    length,
    tracks: Object.fromEntries(
      Object.entries(sound.tracks).map(([path, track]) => [
        path,
        retimedTrack(track, place, outerRate / innerRate),
      ]),
    ),
    links: {},
  };
}
