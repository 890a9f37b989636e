import {
  dialChannels,
  FOLLOW_CHANNELS,
  LOOK_CHANNELS,
  partChannels,
  partDefinition,
  PIN_CHANNELS,
  PROGRAM_PATHS,
  shapeChannels,
  SOUND_CHANNELS,
  type ChannelSpec,
  type PartKind,
} from './channel-table';
import { JOINT_AXES } from './schema';
import type { Joint, Key, Link, Owner, Part, Picture, Pin, Shot, Track, Value } from './schema';

/** Tables whose entries have channels. */
export const OWNER_TABLES = ['parts', 'shapes', 'looks', 'dials', 'sounds', 'pins'] as const;
export type OwnerTable = (typeof OWNER_TABLES)[number];

const TABLE_OF_PREFIX: ReadonlyMap<string, OwnerTable> = new Map([
  ['prt', 'parts'],
  ['shp', 'shapes'],
  ['lok', 'looks'],
  ['dia', 'dials'],
  ['snd', 'sounds'],
  ['pin', 'pins'],
]);

/** Entry of a record under a name of any kind; a record has no entry for the names that every object answers to. */
export function entryOf<T>(record: Readonly<Record<string, T>>, name: string): T | undefined {
  return Object.hasOwn(record, name) ? record[name] : undefined;
}

/** The table of the document in which an id lives, told by its prefix. */
export function tableOf(id: string): OwnerTable | null {
  return (id[3] === '_' && TABLE_OF_PREFIX.get(id.slice(0, 3))) || null;
}

/** The part, shape, look, dial, sound or pin with an id. */
export function ownerOf(shot: Shot, id: string): Owner | null {
  const table = tableOf(id);
  return table ? (shot[table][id] ?? null) : null;
}

const followingTables = new Map<PartKind, readonly ChannelSpec[]>();

function followingChannels(kind: PartKind): readonly ChannelSpec[] {
  let table = followingTables.get(kind);
  if (!table) {
    table = [...partChannels(kind), ...FOLLOW_CHANNELS];
    followingTables.set(kind, table);
  }
  return table;
}

/** Tables of channels with the limits of held joints; beyond so many all are made anew. */
const JOINT_TABLES = 500;
const jointTables = new Map<string, readonly ChannelSpec[]>();
/** The table last found for the limits of a part: they are asked for with every address. */
const knownTables = new WeakMap<
  Joint,
  { readonly from: readonly ChannelSpec[]; readonly to: readonly ChannelSpec[] }
>();

/** Channels whose turns go no further than a joint that is held; the same table for the same limits. */
function jointedChannels(
  table: readonly ChannelSpec[],
  kind: PartKind,
  joint: Joint,
): readonly ChannelSpec[] {
  const known = knownTables.get(joint);
  if (known?.from === table) return known.to;
  const to = limitedTurns(table, kind, joint);
  knownTables.set(joint, { from: table, to });
  return to;
}

function limitedTurns(table: readonly ChannelSpec[], kind: PartKind, joint: Joint): readonly ChannelSpec[] {
  const held = JOINT_AXES.flatMap((axis) => (joint[axis]?.held ? [[axis, joint[axis]] as const] : []));
  if (held.length === 0) return table;
  const key = `${kind} ${table.length} ${held.map(([axis, { least, most }]) => `${axis} ${least} ${most}`).join(' ')}`;
  let found = jointTables.get(key);
  if (!found) {
    found = table.map((spec) => {
      const limit = held.find(([axis]) => spec.path === `rotation.${axis}`)?.[1];
      if (!limit) return spec;
      const { least, most } = limit;
      return { ...spec, min: least, max: most, initial: Math.max(least, Math.min(most, 0)) };
    });
    if (jointTables.size >= JOINT_TABLES) jointTables.clear();
    jointTables.set(key, found);
  }
  return found;
}

/** Channels that an owner has; empty for an unknown id. */
export function channelsOf(shot: Shot, id: string): readonly ChannelSpec[] {
  switch (tableOf(id)) {
    case 'parts': {
      const part = shot.parts[id];
      if (!part) return [];
      const table = part.follow ? followingChannels(part.kind) : partChannels(part.kind);
      return part.joint ? jointedChannels(table, part.kind, part.joint) : table;
    }
    case 'shapes':
      return shot.shapes[id] ? shapeChannels(shot.shapes[id].kind) : [];
    case 'looks':
      return shot.looks[id] ? LOOK_CHANNELS : [];
    case 'dials':
      return shot.dials[id] ? dialChannels(shot.dials[id]) : [];
    case 'sounds':
      return shot.sounds[id] ? SOUND_CHANNELS : [];
    case 'pins':
      return shot.pins[id] ? PIN_CHANNELS[shot.pins[id].kind] : [];
    default:
      return [];
  }
}

const layerLooks = new WeakMap<
  Shot['parts'],
  readonly [shapes: Shot['shapes'], looks: ReadonlySet<string>]
>();

/** Looks that some flat layer has; asked for hundreds of parts at a time. */
function looksOfLayers({ parts, shapes }: Shot): ReadonlySet<string> {
  const known = layerLooks.get(parts);
  if (known && known[0] === shapes) return known[1];
  const looks = new Set<string>();
  for (const id in parts) {
    const { look, shape } = parts[id]!;
    if (look !== null && shape !== null && shapes[shape]?.kind === 'plane') looks.add(look);
  }
  layerLooks.set(parts, [shapes, looks]);
  return looks;
}

/** Whether an owner has what a channel needs to show in the picture. */
export function showsChannel(shot: Shot, id: string, spec: ChannelSpec): boolean {
  const look = shot.looks[id];
  switch (spec.needs) {
    case undefined:
      return true;
    case 'turned': {
      const part = shot.parts[id];
      const role = part && partDefinition(part.kind).role;
      if (!part || (role !== 'label' && role !== 'backdrop')) return true;
      const own = [part.values, part.tracks, part.links].some((record) => spec.path in record);
      return own || childrenOf(shot, id).length > 0;
    }
    case 'pattern':
      return look?.pattern !== undefined;
    case 'pattern-body':
      return look?.pattern?.lies === 'body';
    case 'pattern-surface':
      return look?.pattern?.lies === 'surface';
    case 'picture':
      return Object.keys({ ...look?.pictures, ...look?.maps }).length > 0;
    case 'video':
      return Object.values({ ...look?.pictures, ...look?.maps }).some(({ video }) => video !== undefined);
    case 'written':
      return (shot.shapes[id]?.text ?? shot.parts[id]?.callout?.text)?.glyphs !== undefined;
    case 'layer':
      return looksOfLayers(shot).has(id);
    case 'gradient':
      return shot.parts[id]?.backdrop?.shows === 'gradient';
    case 'plain-background': {
      const shows = shot.parts[id]?.backdrop?.shows ?? 'colour';
      return shows === 'colour' || shows === 'gradient';
    }
    case 'parallel':
      return shot.parts[id]?.projection === 'parallel';
    case 'lens':
      return shot.parts[id]?.projection === undefined;
  }
}

/**
 * Channels of a part that are set and would show only where a frame is built up from several pictures: the size of a lamp,
 * the f-number and shutter of the camera that takes the shot.
 */
export function sampledChannels(shot: Shot, id: string): Channel[] {
  const part = shot.parts[id];
  if (!part || (part.kind === 'camera' && shot.setup.camera !== id)) return [];
  return partChannels(part.kind)
    .filter(({ path, sampled, initial }) => {
      if (!sampled) return false;
      const value = part.values[path];
      return path in part.tracks || path in part.links || (value !== undefined && value !== initial);
    })
    .map((spec) => ({ owner: id, path: spec.path, spec }));
}

const byPath = new WeakMap<readonly ChannelSpec[], ReadonlyMap<string, ChannelSpec>>();

/** Specs of a table of channels by path; made once for each table. */
export function specsByPath(specs: readonly ChannelSpec[]): ReadonlyMap<string, ChannelSpec> {
  let found = byPath.get(specs);
  if (!found) {
    found = new Map(specs.map((spec) => [spec.path, spec]));
    byPath.set(specs, found);
  }
  return found;
}

/** One channel of the shot: `owner/path`, with what the table says of it. */
export interface Channel {
  readonly owner: string;
  readonly path: string;
  readonly spec: ChannelSpec;
}

/** `owner/path`, the address that links, lanes and the interface use. */
export function addressOf(channel: { owner: string; path: string }): string {
  return `${channel.owner}/${channel.path}`;
}

/** Owner and path of an address. */
export function splitAddress(address: string): { owner: string; path: string } {
  const slash = address.indexOf('/');
  return { owner: address.slice(0, slash), path: address.slice(slash + 1) };
}

/** The channel at an address, or `null`. */
export function channelAt(shot: Shot, address: string): Channel | null {
  const { owner, path } = splitAddress(address);
  const spec = specsByPath(channelsOf(shot, owner)).get(path);
  return spec ? { owner, path, spec } : null;
}

/** All channels reached from a part: its own, then its shape's, then its look's. */
export function channelsReachedFrom(shot: Shot, partId: string): Channel[] {
  const part = shot.parts[partId];
  if (!part) return [];
  const owners = [partId, part.shape, part.look].filter((id): id is string => id !== null);
  return owners.flatMap((owner) => channelsOf(shot, owner).map((spec) => ({ owner, path: spec.path, spec })));
}

/** The channel that `path` means when read from an owner (a part also reaches its shape and look). */
export function resolveChannel(shot: Shot, ownerId: string, path: string): Channel | null {
  const part = tableOf(ownerId) === 'parts' ? shot.parts[ownerId] : undefined;
  for (const owner of part ? [ownerId, part.shape, part.look] : [ownerId]) {
    const spec = owner === null ? undefined : specsByPath(channelsOf(shot, owner)).get(path);
    if (spec) return { owner: owner!, path, spec };
  }
  return null;
}

/** Value stored for a channel, without its keys and link. */
export function storedValue(shot: Shot, channel: Channel): Value {
  return entryOf(ownerOf(shot, channel.owner)?.values ?? {}, channel.path) ?? channel.spec.initial;
}

/** Keys of a channel, or `null` when it has none. */
export function trackOf(shot: Shot, address: string): Track | null {
  const { owner, path } = splitAddress(address);
  return entryOf(ownerOf(shot, owner)?.tracks ?? {}, path) ?? null;
}

/** Link of a channel, or `null`. */
export function linkOf(shot: Shot, address: string): Link | null {
  const { owner, path } = splitAddress(address);
  return entryOf(ownerOf(shot, owner)?.links ?? {}, path) ?? null;
}

/** Every part whose shape or look is `id`. */
export function usersOf(shot: Shot, id: string): string[] {
  return Object.keys(shot.parts).filter(
    (part) => shot.parts[part]?.shape === id || shot.parts[part]?.look === id,
  );
}

/** Name to show for an owner: a part's, look's or dial's own, a shape's after the first part that has it. */
export function ownerName(shot: Shot, id: string): string {
  const table = tableOf(id);
  if (table === 'shapes') {
    const user = usersOf(shot, id)[0];
    return user ? (shot.parts[user]?.name ?? id) : id;
  }
  if (table === 'pins') {
    const pin = shot.pins[id];
    return pin ? pinName(shot, pin) : id;
  }
  return table ? ((shot[table][id] as { name?: string } | undefined)?.name ?? id) : id;
}

/** Words for a pin: what is held, and by what. */
export function pinName(shot: Shot, { kind, a, b }: Pin): string {
  const name = (part: string): string => shot.parts[part]?.name ?? part;
  const joins = { pin: 'pinned to', slot: 'in a slot of', slide: 'sliding on' }[kind];
  return `${name(a)} ${joins} ${b === null ? 'the ground' : name(b)}`;
}

/** Children of a part in order; `null` gives the top of the tree. */
export function childrenOf(shot: Shot, parent: string | null): string[] {
  return Object.keys(shot.parts)
    .filter((id) => shot.parts[id]?.parent === parent)
    .sort((a, b) => compareParts(shot.parts[a], a, shot.parts[b], b));
}

function compareParts(a: Part | undefined, aId: string, b: Part | undefined, bId: string): number {
  const difference = (a?.order ?? 0) - (b?.order ?? 0);
  return difference !== 0 ? difference : aId < bId ? -1 : 1;
}

/** Parts in the order of the tree, each with its depth. Parts in a parent loop are left out. */
export function treeOrder(shot: Shot): { id: string; depth: number }[] {
  const byParent = new Map<string | null, string[]>();
  for (const id in shot.parts) {
    const { parent } = shot.parts[id]!;
    const list = byParent.get(parent);
    if (list) list.push(id);
    else byParent.set(parent, [id]);
  }
  const out: { id: string; depth: number }[] = [];
  // A list of what is still to be visited instead of recursion: chains of parents may be long.
  const waiting: { id: string; depth: number }[] = [];
  const below = (parent: string | null, depth: number): void => {
    const list = byParent.get(parent);
    if (!list) return;
    list.sort((a, b) => compareParts(shot.parts[b], b, shot.parts[a], a));
    for (const id of list) waiting.push({ id, depth });
  };
  below(null, 0);
  for (let next = waiting.pop(); next; next = waiting.pop()) {
    out.push(next);
    below(next.id, next.depth + 1);
  }
  return out;
}

/** A part and everything below it, parents first. */
export function subtreeOf(shot: Shot, root: string): string[] {
  const out = [root];
  for (let i = 0; i < out.length; i++) {
    const current = out[i];
    if (current !== undefined) out.push(...childrenOf(shot, current));
  }
  return out;
}

/** True when `ancestor` is `id` or lies above it. */
export const isWithin = (shot: Shot, id: string, ancestor: string): boolean =>
  isWithinAny(shot, id, new Set([ancestor]));

/** True when one of `ancestors` is `id` or lies above it: one walk upwards, however many there are. */
export function isWithinAny(shot: Shot, id: string | null, ancestors: ReadonlySet<string>): boolean {
  let current = id;
  const seen = new Set<string>();
  while (current !== null && !seen.has(current)) {
    if (ancestors.has(current)) return true;
    seen.add(current);
    current = shot.parts[current]?.parent ?? null;
  }
  return false;
}

interface KeyWithId {
  readonly id: string;
  readonly key: Track['keys'][string];
}

const sortedOf = new WeakMap<Track, readonly KeyWithId[]>();

/** Keys of a track by frame; two keys on one frame are ordered by id. */
export function sortedKeys(track: Track): readonly KeyWithId[] {
  const known = sortedOf.get(track);
  if (known) return known;
  const list = sortKeys(track);
  sortedOf.set(track, list);
  return list;
}

function sortKeys(track: Track): readonly KeyWithId[] {
  const list: KeyWithId[] = [];
  let sorted = true;
  for (const id in track.keys) {
    const key = track.keys[id]!;
    const last = list.at(-1);
    if (last && !(last.key.frame < key.frame)) sorted = false;
    list.push({ id, key });
  }
  return sorted ? list : list.sort((a, b) => a.key.frame - b.key.frame || (a.id < b.id ? -1 : 1));
}

/** Keys of a track by frame, without their ids. */
export function keyList(track: Track): Key[] {
  const list: Key[] = [];
  let last = -Infinity;
  for (const id in track.keys) {
    const key = track.keys[id]!;
    if (!(key.frame > last)) return sortedKeys(track).map((entry) => entry.key);
    last = key.frame;
    list.push(key);
  }
  return list;
}

/** A name not yet taken by a part: `name`, `name 2`, `name 3`, ... */
export function freeName(shot: Shot, name: string): string {
  const taken = new Set(Object.values(shot.parts).map((part) => part.name));
  if (!taken.has(name)) return name;
  const stem = name.replace(/ \d+$/, '');
  for (let n = 2; ; n++) if (!taken.has(`${stem} ${n}`)) return `${stem} ${n}`;
}

/** All pictures and videos of a shot, on looks and behind everything, with where they stand in the document. */
export function picturesOf(shot: Shot): { readonly path: readonly string[]; readonly picture: Picture }[] {
  const found: { path: readonly string[]; picture: Picture }[] = [];
  const add = (
    base: readonly string[],
    pictures: Readonly<Record<string, Picture | undefined>> = {},
  ): void => {
    for (const [place, picture] of Object.entries(pictures))
      if (picture) found.push({ path: [...base, place], picture });
  };
  for (const [id, look] of Object.entries(shot.looks)) {
    add(['looks', id, 'pictures'], look.pictures);
    add(['looks', id, 'maps'], look.maps);
  }
  for (const [id, { backdrop }] of Object.entries(shot.parts))
    if (backdrop?.picture) add(['parts', id, 'backdrop'], { picture: backdrop.picture });
  return found;
}

/** Paths of `PROGRAM_PATHS` at which an owner has a value, keys or a link. */
export function programPaths({ values, tracks, links }: Owner): string[] {
  return PROGRAM_PATHS.filter((path) => path in values || path in tracks || path in links);
}
