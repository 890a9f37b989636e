import { useEffect, useRef, useState, type PointerEvent as ReactPointerEvent, type ReactNode } from 'react';
import type { Camera } from 'three';
import { linkOf } from '../../../../core/document';
import { standingOf } from '../../../../core/edit';
import { useSession, useChoice, useShot, useViewSettings } from '../session';
import { directionsOf, type DragKind, type Grip } from './drag';
import { AXES, handleFrame, toPixel, unitsPerPixel } from './handle-geometry';
import { beginHandle, channelOfGrip, type Shown } from './handle-gesture';
import { arrows, posts, Readout, rings, type HandleScene } from './handle-shapes';
import type { ViewPainter } from './view-painter';

interface Props {
  readonly painter: ViewPainter;
  readonly camera: Camera;
  readonly width: number;
  readonly height: number;
  /** Left and top of the drawn picture inside the view. */
  readonly left: number;
  readonly top: number;
}

/** Handles of the chosen part for the tool in hand, and the readout while one is dragged. */
export function Handles({ painter, camera, width, height, left, top }: Props) {
  const session = useSession();
  const shot = useShot((state) => state.shot);
  const chosen = useChoice((state) => state.chosen);
  const tool = useViewSettings((state) => state.tool);
  const mode = useViewSettings((state) => state.axes);
  const locked = useViewSettings((state) => state.lockedAxes);
  useShot((state) => state.tick);
  const [shown, setShown] = useState<Shown | null>(null);
  /** What ends the drag that is going on: kept or put back. */
  const ending = useRef<((keep: boolean) => void) | null>(null);
  useEffect(() => () => ending.current?.(false), []);

  const id = chosen.at(-1);
  const part = id === undefined ? null : shot.parts[id];
  if (!part || id === undefined) return null;
  const frame = handleFrame(session.evaluator, id, part);
  const at = toPixel(frame.origin, camera, width, height);
  if (!at.ahead) return null;
  const kind: DragKind | null = tool === 'pick' || tool === 'measure' || tool === 'pin' ? null : tool;
  if (kind && standingOf(shot).locked.has(id))
    return (
      <Layer left={left} top={top} width={width} height={height}>
        <circle cx={at.x} cy={at.y} r="5" fill="none" stroke="var(--color-ink-3)" strokeWidth="2" />
      </Layer>
    );

  const begin = (event: ReactPointerEvent<SVGElement>, grip: Grip): void => {
    event.stopPropagation();
    if (event.button !== 0 || ending.current) return;
    const held = { ...grip, axes: grip.axes.filter((axis) => !locked.includes(axis)) };
    ending.current = beginHandle(
      { session, painter, camera, width, height, id, frame, mode, grip: held, show: setShown },
      event.currentTarget,
      event.nativeEvent,
      () => (ending.current = null),
    );
  };
  const grabbed = (grip: Grip): boolean =>
    shown !== null && shown.grip.kind === grip.kind && shown.grip.axes.join() === grip.axes.join();
  const linked = (grip: Grip): boolean =>
    grip.axes.some((axis) => linkOf(shot, channelOfGrip(id, grip.kind, axis)) !== null);
  const scene: HandleScene = {
    ...{ id, shot, painter, camera, frame, at, grabbed },
    evaluator: session.evaluator,
    dirs: directionsOf(session.evaluator, id, mode, kind ?? 'move', frame),
    size: unitsPerPixel(frame.origin, camera, width, height),
    free: AXES.filter((axis) => !locked.includes(axis)),
    pixel: (point) => toPixel(point, camera, width, height),
    handle: (grip, label, children) => (
      <g
        key={`${grip.kind}-${grip.axes.join('')}`}
        className="pointer-events-auto cursor-grab"
        opacity={linked(grip) ? 0.35 : shown && !grabbed(grip) ? 0.25 : 1}
        onPointerDown={(event) => begin(event, grip)}
        data-handle={`${grip.kind}-${grip.axes.join('')}`}
        role="button"
        aria-label={label}
      >
        {children}
      </g>
    ),
  };
  return (
    <Layer left={left} top={top} width={width} height={height}>
      {chosen.slice(0, -1).map((other) => {
        const entry = shot.parts[other];
        if (!entry) return null;
        const { origin } = handleFrame(session.evaluator, other, entry);
        return <Other key={other} at={toPixel(origin, camera, width, height)} />;
      })}
      {kind === null && (
        <circle cx={at.x} cy={at.y} r="4" fill="none" stroke="var(--color-teal)" strokeWidth="2" />
      )}
      {kind === 'move' && arrows(scene, 'move')}
      {kind === 'pivot' && arrows(scene, 'pivot')}
      {kind === 'turn' && rings(scene)}
      {kind === 'size' && posts(scene)}
      {shown && <Readout shown={shown} scene={scene} width={width} />}
    </Layer>
  );
}

/** Mark of a part that is chosen with the one that has the handles. */
function Other({ at }: { at: ReturnType<typeof toPixel> }) {
  if (!at.ahead) return null;
  return <circle cx={at.x} cy={at.y} r="3.5" fill="none" stroke="var(--color-teal)" strokeWidth="1.6" />;
}

function Layer(props: { left: number; top: number; width: number; height: number; children: ReactNode }) {
  return (
    <svg
      className="on-view pointer-events-none absolute"
      style={{ left: props.left, top: props.top }}
      width={props.width}
      height={props.height}
      data-testid="handles"
    >
      {props.children}
    </svg>
  );
}
