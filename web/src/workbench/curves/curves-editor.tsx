import { memo, useCallback, useMemo, useRef, type PointerEvent } from 'react';
import { insertKeys } from '../../../../core/edit';
import { useLatest } from '../../shared/use-latest';
import { MenuOn } from '../../ui/menu';
import { choose } from '../actions/choosing';
import type { Lane } from '../keys/lanes';
import { RULER } from '../keys/lanes-painter';
import { focusPanel } from '../panels';
import { useChoice, useSession, type Session } from '../session';
import { CURVES_COLUMNS } from '../timeline/columns';
import { DrawnFrames } from '../timeline/drawn-frames';
import { Playhead } from '../timeline/playhead';
import { PointerHints } from '../timeline/pointer-hints';
import type { TimeWindow } from '../timeline/time-scale';
import { useSizeOf, useTimeWheel, useTimeWindow } from '../timeline/use-time-window';
import { ZOOM_BAR, ZoomBar } from '../timeline/zoom-bar';
import { CurveTable } from './curve-table';
import { CurvesLeft } from './curves-left';
import { CurvesRight } from './curves-right';
import type { Line } from './lines';
import { beginPlotDrag } from './plot-drag';
import { boxOf, edgeAt, plotHit, type PlotHit, type Point } from './plot-hit';
import { plotKey } from './plot-keyboard';
import { plotMenu } from './plot-menu';
import { PlotOverlay } from './plot-overlay';
import { tipOf } from './plot-words';
import { usePlotContent, type PlotContent } from './use-plot';
import { usePlotPainting } from './use-plot-painting';

const { left: LEFT, right: RIGHT } = CURVES_COLUMNS;
const ZOOM_PER_PX = 1.0015;

function lead(session: Session, lane: Pick<Lane, 'address' | 'part'>): void {
  const { chosen } = session.choice.now;
  if (lane.part && chosen.length > 0 && !chosen.includes(lane.part)) choose(session, [lane.part]);
  session.choice.showChannel(lane.address);
}

const pointOf = (event: { clientX: number; clientY: number; currentTarget: Element }): Point => {
  const area = event.currentTarget.getBoundingClientRect();
  return { x: event.clientX - area.left, y: event.clientY - area.top };
};

function cursorOf(hit: PlotHit, edge: ReturnType<typeof edgeAt>): string {
  if (hit.handle || hit.peg) return 'grab';
  if (edge) return edge === 'left' || edge === 'right' ? 'ew-resize' : 'ns-resize';
  return hit.outside ? 'pointer' : 'default';
}

/** Closer to the values, or along them, by the wheel. */
function zoomValues(session: Session, { top, bottom }: PlotContent['map'], event: WheelEvent): void {
  const { zoom, pan } = session.plot.now.lift;
  if (event.ctrlKey || event.metaKey) {
    const factor = Math.min(200 / zoom, Math.max(0.2 / zoom, ZOOM_PER_PX ** -event.deltaY));
    session.plot.look({ zoom: zoom * factor, pan: pan * factor });
  } else session.plot.look({ zoom, pan: pan + event.deltaY / Math.max(40, bottom - top) });
}

/** What the pointer does over the plot: drags, hovering, and the menu with what it was opened on. */
function usePlotPointer(session: Session, content: PlotContent, hints: PointerHints) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const aim = useRef<{ hit: PlotHit; frame: number } | null>(null);
  const { lines, map, picture } = content;
  const hitOf = (at: Point): PlotHit => plotHit(map, lines, picture.lead, session.choice.now.chosenKeys, at);
  const openMenu = (at: Point): void => {
    const area = canvas.current!.getBoundingClientRect();
    canvas.current!.dispatchEvent(
      new MouseEvent('contextmenu', {
        bubbles: true,
        cancelable: true,
        clientX: area.left + at.x,
        clientY: area.top + at.y,
      }),
    );
  };
  const onPointerDown = (event: PointerEvent<HTMLCanvasElement>): void => {
    const at = pointOf(event);
    const hit = hitOf(at);
    if (event.button !== 0) {
      if (hit.peg && !session.choice.now.chosenKeys.some((key) => key.key === hit.peg!.key))
        session.choice.keys([hit.peg]);
      aim.current = { hit, frame: Math.round(map.scale.frame(at.x)) };
      return;
    }
    event.currentTarget.closest<HTMLElement>('#curves')?.focus({ preventScroll: true });
    const { nativeEvent, currentTarget } = event;
    beginPlotDrag(session, { map, lines, markers: picture.markers }, hit, nativeEvent, currentTarget, {
      rubber: hints.rubber,
      tip: hints.tip,
      lead: (line) => lead(session, line),
      outside: (line, outside, point) => {
        aim.current = {
          hit: { peg: null, handle: null, line, outside },
          frame: Math.round(map.scale.frame(point.x)),
        };
        // Once the press that chose it is over.
        setTimeout(() => openMenu(point));
      },
    });
  };
  const onPointerMove = (event: PointerEvent<HTMLCanvasElement>): void => {
    if (event.buttons) return;
    const at = pointOf(event);
    const hit = hitOf(at);
    event.currentTarget.style.cursor = cursorOf(
      hit,
      edgeAt(boxOf(map, lines, session.choice.now.chosenKeys), at),
    );
    const text = tipOf(session, hit, at, content);
    hints.tip(text === null ? null : { x: at.x, y: at.y - 26, text });
  };
  const onDoubleClick = (event: React.MouseEvent<HTMLCanvasElement>): void => {
    const at = pointOf(event);
    const { line, peg, outside } = hitOf(at);
    if (!line?.track || line.linked || peg || outside) return;
    session.edit((now) => insertKeys(now, [line.address], Math.round(map.scale.frame(at.x))));
  };
  return { openMenu, aim, canvas, handlers: { onPointerDown, onPointerMove, onDoubleClick } };
}

/** Where the curve that leads lies on the screen, for whoever reads the page by program. */
const placeOf = (line: Line | null, map: PlotContent['map']): string | undefined => {
  if (!line) return undefined;
  const { low, high } = map.axisOf(line);
  return JSON.stringify({ top: map.y(line, high), bottom: map.y(line, low), low, high });
};

/** Once the menu has closed, unless something has taken the keyboard already. */
const takeKeyboard = (): void => {
  if (document.activeElement === document.body) focusPanel('curves');
};

/** The chosen channels as curves over time: their keys, handles, ways to move, and what they measure. */
const CurvesEditor = memo(function CurvesEditor() {
  const session = useSession();
  const showTime = useCallback((next: TimeWindow | null) => session.time.show(next), [session]);
  const box = useRef<HTMLDivElement>(null);
  const size = useSizeOf(box, { width: 900, height: 240 });
  const chosenKeys = useChoice((state) => state.chosenKeys);
  const hints = useMemo(() => new PointerHints(), []);
  const width = Math.max(80, size.width - LEFT - RIGHT);
  const height = Math.max(RULER + 30, size.height - ZOOM_BAR);
  const time = useTimeWindow(width);
  const content = usePlotContent(time, width, height);
  const { lanes, lines, map, picture, ruler, lead: leading } = content;
  const { first, last } = time;
  useTimeWheel(box, LEFT, time, (_, event) => zoomValues(session, map, event));
  const { openMenu, aim, canvas, handlers } = usePlotPointer(session, content, hints);
  usePlotPainting(canvas, picture, ruler, width, height);
  const on = useLatest({
    ...handlers,
    entries: () =>
      plotMenu(
        session,
        aim.current?.hit ?? null,
        aim.current?.frame ?? Math.round(session.time.now.frame),
        lines,
      ),
  });
  // The canvas and the menu on it are not drawn again for what is painted.
  const plot = useMemo(
    () => (
      <MenuOn entries={on.entries} onClosed={takeKeyboard}>
        <canvas
          ref={canvas}
          className="absolute top-0 touch-none"
          style={{ left: LEFT, width, height, minHeight: RULER }}
          data-testid="plot-canvas"
          aria-hidden="true"
          onPointerDown={on.onPointerDown}
          onPointerMove={on.onPointerMove}
          onPointerLeave={() => hints.tip(null)}
          onDoubleClick={on.onDoubleClick}
        />
      </MenuOn>
    ),
    [on, canvas, hints, width, height],
  );
  const onLead = useCallback((lane: Lane) => lead(session, lane), [session]);
  return (
    <div
      ref={box}
      id="curves"
      tabIndex={0}
      role="group"
      aria-label="Curves"
      className="relative min-h-0 flex-1 overflow-hidden outline-none focus-visible:outline-2"
      data-first-x={LEFT + map.scale.x(first)}
      data-per-frame={map.scale.perFrame}
      data-plot={placeOf(leading, map)}
      onKeyDown={(event) => {
        if (event.target !== box.current) return;
        const keyboard = {
          lines,
          lead: leading,
          map,
          time,
          takeLead: (line: Line) => lead(session, line),
          menu: () => {
            aim.current = null;
            openMenu({
              x: Math.max(0, Math.min(width, map.scale.x(session.time.now.frame))),
              y: (map.top + map.bottom) / 2,
            });
          },
        };
        if (!plotKey(session, event, keyboard)) return;
        event.preventDefault();
        event.stopPropagation();
      }}
    >
      <CurvesLeft lanes={lanes} lead={leading?.address ?? null} width={LEFT} onLead={onLead} />
      {plot}
      <div
        className="absolute bottom-0 border-t border-line-soft bg-panel"
        style={{ left: LEFT, width, height: ZOOM_BAR }}
      >
        <ZoomBar window={time.window} first={first} last={last} width={width} onChange={showTime} />
      </div>
      <DrawnFrames scale={map.scale} left={LEFT} width={width} ruler={RULER} />
      <Playhead scale={map.scale} left={LEFT} width={width} height={height} />
      <PlotOverlay map={map} lines={lines} chosen={chosenKeys} hints={hints} left={LEFT} />
      {lines.length === 0 && (
        <p className="absolute text-ink-2" style={{ left: LEFT + 24, top: RULER + 20 }}>
          {lanes.length > 0
            ? 'All curves are hidden. The eyes on the left show them again.'
            : 'Nothing here moves yet. Key a value with K, or link it: its curve is drawn here.'}
        </p>
      )}
      <CurvesRight lead={leading} lines={lines} width={RIGHT} />
      <CurveTable line={content.keptLead} />
    </div>
  );
});

export default CurvesEditor;
