import {
  channelsOf,
  pinName,
  sortedKeys,
  tableOf,
  treeOrder,
  type Owner,
  type Shot,
} from '../../../../core/document';
import { channelLabel, movedBy } from '../../../../core/edit';
import type { LaneKind } from '../state/time';

export interface LaneKey {
  readonly id: string;
  readonly frame: number;
  readonly manner: string;
}

/** One row of the timeline: a channel that is keyed or linked. */
export interface Lane {
  readonly address: string;
  readonly owner: string;
  /** The part or dial below whose head it stands. */
  readonly group: string;
  /** Part whose row this is, for choosing it; the first user of a shape or look. */
  readonly part: string | null;
  /** "Pinion · rotation Z" */
  readonly name: string;
  /** "rotation Z" */
  readonly label: string;
  readonly linked: boolean;
  readonly keys: readonly LaneKey[];
}

/** What is shown below one another: a lane, or the head of the lanes of one part or dial. */
export type LaneRow =
  | { readonly kind: 'lane'; readonly lane: Lane; readonly within: boolean }
  | {
      readonly kind: 'group';
      readonly owner: string;
      readonly name: string;
      readonly part: string | null;
      readonly folded: boolean;
      readonly lanes: readonly Lane[];
      /** Frames at which any of its lanes has a key. */
      readonly frames: readonly number[];
    };

/** Where the lanes of an owner stand. */
interface Home {
  readonly group: string;
  readonly name: string;
  readonly part: string | null;
  /** What is added to the names of its channels. */
  readonly more: string;
}

interface Made extends Home {
  readonly lanes: readonly Lane[];
}

// Records keep their identity until they are edited: their lanes are made once.
const made = new WeakMap<Owner, Made>();

function lanesOfOwner(shot: Shot, owner: string, home: Home, record: Owner): readonly Lane[] {
  const known = made.get(record);
  if (known && known.name === home.name && known.part === home.part && known.more === home.more)
    return known.lanes;
  const lanes: Lane[] = [];
  // In the order of the values panel: that of the record is the database's.
  for (const spec of channelsOf(shot, owner)) {
    const { path } = spec;
    const track = record.tracks[path];
    if (!track && !record.links[path]) continue;
    const address = `${owner}/${path}`;
    const label = `${channelLabel(spec)}${home.more}`;
    lanes.push({
      address,
      owner,
      group: home.group,
      part: home.part,
      name: `${home.name} · ${label}`,
      label,
      linked: path in record.links,
      keys: track
        ? sortedKeys(track).map(({ id, key }) => ({ id, frame: key.frame, manner: key.manner }))
        : [],
    });
  }
  made.set(record, { ...home, lanes });
  return lanes;
}

/**
 * Every channel that moves or is linked, in the order of the tree, whatever it belongs to: those of a part's shape and
 * look stand with the part, one that several share with the first of them. Dials, sounds and pins come last.
 */
export function lanesOf(shot: Shot): Lane[] {
  const lanes: Lane[] = [];
  const users = new Map<string, number>();
  for (const { shape, look } of Object.values(shot.parts))
    for (const shared of [shape, look]) if (shared !== null) users.set(shared, (users.get(shared) ?? 0) + 1);
  const seen = new Set<string>();
  for (const { id } of treeOrder(shot)) {
    const part = shot.parts[id]!;
    const home: Home = { group: id, name: part.name, part: id, more: '' };
    lanes.push(...lanesOfOwner(shot, id, home, part));
    for (const [table, shared] of [
      ['shapes', part.shape],
      ['looks', part.look],
    ] as const) {
      if (shared === null || seen.has(shared)) continue;
      seen.add(shared);
      const record = shot[table][shared];
      const count = users.get(shared)!;
      if (record)
        lanes.push(
          ...lanesOfOwner(
            shot,
            shared,
            {
              ...home,
              more: count > 1 ? `${'name' in record ? ` of ${record.name}` : ''}, shared by ${count}` : '',
            },
            record,
          ),
        );
    }
  }
  const dials = Object.entries(shot.dials).sort(([a], [b]) => (a < b ? -1 : 1));
  for (const [id, dial] of dials)
    lanes.push(...lanesOfOwner(shot, id, { group: id, name: dial.name, part: null, more: '' }, dial));
  const sounds = Object.entries(shot.sounds).sort(([, a], [, b]) => a.start - b.start);
  for (const [id, sound] of sounds)
    lanes.push(...lanesOfOwner(shot, id, { group: id, name: sound.name, part: null, more: '' }, sound));
  const pins = Object.entries(shot.pins).sort(([a], [b]) => (a < b ? -1 : 1));
  for (const [id, pin] of pins)
    lanes.push(
      ...lanesOfOwner(shot, id, { group: id, name: pinName(shot, pin), part: pin.a, more: '' }, pin),
    );
  return lanes;
}

/** Which lanes are wanted. */
export interface LaneFilter {
  /** Words that must be in a lane's name. */
  readonly find: string;
  /** Only lanes of these parts; null for all. */
  readonly parts: ReadonlySet<string> | null;
  /** Only lanes of which this holds. */
  readonly only?: (lane: Lane) => boolean;
}

/** Which lanes of a shot are of a kind; all are, where it says nothing of the lanes themselves. */
export function lanesWanted(shot: Shot, kind: LaneKind): (lane: Lane) => boolean {
  switch (kind) {
    case 'moving':
      return (lane) => lane.keys.length > 0;
    case 'linked':
      return (lane) => lane.linked;
    case 'sounds':
      return (lane) => tableOf(lane.owner) === 'sounds';
    case 'clips': {
      const moved = new Set(
        Object.values(shot.placements).flatMap((placement) => {
          const clip = shot.clips[placement.clip];
          return clip ? movedBy(placement, clip) : [];
        }),
      );
      return (lane) => moved.has(lane.address);
    }
    default:
      return () => true;
  }
}

const groupFrames = new WeakMap<
  Lane,
  { readonly lanes: readonly Lane[]; readonly frames: readonly number[] }
>();

/** Frames at which any lane of a group has a key; lanes keep their identity until their owner is edited. */
function framesOf(group: readonly Lane[]): readonly number[] {
  const first = group[0]!;
  const known = groupFrames.get(first);
  if (known?.lanes.length === group.length && known.lanes.every((lane, i) => lane === group[i]))
    return known.frames;
  const frames = [...new Set(group.flatMap((lane) => lane.keys.map((key) => key.frame)))].sort(
    (a, b) => a - b,
  );
  groupFrames.set(first, { lanes: group, frames });
  return frames;
}

/** Lanes as rows: two or more lanes of one owner hang below a head that can be folded. */
export function rowsOfLanes(
  lanes: readonly Lane[],
  folded: ReadonlySet<string>,
  filter: LaneFilter,
): LaneRow[] {
  const words = filter.find.toLowerCase().split(/\s+/).filter(Boolean);
  const wanted = lanes.filter(
    (lane) =>
      (filter.parts === null || (lane.part !== null && filter.parts.has(lane.part))) &&
      (filter.only?.(lane) ?? true) &&
      words.every((word) => lane.name.toLowerCase().includes(word)),
  );
  const rows: LaneRow[] = [];
  for (let i = 0; i < wanted.length;) {
    const { group: owner } = wanted[i]!;
    let end = i + 1;
    while (end < wanted.length && wanted[end]!.group === owner) end++;
    const group = wanted.slice(i, end);
    const first = group[0]!;
    if (group.length === 1) rows.push({ kind: 'lane', lane: first, within: false });
    else {
      const isFolded = folded.has(owner);
      rows.push({
        kind: 'group',
        owner,
        name: first.name.slice(0, first.name.length - first.label.length - 3),
        part: first.part,
        folded: isFolded,
        lanes: group,
        frames: framesOf(group),
      });
      if (!isFolded) for (const lane of group) rows.push({ kind: 'lane', lane, within: true });
    }
    i = end;
  }
  return rows;
}

/** For each row, the head of the group that it stands in, for a head itself; `null` for lanes that stand alone. */
export function headsOfRows(rows: readonly LaneRow[]): readonly ((LaneRow & { kind: 'group' }) | null)[] {
  let head: (LaneRow & { kind: 'group' }) | null = null;
  return rows.map((row) => {
    if (row.kind === 'group') head = row;
    return row.kind === 'group' || row.within ? head : null;
  });
}

/**
 * Index of the top row while the lanes are scrolled, over which the head of its group lies.
 * @param scrolled pixels that the lanes are scrolled by @param height pixels of a row
 * @returns -1 while nothing is scrolled
 */
export const coveredRow = (scrolled: number, height: number): number =>
  scrolled > 0 ? Math.floor(scrolled / height) : -1;
