import {
  channelAt,
  childrenOf,
  isWithin,
  linkOf,
  ownerOf,
  splitAddress,
  tableOf,
  type Shot,
} from '../document';
import { linkFromText, NameTable, textOfLink } from '../formula';
import { pathOf } from './address-path';
import { Draft, type Change } from './change';
import { channelName, EditRefused } from './values';

/** Whether the references of a copied link go on to what belongs to the part it is copied to, or stay what they are. */
export type LinkCopyManner = 'follow' | 'stay';

const TRAILING = /(\d+)(?!.*\d)/;

/** Places of a part among its siblings, from an ancestor down. */
function trailBelow(shot: Shot, root: string, id: string): number[] | null {
  const trail: number[] = [];
  let at = id;
  while (at !== root) {
    const parent = shot.parts[at]?.parent;
    if (!parent) return null;
    trail.unshift(childrenOf(shot, parent).indexOf(at));
    at = parent;
  }
  return trail;
}

/** The part that stands to `to` as `read` stands to `from`; `null` where there is none. */
function counterpart(shot: Shot, read: string, from: string, to: string): string | null {
  if (!shot.parts[read]) return null;
  if (read === from) return to;
  if (isWithin(shot, read, from)) {
    let at: string | undefined = to;
    for (const place of trailBelow(shot, from, read) ?? []) at = at && childrenOf(shot, at)[place];
    return at ?? null;
  }
  // "Rod 1" beside "Boat 1" becomes "Rod 2" beside "Boat 2".
  const [fromName, toName, name] = [from, to, read].map((id) => shot.parts[id]!.name);
  const [a, b, c] = [fromName!, toName!, name!].map((text) => TRAILING.exec(text)?.[1]);
  if (b === undefined || c === undefined || (a ?? '1') !== c) return null;
  const wanted = name!.replace(TRAILING, b);
  return Object.keys(shot.parts).find((id) => shot.parts[id]!.name === wanted) ?? null;
}

/**
 * Copies the link of a channel to channels of other parts. Following references go from what belongs to the first part
 * (itself, what hangs below it, what has its number in the name) to what belongs to the other; all others stay.
 * @throws EditRefused when the channel has no link or a target cannot be linked
 */
export function copyLink(shot: Shot, from: string, to: readonly string[], manner: LinkCopyManner): Change {
  const link = linkOf(shot, from);
  if (!link) throw new EditRefused(`${channelName(shot, from)} has no link to copy.`);
  const names = new NameTable(shot);
  const source = splitAddress(from).owner;
  const draft = new Draft(shot);
  for (const address of to) {
    if (address === from) continue;
    const { owner, path } = splitAddress(address);
    const spec = channelAt(shot, address)?.spec;
    if (!spec || !ownerOf(shot, owner)) throw new EditRefused(`There is no channel ${path} to link there.`);
    if (!spec.animatable) throw new EditRefused(`${channelName(shot, address)} cannot be linked.`);
    const refs = Object.fromEntries(
      Object.entries(link.refs).map(([name, id]) => [
        name,
        manner === 'follow' && tableOf(source) === 'parts' && tableOf(owner) === 'parts'
          ? (counterpart(shot, id, source, owner) ?? id)
          : id,
      ]),
    );
    const text = textOfLink(names, { formula: link.formula, refs });
    draft.set(pathOf(address, 'links'), linkFromText(names, text));
  }
  return draft.change(`Copy the link of ${channelName(shot, from)}`);
}
