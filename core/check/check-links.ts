import { ownerName, ownerOf, splitAddress, tableOf, OWNER_TABLES, type Owner } from '../document';
import { channelName } from '../edit';
import { readsOfLink, type Plan, type PlannedLink } from '../evaluate';
import { readsClock, readsIndex } from '../formula';
import type { Problem } from './problem';

/**
 * Addresses whose value can differ from frame to frame, following links.
 * @param dials counts every dial as moving too, since somebody turns it by hand
 */
export function movingAddresses(plan: Plan, dials = false): Set<string> {
  const moving = new Set<string>(dials ? Object.keys(plan.shot.dials).map((id) => `${id}/value`) : []);
  const owners = OWNER_TABLES.flatMap((table) => Object.entries<Owner>(plan.shot[table]));
  for (const [id, owner] of owners)
    for (const [path, track] of Object.entries(owner.tracks))
      if (Object.keys(track.keys).length > 1 && !owner.links[path]) moving.add(`${id}/${path}`);
  for (const layer of plan.layers) if (!plan.linkOf.has(layer.address)) moving.add(layer.address);
  for (const link of plan.order) if (linkMoves(plan, link, moving)) moving.add(link.address);
  return moving;
}

function linkMoves(plan: Plan, link: PlannedLink, moving: ReadonlySet<string>): boolean {
  const { expression } = link;
  if (!expression) return false;
  const { owner, path } = splitAddress(link.address);
  const track = ownerOf(plan.shot, owner)?.tracks[path];
  const ownMoves =
    (track !== undefined && Object.keys(track.keys).length > 1) ||
    plan.layers.some((layer) => layer.address === link.address);
  const { channels, then, places } = readsOfLink(plan.shot, expression);
  return (
    readsClock(expression) ||
    readsIndex(expression) ||
    ownMoves ||
    [...channels, ...then].some((address) => moving.has(address)) ||
    places.some((part) => plan.nodeMoves[plan.nodeOf.get(part) ?? -1] === 1)
  );
}

/** What pins give is judged linkage by linkage; a pin that lies at the end of a bar seldom moves on it. */
const standsByPins = ({ address, expression }: PlannedLink): boolean =>
  expression?.type === 'pinned' || tableOf(splitAddress(address).owner) === 'pins';

/** Links in error or without effect, and aims and paths that lead back to themselves. */
export function checkLinks(plan: Plan): Problem[] {
  const problems: Problem[] = [];
  const moving = movingAddresses(plan, true);
  for (const link of plan.links) {
    const name = channelName(plan.shot, link.address);
    if (link.error) {
      const { message, from, to } = link.error;
      problems.push({
        code: 'link.error',
        severity: 'error',
        address: link.address,
        message: `${name}: ${message}`,
        from,
        to,
      });
    } else if (!standsByPins(link) && !moving.has(link.address))
      problems.push({
        code: 'link.constant',
        severity: 'warning',
        address: link.address,
        message: `${name}: nothing that this link reads ever changes.`,
      });
  }
  for (const [id, message] of plan.optionErrors)
    problems.push({
      code: 'option.loop',
      severity: 'error',
      address: id,
      message: `${ownerName(plan.shot, id)}: ${message}`,
    });
  return problems;
}
