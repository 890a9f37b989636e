import { ArrowLeftRight, Columns2, Crop, MapPinned, Maximize2, Minimize2, Scan, X } from 'lucide-react';
import type { PointerEvent, ReactNode } from 'react';
import { beginDrag } from '../../ui/drag';
import { useSession, useShot, useViewSettings } from '../session';
import { putCameraAt } from './fly';
import { freeViewMatrix } from './view-commands';
import { BEYOND } from './view-painter';
import { cornerAt, FINDER_BAR, type Area, type Size } from './view-size';

/** The corner by which it is made larger lies across from the one in which it stands. */
const GRIP_AT: Record<string, string> = {
  'bottom-right': 'left-0 top-0 cursor-nwse-resize rounded-br',
  'bottom-left': 'right-0 top-0 cursor-nesw-resize rounded-bl',
  'top-right': 'left-0 bottom-0 cursor-nesw-resize rounded-tr',
  'top-left': 'right-0 bottom-0 cursor-nwse-resize rounded-tl',
};

/** The bar and the lines over the small picture of what the camera takes (or, swapped, of the free view). */
export function Viewfinder({ box, size }: { box: Area; size: Size }) {
  const session = useSession();
  const { width, height, camera } = useShot((state) => state.shot.setup);
  const finder = useViewSettings((state) => state.finder);
  const swapped = useViewSettings((state) => state.side === 'shot' && camera !== null);
  const place = useViewSettings((state) => state.finderAt);
  const beyond = useViewSettings((state) => state.beyond);
  const safe = useViewSettings((state) => state.safeArea);
  if (finder === 'off') return null;
  const large = finder === 'large';
  const swap = (): void => session.view.swapShot();
  const beside = place === 'beside';
  /** From the page to the view. */
  const inView = (
    event: PointerEvent<HTMLElement>,
  ): ((to: { clientX: number; clientY: number }) => [number, number]) => {
    const { left, top } = event.currentTarget
      .closest('[data-testid="viewfinder"]')!
      .parentElement!.getBoundingClientRect();
    return (to) => [to.clientX - left, to.clientY - top];
  };
  const onBar = (event: PointerEvent<HTMLDivElement>): void => {
    if (event.button !== 0 || (event.target as Element).closest('button')) return;
    const to = inView(event);
    const before = place;
    beginDrag(event.currentTarget, event, {
      threshold: 6,
      move: (at) => session.view.putFinder(cornerAt(size, ...to(at))),
      end: (kept) => kept || session.view.putFinder(before),
    });
  };
  const onGrip = (event: PointerEvent<HTMLSpanElement>): void => {
    if (event.button !== 0) return;
    const to = inView(event);
    const before = session.view.now.finderShare;
    const fromLeft = place.endsWith('left');
    beginDrag(event.currentTarget, event, {
      move: (at) => {
        const [x] = to(at);
        session.view.sizeFinder((fromLeft ? x : size.width - x) / size.width);
      },
      end: (kept) => kept || session.view.sizeFinder(before),
    });
  };
  return (
    <div
      className="absolute overflow-hidden rounded-[7px] border border-film shadow-[0_4px_14px_rgb(0_0_0/0.28)]"
      style={{
        left: box.left - 1,
        top: box.top - 1,
        width: box.width + 2,
        height: box.height + FINDER_BAR + 2,
      }}
      data-testid="viewfinder"
      title={`What the camera takes, ${width} by ${height} pixels; click twice to swap with the view`}
      onDoubleClick={swap}
      onPointerDown={(event) => event.stopPropagation()}
    >
      <span
        role="separator"
        tabIndex={0}
        aria-label="Size of the viewfinder"
        aria-orientation="vertical"
        aria-valuenow={Math.round((box.width / size.width) * 100)}
        title="Drag for another size"
        className={`absolute z-10 touch-none hover:bg-teal/60 ${beside ? 'inset-y-0 left-0 w-1.5 cursor-ew-resize' : `size-3.5 ${GRIP_AT[place]}`}`}
        onPointerDown={onGrip}
        onKeyDown={(event) => {
          const way = { ArrowLeft: -1, ArrowRight: 1, ArrowDown: -1, ArrowUp: 1 }[event.key];
          if (way === undefined) return;
          event.preventDefault();
          event.stopPropagation();
          session.view.sizeFinder(box.width / size.width + way * 0.03);
        }}
      />
      {camera === null && (
        <p
          className="absolute inset-x-0 top-0 flex items-center justify-center bg-film p-3 text-center text-paper"
          style={{ height: box.height }}
        >
          No camera yet: add one, and what it takes shows here.
        </p>
      )}
      {camera !== null && !swapped && (
        <FrameLines width={box.width} height={box.height} beyond={beyond} safe={safe} />
      )}
      <div
        className="pointer-events-auto absolute inset-x-0 bottom-0 flex items-center gap-1 bg-film pl-2 text-xs font-semibold text-paper"
        style={{ height: FINDER_BAR }}
        title="Drag it into another corner of the view"
        onPointerDown={onBar}
      >
        <span className="truncate">{swapped ? 'Free view' : 'Viewfinder'}</span>
        <span className="num ml-auto whitespace-nowrap opacity-75">{large && `${width}×${height}`}</span>
        <FinderTools swapped={swapped} />
      </div>
    </div>
  );
}

/** What can be done with the viewfinder and with the camera that it shows. */
function FinderTools({ swapped }: { swapped: boolean }) {
  const session = useSession();
  const large = useViewSettings((state) => state.finder === 'large');
  const beside = useViewSettings((state) => state.finderAt === 'beside');
  const beyond = useViewSettings((state) => state.beyond);
  const safe = useViewSettings((state) => state.safeArea);
  return (
    <>
      {!swapped && (
        <Tool
          label="Put the camera here, where the view looks from (Shift+V)"
          onClick={() => {
            const matrix = freeViewMatrix();
            if (matrix) putCameraAt(session, matrix);
          }}
          icon={<MapPinned size={12} aria-hidden="true" />}
        />
      )}
      <Tool
        label="Safe area"
        on={safe}
        onClick={() => session.view.toggle('safeArea')}
        icon={<Scan size={12} aria-hidden="true" />}
      />
      <Tool
        label="Show what lies beyond the frame"
        on={beyond}
        onClick={() => session.view.toggle('beyond')}
        icon={<Crop size={12} aria-hidden="true" />}
      />
      <Tool
        label={beside ? 'Put it back into a corner' : 'Put it beside the view'}
        on={beside}
        onClick={() => session.view.putFinder(beside ? 'bottom-right' : 'beside')}
        icon={<Columns2 size={12} aria-hidden="true" />}
      />
      <Tool
        label="Swap with the view (V)"
        onClick={() => session.view.swapShot()}
        icon={<ArrowLeftRight size={12} aria-hidden="true" />}
      />
      <Tool
        label={large ? 'Make it small' : 'Make it large'}
        onClick={() => session.view.find(large ? 'small' : 'large')}
        icon={large ? <Minimize2 size={12} aria-hidden="true" /> : <Maximize2 size={12} aria-hidden="true" />}
      />
      <Tool
        label="Put the viewfinder away"
        onClick={() => session.view.find('off')}
        icon={<X size={13} aria-hidden="true" />}
      />
    </>
  );
}

function Tool(props: { label: string; on?: boolean; onClick(): void; icon: ReactNode }) {
  return (
    <button
      type="button"
      aria-label={props.label}
      title={props.label}
      aria-pressed={props.on}
      className={`flex h-full w-[21px] items-center justify-center hover:bg-halo/15 ${props.on ? 'bg-teal text-on-teal' : ''}`}
      onClick={props.onClick}
    >
      {props.icon}
    </button>
  );
}

/** The frame's edge with what lies beyond dimmed, and lines 5 and 10 per cent inside it: action and title safe areas (common practice). */
export function FrameLines(props: { width: number; height: number; beyond: boolean; safe: boolean }) {
  const { width, height, beyond, safe } = props;
  const share = beyond ? BEYOND / (1 + 2 * BEYOND) : 0;
  const [x, y, w, h] = [width * share, height * share, width * (1 - 2 * share), height * (1 - 2 * share)];
  return (
    <svg
      className="pointer-events-none absolute left-0 top-0"
      width={width}
      height={height}
      aria-hidden="true"
    >
      {beyond && (
        <>
          <path
            d={`M0 0H${width}V${height}H0zM${x} ${y}V${y + h}H${x + w}V${y}z`}
            fill="var(--color-film)"
            fillOpacity="0.55"
            fillRule="evenodd"
          />
          <rect
            x={x}
            y={y}
            width={w}
            height={h}
            fill="none"
            stroke="var(--color-halo)"
            strokeOpacity="0.8"
            data-testid="frame-edge"
          />
        </>
      )}
      {safe &&
        [0.05, 0.1].map((inside) => (
          <rect
            key={inside}
            x={x + w * inside}
            y={y + h * inside}
            width={w * (1 - 2 * inside)}
            height={h * (1 - 2 * inside)}
            fill="none"
            stroke="var(--color-halo)"
            strokeOpacity="0.55"
            data-testid="safe-line"
          />
        ))}
    </svg>
  );
}
