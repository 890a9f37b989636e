import { ChevronDown, ChevronRight } from 'lucide-react';
import { memo, useLayoutEffect, useMemo, useRef, useSyncExternalStore } from 'react';
import { Ring, RING_WORDS, ringOf, type RingState } from '../fields/ring';
import { useSession, useChoice, useKeying, useShot, useTime } from '../session';
import { LaneScroll } from './lane-scroll';
import { LaneValue } from './lane-value';
import { coveredRow, headsOfRows, type Lane, type LaneRow } from './lanes';
import { LANE, RULER } from './lanes-painter';

export interface LaneNameActions {
  readonly onLane: (lane: Lane) => void;
  readonly onFold: (owner: string) => void;
  readonly onGroup: (part: string | null) => void;
}

/** Names of the lanes in sight, with their rings; heads of groups fold. */
export const LaneNames = memo(function LaneNames({
  rows,
  room,
  scroll,
  actions,
}: {
  rows: readonly LaneRow[];
  room: number;
  scroll: LaneScroll;
  /** The same object all along. */
  actions: LaneNameActions;
}) {
  const session = useSession();
  const shot = useShot((state) => state.shot);
  const plan = useShot((state) => state.plan);
  const frame = useTime((state) => state.frame);
  const loose = useKeying((state) => state.loose);
  const channel = useChoice((state) => state.channel);
  const chosen = useChoice((state) => state.chosen);
  const chunk = useSyncExternalStore(scroll.listen, scroll.chunk);
  const list = useRef<HTMLUListElement>(null);
  useLayoutEffect(() => {
    const follow = (): void => {
      list.current!.style.transform = `translateY(${-scroll.top}px)`;
    };
    follow();
    return scroll.listen(follow);
  }, [scroll]);
  const { from, to } = LaneScroll.rows(chunk, room, rows.length);
  // Rows stay where they are in the list and the list is moved: scrolling then lays nothing out anew.
  const top = (index: number): number => RULER + index * LANE;
  return (
    <ul
      ref={list}
      role="listbox"
      aria-label="Channels that move or are linked"
      className="absolute inset-x-0 top-0 will-change-transform"
    >
      {rows
        .slice(from, to)
        .map((row, i) =>
          row.kind === 'group' ? (
            <GroupName
              key={`group ${row.owner}`}
              row={row}
              top={top(from + i)}
              chosen={row.part !== null && chosen.includes(row.part)}
              actions={actions}
            />
          ) : (
            <LaneName
              key={row.lane.address}
              lane={row.lane}
              within={row.within}
              top={top(from + i)}
              state={ringOf(shot, row.lane.address, frame, loose)}
              failed={
                Boolean(plan.linkOf.get(row.lane.address)?.error) ||
                session.evaluator.hasFailed(row.lane.address)
              }
              current={row.lane.address === channel}
              actions={actions}
            />
          ),
        )}
    </ul>
  );
});

/**
 * The head of the group whose lanes are in sight while its own row is scrolled away: it lies over the top row, names and
 * lanes, so that nothing else is taken for its.
 */
export const StickyHead = memo(function StickyHead({
  rows,
  scroll,
  width,
  actions,
}: {
  rows: readonly LaneRow[];
  scroll: LaneScroll;
  /** Width of the names, pixels. */
  width: number;
  actions: LaneNameActions;
}) {
  const heads = useMemo(() => headsOfRows(rows), [rows]);
  const chosen = useChoice((state) => state.chosen);
  const head = heads[useSyncExternalStore(scroll.listen, () => coveredRow(scroll.top, LANE))] ?? null;
  if (!head) return null;
  return (
    <div
      className="pointer-events-none absolute inset-x-0 z-[5] border-b border-line bg-head"
      style={{ top: RULER, height: LANE }}
      data-testid="sticky-head"
    >
      <div className="pointer-events-auto relative h-full" style={{ width }}>
        <ul className="contents">
          <GroupName
            row={head}
            top={0}
            chosen={head.part !== null && chosen.includes(head.part)}
            actions={actions}
          />
        </ul>
      </div>
    </div>
  );
});

const GroupName = memo(function GroupName({
  row,
  top,
  chosen,
  actions,
}: {
  row: LaneRow & { kind: 'group' };
  top: number;
  chosen: boolean;
  actions: LaneNameActions;
}) {
  const Fold = row.folded ? ChevronRight : ChevronDown;
  return (
    <li
      role="presentation"
      className={`absolute contain-strict inset-x-0 flex items-center gap-1 border-b border-line-soft bg-head px-1.5 font-semibold ${chosen ? 'text-teal' : ''}`}
      style={{ top, height: LANE }}
    >
      <button
        type="button"
        tabIndex={-1}
        aria-label={`${row.folded ? 'Unfold' : 'Fold'} ${row.name}`}
        aria-expanded={!row.folded}
        className="flex size-4 items-center justify-center text-ink-2"
        onClick={() => actions.onFold(row.owner)}
      >
        <Fold size={12} aria-hidden="true" />
      </button>
      <button
        type="button"
        tabIndex={-1}
        className="min-w-0 flex-1 truncate text-left"
        title={row.name}
        onClick={() => actions.onGroup(row.part)}
      >
        {row.name}
      </button>
      <span className="num text-ink-3">{row.lanes.length}</span>
    </li>
  );
});

const LaneName = memo(function LaneName({
  lane,
  within,
  top,
  state,
  failed,
  current,
  actions,
}: {
  lane: Lane;
  within: boolean;
  top: number;
  state: RingState;
  failed: boolean;
  current: boolean;
  actions: LaneNameActions;
}) {
  const keys = lane.keys.length;
  return (
    <li
      id={`lane-${lane.address}`}
      role="option"
      aria-selected={current}
      aria-label={`${lane.name}, ${RING_WORDS[state]}${keys ? `, ${keys} ${keys === 1 ? 'key' : 'keys'}` : ''}`}
      title={failed ? `${lane.name}: the link is out of force` : lane.name}
      className={`absolute contain-strict inset-x-0 flex items-center gap-1.5 border-b border-line-soft pr-2 ${within ? 'pl-6' : 'pl-2'} ${current ? 'bg-teal-wash font-bold' : ''} ${failed ? 'text-now' : ''}`}
      style={{ top, height: LANE }}
      onClick={() => actions.onLane(lane)}
    >
      <Ring state={state} error={failed} />
      <span className="min-w-0 flex-1 truncate">{within ? lane.label : lane.name}</span>
      {current && <LaneValue address={lane.address} name={lane.name} />}
    </li>
  );
});
