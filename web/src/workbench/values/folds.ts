import type { ChannelGroup } from '../../../../core/document';

/** Groups of values that few parts use: they are folded until somebody opens them or changes something in them. */
const FOLDED: ReadonlySet<ChannelGroup> = new Set(['Finish', 'Drop shadow', 'Focus and film', 'Fog']);

const turned = new Map<ChannelGroup, boolean>();

/** Whether a group can be folded at all. */
export const canFold = (group: ChannelGroup): boolean => FOLDED.has(group);

/** @param used whether something in it is not as it came */
export const isFolded = (group: ChannelGroup, used: boolean): boolean =>
  canFold(group) && (turned.get(group) ?? !used);

/** Opens or folds a group, for as long as the page stays. */
export function toggleFold(group: ChannelGroup, used: boolean): void {
  turned.set(group, !isFolded(group, used));
}
