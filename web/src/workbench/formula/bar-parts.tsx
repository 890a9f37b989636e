import { History } from 'lucide-react';
import type { ReactNode } from 'react';
import { channelName } from '../../../../core/edit';
import { MenuButton } from '../../ui/menu';
import { Ring, ringOf } from '../fields/ring';
import { useCalmly, useCurved, useKeying, useSession, useShot } from '../session';

const PLOT_POINTS = 64;

/** Which channel it is, and what is true of it at this frame. */
export function BarChannel({ address, wrong }: { address: string; wrong: boolean }) {
  const shot = useShot((state) => state.shot);
  const loose = useKeying((state) => state.loose);
  const frame = useCalmly();
  const name = channelName(shot, address);
  return (
    <div className="flex h-full max-w-[38%] flex-none items-center gap-1.5 bg-night-field px-2.5 font-semibold text-halo">
      <span className="rounded bg-paper/90 p-px">
        <Ring state={ringOf(shot, address, frame, loose)} error={wrong} size={13} />
      </span>
      <span className="truncate" title={name}>
        {name}
      </span>
    </div>
  );
}

/** What the channel was linked by before. */
export function EarlierFormulas({
  formulas,
  onPick,
}: {
  formulas: readonly string[];
  onPick(formula: string): void;
}) {
  if (formulas.length === 0) return null;
  return (
    <MenuButton
      label="What it was before"
      title="What this value was linked by before"
      className="flex h-full flex-none items-center px-1.5 text-night-ink-3 hover:text-halo"
      wide
      entries={() =>
        formulas.map((formula) => ({
          label: <span className="truncate">= {formula}</span>,
          className: 'num',
          run: () => onPick(formula),
        }))
      }
    >
      <History size={13} aria-hidden="true" />
    </MenuButton>
  );
}

/** The channel over the range of the shot. */
function BarPlot({ address }: { address: string }) {
  const session = useSession();
  const { first, last } = useShot((state) => state.plan).shot.setup;
  useCurved();
  const curve = session.curves.of(address);
  const points =
    curve?.kind === 'share'
      ? Array.from({ length: PLOT_POINTS + 1 }, (_, i) => {
          const share = curve.at(first + ((last - first) * i) / PLOT_POINTS);
          return `${((i / PLOT_POINTS) * 64).toFixed(1)},${(16 - share * 14).toFixed(1)}`;
        }).join(' ')
      : '';
  return (
    <svg width="64" height="18" aria-hidden="true">
      <polyline points={points} fill="none" stroke="var(--color-night-name)" strokeWidth="1.5" />
    </svg>
  );
}

/** What comes out at this frame, and over the range. */
export function BarResult({
  address,
  fault,
  children,
}: {
  address: string;
  /** What stands in place of a result where there is none. */
  fault: string | null;
  children: ReactNode;
}) {
  return (
    <div
      className="num flex h-full flex-none items-center gap-2 border-l border-night-line px-2.5 text-night-value"
      data-testid="formula-result"
    >
      {fault === null ? children : <span className="text-night-fault">{fault}</span>}
      <BarPlot address={address} />
    </div>
  );
}
