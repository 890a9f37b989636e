import {
  channelAt,
  COPIES_IN_ALL,
  ownerName,
  ownerOf,
  refuseValue,
  splitAddress,
  storedValue,
  type ChannelSpec,
  type Setup,
  type Shot,
  type Value,
} from '../document';
import { pathOf } from './address-path';
import { Draft, type Change } from './change';

/** Name of a channel in sentences: "Pinion rotation Z". */
export function channelName(shot: Shot, address: string): string {
  const { owner } = splitAddress(address);
  const spec = channelAt(shot, address)?.spec;
  return `${ownerName(shot, owner)} ${spec ? channelLabel(spec) : address}`;
}

/** "rotation Z", "glow": a channel's name without its owner. */
export function channelLabel(spec: ChannelSpec): string {
  return `${spec.label.toLowerCase()}${spec.axis ? ` ${spec.axis.toUpperCase()}` : ''}`;
}

/** Thrown by edits asked to do what the document does not allow; the message is for people. */
export class EditRefused extends RangeError {}

/** @throws EditRefused when the value may not stand in the channel */
export function demandValue(shot: Shot, address: string, value: Value): ChannelSpec {
  const spec = channelAt(shot, address)?.spec;
  if (!spec) throw new EditRefused(`There is no channel ${address} in this shot.`);
  const reason = refuseValue(spec, value);
  if (reason) throw new EditRefused(reason);
  return spec;
}

/**
 * Sets stored values of channels (not keys).
 * @throws EditRefused for a value out of the channel's limits
 */
export function setValues(
  shot: Shot,
  entries: readonly (readonly [address: string, value: Value])[],
): Change {
  const draft = new Draft(shot);
  for (const [address, value] of entries) {
    demandValue(shot, address, value);
    draft.set(pathOf(address, 'values'), value);
  }
  if (entries.some(([address]) => address.endsWith('/copies'))) demandCopies(draft.shot);
  const first = entries[0];
  return draft.change(
    entries.length === 1 && first ? `Set ${channelName(shot, first[0])}` : `Set ${entries.length} values`,
  );
}

/** @throws EditRefused where repeats of repeats show more copies in all than are allowed */
export function demandCopies(shot: Shot): void {
  for (const [id, part] of Object.entries(shot.parts)) {
    if (part.kind !== 'repeat') continue;
    let inAll = 1;
    const chain: string[] = [];
    for (let at: string | null = id; at !== null; at = shot.parts[at]!.parent) {
      if (shot.parts[at]!.kind !== 'repeat') continue;
      inAll *= storedValue(shot, channelAt(shot, `${at}/copies`)!) as number;
      chain.push(shot.parts[at]!.name);
    }
    if (inAll > COPIES_IN_ALL)
      throw new EditRefused(
        `${chain.reverse().join(' x ')} would show ${inAll} copies: at most ${COPIES_IN_ALL} in all are allowed. Lower the copies of one of them.`,
      );
  }
}

/** Changes the set-up of the shot: picture size, rate, range, unit, background, exposure, camera. */
export function changeSetup(shot: Shot, setup: Partial<Setup>): Change {
  const draft = new Draft(shot);
  for (const [key, value] of Object.entries(setup)) draft.set(['setup', key], value);
  return draft.change('Change the shot');
}

/** Lets another camera take the shot. */
export function takeShotWith(shot: Shot, camera: string): Change {
  const draft = new Draft(shot);
  draft.set(['setup', 'camera'], camera);
  return draft.change(`Take the shot with ${shot.parts[camera]?.name ?? ''}`);
}

/** Begins or ends the shot at other frames; they are rounded to whole ones. */
export function setRange(shot: Shot, range: { readonly first?: number; readonly last?: number }): Change {
  const draft = new Draft(shot);
  for (const [key, frame] of Object.entries(range)) draft.set(['setup', key], Math.round(frame));
  return draft.change('Change the range');
}

/** Takes an owner's stored value away, so that the channel has its initial value again. */
export function resetValue(shot: Shot, address: string): Change {
  const draft = new Draft(shot);
  const { owner, path } = splitAddress(address);
  if (ownerOf(shot, owner)?.values[path] !== undefined) draft.set(pathOf(address, 'values'), undefined);
  return draft.change(`Reset ${channelName(shot, address)}`);
}
