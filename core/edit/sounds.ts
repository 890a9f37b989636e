import {
  channelAt,
  linkOf,
  SOUND_SECONDS,
  storedValue,
  trackOf,
  type Shot,
  type Sound,
  type Value,
} from '../document';
import { framesPerSecond } from '../time';
import { Draft, type Change } from './change';
import { makeId } from './make-id';
import { demandName } from './demand-name';
import { type Added } from './parts';
import { curveValue, demandFrame, putKey } from './put-key';
import { writeLastNames } from './reader-names';
import { channelName, EditRefused } from './values';

const BEATS_LIMIT = 2000;
const TOUCHES = 0.01;

/** What a sound plays and how, without what it is called and its level. */
export type SoundOptions = Partial<
  Pick<Sound, 'start' | 'from' | 'length' | 'fadeIn' | 'fadeOut' | 'loop' | 'muted'>
>;

/** A new sound from a frame on. */
export function addSound(
  shot: Shot,
  name: string,
  asset: string,
  start: number,
  random?: () => number,
): Added {
  demandFrame(start);
  const id = makeId('snd', random);
  const draft = new Draft(shot);
  const taken = new Set(Object.values(shot.sounds).map((sound) => sound.name));
  const wanted = demandName(name);
  let free = wanted;
  for (let n = 2; taken.has(free); n++) free = `${wanted} ${n}`;
  draft.set(['sounds', id], { name: free, start, asset, values: {}, tracks: {}, links: {} });
  return { id, change: draft.change(`Bring in the sound ${free}`) };
}

/** Changes when a sound begins, which piece of its file it plays, and how. `undefined` takes an option back. */
export function changeSound(shot: Shot, id: string, options: SoundOptions & { name?: string }): Change {
  const sound = shot.sounds[id];
  if (!sound) throw new EditRefused('This sound is no longer in the shot.');
  const { name, ...rest } = options;
  if (rest.start !== undefined) demandFrame(rest.start);
  for (const [what, words] of [
    ['from', 'The beginning that is left out'],
    ['length', 'The length'],
    ['fadeIn', 'The fade at the beginning'],
    ['fadeOut', 'The fade at the end'],
  ] as const) {
    const seconds = rest[what];
    const least = what === 'length' ? TOUCHES : 0;
    if (seconds !== undefined && !(seconds >= least && seconds <= SOUND_SECONDS))
      throw new EditRefused(`${words} must be ${least} to ${SOUND_SECONDS} seconds, not ${seconds}.`);
  }
  const draft = new Draft(shot);
  if (name !== undefined && name !== sound.name) {
    const wanted = demandName(name);
    if (Object.entries(shot.sounds).some(([other, entry]) => other !== id && entry.name === wanted))
      throw new EditRefused(`Another sound is called "${wanted}".`);
    draft.set(['sounds', id, 'name'], wanted);
  }
  for (const [what, value] of Object.entries(rest)) draft.set(['sounds', id, what], value);
  return draft.change(`Change the sound ${sound.name}`);
}

/** Takes a sound out of the shot. Formulas that read it say so. */
export function removeSound(shot: Shot, id: string): Change {
  const sound = shot.sounds[id];
  if (!sound) throw new EditRefused('This sound is no longer in the shot.');
  const draft = new Draft(shot);
  writeLastNames(draft, shot, new Set([id]));
  draft.set(['sounds', id], undefined);
  return draft.change(`Take the sound ${sound.name} out`);
}

/** Beats by frame. */
export function beatFrames(shot: Shot): number[] {
  return Object.values(shot.markers)
    .filter((marker) => marker.beat)
    .map((marker) => marker.frame)
    .sort((a, b) => a - b);
}

/** Frames of times of a sound that are within the piece that it plays. */
export function framesOfSound(shot: Shot, id: string, seconds: readonly number[]): number[] {
  const { start, from = 0, length = Infinity } = shot.sounds[id]!;
  const rate = framesPerSecond(shot.setup.rate);
  return seconds
    .filter((at) => at >= from && at < from + length)
    .map((at) => Math.round((start + (at - from) * rate) * 1000) / 1000);
}

/**
 * Marks beats; those that were there are taken away first where `replace` says so.
 * @throws EditRefused for too many
 */
export function markBeats(
  shot: Shot,
  frames: readonly number[],
  replace: boolean,
  random?: () => number,
): Change {
  const kept = replace ? 0 : beatFrames(shot).length;
  if (frames.length + kept > BEATS_LIMIT)
    throw new EditRefused(
      `${frames.length + kept} beats are too many: at most ${BEATS_LIMIT} can be marked. Choose a higher threshold or a shorter piece.`,
    );
  const draft = new Draft(shot);
  const there = new Set<number>();
  for (const [id, marker] of Object.entries(shot.markers)) {
    if (!marker.beat) continue;
    if (replace) draft.set(['markers', id], undefined);
    else there.add(marker.frame);
  }
  const first = kept;
  let count = 0;
  for (const frame of frames) {
    demandFrame(frame);
    if (there.has(frame)) continue;
    there.add(frame);
    draft.set(['markers', makeId('mrk', random)], { name: `${first + ++count}`, frame, beat: true });
  }
  return draft.change(count === 1 ? 'Mark a beat' : `Mark ${count} beats`);
}

/** Takes all beats away. */
export const clearBeats = (shot: Shot): Change => ({
  ...markBeats(shot, [], true),
  label: 'Take the beats away',
});

/**
 * Keys channels on beats with the values that they have there, or in turn with those of a row.
 * @param every 1 for each beat, 2 for every second, and so on
 * @param from frame before which beats are left alone
 * @param values given in turn to the beats; where none are given the channel stays as it is
 * @throws EditRefused where there is no beat, or a channel is linked
 */
export function keyOnBeats(
  shot: Shot,
  addresses: readonly string[],
  every: number,
  from: number,
  values?: readonly number[],
  random?: () => number,
): Change {
  const beats = beatFrames(shot)
    .filter((frame) => frame >= from - TOUCHES)
    .filter((_, i) => i % every === 0);
  if (beats.length === 0)
    throw new EditRefused(`There is no beat from frame ${from} on: find or tap beats first.`);
  const draft = new Draft(shot);
  for (const address of addresses) {
    const channel = channelAt(shot, address);
    if (!channel?.spec.animatable) throw new EditRefused(`${channelName(shot, address)} cannot be keyed.`);
    if (linkOf(shot, address))
      throw new EditRefused(`${channelName(shot, address)} is linked: its formula says what it is.`);
    const track = trackOf(shot, address);
    const own = (frame: number): Value =>
      track ? curveValue(shot, address, track, frame) : storedValue(shot, channel);
    const keyed = beats.map((frame, i) => values?.[i % values.length] ?? own(frame));
    beats.forEach((frame, i) => putKey(draft, address, frame, keyed[i]!, random));
  }
  const what = addresses.length === 1 ? channelName(shot, addresses[0]!) : `${addresses.length} channels`;
  return draft.change(`Key ${what} on ${beats.length} beats`);
}
