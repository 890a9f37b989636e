import { ChevronsDownUp, ChevronsUpDown, Filter } from 'lucide-react';
import {
  memo,
  useEffect,
  useLayoutEffect,
  useMemo,
  useRef,
  useState,
  type KeyboardEvent,
  type PointerEvent,
} from 'react';
import { channelAt, trackOf } from '../../../../core/document';
import { insertKeys, markersOf, moveKeys, removeMarker, type KeyAddress } from '../../../../core/edit';
import { framesPerSecond } from '../../../../core/time';
import { useEvening } from '../../shared/theme';
import { useLatest } from '../../shared/use-latest';
import { MenuOn } from '../../ui/menu';
import { choose } from '../actions/choosing';
import { useSession, useChoice, useCurved, useShot, useTime } from '../session';
import { focusPanel } from '../panels';
import { keyMenu, type MenuTarget } from './key-menu';
import { beginLaneDrag, overGrip, type DragShow, type Gesture, type Rubber } from './lane-drag';
import { factsOf, hitAt, markerAt, type Hit, type LaneMap, type Point } from './lane-hit';
import { LaneNames, StickyHead } from './lane-names';
import { LaneScroll } from './lane-scroll';
import { lanesOf, rowsOfLanes, type Lane } from './lanes';
import { LanesCanvas } from './lanes-canvas';
import { LANE, RULER } from './lanes-painter';
import { LanesTable } from './lanes-table';
import { MarkerName } from '../timeline/marker-name';
import { Playhead } from '../timeline/playhead';
import { StaggerDialog } from './stagger-dialog';
import { keptWindow, timeScale, zoomedWindow } from '../timeline/time-scale';
import { ZoomBar } from '../timeline/zoom-bar';

const NAMES_WIDTH = 216;
const BAR = 18;
const ZOOM_PER_PX = 1.0015;

/** Lanes with pegs for every channel that moves or is linked, whatever it belongs to. */
export const KeysEditor = memo(function KeysEditor() {
  const session = useSession();
  const shot = useShot((state) => state.shot);
  const channel = useChoice((state) => state.channel);
  const chosenKeys = useChoice((state) => state.chosenKeys);
  const chosen = useChoice((state) => state.chosen);
  const wanted = useTime((state) => state.window);
  const box = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const [size, setSize] = useState({ width: 800, height: 200 });
  const [scroll] = useState(() => new LaneScroll());
  const [find, setFind] = useState('');
  const [onlyChosen, setOnlyChosen] = useState(false);
  const [folded, setFolded] = useState<ReadonlySet<string>>(new Set());
  const [gesture, setGesture] = useState<Gesture | null>(null);
  const [marking, setMarking] = useState<{ id: string | null; frame: number } | null>(null);
  const [markerDrag, setMarkerDrag] = useState<{ id: string; frame: number } | null>(null);
  const [rubber, setRubber] = useState<Rubber | null>(null);
  const [menu, setMenu] = useState<MenuTarget | null>(null);
  const [staggering, setStaggering] = useState(false);
  const [tip, setTip] = useState<{ x: number; y: number; text: string } | null>(null);
  const curved = useCurved();
  const curves = session.curves;
  const evening = useEvening();

  const { first, last, rate } = shot.setup;
  const lanes = useMemo(() => lanesOf(shot), [shot]);
  // Another choice makes other rows only where they depend on it.
  const only = onlyChosen ? chosen : null;
  const rows = useMemo(
    () => rowsOfLanes(lanes, folded, { find, parts: only && new Set(only) }),
    [lanes, folded, find, only],
  );
  const plotWidth = Math.max(60, size.width - NAMES_WIDTH);
  const plotHeight = Math.max(RULER, size.height - BAR);
  const [windowFrom, windowTo] = [wanted?.from ?? first, wanted?.to ?? last];
  const window = useMemo(() => ({ from: windowFrom, to: windowTo }), [windowFrom, windowTo]);
  const scale = useMemo(() => timeScale(window.from, window.to, plotWidth), [window, plotWidth]);
  const chosenSet = useMemo(
    () => new Set(chosenKeys.map(({ address, key }) => `${address} ${key}`)),
    [chosenKeys],
  );
  const isChosen = (target: KeyAddress): boolean => chosenSet.has(`${target.address} ${target.key}`);
  const markers = useMemo(
    () =>
      markersOf(shot).map(({ id, marker }) => ({
        id,
        name: marker.name,
        frame: markerDrag?.id === id ? markerDrag.frame : marker.frame,
      })),
    [shot, markerDrag],
  );
  const band = useMemo(() => {
    let [low, high] = [Infinity, -Infinity];
    for (const { address, key } of chosenKeys) {
      const at = trackOf(shot, address)?.keys[key]?.frame;
      if (at === undefined) continue;
      low = Math.min(low, at);
      high = Math.max(high, at);
    }
    return high > low ? { from: low, to: high } : null;
  }, [chosenKeys, shot]);
  const content = useMemo(
    () => ({
      width: plotWidth,
      height: plotHeight,
      scale,
      rows,
      channel,
      first,
      last,
      curves,
      // Curves of linked channels come later, into the same store.
      curved,
      isChosen: (target: KeyAddress) =>
        chosenSet.size > 0 && chosenSet.has(`${target.address} ${target.key}`),
      shown: (at: number, isOne: boolean) => (isOne ? shownAt(gesture, at) : at),
      doubling: gesture?.kind === 'move' && gesture.doubling,
      markers,
      evening,
    }),
    [
      plotWidth,
      plotHeight,
      scale,
      rows,
      channel,
      first,
      last,
      curves,
      curved,
      chosenSet,
      gesture,
      markers,
      evening,
    ],
  );
  const perSecond = framesPerSecond(rate);
  const ruler = useMemo(
    () => ({
      width: plotWidth,
      scale,
      first,
      last,
      rate: perSecond,
      markers,
      band: band && { from: shownAt(gesture, band.from), to: shownAt(gesture, band.to) },
      evening,
    }),
    [plotWidth, scale, first, last, perSecond, markers, band, gesture, evening],
  );
  const map = (): LaneMap => ({ rows, scale, scroll: scroll.top, markers, band });
  useLayoutEffect(
    () => scroll.limit(rows.length * LANE + RULER + 8 - plotHeight),
    [scroll, rows.length, plotHeight],
  );

  // The lane of what is chosen comes into sight.
  const lastChosen = chosen.at(-1);
  useEffect(() => {
    const index = rows.findIndex(
      (row) =>
        row.kind === 'lane' &&
        (channel !== null ? row.lane.address === channel : row.lane.part === lastChosen),
    );
    if (index < 0) return;
    const top = index * LANE;
    const room = plotHeight - RULER;
    // The head that lies over the top row must not cover it.
    const under = rows[index]?.kind === 'lane' && (rows[index] as { within: boolean }).within ? LANE : 0;
    if (top - under < scroll.top) scroll.to(top - under);
    else if (top + LANE > scroll.top + room) scroll.to(top + LANE - room);
    // Scrolling by hand is left alone: only a new choice moves the lanes.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [channel, lastChosen]);

  useLayoutEffect(() => {
    const watcher = new ResizeObserver(([entry]) =>
      setSize({ width: Math.round(entry!.contentRect.width), height: Math.round(entry!.contentRect.height) }),
    );
    watcher.observe(box.current!);
    return () => watcher.disconnect();
  }, []);

  // Where the wheel turns the page otherwise, it must be refused, which React's own listener cannot.
  const wheel = useRef<(event: WheelEvent) => void>(() => undefined);
  useEffect(() => {
    wheel.current = (event) => {
      event.preventDefault();
      const area = box.current!.getBoundingClientRect();
      const x = event.clientX - area.left - NAMES_WIDTH;
      const by = event.deltaY || event.deltaX;
      if (event.altKey)
        session.time.show(zoomedWindow(window, scale.frame(Math.max(0, x)), ZOOM_PER_PX ** by, first, last));
      else if (event.shiftKey) {
        const frames = by / scale.perFrame;
        session.time.show(keptWindow({ from: window.from + frames, to: window.to + frames }, first, last));
      } else scroll.to(scroll.top + by);
    };
  });
  useEffect(() => {
    const element = box.current!;
    const onWheel = (event: WheelEvent): void => wheel.current(event);
    element.addEventListener('wheel', onWheel, { passive: false });
    return () => element.removeEventListener('wheel', onWheel);
  }, []);

  const chooseLane = (lane: Lane): void => {
    if (lane.part && !session.choice.now.chosen.includes(lane.part)) choose(session, [lane.part]);
    session.choice.showChannel(lane.address);
  };

  const show: DragShow = {
    gesture: setGesture,
    marker: setMarkerDrag,
    rubber: setRubber,
    tip: setTip,
    lane: ({ row }) => row?.kind === 'lane' && chooseLane(row.lane),
  };
  const pointOf = (event: { clientX: number; clientY: number; currentTarget: Element }): Point => {
    const area = event.currentTarget.getBoundingClientRect();
    return { x: event.clientX - area.left, y: event.clientY - area.top };
  };
  const onPointerDown = (event: PointerEvent<HTMLCanvasElement>): void => {
    const at = pointOf(event);
    const hit = hitAt(map(), at);
    if (event.button !== 0) {
      aimMenu(hit, at, at.y < RULER ? markerAt(map(), at) : null);
      return;
    }
    box.current?.focus({ preventScroll: true });
    beginLaneDrag(session, map(), hit, event.nativeEvent, event.currentTarget, show);
  };

  const aimMenu = (hit: Hit, at: { x: number; y: number }, marker: string | null): void => {
    if (marker) setMenu({ kind: 'marker', id: marker });
    else if (at.y < RULER || !hit.row) setMenu({ kind: 'ruler', frame: Math.round(scale.frame(at.x)) });
    else {
      const lane = hit.row.kind === 'lane' ? hit.row.lane : hit.row.lanes[0]!;
      const onKey = hit.keys.length > 0;
      const keys = onKey ? (hit.keys.every(isChosen) ? chosenKeys : hit.keys) : [];
      if (onKey && keys === hit.keys) session.choice.keys(hit.keys);
      if (hit.row.kind === 'lane') chooseLane(lane);
      const index = lane.keys.findLastIndex((key) => key.frame <= hit.frame);
      const inside = index >= 0 && index < lane.keys.length - 1 && hit.row.kind === 'lane';
      setMenu({
        kind: 'lane',
        address: lane.address,
        frame: Math.round(hit.frame),
        keys,
        stretches: onKey ? keys : inside ? [{ address: lane.address, key: lane.keys[index]!.id }] : [],
        onKey,
        colour: channelAt(shot, lane.address)?.spec.kind !== 'number',
      });
    }
  };

  const hover = (event: PointerEvent<HTMLCanvasElement>): void => {
    if (event.buttons) return;
    const at = pointOf(event);
    const hit = hitAt(map(), at);
    const cursor = overGrip(map(), at) ? 'ew-resize' : hit.keys.length > 0 ? 'grab' : 'default';
    event.currentTarget.style.cursor = cursor;
    const text = factsOf(shot, hit);
    setTip(text === null ? null : { x: at.x, y: at.y - 24, text });
  };

  const onKeyDown = (event: KeyboardEvent): void => {
    if (event.target !== box.current) return;
    const { frame } = session.time.now;
    const laneRows = rows.filter((row) => row.kind === 'lane');
    const at = laneRows.findIndex((row) => row.lane.address === channel);
    const by = event.shiftKey ? 10 : 1;
    if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
      const next =
        laneRows[Math.max(0, Math.min(laneRows.length - 1, at + (event.key === 'ArrowDown' ? 1 : -1)))];
      if (next) chooseLane(next.lane);
    } else if (event.altKey && (event.key === 'ArrowLeft' || event.key === 'ArrowRight')) {
      if (chosenKeys.length > 0)
        session.edit((now) => moveKeys(now, chosenKeys, event.key === 'ArrowLeft' ? -by : by));
    } else if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'a') {
      // All that the filter lets through, folded or not; with Shift those of this lane.
      const list = rows
        .flatMap((row) => (row.kind === 'group' ? (row.folded ? row.lanes : []) : [row.lane]))
        .filter((lane) => !event.shiftKey || lane.address === channel);
      session.choice.keys(
        list.flatMap((entry) => entry.keys.map((key) => ({ address: entry.address, key: key.id }))),
      );
    } else if (event.key === '+' || event.key === '-')
      session.time.show(zoomedWindow(window, frame, event.key === '+' ? 0.8 : 1.25, first, last));
    else if (event.key === 'ContextMenu' || (event.shiftKey && event.key === 'F10')) {
      const row = laneRows[at];
      if (!row) return;
      const keys = chosenKeys.length > 0 ? chosenKeys : keysHere(row.lane, frame);
      const index = row.lane.keys.findLastIndex((key) => key.frame <= frame);
      setMenu({
        kind: 'lane',
        address: row.lane.address,
        frame,
        keys,
        stretches:
          keys.length > 0
            ? keys
            : index >= 0
              ? [{ address: row.lane.address, key: row.lane.keys[index]!.id }]
              : [],
        onKey: keys.length > 0,
        colour: channelAt(shot, row.lane.address)?.spec.kind !== 'number',
      });
      const area = canvas.current!.getBoundingClientRect();
      canvas.current!.dispatchEvent(
        new MouseEvent('contextmenu', {
          bubbles: true,
          cancelable: true,
          clientX: area.left + Math.max(0, Math.min(plotWidth, scale.x(frame))),
          clientY: area.top + RULER + rows.indexOf(row) * LANE - scroll.top + LANE / 2,
        }),
      );
    } else return;
    event.preventDefault();
    event.stopPropagation();
  };

  const nameActions = useLatest({
    onLane: chooseLane,
    onFold: (owner: string) =>
      setFolded((now) => {
        const next = new Set(now);
        if (!next.delete(owner)) next.add(owner);
        return next;
      }),
    onGroup: (part: string | null) => part && choose(session, [part]),
  });
  const groups = useMemo(
    () => [...new Set(rows.flatMap((row) => (row.kind === 'group' ? [row.owner] : [])))],
    [rows],
  );
  const allFolded = groups.length > 0 && groups.every((owner) => folded.has(owner));
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
      onKeyDown={onKeyDown}
    >
      <div
        className="absolute bottom-0 left-0 top-0 overflow-hidden border-r border-line"
        style={{ width: NAMES_WIDTH }}
      >
        <div
          className="absolute inset-x-0 top-0 z-10 flex items-center gap-1 bg-head px-1.5"
          style={{ height: RULER }}
        >
          <button
            type="button"
            aria-label={allFolded ? 'Unfold all lanes' : 'Fold all lanes'}
            title={allFolded ? 'Unfold all' : 'Fold all'}
            disabled={groups.length === 0}
            className="flex size-5 items-center justify-center rounded text-ink-2 hover:bg-line-soft"
            onClick={() => setFolded(allFolded ? new Set() : new Set(groups))}
          >
            {allFolded ? (
              <ChevronsUpDown size={12} aria-hidden="true" />
            ) : (
              <ChevronsDownUp size={12} aria-hidden="true" />
            )}
          </button>
          <input
            type="search"
            aria-label="Find a lane"
            placeholder={`${lanes.length} ${lanes.length === 1 ? 'lane' : 'lanes'}`}
            className="input-field h-[19px] min-w-0 flex-1 px-1.5 placeholder:text-ink-3"
            value={find}
            onChange={(event) => setFind(event.target.value)}
            onKeyDown={(event) => {
              event.stopPropagation();
              if (event.key === 'Escape') setFind('');
            }}
          />
          <button
            type="button"
            aria-label="Only lanes of the chosen parts"
            title="Only lanes of the chosen parts"
            aria-pressed={onlyChosen}
            className={`flex size-5 items-center justify-center rounded ${onlyChosen ? 'bg-teal text-on-teal' : 'text-ink-2 hover:bg-line-soft'}`}
            onClick={() => setOnlyChosen(!onlyChosen)}
          >
            <Filter size={11} aria-hidden="true" />
          </button>
        </div>
        <LaneNames rows={rows} room={plotHeight} scroll={scroll} actions={nameActions} />
        <div className="absolute inset-x-0 bottom-0 bg-panel" style={{ height: BAR }} />
      </div>
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
          onPointerDown={onPointerDown}
          onPointerMove={hover}
          onPointerLeave={() => setTip(null)}
          onDoubleClick={(event) => {
            const { row, keys, frame } = hitAt(map(), pointOf(event));
            if (row?.kind !== 'lane' || keys.length > 0 || !trackOf(shot, row.lane.address)) return;
            session.edit((now) => insertKeys(now, [row.lane.address], Math.round(frame)));
          }}
        />
      </MenuOn>
      <div
        className="absolute bottom-0 border-t border-line-soft bg-panel"
        style={{ left: NAMES_WIDTH, width: plotWidth, height: BAR }}
      >
        <ZoomBar
          window={window}
          first={first}
          last={last}
          width={plotWidth}
          onChange={(next) => session.time.show(next)}
        />
      </div>
      <Playhead scale={scale} left={NAMES_WIDTH} width={plotWidth} height={plotHeight} />
      {rubber && (
        <div
          className="pointer-events-none absolute border border-teal bg-teal/15"
          style={{
            left: NAMES_WIDTH + rubber.x0,
            top: rubber.y0,
            width: rubber.x1 - rubber.x0,
            height: rubber.y1 - rubber.y0,
          }}
        />
      )}
      <StickyHead rows={rows} scroll={scroll} width={NAMES_WIDTH} actions={nameActions} />
      <LanesTable rows={rows} scroll={scroll} room={plotHeight} />
      {rows.length === 0 && (
        <p className="absolute pr-6 text-ink-2" style={{ left: NAMES_WIDTH + 24, top: RULER + 20 }}>
          {lanes.length === 0
            ? 'Nothing moves yet. Choose a part, go to a frame and press K to key its place, or write a formula after = in any field.'
            : find
              ? `No lane is called "${find}".`
              : 'Nothing of the chosen parts moves.'}
        </p>
      )}
      {marking && (
        <MarkerName
          key={`${marking.id} ${marking.frame}`}
          id={marking.id}
          frame={marking.frame}
          left={Math.max(NAMES_WIDTH, Math.min(size.width - 180, NAMES_WIDTH + scale.x(marking.frame)))}
          onClose={() => setMarking(null)}
        />
      )}
      {staggering && <StaggerDialog onClose={() => setStaggering(false)} />}
      {tip && (
        <div
          className="num pointer-events-none absolute z-20 whitespace-nowrap rounded bg-strip px-2 py-1 text-paper"
          style={{
            left: Math.max(0, Math.min(size.width - tip.text.length * 7 - 20, NAMES_WIDTH + tip.x + 10)),
            top: Math.max(2, tip.y),
          }}
        >
          {tip.text}
        </div>
      )}
    </div>
  );
});

/** Where a chosen key is shown while something is dragged. */
function shownAt(gesture: Gesture | null, at: number): number {
  if (!gesture) return at;
  return gesture.kind === 'move' ? at + gesture.by : gesture.about + (at - gesture.about) * gesture.factor;
}

function keysHere(lane: Lane, frame: number): KeyAddress[] {
  return lane.keys
    .filter((key) => key.frame === frame)
    .map((key) => ({ address: lane.address, key: key.id }));
}
