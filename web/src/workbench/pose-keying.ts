import {
  channelAt,
  splitAddress,
  storedValue,
  subtreeOf,
  tableOf,
  trackOf,
  type Shot,
  type Value,
} from '../../../core/document';
import { keyChannels, type Change } from '../../../core/edit';

/**
 * Keying only what differs: a pose has keys where something moves, and no lane for what stands. A channel without keys
 * that is changed while its figure has been posed at another frame waits to be keyed, as a keyed one does; when it is
 * keyed, the pose before is given the value that it had there.
 */

/** The figure that a part belongs to: the topmost part above it. */
function figureOf(shot: Shot, id: string): string {
  let top = id;
  for (let at: string | null = id; at !== null; at = shot.parts[at]?.parent ?? null) top = at;
  return top;
}

/** Frames at which a figure has keys, each once, in order. */
function poseFrames(shot: Shot, part: string): number[] {
  const frames = new Set<number>();
  for (const id of subtreeOf(shot, figureOf(shot, part)))
    for (const track of Object.values(shot.parts[id]?.tracks ?? {}))
      for (const key of Object.values(track.keys)) frames.add(key.frame);
  return [...frames].sort((a, b) => a - b);
}

/** Whether a channel without keys belongs to a figure that is posed at another frame. */
export function isPosed(shot: Shot, address: string, frame: number): boolean {
  const { owner } = splitAddress(address);
  if (tableOf(owner) !== 'parts' || !shot.parts[owner] || !channelAt(shot, address)?.spec.animatable)
    return false;
  return poseFrames(shot, owner).some((at) => at !== frame);
}

/**
 * Keys the value that channels had so far at the pose before a frame (the next one where there is none before), for
 * channels that get their first key now with another value; `null` where there are none.
 */
export function anchorPose(
  shot: Shot,
  frame: number,
  entries: readonly (readonly [address: string, value: Value])[],
): Change | null {
  const byFrame = new Map<number, [string, Value][]>();
  for (const [address, value] of entries) {
    const channel = channelAt(shot, address);
    const { owner } = splitAddress(address);
    if (!channel || tableOf(owner) !== 'parts' || trackOf(shot, address)) continue;
    const before = storedValue(shot, channel);
    if (JSON.stringify(before) === JSON.stringify(value)) continue;
    const frames = poseFrames(shot, owner).filter((at) => at !== frame);
    const at = frames.findLast((other) => other < frame) ?? frames[0];
    if (at === undefined) continue;
    byFrame.set(at, [...(byFrame.get(at) ?? []), [address, before]]);
  }
  if (byFrame.size === 0) return null;
  const changes = [...byFrame].map(([at, anchored]) => keyChannels(shot, at, anchored));
  return { label: 'Key the pose', patches: changes.flatMap((change) => change.patches) };
}

/**
 * Of the channels of a pose those that are worth a key: what was changed here, what moves, and what is not as it is at
 * first. Where nothing is, the location of the topmost part, so that the pose has its frame.
 */
export function differingChannels(
  shot: Shot,
  addresses: readonly string[],
  loose: Readonly<Record<string, Value>>,
  roots: readonly string[],
): string[] {
  const anyKeys = roots.some((root) => poseFrames(shot, root).length > 0);
  const found = addresses.filter((address) => {
    if (address in loose) return true;
    const track = trackOf(shot, address);
    if (track) {
      const values = Object.values(track.keys).map((key) => JSON.stringify(key.value));
      return values.some((value) => value !== values[0]);
    }
    const channel = channelAt(shot, address)!;
    return !anyKeys && JSON.stringify(storedValue(shot, channel)) !== JSON.stringify(channel.spec.initial);
  });
  const anchors = anyKeys
    ? []
    : roots.flatMap((root) => ['x', 'y', 'z'].map((axis) => `${root}/location.${axis}`));
  return [...new Set([...found, ...anchors.filter((address) => addresses.includes(address))])];
}
