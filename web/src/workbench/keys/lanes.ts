import { channelAt, sortedKeys, treeOrder, type Owner, type Shot } from '../../../../core/document';
import { channelLabel } from '../../../../core/edit';

export interface LaneKey {
  readonly id: string;
  readonly frame: number;
  readonly manner: string;
}

/** One row of the timeline: a channel that is keyed or linked. */
export interface Lane {
  readonly address: string;
  readonly owner: string;
  /** Part whose row this is, for choosing it; the first user of a shape or look. */
  readonly part: string | null;
  /** "Pinion · rotation Z" */
  readonly name: string;
  /** "rotation Z" */
  readonly label: string;
  readonly linked: boolean;
  readonly keys: readonly LaneKey[];
}

/** What is shown below one another: a lane, or the head of the lanes of one part, look or dial. */
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

interface Made {
  readonly name: string;
  readonly part: string | null;
  readonly lanes: readonly Lane[];
}

// Records keep their identity until they are edited: their lanes are made once.
const made = new WeakMap<Owner, Made>();

function lanesOfOwner(
  shot: Shot,
  owner: string,
  part: string | null,
  name: string,
  record: Owner,
): readonly Lane[] {
  const known = made.get(record);
  if (known && known.name === name && known.part === part) return known.lanes;
  const lanes: Lane[] = [];
  for (const path of new Set([...Object.keys(record.tracks), ...Object.keys(record.links)])) {
    const address = `${owner}/${path}`;
    const spec = channelAt(shot, address)?.spec;
    if (!spec) continue;
    const track = record.tracks[path];
    const label = channelLabel(spec);
    lanes.push({
      address,
      owner,
      part,
      name: `${name} · ${label}`,
      label,
      linked: path in record.links,
      keys: track
        ? sortedKeys(track).map(({ id, key }) => ({ id, frame: key.frame, manner: key.manner }))
        : [],
    });
  }
  made.set(record, { name, part, lanes });
  return lanes;
}

/** Every channel that moves or is linked, in the order of the tree, whatever it belongs to. */
export function lanesOf(shot: Shot): Lane[] {
  const lanes: Lane[] = [];
  const seen = new Set<string>();
  for (const { id } of treeOrder(shot)) {
    const part = shot.parts[id]!;
    lanes.push(...lanesOfOwner(shot, id, id, part.name, part));
    for (const [table, shared] of [
      ['shapes', part.shape],
      ['looks', part.look],
    ] as const) {
      if (shared === null || seen.has(shared)) continue;
      seen.add(shared);
      const record = shot[table][shared];
      if (record)
        lanes.push(...lanesOfOwner(shot, shared, id, 'name' in record ? record.name : part.name, record));
    }
  }
  for (const [id, dial] of Object.entries(shot.dials))
    lanes.push(...lanesOfOwner(shot, id, null, dial.name, dial));
  return lanes;
}

/** Which lanes are wanted. */
export interface LaneFilter {
  /** Words that must be in a lane's name. */
  readonly find: string;
  /** Only lanes of these parts; null for all. */
  readonly parts: ReadonlySet<string> | null;
}

const groupFrames = new WeakMap<Lane, { readonly count: number; readonly frames: readonly number[] }>();

/** Frames at which any lane of a group has a key; lanes keep their identity until their owner is edited. */
function framesOf(group: readonly Lane[]): readonly number[] {
  const first = group[0]!;
  const known = groupFrames.get(first);
  if (known?.count === group.length) return known.frames;
  const frames = [...new Set(group.flatMap((lane) => lane.keys.map((key) => key.frame)))].sort(
    (a, b) => a - b,
  );
  groupFrames.set(first, { count: group.length, frames });
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
      words.every((word) => lane.name.toLowerCase().includes(word)),
  );
  const rows: LaneRow[] = [];
  for (let i = 0; i < wanted.length;) {
    const { owner } = wanted[i]!;
    let end = i + 1;
    while (end < wanted.length && wanted[end]!.owner === owner) end++;
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
