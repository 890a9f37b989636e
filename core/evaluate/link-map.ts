import {
  linkOf,
  ownerName,
  splitAddress,
  tableOf,
  treeOrder,
  usersOf,
  type Shot,
  ownerOf,
} from '../document';
import { checkLink, NameTable, type Expression, type FormulaError } from '../formula';
import type { Plan } from './plan';
import { addressesOf, formulaReads } from './reads';

/** Something that takes part in links: a part (with its shape and look, where only it has them), a look, or a dial. */
export interface MapCard {
  readonly id: string;
  readonly name: string;
  readonly kind: 'part' | 'form' | 'dial';
  /** Part to choose for it; `null` for a dial. */
  readonly part: string | null;
  /** Addresses that are read or driven, in the order in which they were met. */
  readonly channels: readonly string[];
}

/** One thing that a link reads. */
export interface MapWire {
  /** Channel that is read; `null` where a place is measured, or where what is read has gone. */
  readonly from: string | null;
  readonly fromCard: string;
  readonly to: string;
  readonly toCard: string;
  /** Why the link is out of force. */
  readonly error: FormulaError | null;
  /** Both ends lie on a loop. */
  readonly loop: boolean;
}

export interface LinkMap {
  readonly cards: readonly MapCard[];
  readonly wires: readonly MapWire[];
}

/** Card that an owner is shown on: a shape or look that only one part has is shown with it. */
function cardOf(shot: Shot, owner: string): Omit<MapCard, 'channels'> {
  const table = tableOf(owner);
  if (table === 'dials')
    return { id: owner, name: shot.dials[owner]?.name ?? 'gone', kind: 'dial', part: null };
  if (table === 'sounds')
    return { id: owner, name: shot.sounds[owner]?.name ?? 'gone', kind: 'form', part: null };
  if (table === 'parts')
    return { id: owner, name: shot.parts[owner]?.name ?? 'gone', kind: 'part', part: owner };
  const users = usersOf(shot, owner);
  if (users.length === 1)
    return { id: users[0]!, name: shot.parts[users[0]!]!.name, kind: 'part', part: users[0]! };
  return { id: owner, name: ownerName(shot, owner), kind: 'form', part: users[0] ?? null };
}

/** Everything that links read and drive, as cards and wires. Links in error are in it, as far as they can be told. */
export function linkMap(plan: Plan): LinkMap {
  const { shot } = plan;
  const cards = new Map<string, Omit<MapCard, 'channels'>>();
  const channels = new Map<string, Set<string>>();
  const wires: MapWire[] = [];
  const meet = (owner: string, address: string | null): string => {
    const card = cardOf(shot, owner);
    if (!cards.has(card.id)) {
      cards.set(card.id, card);
      channels.set(card.id, new Set());
    }
    if (address !== null) channels.get(card.id)!.add(address);
    return card.id;
  };
  const names = new NameTable(shot);
  for (const link of plan.links) {
    const { owner } = splitAddress(link.address);
    const to = meet(owner, link.address);
    const loop = link.error?.code === 'loop';
    const wire = (from: string | null, source: string): void =>
      void wires.push({
        from,
        fromCard: meet(source, from),
        to: link.address,
        toCard: to,
        error: link.error,
        loop,
      });
    // A loop takes its links out of force, but what they read can be told.
    const expression = link.expression ?? (loop ? expressionOf(shot, names, link.address) : null);
    if (expression) {
      const { pivots, whole, paths } = formulaReads(expression);
      for (const address of addressesOf(expression)) wire(address, splitAddress(address).owner);
      for (const part of new Set([...pivots, ...whole, ...paths])) wire(null, part);
    } else {
      const refs = refsOf(shot, link.address);
      for (const id of new Set(refs)) wire(null, id);
    }
  }
  const loops = wires.filter((wire) => wire.loop);
  const looped = new Set(loops.map((wire) => wire.to));
  const loopedCards = new Set(loops.map((wire) => wire.toCard));
  // Dials first, then in the order of the tree.
  const place = new Map(treeOrder(shot).map(({ id }, i) => [id, i]));
  const rank = ({ part }: { part: string | null }): number => (part === null ? -1 : (place.get(part) ?? 1e9));
  return {
    cards: [...cards.values()]
      .sort((a, b) => rank(a) - rank(b))
      .map((card) => ({ ...card, channels: [...channels.get(card.id)!] })),
    wires: wires.map((wire) => ({
      ...wire,
      loop: wire.loop && (wire.from === null ? loopedCards.has(wire.fromCard) : looped.has(wire.from)),
    })),
  };
}

function expressionOf(shot: Shot, names: NameTable, address: string): Expression | null {
  const link = linkOf(shot, address);
  const checked = link && checkLink(names, address, link);
  return checked?.ok ? checked.expression : null;
}

function refsOf(shot: Shot, address: string): string[] {
  const { owner, path } = splitAddress(address);
  return Object.values(ownerOf(shot, owner)?.links[path]?.refs ?? {}).filter((id) => !id.startsWith('snd_'));
}

/** Addresses that a channel depends on (`up`), or that depend on it (`down`), itself included. */
export function chainOf(map: LinkMap, address: string, way: 'up' | 'down'): Set<string> {
  const found = new Set([address]);
  const queue = [address];
  for (let next = queue.pop(); next !== undefined; next = queue.pop())
    for (const wire of map.wires) {
      const [here, there] = way === 'up' ? [wire.to, wire.from] : [wire.from, wire.to];
      if (here !== next || there === null || found.has(there)) continue;
      found.add(there);
      queue.push(there);
    }
  return found;
}
