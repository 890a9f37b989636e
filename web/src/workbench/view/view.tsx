import { useCallback, useLayoutEffect, useRef, useState, type CSSProperties } from 'react';
import { useBarRoom } from '../formula/bar-room';
import { useShot, useViewSettings } from '../session';
import { CompareBar } from './compare-bar';
import { DrawingAhead } from './drawing-ahead';
import { ClearanceBar } from '../clearance/clearance-marks';
import { OverView } from './over-view';
import { useFileDrop } from './use-file-drop';
import { useViewPainter } from './use-view-painter';
import { useViewPointer, type Box } from './use-view-pointer';
import { useViewWheel } from './use-view-wheel';
import { FirstHint, ViewBars } from './view-bars';
import { FINDER_BAR, finderArea, shareLeft, takenByFinder, type Area, type Size } from './view-size';
import { FrameLines, Viewfinder } from './viewfinder';

/** The scene: look round, choose, move, turn, size and measure; the viewfinder shows what the camera takes. */
export function View() {
  const canvas = useRef<HTMLCanvasElement>(null);
  const cover = useRef<HTMLCanvasElement>(null);
  const frame = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState<Size>({ width: 1, height: 1 });
  const [box, setBox] = useState<Box | null>(null);
  const [, redraw] = useState(0);
  // Handles and trail lie over the picture and have to move with it.
  const moved = useCallback(() => redraw((count) => count + 1), []);
  const side = useViewSettings((state) => state.side);
  const finder = useViewSettings((state) => state.finder);
  const finderAt = useViewSettings((state) => state.finderAt);
  const finderShare = useViewSettings((state) => state.finderShare);
  const beyond = useViewSettings((state) => state.beyond);
  const safe = useViewSettings((state) => state.safeArea);
  const shot = useShot((state) => state.shot);
  const barRoom = useBarRoom();
  const isShot = side === 'shot' && shot.setup.camera !== null;
  // What lies over the picture follows the values by itself, but for the camera of the shot, through which it is seen here.
  useShot((state) => (isShot ? state.tick : 0));

  useLayoutEffect(() => {
    const watcher = new ResizeObserver(([entry]) => {
      const { width, height } = entry!.contentRect;
      setSize({ width: Math.max(1, Math.round(width)), height: Math.max(1, Math.round(height)) });
    });
    watcher.observe(frame.current!);
    return () => watcher.disconnect();
  }, []);

  const { painter, failed } = useViewPainter(canvas, cover, size, moved);
  const { dropping, drop } = useFileDrop();
  useViewWheel(frame, painter, moved);
  const { pick, onPointerDown } = useViewPointer(painter, size, setBox, moved);

  const area = painter && size.width > 1 ? painter.area() : null;
  const camera = painter?.camera();
  const finderOf = { finder, finderAt, finderShare };
  const finderBox = finderArea(size, shot.setup.width / shot.setup.height, finderOf);
  return (
    <section
      ref={frame}
      className="relative overflow-hidden rounded-lg border border-view-edge bg-view"
      aria-label="View"
      style={{ '--bar-message': `${barRoom}px` } as CSSProperties}
      {...drop}
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
        style={
          finder === 'off' ? undefined : { clipPath: outside(size, takenByFinder(size, finderBox, finderOf)) }
        }
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
        width={size.width * shareLeft(finderOf)}
        left={finder !== 'off' && finderAt === 'bottom-left' ? finderBox.left + finderBox.width : 0}
        right={
          finder !== 'off' && finderAt === 'bottom-right' ? finderBox.left : size.width * shareLeft(finderOf)
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
