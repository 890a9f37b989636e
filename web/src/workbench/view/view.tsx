import { useCallback, useEffect, useLayoutEffect, useRef, useState, type CSSProperties } from 'react';
import { bringIn } from '../add/bring-in';
import { useBarRoom } from '../formula/bar-room';
import { useSession, useChoice, useCompare, usePlot, useShot, useTime, useViewSettings } from '../session';
import { CompareBar } from './compare-bar';
import { DrawingAhead } from './drawing-ahead';
import { ClearanceBar } from '../clearance/clearance-marks';
import { OverView } from './over-view';
import { useViewPointer, type Box } from './use-view-pointer';
import { useViewWheel } from './use-view-wheel';
import { FirstHint, ViewBars } from './view-bars';
import { setViewCommands } from './view-commands';
import { ViewPainter } from './view-painter';
import { FINDER_BAR, finderArea, shareLeft, type Area, type Size } from './view-size';
import { FrameLines, Viewfinder } from './viewfinder';

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
  // Handles and trail lie over the picture and have to move with it.
  const moved = useCallback(() => redraw((count) => count + 1), []);
  const side = useViewSettings((state) => state.side);
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
  const barRoom = useBarRoom();
  const isShot = side === 'shot' && shot.setup.camera !== null;
  // What lies over the picture follows the values by itself, but for the camera of the shot, through which it is seen here.
  useShot((state) => (isShot ? state.tick : 0));

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
          moved();
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
  }, [session, moved]);

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
    shot,
    compare,
    before,
    playing,
  ]);

  useEffect(
    () =>
      painter ? session.doc.state.subscribe((now, was) => now.tick !== was.tick && painter.ask()) : undefined,
    [painter, session],
  );

  // What lies over the picture is placed by the painter's size, which is known only now.
  useLayoutEffect(() => {
    if (!painter) return;
    painter.size = size;
    moved();
  }, [painter, size, moved]);

  useViewWheel(frame, painter, moved);
  const { pick, onPointerDown } = useViewPointer(painter, size, setBox, moved);

  const area = painter && size.width > 1 ? painter.area() : null;
  const camera = painter?.camera();
  const finderBox = finderArea(size, shot.setup.width / shot.setup.height, {
    finder,
    finderAt,
    finderShare,
  });
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
      style={{ '--bar-message': `${barRoom}px` } as CSSProperties}
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
        {painter && area && camera && (
          <OverView painter={painter} camera={camera} area={area} isShot={isShot} pick={pick} />
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
