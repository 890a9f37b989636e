import { useVirtualizer } from '@tanstack/react-virtual';
import { ArrowLeftToLine, ArrowRightToLine, Eye, EyeOff } from 'lucide-react';
import { memo, useEffect, useRef } from 'react';
import { EXTENDS, linkOf, trackOf, type Extend } from '../../../../core/document';
import { setExtend } from '../../../../core/edit';
import { EXTEND_WORDS } from '../keys/key-words';
import type { Lane } from '../keys/lanes';
import { usePlot, useSession, useShot } from '../session';
import type { Line } from './lines';

const ROW_HEIGHT = 24;
/** A little over four rows: the one that is cut says that there are more. */
const LIST_HEIGHT = 108;

/** The channels of the plot: which leads, which are drawn, and which alone. Only the rows in sight are there. */
export const ChannelList = memo(function ChannelList({
  lanes,
  lead,
  onLead,
}: {
  lanes: readonly { readonly lane: Lane; readonly line: Line | null }[];
  lead: string | null;
  onLead(lane: Lane): void;
}) {
  const scroller = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count: lanes.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW_HEIGHT,
    overscan: 6,
  });
  // The one that leads comes into sight, however it was chosen.
  useEffect(() => {
    const index = lanes.findIndex(({ lane }) => lane.address === lead);
    if (index >= 0) virtual.scrollToIndex(index, { align: 'auto' });
    // Scrolling by hand is left alone.
    // oxlint-disable-next-line react-hooks/exhaustive-deps
  }, [lead, lanes.length]);
  return (
    <div ref={scroller} className="min-h-0 flex-none overflow-y-auto" style={{ maxHeight: LIST_HEIGHT }}>
      <ul aria-label="Curves" className="relative" style={{ height: virtual.getTotalSize() }}>
        {virtual.getVirtualItems().map(({ index, start }) => {
          const { lane, line } = lanes[index]!;
          return (
            <ChannelRow
              key={lane.address}
              lane={lane}
              colour={line?.colour ?? 'mark'}
              linked={line?.linked ?? false}
              leads={lane.address === lead}
              top={start}
              place={index + 1}
              count={lanes.length}
              onLead={onLead}
            />
          );
        })}
      </ul>
    </div>
  );
});

const ChannelRow = memo(function ChannelRow(props: {
  lane: Lane;
  colour: Line['colour'] | 'mark';
  linked: boolean;
  leads: boolean;
  top: number;
  place: number;
  count: number;
  onLead(lane: Lane): void;
}) {
  const { lane, leads, onLead } = props;
  const session = useSession();
  const only = usePlot((state) => state.only === lane.address);
  const out = usePlot((state) =>
    state.only === null ? state.hidden.has(lane.address) : state.only !== lane.address,
  );
  return (
    <li
      aria-posinset={props.place}
      aria-setsize={props.count}
      className={`absolute inset-x-0 flex h-[24px] items-center gap-1.5 pl-2.5 pr-1.5 ${leads ? 'bg-teal-wash' : ''} ${out ? 'opacity-55' : ''}`}
      style={{ top: props.top }}
    >
      <i
        className="size-2.5 flex-none rounded-[3px]"
        style={{ background: `var(--color-${props.colour})` }}
        aria-hidden="true"
      />
      <button
        type="button"
        className={`min-w-0 flex-1 truncate text-left ${leads ? 'font-semibold' : ''}`}
        aria-current={leads}
        title={`${lane.name}${props.linked ? ', linked' : ''}`}
        onClick={() => onLead(lane)}
      >
        {lane.name}
      </button>
      <button
        type="button"
        aria-pressed={only}
        title={only ? 'Show the others again' : 'Show this curve alone'}
        className={`flex-none rounded px-1 text-[10.5px] ${only ? 'bg-ink text-panel' : 'text-ink-3 hover:bg-raised'}`}
        onClick={() => {
          session.plot.isolate(only ? null : lane.address);
          onLead(lane);
        }}
      >
        only
      </button>
      <button
        type="button"
        aria-label={out ? `Draw ${lane.name}` : `Do not draw ${lane.name}`}
        className="flex-none text-ink-3 hover:text-ink"
        onClick={() => session.plot.toggleHidden(lane.address)}
      >
        {out ? <EyeOff size={13} aria-hidden="true" /> : <Eye size={13} aria-hidden="true" />}
      </button>
    </li>
  );
});

/** How a channel goes on before its first and after its last key. */
export function OutsideWays({ address }: { address: string }) {
  const session = useSession();
  const track = useShot((state) => trackOf(state.shot, address));
  const linked = useShot((state) => linkOf(state.shot, address) !== null);
  if (!track || linked) return null;
  return (
    <div className="flex flex-none items-center gap-1 border-t border-line-soft px-2 py-1">
      {(['before', 'after'] as const).map((side) => (
        <label
          key={side}
          className="flex min-w-0 flex-1 items-center gap-1"
          title={
            side === 'before' ? 'How it goes on before its first key' : 'How it goes on after its last key'
          }
        >
          {side === 'before' ? (
            <ArrowLeftToLine size={14} className="flex-none text-ink-2" aria-hidden="true" />
          ) : (
            <ArrowRightToLine size={14} className="flex-none text-ink-2" aria-hidden="true" />
          )}
          <select
            aria-label={side === 'before' ? 'Before the first key' : 'After the last key'}
            className="input-field h-[22px] min-w-0 flex-1 px-0.5"
            value={track[side]}
            onChange={(event) =>
              session.edit((now) => setExtend(now, address, side, event.target.value as Extend))
            }
          >
            {EXTENDS.map((extend) => (
              <option key={extend} value={extend}>
                {EXTEND_WORDS[extend]}
              </option>
            ))}
          </select>
        </label>
      ))}
    </div>
  );
}
