import { blankShot, type Inset, type Shot, type Sound } from '../document';
import { addPart, apply } from '../edit';
import { withInnerSounds } from '../inset';
import { secondsAt } from '../time';
import { REEL_FIRST, reelFrames, spansOf, strideOf } from './layout';
import type { Reel } from './schema';

/**
 * All that is heard of a reel as one shot of its length, with sounds alone: those of its shots, each from its in to its
 * out, and its own across them. Where shots are joined the sound of one goes as that of the other comes.
 * @param shotOf the shots by their ids; what is gone is not heard
 */
export function soundShot(reel: Reel, shotOf: (id: string) => Shot | null): Shot {
  const blank = blankShot({
    rate: reel.rate,
    width: reel.width,
    height: reel.height,
    first: REEL_FIRST,
    last: Math.max(REEL_FIRST, reelFrames(reel)),
  });
  const sounds: Record<string, Sound> = {};
  const spans = spansOf(reel);
  spans.forEach(({ item, start, end, joins, joined }, at) => {
    const whole = item.kind === 'shot' && !item.silent ? shotOf(item.shot) : null;
    if (item.kind !== 'shot' || !whole) return;
    const next = spans[at + 1];
    // What is joined is heard beyond its cuts, too.
    const [from, to] = [Math.min(start, joins), Math.max(end, next?.joined ?? end)];
    const stride = strideOf(whole.setup.rate, reel.rate);
    const first = item.first + (from - start) * stride;
    const cut: Shot = { ...whole, setup: { ...whole.setup, first, last: first + (to - from) * stride - 1 } };
    const inset: Inset = {
      shot: item.shot,
      name: item.name,
      start: from,
      speed: 1,
      plays: 'once',
      until: to,
    };
    const shown = addPart(blank, { kind: 'shot', name: 'Shown', inset }, () => 0);
    // The shots that it shows are taken as they are: a reel does not know them.
    const heard = withInnerSounds(apply(blank, shown.change), {
      shotOf: (id) => (id === item.shot ? cut : shotOf(id)),
    });
    const fadeIn = secondsAt(joined, joins, reel.rate);
    const fadeOut = next ? secondsAt(next.joined, next.joins, reel.rate) : 0;
    const seconds = secondsAt(to, from, reel.rate);
    for (const [id, sound] of Object.entries(heard.sounds))
      sounds[`${id}-${item.id.slice(4)}`] = faded(sound, from, seconds, fadeIn, fadeOut, reel);
  });
  for (const { id, name, asset, start, from, length, level, fadeIn, fadeOut } of reel.sounds)
    sounds[id] = {
      name,
      asset,
      start,
      from,
      ...(length === undefined ? {} : { length }),
      fadeIn,
      fadeOut,
      values: { level },
      tracks: {},
      links: {},
    };
  return { ...blank, sounds };
}

/** A sound that rises and falls with the picture that it belongs to; one that begins in a join rises with the rest of it. */
function faded(
  sound: Sound,
  from: number,
  seconds: number,
  fadeIn: number,
  fadeOut: number,
  { rate }: Reel,
): Sound {
  const begins = Math.max(0, secondsAt(sound.start, from, rate));
  const rise = fadeIn - begins;
  const fall = fadeOut - Math.max(0, seconds - begins - (sound.length ?? Infinity));
  return {
    ...sound,
    ...(rise > 0 ? { fadeIn: Math.max(rise, sound.fadeIn ?? 0) } : {}),
    ...(fall > 0 ? { fadeOut: Math.max(fall, sound.fadeOut ?? 0) } : {}),
  };
}
