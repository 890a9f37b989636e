import { ArrowLeftToLine, ArrowRightToLine, Eye, EyeOff } from 'lucide-react';
import { memo } from 'react';
import { EXTENDS, linkOf, trackOf, type Extend } from '../../../../core/document';
import { setExtend } from '../../../../core/edit';
import { EXTEND_WORDS } from '../keys/key-words';
import type { Lane } from '../keys/lanes';
import { usePlot, useSession, useShot } from '../session';
import type { Line } from './lines';

/** The channels of the plot: which leads, which are drawn, and which alone. */
export const ChannelList = memo(function ChannelList({
  lanes,
  lead,
  onLead,
}: {
  lanes: readonly { readonly lane: Lane; readonly line: Line | null }[];
  lead: string | null;
  onLead(lane: Lane): void;
}) {
  const session = useSession();
  const hidden = usePlot((state) => state.hidden);
  const only = usePlot((state) => state.only);
  return (
    <ul aria-label="Curves" className="min-h-0 flex-none overflow-y-auto" style={{ maxHeight: 108 }}>
      {lanes.map(({ lane, line }) => {
        const leads = lane.address === lead;
        const out = only === null ? hidden.has(lane.address) : only !== lane.address;
        return (
          <li
            key={lane.address}
            className={`flex h-[24px] items-center gap-1.5 pl-2.5 pr-1.5 ${leads ? 'bg-teal-wash' : ''} ${out ? 'opacity-55' : ''}`}
          >
            <i
              className="size-2.5 flex-none rounded-[3px]"
              style={{ background: `var(--color-${line?.colour ?? 'mark'})` }}
              aria-hidden="true"
            />
            <button
              type="button"
              className={`min-w-0 flex-1 truncate text-left ${leads ? 'font-semibold' : ''}`}
              aria-current={leads}
              title={`${lane.name}${line?.linked ? ', linked' : ''}`}
              onClick={() => onLead(lane)}
            >
              {lane.name}
            </button>
            <button
              type="button"
              aria-pressed={only === lane.address}
              title={only === lane.address ? 'Show the others again' : 'Show this curve alone'}
              className={`flex-none rounded px-1 text-[10.5px] ${only === lane.address ? 'bg-ink text-panel' : 'text-ink-3 hover:bg-raised'}`}
              onClick={() => {
                session.plot.isolate(only === lane.address ? null : lane.address);
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
      })}
    </ul>
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
