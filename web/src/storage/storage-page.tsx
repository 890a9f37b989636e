import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { toast } from 'sonner';
import { CLEARED, CLEARED_KINDS, ROOM, ROOM_KINDS, type Amounts, type UpkeepReport } from '../../../wire';
import { api } from '../shared/api';
import { formatAgo, formatBytes } from '../shared/format';
import { PageTop } from '../shared/page-top';
import { Failed, Loading } from '../shared/states';
import { DialogFrame, DialogLeave, DialogTitle } from '../ui/dialog-frame';

const KEY = ['upkeep'];

const roomOf = (bytes: number): string => (bytes === 0 ? 'nothing' : formatBytes(bytes));

/** How much room everything takes, and clearing what nobody needs any more. */
export function StoragePage() {
  const upkeep = useQuery({ queryKey: KEY, queryFn: api.upkeep });
  return (
    <div className="flex h-full flex-col">
      <PageTop here="storage" />
      {upkeep.isPending && <Loading what="storage" />}
      {upkeep.isError && !upkeep.data && (
        <Failed
          title="It cannot be told how much room is taken"
          error={upkeep.error}
          onRetry={() => void upkeep.refetch()}
        />
      )}
      {upkeep.data && (
        <main className="mx-auto grid w-full max-w-[1180px] grid-cols-2 items-start gap-4 overflow-y-auto p-5">
          <RoomTaken report={upkeep.data} />
          <WhatIsDue report={upkeep.data} />
        </main>
      )}
    </div>
  );
}

function RoomTaken({ report: { room, total, place, free } }: { report: UpkeepReport }) {
  const most = Math.max(...ROOM_KINDS.map((kind) => room[kind]), 1);
  return (
    <section className="panel" aria-label="Room that is taken">
      <h1 className="flex h-10 items-center border-b border-line-soft px-3 text-[15px] font-bold">
        Room that is taken
        <span className="num ml-auto text-xs font-medium text-ink-2">{formatBytes(total)} in all</span>
      </h1>
      <table className="w-full">
        <tbody>
          {ROOM_KINDS.map((kind) => (
            <tr key={kind} className="border-b border-line-soft last:border-0">
              <th scope="row" className="w-44 px-3 py-2 text-left font-semibold">
                {ROOM[kind]}
              </th>
              <td className="py-2">
                <div
                  className="h-2 min-w-0.5 rounded-full bg-teal"
                  style={{ width: `${(room[kind] / most) * 100}%` }}
                />
              </td>
              <td className="num w-24 px-3 py-2 text-right">{formatBytes(room[kind])}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="border-t border-line-soft p-3 leading-relaxed wrap-break-word text-ink-2">
        Files, frames and films are in {place}
        {free === null ? '' : `, where ${formatBytes(free)} are free`}; the rest is in the database.{' '}
        <code className="num">./whirl backup FILE</code> puts all of it into one file, while people work.
      </p>
    </section>
  );
}

const sizeOf = (amounts: Amounts): number =>
  CLEARED_KINDS.reduce((sum, kind) => sum + amounts[kind].bytes, 0);

function WhatIsDue({ report: { due, last } }: { report: UpkeepReport }) {
  const [asking, setAsking] = useState(false);
  const queries = useQueryClient();
  const clear = useMutation({
    mutationFn: api.clearDue,
    onSuccess: (report) => {
      queries.setQueryData(KEY, report);
      if (report.last) toast.success(`Cleared: ${roomOf(sizeOf(report.last.cleared))}.`);
    },
    onError: (error) => toast.error(error.message),
  });
  const nothing = CLEARED_KINDS.every((kind) => due[kind].count === 0);
  return (
    <section className="panel" aria-label="What nobody needs any more">
      <h2 className="flex h-10 items-center border-b border-line-soft px-3 text-[15px] font-bold">
        What nobody needs any more
        <span className="num ml-auto text-xs font-medium text-ink-2">{roomOf(sizeOf(due))}</span>
      </h2>
      <table className="w-full">
        <thead className="text-xs text-ink-3">
          <tr>
            <th scope="col" className="px-3 py-1.5 text-left font-medium">
              Goes by itself
            </th>
            <th scope="col" className="text-left font-medium">
              after
            </th>
            <th scope="col" className="text-right font-medium">
              now due
            </th>
            <th scope="col" className="px-3 text-right font-medium">
              room
            </th>
          </tr>
        </thead>
        <tbody>
          {CLEARED_KINDS.map((kind) => (
            <tr key={kind} className="border-t border-line-soft">
              <th scope="row" className="px-3 py-2 text-left font-semibold">
                {CLEARED[kind].label}
              </th>
              <td className="num whitespace-nowrap">
                {CLEARED[kind].days} {CLEARED[kind].days === 1 ? 'day' : 'days'}
              </td>
              <td className="num text-right">{due[kind].count}</td>
              <td className="num px-3 text-right">
                {due[kind].bytes > 0 ? formatBytes(due[kind].bytes) : ''}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <div className="flex items-center gap-3 border-t border-line-soft p-3 text-ink-2">
        <p className="leading-relaxed">
          Cleared every night.{' '}
          {last ? `Last time ${formatAgo(last.at)}, ${roomOf(sizeOf(last.cleared))}.` : 'Not cleared yet.'}
        </p>
        <button
          type="button"
          className="btn ml-auto flex-none"
          disabled={nothing || clear.isPending}
          title={nothing ? 'Nothing is due' : undefined}
          onClick={() => setAsking(true)}
        >
          {clear.isPending ? 'Clearing...' : 'Clear now...'}
        </button>
      </div>
      <DialogFrame
        open={asking}
        onClose={() => setAsking(false)}
        className="top-40 w-[420px] p-4"
        describedBy="clear-what"
      >
        <DialogTitle className="mb-2">Clear {roomOf(sizeOf(due))}?</DialogTitle>
        <ul id="clear-what" className="mb-4 leading-relaxed text-ink-2">
          {CLEARED_KINDS.filter((kind) => due[kind].count > 0).map((kind) => (
            <li key={kind}>
              {CLEARED[kind].label}: {due[kind].count}
            </li>
          ))}
          <li>This cannot be undone.</li>
        </ul>
        <div className="flex justify-end gap-2">
          <DialogLeave />
          <button
            type="button"
            className="btn btn-alarm"
            onClick={() => {
              setAsking(false);
              clear.mutate();
            }}
          >
            Clear
          </button>
        </div>
      </DialogFrame>
    </section>
  );
}
