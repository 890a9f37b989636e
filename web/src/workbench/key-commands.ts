import { toast } from 'sonner';
import {
  channelsReachedFrom,
  isWithinAny,
  linkOf,
  trackOf,
  treeOrder,
  type Channel,
  type Shot,
} from '../../../core/document';
import { removeAllKeys, setStretch, topmost, type StretchManner } from '../../../core/edit';
import { keysAround } from './keys/key-words';
import { differingChannels } from './pose-keying';
import { lanesOf } from './keys/lanes';
import { undo } from './actions/history';
import { keyNow } from './actions/keying';
import { goTo, stop } from './actions/time';
import { evaluatorAt } from './actions/values';
import type { Session } from './session';
import type { KeySet } from './state/keying';

const SETS: Record<Exclude<KeySet, 'everything'>, (channel: Channel) => boolean> = {
  place: ({ path }) => path.startsWith('location.'),
  turn: ({ path }) => path.startsWith('rotation.'),
  size: ({ path }) => path.startsWith('scale.'),
  look: ({ spec }) => spec.group === 'Look' || spec.path === 'opacity' || spec.group === 'Light',
};

/** Parts and everything below them, in the order of the tree. */
function below(shot: Shot, parts: readonly string[]): string[] {
  const roots = new Set(parts);
  return treeOrder(shot).flatMap(({ id }) => (isWithinAny(shot, id, roots) ? [id] : []));
}

/** Channels of a part that belong to the chosen key sets. */
function setOf(session: Session, id: string): string[] {
  const { shot } = session;
  const { keySets } = session.keying.now;
  return channelsReachedFrom(shot, id)
    .filter(
      (channel) =>
        channel.spec.animatable &&
        !linkOf(shot, `${channel.owner}/${channel.path}`) &&
        keySets.some((name) => name === 'everything' || SETS[name](channel)),
    )
    .map((channel) => `${channel.owner}/${channel.path}`);
}

/** Channels that K keys: what was changed, the chosen channel, or the key set of the chosen parts. */
export function channelsToKey(session: Session): string[] {
  const { channel, chosen } = session.choice.now;
  const { loose } = session.keying.now;
  const changed = Object.keys(loose);
  if (changed.length > 0) return changed;
  if (channel !== null && chosen.length <= 1) return [channel];
  return [...new Set(chosen.flatMap((id) => setOf(session, id)))];
}

/** Keyed channels that are meant: the chosen one, or all of the chosen parts. */
function keyedChannels(session: Session): string[] {
  const { shot } = session;
  const { channel, chosen } = session.choice.now;
  if (channel !== null && trackOf(shot, channel)) return [channel];
  const found = chosen.flatMap((id) =>
    channelsReachedFrom(shot, id).map((entry) => `${entry.owner}/${entry.path}`),
  );
  return [...new Set(found)].filter((address) => trackOf(shot, address));
}

/** Does something with keyed channels, or says that there are none. */
export function withKeyed(session: Session, work: (addresses: readonly string[]) => void): void {
  const addresses = keyedChannels(session);
  if (addresses.length > 0) work(addresses);
  else toast('Nothing chosen is keyed yet: key it first with K.');
}

/** Sets how the chosen channel, or all of the chosen parts, moves in the stretch round this frame. */
export function easeHere(session: Session, manner: StretchManner): void {
  withKeyed(session, (addresses) => {
    const around = keysAround(session.shot, addresses, session.time.now.frame);
    if (around.length === 0) toast('This frame lies in no stretch between two keys of what is chosen.');
    else session.edit((now) => setStretch(now, around, manner));
  });
}

/** Goes to the next or previous key of the chosen channel, of the chosen parts, or of everything. */
export function toKey(session: Session, direction: 1 | -1): void {
  const { shot } = session;
  const { channel, chosen } = session.choice.now;
  const { frame } = session.time.now;
  const own = channel === null ? null : trackOf(shot, channel);
  const lanes = lanesOf(shot);
  const ofParts = lanes.filter((lane) => lane.part !== null && chosen.includes(lane.part));
  const frames = own
    ? Object.values(own.keys).map((key) => key.frame)
    : (ofParts.some((lane) => lane.keys.length > 0) ? ofParts : lanes).flatMap((lane) =>
        lane.keys.map((key) => key.frame),
      );
  const ahead = frames.filter((at) => (at - frame) * direction > 1e-6);
  if (ahead.length === 0) return;
  let nearest = ahead[0]!;
  for (const at of ahead) if ((at - nearest) * direction < 0) nearest = at;
  stop(session);
  goTo(session, nearest);
}

/** Chooses the keys at this frame: of the chosen parts, else of every lane. */
export function chooseKeysHere(session: Session): void {
  const { shot } = session;
  const { frame } = session.time.now;
  const { chosen, channel } = session.choice.now;
  const lanes = lanesOf(shot).filter((lane) =>
    chosen.length > 0
      ? lane.part !== null && chosen.includes(lane.part)
      : channel === null || lane.address === channel,
  );
  const found = lanes.flatMap((lane) =>
    lane.keys
      .filter((key) => Math.abs(key.frame - frame) < 1e-6)
      .map((key) => ({ address: lane.address, key: key.id })),
  );
  session.choice.keys(found);
  if (found.length === 0) toast(`There is no key at frame ${frame} here.`);
}

/** Takes all keys away, of the chosen parts and what hangs below them or of the whole shot; values stay as they are now. */
export function deleteAllKeys(session: Session, of: 'chosen' | 'shot'): void {
  const { shot } = session;
  const { chosen } = session.choice.now;
  const { frame } = session.time.now;
  const within = new Set(below(shot, chosen));
  const keyed = lanesOf(shot)
    .filter(
      (lane) => lane.keys.length > 0 && (of === 'shot' || (lane.part !== null && within.has(lane.part))),
    )
    .map((lane) => lane.address);
  if (keyed.length === 0) {
    toast(of === 'shot' ? 'The shot has no keys.' : 'Nothing chosen is keyed.');
    return;
  }
  const still = evaluatorAt(session, frame);
  if (session.edit((now) => removeAllKeys(now, still, keyed)))
    toast(
      `The keys of ${keyed.length} ${keyed.length === 1 ? 'lane are' : 'lanes are'} gone; values stay as at frame ${frame}.`,
      {
        action: { label: 'Undo', onClick: () => undo(session) },
      },
    );
}

/** Keys the place of the chosen parts and everything below them, as far as it is not linked. */
export function keyPose(session: Session): void {
  const { shot } = session;
  const { chosen } = session.choice.now;
  const { keySets } = session.keying.now;
  const posed = keySets.some((name) => name !== 'look');
  // What parts share is keyed once.
  const addresses = [
    ...new Set(
      below(shot, chosen)
        .flatMap((id) => channelsReachedFrom(shot, id))
        .filter(
          (channel) =>
            channel.spec.animatable &&
            !linkOf(shot, `${channel.owner}/${channel.path}`) &&
            (posed
              ? keySets.some((name) => name === 'everything' || SETS[name](channel))
              : /^(location|rotation|scale)\./.test(channel.path)),
        )
        .map((channel) => `${channel.owner}/${channel.path}`),
    ),
  ];
  if (!session.keying.now.keyDiffering) {
    keyNow(session, addresses);
    return;
  }
  const differing = differingChannels(shot, addresses, session.keying.now.loose, topmost(shot, chosen));
  if (differing.length > 0) keyNow(session, differing);
  else toast('Nothing of this pose differs from the one before: there is nothing to key.');
}
