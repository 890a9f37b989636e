import {
  addressOf,
  channelsOf,
  channelsReachedFrom,
  showsChannel,
  tableOf,
  type ChannelGroup,
  type ChannelSpec,
  type Shot,
} from '../../../../core/document';

/** One component of a row: the same channel of each chosen part that has it. */
export interface Cell {
  readonly spec: ChannelSpec;
  /** Addresses without doubles: parts that share a shape share its channels. */
  readonly addresses: readonly string[];
}

/** A line of the values panel: one channel, or the three axes of one. */
export interface Row {
  readonly label: string;
  readonly group: ChannelGroup;
  readonly cells: readonly Cell[];
}

/** A channel's place among those of all parts: channels with the same one stand in one row. */
const keyOf = (table: string | null, spec: ChannelSpec): string => `${table} ${spec.path} ${spec.quantity}`;

const tables = new WeakMap<readonly ChannelSpec[], ReadonlyMap<string, ChannelSpec>>();

/** Channels of an owner by their keys; those of one kind share a table. */
function specsByKey(shot: Shot, owner: string): ReadonlyMap<string, ChannelSpec> {
  const specs = channelsOf(shot, owner);
  let found = tables.get(specs);
  if (!found) {
    const table = tableOf(owner);
    tables.set(specs, (found = new Map(specs.map((spec) => [keyOf(table, spec), spec]))));
  }
  return found;
}

/** Rows of the chosen parts; of several parts those that all of them have. */
export function rowsOf(shot: Shot, ids: readonly string[]): Row[] {
  const [first, ...others] = ids;
  if (first === undefined) return [];
  let shared = channelsReachedFrom(shot, first)
    .filter(({ owner, spec }) => showsChannel(shot, owner, spec))
    .map((channel) => ({
      channel,
      key: keyOf(tableOf(channel.owner), channel.spec),
      addresses: new Set([addressOf(channel)]),
    }));
  for (const id of others) {
    const part = shot.parts[id];
    const owners = part ? [id, part.shape, part.look].filter((owner) => owner !== null) : [];
    const reached = owners.map((owner) => ({ owner, specs: specsByKey(shot, owner) }));
    shared = shared.filter(({ key, addresses }) => {
      const found = reached.find(({ specs }) => specs.has(key));
      const spec = found?.specs.get(key);
      if (!found || !spec || !showsChannel(shot, found.owner, spec)) return false;
      addresses.add(`${found.owner}/${spec.path}`);
      return true;
    });
  }
  const rows: { label: string; group: ChannelGroup; table: string | null; cells: Cell[] }[] = [];
  for (const { channel, addresses } of shared) {
    const cell: Cell = { spec: channel.spec, addresses: [...addresses] };
    const table = tableOf(channel.owner);
    const last = rows.at(-1);
    if (channel.spec.axis && last?.label === channel.spec.label && last.table === table)
      last.cells.push(cell);
    else rows.push({ label: channel.spec.label, group: channel.spec.group, table, cells: [cell] });
  }
  return rows;
}

/** The channels of a row: those of all chosen parts. */
export function addressesOf(row: Row): readonly string[] {
  return row.cells.flatMap((cell) => cell.addresses);
}

/** Whether a row is meant by what is typed into the search: words of its name, group or axis. */
export function rowMatches(row: Row, wanted: string): boolean {
  const text = `${row.group} ${row.label} ${row.cells.map((cell) => cell.spec.path).join(' ')}`.toLowerCase();
  return wanted
    .toLowerCase()
    .split(/\s+/)
    .every((word) => text.includes(word));
}
