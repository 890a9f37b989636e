import { toast } from 'sonner';
import {
  channelsReachedFrom,
  linkOf,
  refuseValue,
  resolveChannel,
  splitAddress,
  type Value,
} from '../../../core/document';
import {
  copyKeys,
  copyPose,
  keyChannels,
  ontoPart,
  pasteKeys,
  pastePose,
  reversedCopy,
  type CopiedKeys,
} from '../../../core/edit';
import { pasteLink } from './links/link-commands';
import { evaluatorAt, setChannels, valueNow } from './actions/values';
import type { Session } from './session';

/** Copies everything a part has, as it is at this frame. */
export function copyValues(session: Session, id: string): void {
  const { shot } = session;
  const part = shot.parts[id];
  if (!part) return;
  const values: Record<string, Value> = {};
  for (const channel of channelsReachedFrom(shot, id)) {
    const value = valueNow(session, `${channel.owner}/${channel.path}`, channel.spec);
    values[channel.path] = typeof value === 'number' ? value : ([...value] as [number, number, number]);
  }
  session.clipboard.copy({ kind: 'values', from: part.name, values });
  toast(`The values of ${part.name} are copied: choose other parts and paste.`);
}

/** Gives the chosen parts the copied values that they have too; linked and refused ones are left as they are. */
export function pasteValues(session: Session): void {
  const { shot } = session;
  const { chosen } = session.choice.now;
  const { copied: clipboard } = session.clipboard.now;
  if (clipboard?.kind !== 'values') return;
  const entries = new Map<string, Value>();
  let skipped = 0;
  for (const id of chosen)
    for (const [path, value] of Object.entries(clipboard.values)) {
      const channel = resolveChannel(shot, id, path);
      if (!channel) continue;
      const address = `${channel.owner}/${channel.path}`;
      if (linkOf(shot, address) || refuseValue(channel.spec, value)) skipped++;
      else entries.set(address, value);
    }
  if (entries.size === 0) toast('The chosen parts have none of the copied values.');
  else if (setChannels(session, [...entries]) && skipped > 0)
    toast(`${skipped} values were left as they are: they are linked or out of range here.`);
}

/** Copies the chosen keys, or the values of the chosen part when no key is chosen. */
export function copyChosen(session: Session): void {
  const { shot } = session;
  const { chosenKeys, chosen } = session.choice.now;
  if (chosenKeys.length > 0) {
    const owners = new Set(chosenKeys.map(({ address }) => splitAddress(address).owner));
    session.clipboard.copy({
      kind: 'keys',
      keys: copyKeys(shot, chosenKeys),
      owner: owners.size === 1 ? [...owners][0]! : null,
    });
    toast(`${chosenKeys.length} ${chosenKeys.length === 1 ? 'key is' : 'keys are'} copied.`);
  } else if (chosen.length > 0) copyValues(session, chosen.at(-1)!);
}

/** Where copied keys go: those of one part onto the chosen part, else back where they came from. */
function pasteTarget(
  session: Session,
  keys: CopiedKeys,
  owner: string | null,
): (address: string) => string | null {
  const { shot } = session;
  const { chosen } = session.choice.now;
  const to = chosen.at(-1);
  if (owner === null || to === undefined || to === owner) return (address) => address;
  const from = owner;
  const fitting = (address: string): string | null => {
    const own = ontoPart(from, to)(address);
    if (own === null) return null;
    const channel = resolveChannel(shot, to, splitAddress(address).path);
    return channel ? `${channel.owner}/${channel.path}` : null;
  };
  return keys.channels.some(({ address }) => fitting(address) !== null) ? fitting : (address) => address;
}

/** Pastes what was copied: keys and poses at this frame, values onto the chosen parts. */
export function pasteCopied(session: Session): void {
  const { copied: clipboard } = session.clipboard.now;
  const { frame } = session.time.now;
  if (!clipboard) toast('Nothing has been copied yet.');
  else if (clipboard.kind === 'values') pasteValues(session);
  else if (clipboard.kind === 'pose') pasteCopiedPose(session, false);
  else if (clipboard.kind === 'link') pasteLink(session, 'follow');
  else
    session.edit((shot) =>
      pasteKeys(shot, clipboard.keys, frame, pasteTarget(session, clipboard.keys, clipboard.owner)),
    );
}

/** Pastes copied keys another way: backwards, or into the chosen channel, whatever channel they came from. */
export function pasteKeysAs(session: Session, how: 'reversed' | 'onto'): void {
  const { copied } = session.clipboard.now;
  const { frame } = session.time.now;
  const { channel } = session.choice.now;
  if (copied?.kind !== 'keys') {
    toast('Copy keys first.');
    return;
  }
  if (how === 'reversed') {
    const target = pasteTarget(session, copied.keys, copied.owner);
    session.edit((shot) => pasteKeys(shot, reversedCopy(copied.keys), frame, target));
    return;
  }
  const [from, ...more] = copied.keys.channels;
  if (channel === null || !from) toast('Choose the channel that they are to go into.');
  else if (more.length > 0)
    toast(`Keys of ${more.length + 1} channels are copied: copy those of one to put them into another.`);
  else if (linkOf(session.shot, channel)) toast('The chosen channel is linked: unlink it, or bake its link.');
  else session.edit((shot) => pasteKeys(shot, copied.keys, frame, () => channel));
}

/** Copies the pose of the chosen parts and all below them at this frame. */
export function copyChosenPose(session: Session): void {
  const { shot } = session;
  const { chosen } = session.choice.now;
  const { frame } = session.time.now;
  if (chosen.length === 0) {
    toast('Choose the part whose pose is to be copied.');
    return;
  }
  session.clipboard.copy({ kind: 'pose', pose: copyPose(shot, session.evaluator, chosen) });
  toast(`The pose at frame ${frame} is copied: go to another frame and paste.`);
}

/** Keys the copied pose at this frame. */
export function pasteCopiedPose(session: Session, mirrored: boolean): void {
  const { copied: clipboard } = session.clipboard.now;
  const { frame } = session.time.now;
  if (clipboard?.kind !== 'pose') toast('Copy a pose first.');
  else session.edit((shot) => pastePose(shot, clipboard.pose, frame, mirrored));
}

/** Keys the first frame's values of the chosen parts at the last frame. */
export function firstToLast(session: Session): void {
  const { shot } = session;
  const { chosen } = session.choice.now;
  const { first, last } = shot.setup;
  const evaluator = evaluatorAt(session, first);
  const entries = chosen.flatMap((id) =>
    channelsReachedFrom(shot, id).flatMap((channel): [string, Value][] => {
      const address = `${channel.owner}/${channel.path}`;
      const owner = channel.owner;
      const record = owner.startsWith('prt')
        ? shot.parts[owner]
        : owner.startsWith('shp')
          ? shot.shapes[owner]
          : shot.looks[owner];
      if (!record?.tracks[channel.path] || linkOf(shot, address)) return [];
      return [
        [address, channel.spec.kind === 'colour' ? evaluator.colour(address) : evaluator.number(address)],
      ];
    }),
  );
  if (entries.length === 0) {
    toast('Nothing of the chosen parts is keyed.');
    return;
  }
  session.edit((current) => ({
    ...keyChannels(current, last, entries),
    label: 'First pose to the end',
  }));
}
