import {
  channelsReachedFrom,
  showsChannel,
  tableOf,
  type Channel,
  type ChannelGroup,
  type ChannelSpec,
  type Shot,
} from '../../../../core/document';
import { addressOf } from '../../../../core/document';

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

/** Rows of the chosen parts; of several parts those that all of them have. */
export function rowsOf(shot: Shot, ids: readonly string[]): Row[] {
  const lists = ids.map((id) =>
    channelsReachedFrom(shot, id).filter(({ owner, spec }) => showsChannel(shot, owner, spec)),
  );
  const keyOf = (channel: Channel): string =>
    `${tableOf(channel.owner)} ${channel.path} ${channel.spec.quantity}`;
  const found = lists.slice(1).map((list) => new Map(list.map((channel) => [keyOf(channel), channel])));
  const rows: { label: string; group: ChannelGroup; table: string | null; cells: Cell[] }[] = [];
  for (const channel of lists[0] ?? []) {
    const others = found.map((map) => map.get(keyOf(channel)));
    if (others.some((other) => other === undefined)) continue;
    const addresses = [...new Set([channel, ...others.map((other) => other!)].map(addressOf))];
    const cell: Cell = { spec: channel.spec, addresses };
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
