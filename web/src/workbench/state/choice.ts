import { channelAt, splitAddress, trackOf, type Shot } from '../../../../core/document';
import type { KeyAddress } from '../../../../core/edit';
import { Slice } from './slice';

export interface ChoiceState {
  /** Chosen parts; the last one leads. */
  readonly chosen: readonly string[];
  /** Channel shown in the formula bar. */
  readonly channel: string | null;
  readonly chosenKeys: readonly KeyAddress[];
}

/** What is chosen: parts, a channel, keys. */
export class Choice extends Slice<ChoiceState> {
  constructor() {
    super({ chosen: [], channel: null, chosenKeys: [] });
  }

  /** Chooses parts; a channel that belongs to none of them is no longer the chosen one. */
  parts(shot: Shot, ids: readonly string[]): void {
    const { channel } = this.now;
    const owner = channel === null ? null : splitAddress(channel).owner;
    const stays = ids.some(
      (id) => id === owner || shot.parts[id]?.shape === owner || shot.parts[id]?.look === owner,
    );
    this.set({ chosen: ids, ...(stays ? {} : { channel: null }) });
  }

  /** Chooses parts, and no channel of theirs. */
  onlyParts(chosen: readonly string[]): void {
    this.set({ chosen, channel: null });
  }

  /** Shows a channel in the formula bar; the chosen parts stay. */
  showChannel(channel: string | null): void {
    this.set({ channel });
  }

  keys(chosenKeys: readonly KeyAddress[]): void {
    this.set({ chosenKeys });
  }

  /** Lets go of all that a document has no longer. */
  keepTo(shot: Shot): void {
    const { chosen, channel, chosenKeys } = this.now;
    const next = {
      chosen: chosen.filter((id) => shot.parts[id]),
      channel: channel !== null && channelAt(shot, channel) ? channel : null,
      chosenKeys: chosenKeys.filter(({ address, key }) => trackOf(shot, address)?.keys[key]),
    };
    this.set({
      ...(next.chosen.length < chosen.length ? { chosen: next.chosen } : {}),
      ...(next.channel !== channel ? { channel: next.channel } : {}),
      ...(next.chosenKeys.length < chosenKeys.length ? { chosenKeys: next.chosenKeys } : {}),
    });
  }
}
