import { useEffect, useLayoutEffect, useRef, useState, type PointerEvent } from 'react';
import { writtenName } from '../../../../core/formula';
import { beginDrag } from '../../ui/drag';
import { bringIn } from '../add/bring-in';
import { useFormulaDraft } from '../formula/formula-draft';
import { choose } from '../actions/choosing';
import { useSession, useChoice, useCompare, usePlot, useShot, useTime, useViewSettings } from '../session';
import { Flight } from './fly';
import { WordsDrag } from './words-drag';
import { CompareBar } from './compare-bar';
import { DrawingAhead } from './drawing-ahead';
import { Handles } from './handles';
import { JointArcs } from './joint-arcs';
import { Measure } from './measure';
import { ClearanceBar, ClearanceMarks } from '../clearance/clearance-marks';
import { PinMarks } from '../pins/pin-marks';
import { PinTool } from '../pins/pin-tool';
import { pivotOf } from './part-place';
import { SceneMarks } from './scene-marks';
import { Trail } from './trail';
import { FirstHint, ViewBars } from './view-bars';
import { setViewCommands } from './view-commands';
import { ViewPainter } from './view-painter';
import { FINDER_BAR, finderArea, shareLeft, type Area, type Size } from './view-size';
import { FrameLines, Viewfinder } from './viewfinder';

const CLICK_PX = 4;
const FLIGHT_END_MS = 350;

interface Box {
  readonly x0: number;
  readonly y0: number;
  readonly x1: number;
  readonly y1: number;
}

/** The scene: look round, choose, move, turn, size and measure; the viewfinder shows what the camera takes. */
export function View() {
  const session = useSession();
  const canvas = useRef<HTMLCanvasElement>(null);
  const cover = useRef<HTMLCanvasElement>(null);
  const frame = useRef<HTMLDivElement>(null);
  const [painter, setPainter] = useState<ViewPainter | null>(null);
  const [failed, setFailed] = useState<string | null>(null);
  const [size, setSize] = useState<Size>({ width: 1, height: 1 });
  const [box, setBox] = useState<Box | null>(null);
  const [dropping, setDropping] = useState(false);
  const [, redraw] = useState(0);
  const side = useViewSettings((state) => state.side);
  const tool = useViewSettings((state) => state.tool);
  const trail = useViewSettings((state) => state.trail);
  const ghosts = useViewSettings((state) => state.ghosts);
  const drawnDraft = useViewSettings((state) => state.draft);
  const finder = useViewSettings((state) => state.finder);
  const finderAt = useViewSettings((state) => state.finderAt);
  const finderShare = useViewSettings((state) => state.finderShare);
  const beyond = useViewSettings((state) => state.beyond);
  const safe = useViewSettings((state) => state.safeArea);
  const compare = useCompare((state) => state);
  const before = usePlot((state) => (compare.with === 'before' ? state.before : null));
  const playing = useTime((state) => state.playing);
  const chosen = useChoice((state) => state.chosen);
  const shot = useShot((state) => state.shot);
  const tick = useShot((state) => state.tick);
  const draft = useFormulaDraft();
  const isShot = side === 'shot' && shot.setup.camera !== null;

  useEffect(() => {
    let made: ViewPainter | null = null;
    try {
      made = new ViewPainter(canvas.current!, cover.current!, session);
      const open = made;
      open.showMoving();
      setPainter(made);
      setViewCommands({
        show: (ids) => {
          open.show(ids);
          // Handles and trail lie over the picture and have to move with it.
          redraw((count) => count + 1);
        },
        freeMatrix: () => open.freeMatrix(),
        drawAhead: (first, last) => open.drawAhead(first, last),
        stopDrawing: () => open.stopDrawing(),
      });
    } catch (error) {
      setFailed(error instanceof Error ? error.message : String(error));
    }
    return () => {
      made?.dispose();
      setViewCommands(null);
    };
  }, [session]);

  useLayoutEffect(() => {
    const watcher = new ResizeObserver(([entry]) => {
      const { width, height } = entry!.contentRect;
      setSize({ width: Math.max(1, Math.round(width)), height: Math.max(1, Math.round(height)) });
    });
    watcher.observe(frame.current!);
    return () => watcher.disconnect();
  }, []);

  useEffect(() => {
    if (!painter) return;
    painter.size = size;
    painter.ask();
  }, [
    painter,
    size,
    side,
    finder,
    finderAt,
    finderShare,
    beyond,
    ghosts,
    drawnDraft,
    chosen,
    tick,
    shot,
    compare,
    before,
    playing,
  ]);

  // What lies over the picture is placed by the painter's size, which is known only now.
  useLayoutEffect(() => {
    if (!painter) return;
    painter.size = size;
    redraw((count) => count + 1);
  }, [painter, size]);

  // Where the wheel turns the page otherwise, it must be refused, which React's own listener cannot.
  useEffect(() => {
    const element = frame.current!;
    let flight: Flight | null = null;
    let landing: ReturnType<typeof setTimeout> | undefined;
    const onWheel = (event: WheelEvent): void => {
      event.preventDefault();
      if (!painter) return;
      const by = event.deltaY * (event.shiftKey ? 0.2 : 1);
      if (session.view.now.side === 'shot') {
        flight ??= new Flight(session);
        if (!flight.ready) {
          flight = null;
          return;
        }
        flight.ahead(by);
        flight.show();
        clearTimeout(landing);
        landing = setTimeout(() => {
          flight?.end(true);
          flight = null;
        }, FLIGHT_END_MS);
        return;
      }
      painter.look.zoom(by);
      painter.ask();
      redraw((count) => count + 1);
    };
    element.addEventListener('wheel', onWheel, { passive: false });
    return () => {
      element.removeEventListener('wheel', onWheel);
      clearTimeout(landing);
      flight?.end(true);
    };
  }, [painter, session]);

  const lastSpot = useRef<{ x: number; y: number } | null>(null);
  const pick = (hits: readonly string[], more: boolean, spot: { x: number; y: number } | null): void => {
    const { chosen: before } = session.choice.now;
    const { shot: document } = session;
    const { picking } = session.sheets.now;
    const again =
      lastSpot.current !== null &&
      spot !== null &&
      Math.hypot(spot.x - lastSpot.current.x, spot.y - lastSpot.current.y) <= CLICK_PX;
    lastSpot.current = spot;
    if (draft.editing) {
      const part = hits[0] ? document.parts[hits[0]] : null;
      if (part) draft.insert(`${writtenName(part.name)}.`);
      return;
    }
    if (hits.length === 0) {
      if (!more) choose(session, []);
      return;
    }
    if (picking) {
      session.choice.onlyParts(hits.slice(0, 1));
      return;
    }
    // A second click on the same spot goes to what lies behind.
    const at = hits.indexOf(before.at(-1) ?? '');
    const next = hits[again && before.length === 1 && at >= 0 ? (at + 1) % hits.length : 0]!;
    if (!more) choose(session, [next]);
    else choose(session, before.includes(next) ? before.filter((id) => id !== next) : [...before, next]);
  };

  const onPointerDown = (event: PointerEvent<HTMLCanvasElement>): void => {
    if (!painter) return;
    const element = event.currentTarget;
    const area = element.getBoundingClientRect();
    const from = { x: event.clientX, y: event.clientY };
    let last = from;
    const boxes = event.button === 0 && (event.ctrlKey || event.metaKey);
    const pans = event.button !== 0 || event.shiftKey;
    const { side: now } = session.view.now;
    const { chosen: about } = session.choice.now;
    const said = event.button === 0 && !boxes ? painter.wordsAt(from.x - area.left, from.y - area.top) : null;
    const words = said === null ? null : new WordsDrag(session, said);
    const flight = now === 'shot' && !boxes && !words ? new Flight(session) : null;
    const centre = about.length > 0 ? pivotOf(session.evaluator, about.at(-1)!) : undefined;
    const boxTo = (e: { clientX: number; clientY: number }): Box => ({
      x0: Math.min(from.x, e.clientX) - area.left,
      y0: Math.min(from.y, e.clientY) - area.top,
      x1: Math.max(from.x, e.clientX) - area.left,
      y1: Math.max(from.y, e.clientY) - area.top,
    });
    const onMove = (next: globalThis.PointerEvent): void => {
      if (boxes) {
        setBox(boxTo(next));
        return;
      }
      const [dx, dy] = [next.clientX - last.x, next.clientY - last.y];
      last = { x: next.clientX, y: next.clientY };
      if (words) {
        words.move(dx, dy, painter.area().height, next.shiftKey);
        return;
      }
      if (flight) {
        if (!flight.ready) return;
        if (pans) flight.slide(dx, dy);
        else flight.look(dx, dy);
        flight.show();
        return;
      }
      if (pans || now !== 'free') painter.look.pan(painter.camera(), dx, dy, size.height);
      else painter.look.orbit(dx, dy, centre);
      painter.ask();
      redraw((count) => count + 1);
    };
    beginDrag(element, event, {
      threshold: CLICK_PX,
      move: onMove,
      end: (kept, up, moved) => {
        setBox(null);
        flight?.end(kept && moved);
        words?.end(kept && moved);
        if (!kept || !up) return;
        if (moved && boxes) {
          const { x0, y0, x1, y1 } = boxTo(up);
          const found = painter.within(x0, y0, x1, y1);
          const { chosen: before } = session.choice.now;
          choose(session, up.shiftKey ? [...new Set([...before, ...found])] : found);
        } else if (!moved && up.button === 0)
          pick(
            painter.pick(up.clientX - area.left, up.clientY - area.top),
            up.ctrlKey || up.metaKey || up.shiftKey,
            { x: up.clientX, y: up.clientY },
          );
      },
    });
  };

  const area = painter && size.width > 1 ? painter.area() : null;
  const camera = painter?.camera();
  const finderBox = finderArea(size, shot.setup.width / shot.setup.height, {
    finder,
    finderAt,
    finderShare,
  });
  const active = chosen.at(-1);
  /** What lies over the view does not lie over the viewfinder, nor beside it. */
  const covered: Area =
    finderAt === 'beside'
      ? {
          left: size.width * shareLeft({ finder, finderAt, finderShare }),
          top: 0,
          width: size.width,
          height: size.height,
        }
      : finderBox;
  return (
    <section
      ref={frame}
      className="relative overflow-hidden rounded-lg border border-view-edge bg-view"
      aria-label="View"
      onDragOver={(event) => {
        if (!event.dataTransfer.types.includes('Files')) return;
        event.preventDefault();
        setDropping(true);
      }}
      onDragLeave={() => setDropping(false)}
      onDrop={(event) => {
        if (!event.dataTransfer.types.includes('Files')) return;
        event.preventDefault();
        setDropping(false);
        void bringIn(session, [...event.dataTransfer.files], { pictureSize: { by: 'pixels' } });
      }}
    >
      <canvas
        ref={canvas}
        className="absolute inset-0 size-full touch-none"
        data-testid="view-canvas"
        onPointerDown={onPointerDown}
        onContextMenu={(event) => event.preventDefault()}
      />
      <canvas
        ref={cover}
        hidden
        aria-hidden="true"
        className="pointer-events-none absolute inset-0 size-full"
        data-testid="view-cover"
      />
      {failed && (
        <p role="alert" className="absolute inset-0 flex items-center justify-center p-8 text-center">
          The view cannot be drawn: this browser offers no WebGL 2. Values, keys and renders work all the
          same. ({failed})
        </p>
      )}
      {/* Nothing that lies over the view lies over the viewfinder. */}
      <div
        className="pointer-events-none absolute inset-0"
        style={finder === 'off' ? undefined : { clipPath: outside(size, covered) }}
      >
        {painter && area && camera && !isShot && tool !== 'measure' && tool !== 'pin' && (
          <div className="absolute" style={{ left: area.left, top: area.top }}>
            <SceneMarks
              camera={camera}
              width={area.width}
              height={area.height}
              onPick={(id, more) => pick([id], more, null)}
            />
          </div>
        )}
        {painter && area && camera && trail && active && shot.parts[active] && (
          <Trail id={active} camera={camera} {...area} />
        )}
        {painter && area && camera && <ClearanceMarks camera={camera} {...area} />}
        {painter && area && camera && !isShot && <JointArcs camera={camera} {...area} />}
        {painter && area && camera && !isShot && <PinMarks camera={camera} {...area} />}
        {painter && area && camera && tool !== 'measure' && tool !== 'pin' && !isShot && (
          <Handles painter={painter} camera={camera} {...area} />
        )}
        {painter && area && camera && tool === 'measure' && (
          <Measure painter={painter} camera={camera} {...area} />
        )}
        {painter && area && camera && tool === 'pin' && (
          <PinTool painter={painter} camera={camera} {...area} />
        )}
      </div>
      <ClearanceBar />
      {area && isShot && (
        <div className="pointer-events-none absolute" style={{ left: area.left, top: area.top }}>
          <FrameLines width={area.width} height={area.height} beyond={beyond} safe={safe} />
        </div>
      )}
      {box && (
        <div
          className="pointer-events-none absolute border border-teal bg-teal/15"
          style={{ left: box.x0, top: box.y0, width: box.x1 - box.x0, height: box.y1 - box.y0 }}
        />
      )}
      {dropping && (
        <div className="pointer-events-none absolute inset-2 flex items-center justify-center rounded-lg border-2 border-dashed border-teal bg-raised/80 text-sm font-semibold">
          Drop pictures, SVG outlines, meshes or sounds here
        </div>
      )}

      <CompareBar size={size} />
      <DrawingAhead />
      <ViewBars
        isShot={isShot}
        width={size.width * shareLeft({ finder, finderAt, finderShare })}
        left={finder === 'small' && finderAt === 'bottom-left' ? finderBox.left + finderBox.width : 0}
        right={
          finder === 'small' && finderAt === 'bottom-right'
            ? finderBox.left
            : size.width * shareLeft({ finder, finderAt, finderShare })
        }
      />
      <FirstHint />
      <Viewfinder box={finderBox} size={size} />
    </section>
  );
}

/** A path of all of the view but the viewfinder. */
function outside(size: Size, box: Area): string {
  const [right, bottom] = [box.left + box.width, box.top + box.height + FINDER_BAR];
  return `path(evenodd, "M0 0H${size.width}V${size.height}H0Z M${box.left} ${box.top}H${right}V${bottom}H${box.left}Z")`;
}
