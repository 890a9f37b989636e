import { splitAddress, tableOf } from '../document';

/** Path in the document of something that a channel has: its value, its track or its link. */
export function pathOf(address: string, what: 'values' | 'tracks' | 'links'): string[] {
  const { owner, path } = splitAddress(address);
  const table = tableOf(owner);
  if (!table) throw new RangeError(`${address} is no address of a channel.`);
  return [table, owner, what, path];
}
