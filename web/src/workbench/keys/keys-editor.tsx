import {
  memo,
  useCallback,
  useEffect,
  useLayoutEffect,
  useMemo,
  useRef,
  useState,
  type ReactNode,
} from 'react';
import { removeMarker } from '../../../../core/edit';
import { useLatest } from '../../shared/use-latest';
import { MenuOn } from '../../ui/menu';
import { choose } from '../actions/choosing';
import { focusPanel } from '../panels';
import { useSession, useChoice, useShot, useTime } from '../session';
import { StripFields } from '../clips/strip-fields';
import { MarkerName } from '../timeline/marker-name';
import { KeyFields } from '../shaping/key-fields';
import { MannerPalette } from '../shaping/manner-palette';
import { KEYS_COLUMNS } from '../timeline/columns';
import { DrawnFrames } from '../timeline/drawn-frames';
import { HintsCanvas } from '../timeline/hints-canvas';
import { Playhead } from '../timeline/playhead';
import { PointerHints } from '../timeline/pointer-hints';
import type { TimeWindow } from '../timeline/time-scale';
import { useSizeOf, useTimeWheel, useTimeWindow } from '../timeline/use-time-window';
import { ZOOM_BAR, ZoomBar } from '../timeline/zoom-bar';
import { keyMenu, type MenuTarget } from './key-menu';
import type { Gesture } from './lane-drag';
import type { LaneMap } from './lane-hit';
import { laneKey } from './lane-keyboard';
import { chooseLane, lanePointer } from './lane-pointer';
import { LaneNames, StickyHead } from './lane-names';
import { NoLanes } from './no-lanes';
import { LaneScroll } from './lane-scroll';
import { targetAtPlayhead } from './lane-target';
import { lanesOf, lanesWanted, rowsOfLanes, type Lane, type LaneRow } from './lanes';
import { LanesCanvas } from './lanes-canvas';
import { LanesHead } from './lanes-head';
import { LANE, RULER } from './lanes-painter';
import { LanesTable } from './lanes-table';
import { StaggerDialog } from './stagger-dialog';
import { useLanePictures } from './use-lane-pictures';

const { left: NAMES_WIDTH, right: PANEL_WIDTH } = KEYS_COLUMNS;

/** Lanes, the rows of them that the filter lets through, and the filter. */
function useLaneRows() {
  const session = useSession();
  const shot = useShot((state) => state.shot);
  const chosen = useChoice((state) => state.chosen);
  const [find, setFind] = useState('');
  const [folded, setFolded] = useState<ReadonlySet<string>>(new Set());
  const lanes = useMemo(() => lanesOf(shot), [shot]);
  // Another choice makes other rows only where they depend on it.
  const kind = useTime((state) => state.lanes);
  const only = kind === 'chosen' ? chosen : null;
  const rows = useMemo(
    () => rowsOfLanes(lanes, folded, { find, parts: only && new Set(only), only: lanesWanted(shot, kind) }),
    [lanes, folded, find, only, shot, kind],
  );
  const groups = useMemo(
    () => [...new Set(rows.flatMap((row) => (row.kind === 'group' ? [row.owner] : [])))],
    [rows],
  );
  const allFolded = groups.length > 0 && groups.every((owner) => folded.has(owner));
  const fold = (owner: string): void =>
    setFolded((now) => {
      const next = new Set(now);
      if (!next.delete(owner)) next.add(owner);
      return next;
    });
  const head = (
    <LanesHead
      height={RULER}
      lanes={lanes.length}
      find={find}
      onFind={setFind}
      allFolded={allFolded}
      canFold={groups.length > 0}
      onFold={() => setFolded(allFolded ? new Set() : new Set(groups))}
      kind={kind}
      onKind={(name) => session.time.showLanes(name)}
    />
  );
  return { lanes, rows, find, kind, fold, head };
}

/** Brings the lane of what is chosen into sight; scrolling by hand is left alone. */
function useChosenInSight(rows: readonly LaneRow[], scroll: LaneScroll, plotHeight: number): void {
  const channel = useChoice((state) => state.channel);
  const lastChosen = useChoice((state) => state.chosen.at(-1));
  useLayoutEffect(
    () => scroll.limit(rows.length * LANE + RULER + 8 - plotHeight),
    [scroll, rows.length, plotHeight],
  );
  useEffect(() => {
    const index = rows.findIndex(
      (row) =>
        row.kind === 'lane' &&
        (channel !== null ? row.lane.address === channel : row.lane.part === lastChosen),
    );
    const row = rows[index];
    if (row?.kind !== 'lane') return;
    const top = index * LANE;
    const room = plotHeight - RULER;
    // The head that lies over the top row must not cover it.
    const under = row.within ? LANE : 0;
    if (top - under < scroll.top) scroll.to(top - under);
    else if (top + LANE > scroll.top + room) scroll.to(top + LANE - room);
    // Only a new choice moves the lanes.
    // oxlint-disable-next-line react-hooks/exhaustive-deps
  }, [channel, lastChosen]);
}

const within = (x: number, least: number, most: number): number => Math.max(least, Math.min(most, x));

/** Asks for the menu of a place, as a right press there would. */
function askMenuAt(canvas: HTMLCanvasElement, x: number, y: number): void {
  const area = canvas.getBoundingClientRect();
  const [clientX, clientY] = [area.left + x, area.top + y];
  canvas.dispatchEvent(new MouseEvent('contextmenu', { bubbles: true, cancelable: true, clientX, clientY }));
}

/** Lanes with pegs for every channel that moves or is linked, whatever it belongs to. */
export const KeysEditor = memo(function KeysEditor() {
  const session = useSession();
  const shot = useShot((state) => state.shot);
  const box = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const size = useSizeOf(box, { width: 800, height: 200 });
  const [scroll] = useState(() => new LaneScroll());
  const [gesture, setGesture] = useState<Gesture | null>(null);
  const [marking, setMarking] = useState<{ id: string | null; frame: number } | null>(null);
  const [markerDrag, setMarkerDrag] = useState<{ id: string; frame: number } | null>(null);
  const [hints] = useState(() => new PointerHints());
  const [menu, setMenu] = useState<MenuTarget | null>(null);
  const [staggering, setStaggering] = useState(false);
  const { lanes, rows, find, kind, fold, head } = useLaneRows();
  const plotWidth = Math.max(60, size.width - NAMES_WIDTH - PANEL_WIDTH);
  const plotHeight = Math.max(RULER, size.height - ZOOM_BAR);
  const time = useTimeWindow(plotWidth);
  const { first, scale } = time;
  const pictures = useLanePictures(rows, time, plotWidth, plotHeight, { gesture, markerDrag });
  const { content, ruler, markers, band } = pictures;
  const map = (): LaneMap => ({ rows, scale, scroll: scroll.top, markers, band });
  useChosenInSight(rows, scroll, plotHeight);
  useTimeWheel(box, NAMES_WIDTH, time, (by) => scroll.to(scroll.top + by));

  const pointer = lanePointer(session, map, {
    hints,
    gesture: setGesture,
    marker: setMarkerDrag,
    menu: setMenu,
    focus: () => box.current?.focus({ preventScroll: true }),
  });
  const openMenu = (row: LaneRow & { kind: 'lane' }): void => {
    const { frame } = session.time.now;
    setMenu(targetAtPlayhead(shot, row.lane, frame, session.choice.now.chosenKeys));
    askMenuAt(
      canvas.current!,
      within(scale.x(frame), 0, plotWidth),
      RULER + rows.indexOf(row) * LANE - scroll.top + LANE / 2,
    );
  };
  const nameActions = useLatest({
    onLane: (lane: Lane) => chooseLane(session, lane),
    onFold: fold,
    onGroup: (part: string | null) => part && choose(session, [part]),
  });
  return (
    <div
      ref={box}
      id="lanes"
      tabIndex={0}
      className="relative min-h-0 flex-1 overflow-hidden outline-none focus-visible:outline-2"
      aria-label="Lanes"
      role="group"
      data-first-x={NAMES_WIDTH + scale.x(first)}
      data-per-frame={scale.perFrame}
      onKeyDown={(event) => {
        if (event.target !== box.current) return;
        const keyboard = { rows, time, choose: (lane: Lane) => chooseLane(session, lane), menu: openMenu };
        if (!laneKey(session, event, keyboard)) return;
        event.preventDefault();
        event.stopPropagation();
      }}
    >
      <NamesColumn head={head}>
        <LaneNames rows={rows} room={plotHeight} scroll={scroll} actions={nameActions} />
      </NamesColumn>
      <MenuOn
        entries={() =>
          keyMenu(session, menu ?? { kind: 'ruler', frame: Math.round(session.time.now.frame) }, {
            mark: (at) => setMarking({ id: null, frame: at }),
            renameMarker: (id) => setMarking({ id, frame: shot.markers[id]?.frame ?? first }),
            removeMarker: (id) => session.edit((now) => removeMarker(now, id)),
            stagger: () => setStaggering(true),
          })
        }
        onClosed={() => {
          // The keyboard goes back to the lanes, unless what was chosen has taken it already.
          if (document.activeElement === document.body) focusPanel('lanes');
        }}
      >
        <LanesCanvas
          ref={canvas}
          content={content}
          scroll={scroll}
          ruler={ruler}
          left={NAMES_WIDTH}
          {...pointer}
        />
      </MenuOn>
      <ZoomRow time={time} width={plotWidth} />
      <DrawnFrames scale={scale} left={NAMES_WIDTH} width={plotWidth} ruler={RULER} />
      <Playhead scale={scale} left={NAMES_WIDTH} width={plotWidth} height={plotHeight} />
      <HintsCanvas hints={hints} left={NAMES_WIDTH} width={plotWidth} height={plotHeight} />
      <StickyHead rows={rows} scroll={scroll} width={NAMES_WIDTH} actions={nameActions} />
      <LanesTable rows={rows} scroll={scroll} room={plotHeight} />
      {rows.length === 0 && (
        <NoLanes
          lanes={lanes.length}
          clips={Object.keys(shot.placements).length > 0}
          find={find}
          kind={kind}
          left={NAMES_WIDTH + 24}
          top={RULER + 20}
        />
      )}
      {marking && (
        <MarkerName
          key={`${marking.id} ${marking.frame}`}
          id={marking.id}
          frame={marking.frame}
          left={within(NAMES_WIDTH + scale.x(marking.frame), NAMES_WIDTH, size.width - PANEL_WIDTH - 180)}
          onClose={() => setMarking(null)}
        />
      )}
      <ChosenKeys />
      {staggering && <StaggerDialog onClose={() => setStaggering(false)} />}
    </div>
  );
});

/** What stands left of the lanes. */
function NamesColumn({ head, children }: { head: ReactNode; children: ReactNode }) {
  return (
    <div
      className="absolute bottom-0 left-0 top-0 overflow-hidden border-r border-line"
      style={{ width: NAMES_WIDTH }}
    >
      {head}
      {children}
      <div className="absolute inset-x-0 bottom-0 bg-panel" style={{ height: ZOOM_BAR }} />
    </div>
  );
}

/** The bar that zooms time, under the lanes. */
function ZoomRow({ time, width }: { time: ReturnType<typeof useTimeWindow>; width: number }) {
  const session = useSession();
  const showTime = useCallback((next: TimeWindow | null) => session.time.show(next), [session]);
  return (
    <div
      className="absolute bottom-0 border-t border-line-soft bg-panel"
      style={{ left: NAMES_WIDTH, width, height: ZOOM_BAR }}
    >
      <ZoomBar window={time.window} first={time.first} last={time.last} width={width} onChange={showTime} />
    </div>
  );
}

/** What is chosen, in numbers, beside the lanes. */
function ChosenKeys() {
  const channel = useChoice((state) => state.channel);
  const meant = useMemo(() => (channel === null ? [] : [channel]), [channel]);
  return (
    <aside
      aria-label="Chosen keys"
      data-scrolls
      className="absolute z-10 bottom-0 right-0 top-0 flex flex-col gap-2.5 overflow-y-auto border-l border-line bg-panel p-2.5"
      style={{ width: PANEL_WIDTH }}
    >
      <StripFields />
      <KeyFields />
      <MannerPalette addresses={meant} />
    </aside>
  );
}
