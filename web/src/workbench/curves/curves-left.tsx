import { memo, useMemo } from 'react';
import { RULER } from '../keys/lanes-painter';
import type { Lane } from '../keys/lanes';
import { usePlot, useSession } from '../session';
import { MannerPalette } from '../shaping/manner-palette';
import { ChannelList, OutsideWays } from './channel-list';
import type { PlotContent } from './use-plot';

/** Left of the plot: its channels, ways to move, and how the one that leads goes on outside its keys. */
export const CurvesLeft = memo(function CurvesLeft({
  lanes,
  lead,
  width,
  onLead,
}: {
  lanes: PlotContent['lanes'];
  /** Address of the channel that leads. */
  lead: string | null;
  width: number;
  onLead(lane: Lane): void;
}) {
  const session = useSession();
  const normalised = usePlot((state) => state.normalised);
  const meant = useMemo(() => (lead === null ? [] : [lead]), [lead]);
  return (
    <div
      data-scrolls
      className="absolute bottom-0 left-0 top-0 flex flex-col overflow-hidden border-r border-line"
      style={{ width }}
    >
      <div
        className="flex flex-none items-center gap-1.5 border-b border-line-soft bg-head px-2"
        style={{ height: RULER }}
      >
        <span className="truncate text-ink-2">
          {lanes.length} {lanes.length === 1 ? 'curve' : 'curves'}
        </span>
        <button
          type="button"
          aria-pressed={normalised}
          className={`btn ml-auto h-[22px] px-1.5 ${normalised ? 'border-teal text-teal' : ''}`}
          title="Give each curve the full height, whatever its values"
          onClick={() => session.plot.normalise(!normalised)}
        >
          Full height
        </button>
      </div>
      <ChannelList lanes={lanes} lead={lead} onLead={onLead} />
      <div className="min-h-0 flex-1 overflow-y-auto border-t border-line-soft px-2.5 py-2">
        <MannerPalette addresses={meant} />
      </div>
      {lead !== null && <OutsideWays address={lead} />}
    </div>
  );
});
