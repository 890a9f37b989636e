import { useEffect, useRef, useState, type PointerEvent as ReactPointerEvent, type ReactNode } from 'react';
import { Vector3, type Camera } from 'three';
import { toast } from 'sonner';
import { linkOf } from '../../../../core/document';
import { movePivot, standingOf } from '../../../../core/edit';
import { formatNumber } from '../../shared/format';
import { beginDrag } from '../../ui/drag';
import { keepPhases, phaseTargets, tryPhases } from '../links/phase-targets';
import { tellWarning } from '../parts/parts-actions';
import { stop } from '../actions/time';
import { preview, setChannels, snapshot } from '../actions/values';
import { useSession, useChoice, useShot, useViewSettings } from '../session';
import { directionsOf, PartDrag, type DragKind, type Grip } from './drag';
import { acrossAxis, AXES, edgeOn, handleFrame, toPixel, unitsPerPixel, type Axis } from './handle-geometry';
import { matricesOf } from './part-place';
import { boxPoints, nearestSnap, otherPoints, ownBox, partPoints, type SnapPoint } from './snap-points';
import type { ViewPainter } from './view-painter';

const ARM_PX = 86;
const RING_PX = 72;
const RING_STEPS = 72;
const PLANE_FROM = 0.3;
const PLANE_TO = 0.5;
const SNAP_PX = 12;
const MIDDLE_PX = 8;

interface Props {
  readonly painter: ViewPainter;
  readonly camera: Camera;
  readonly width: number;
  readonly height: number;
  /** Left and top of the drawn picture inside the view. */
  readonly left: number;
  readonly top: number;
}

interface Shown {
  readonly grip: Grip;
  readonly label: string;
  readonly x: number;
  readonly y: number;
  readonly typed: string;
  readonly reason: string | null;
  readonly snap: SnapPoint | null;
}

const colourOf = (axes: readonly Axis[]): string =>
  axes.length === 1 ? `var(--color-${axes[0]})` : 'var(--color-ink)';
const TYPED_LETTER = /^[0-9.,+\-*/() a-zA-Z°=]$/;

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
  const size = unitsPerPixel(frame.origin, camera, width, height);
  const pixel = (point: Vector3): { x: number; y: number } => toPixel(point, camera, width, height);
  const kind: DragKind | null = tool === 'pick' || tool === 'measure' ? null : tool;
  if (kind && standingOf(shot).locked.has(id))
    return (
      <Layer left={left} top={top} width={width} height={height}>
        <circle cx={at.x} cy={at.y} r="5" fill="none" stroke="var(--color-ink-3)" strokeWidth="2" />
      </Layer>
    );
  const dirs = directionsOf(session.evaluator, id, mode, kind ?? 'move', frame);

  const begin = (event: ReactPointerEvent<SVGElement>, grip: Grip): void => {
    event.stopPropagation();
    if (event.button !== 0 || ending.current) return;
    stop(session);
    const still = snapshot(session);
    const element = event.currentTarget;
    const box = element.ownerSVGElement!.getBoundingClientRect();
    const place = (e: { clientX: number; clientY: number }) => ({
      x: e.clientX - box.left,
      y: e.clientY - box.top,
    });
    const start = place(event);
    const held = { ...grip, axes: grip.axes.filter((axis) => !locked.includes(axis)) };
    // A part that turns by a link is turned by its phase.
    const turned = `${id}/rotation.${held.axes[0]}`;
    const phases =
      held.kind === 'turn' && mode === 'parent' && linkOf(shot, turned)
        ? phaseTargets(shot, chosen, turned)
        : new Map<string, number>();
    const byPhase = phases.has(turned);
    const drag = new PartDrag(
      shot,
      still,
      chosen,
      held,
      mode,
      frame,
      { camera, width, height },
      start.x,
      start.y,
    );
    const refusal = byPhase ? null : drag.refusal();
    if (refusal) {
      toast.error(refusal);
      return;
    }
    const channel = { move: 'location', turn: 'rotation', size: 'scale', pivot: 'pivot' }[held.kind];
    session.choice.showChannel(`${id}/${channel}.${held.axes[0]}`);
    const snaps = [
      ...(held.kind === 'pivot' ? partPoints(shot, still, painter.picture, id).slice(1) : []),
      ...(session.view.now.snap.points && (held.kind === 'move' || held.kind === 'pivot')
        ? otherPoints(shot, still, painter.picture, chosen)
        : []),
    ];
    let last = drag.to({ ...start, fine: false, grid: false, snap: null });
    let moved = false;
    let typed = '';
    let pointer = start;

    /** Degrees by which the phase is dragged. */
    const phaseBy = (): number => (last.values[turned] as number) - still.number(turned);
    const tryValues = (): void =>
      byPhase ? tryPhases(session, phases, phaseBy()) : preview(session, last.values);
    const show = (reason: string | null, snap: SnapPoint | null): void =>
      setShown({
        grip: held,
        label: byPhase ? `Phase ${formatNumber(phases.get(turned)! + phaseBy(), 1)}°` : last.label,
        ...pointer,
        typed,
        reason,
        snap,
      });
    const onMove = (next: PointerEvent): void => {
      pointer = place(next);
      if (typed !== '') return;
      moved = true;
      const snap = next.altKey
        ? null
        : nearestSnap(snaps, pointer.x, pointer.y, camera, width, height, SNAP_PX);
      last = drag.to({
        ...pointer,
        fine: next.shiftKey,
        grid: session.view.now.snap.grid !== next.ctrlKey,
        snap,
      });
      tryValues();
      show(null, snap);
    };
    const onKey = (event: KeyboardEvent): boolean => {
      if (event.key === 'Enter') {
        ending.current?.(true);
        return true;
      }
      if (event.key === 'Backspace') typed = typed.slice(0, -1);
      else if (TYPED_LETTER.test(event.key) && !event.ctrlKey && !event.metaKey) typed += event.key;
      else return false;
      if (typed === '') {
        show(null, null);
        return true;
      }
      const result = drag.typed(typed);
      if (result.ok) {
        last = result.dragged;
        moved = true;
        tryValues();
      }
      show(result.ok ? null : result.reason, null);
      return true;
    };
    const finish = (keep: boolean): void => {
      ending.current = null;
      setShown(null);
      const wrong = typed !== '' && !drag.typed(typed).ok;
      if (byPhase) {
        keepPhases(session, phases, keep && moved && !wrong ? phaseBy() : 0);
        return;
      }
      if (!keep || !moved || wrong) {
        preview(session, null);
        return;
      }
      if (held.kind === 'pivot') {
        preview(session, null);
        session.edit((now) => {
          const point = ['x', 'y', 'z'].map((axis) => last.values[`${id}/pivot.${axis}`] as number);
          const { change, warning } = movePivot(
            now,
            snapshot(session),
            id,
            point as [number, number, number],
          );
          tellWarning(warning, part.name);
          return change;
        });
      } else setChannels(session, Object.entries(last.values));
    };
    ending.current = beginDrag(element, event, { move: onMove, end: finish, key: onKey });
    show(null, null);
  };

  const dim = (grip: Grip): boolean => {
    const name = { move: 'location', turn: 'rotation', size: 'scale', pivot: 'pivot' }[grip.kind];
    return grip.axes.some((axis) => linkOf(shot, `${id}/${name}.${axis}`) !== null);
  };
  const grabbed = (grip: Grip): boolean =>
    shown !== null && shown.grip.kind === grip.kind && shown.grip.axes.join() === grip.axes.join();
  const handle = (grip: Grip, label: string, children: ReactNode): ReactNode => (
    <g
      key={`${grip.kind}-${grip.axes.join('')}`}
      className="pointer-events-auto cursor-grab"
      opacity={dim(grip) ? 0.35 : shown && !grabbed(grip) ? 0.25 : 1}
      onPointerDown={(event) => begin(event, grip)}
      data-handle={`${grip.kind}-${grip.axes.join('')}`}
      role="button"
      aria-label={label}
    >
      {children}
    </g>
  );
  const free = AXES.filter((axis) => !locked.includes(axis));
  const tipOf = (axis: Axis): Vector3 => frame.origin.clone().addScaledVector(dirs[axis], size * ARM_PX);

  const arrows = (which: 'move' | 'pivot'): ReactNode[] => [
    ...free.map((axis) => {
      const tip = pixel(tipOf(axis));
      const length = Math.hypot(tip.x - at.x, tip.y - at.y);
      if (length < 8) return null;
      const [ux, uy] = [(tip.x - at.x) / length, (tip.y - at.y) / length];
      const [nx, ny] = [-uy, ux];
      const tail = [at.x - ux * 12, at.y - uy * 12] as const;
      const line = { x1: tail[0], y1: tail[1], x2: tip.x, y2: tip.y };
      return handle(
        { kind: which, axes: [axis] },
        `${which === 'move' ? 'Move' : 'Move the pivot'} along ${axis}`,
        <>
          <line {...line} stroke="transparent" strokeWidth="16" />
          <line {...line} stroke="var(--color-halo)" strokeWidth="5" opacity="0.55" />
          <line
            {...line}
            stroke={colourOf([axis])}
            strokeWidth="2.5"
            strokeDasharray={which === 'pivot' ? '5 3' : undefined}
          />
          <line
            x1={tail[0] + nx * 6}
            y1={tail[1] + ny * 6}
            x2={tail[0] - nx * 6}
            y2={tail[1] - ny * 6}
            stroke={colourOf([axis])}
            strokeWidth="3"
          />
          <path
            d={`M${tip.x + ux * 12} ${tip.y + uy * 12}L${tip.x + nx * 6} ${tip.y + ny * 6}L${tip.x - nx * 6} ${tip.y - ny * 6}z`}
            fill={colourOf([axis])}
            stroke="var(--color-halo)"
            strokeWidth="0.8"
          />
        </>,
      );
    }),
    ...free.flatMap((axis, i) => {
      const other = free[(i + 1) % free.length];
      if (other === undefined || other === axis || (free.length === 2 && i === 1)) return [];
      const corner = (a: number, b: number): { x: number; y: number } =>
        pixel(
          frame.origin
            .clone()
            .addScaledVector(dirs[axis], size * ARM_PX * a)
            .addScaledVector(dirs[other], size * ARM_PX * b),
        );
      const corners = [
        corner(PLANE_FROM, PLANE_FROM),
        corner(PLANE_TO, PLANE_FROM),
        corner(PLANE_TO, PLANE_TO),
        corner(PLANE_FROM, PLANE_TO),
      ];
      const normal = dirs[axis].clone().cross(dirs[other]);
      if (edgeOn(normal.normalize(), frame.origin, camera)) return [];
      const third = AXES.find((entry) => entry !== axis && entry !== other)!;
      return handle(
        { kind: which, axes: [axis, other] },
        `${which === 'move' ? 'Move' : 'Move the pivot'} across ${third}`,
        <polygon
          points={corners.map(({ x, y }) => `${x.toFixed(1)},${y.toFixed(1)}`).join(' ')}
          fill={`var(--color-${third})`}
          fillOpacity="0.35"
          stroke={`var(--color-${third})`}
          strokeWidth="1.4"
        />,
      );
    }),
    free.length === 3
      ? handle(
          { kind: which, axes: AXES },
          `${which === 'move' ? 'Move' : 'Move the pivot'} freely`,
          <>
            <circle cx={at.x} cy={at.y} r={MIDDLE_PX + 4} fill="transparent" />
            <circle
              cx={at.x}
              cy={at.y}
              r={MIDDLE_PX}
              fill="var(--color-halo)"
              fillOpacity="0.5"
              stroke="var(--color-ink)"
              strokeWidth="1.5"
            />
            {which === 'pivot' && <circle cx={at.x} cy={at.y} r="2.5" fill="var(--color-ink)" />}
          </>,
        )
      : null,
  ];

  const rings = (): ReactNode[] =>
    free.map((axis) => {
      // Seen edge-on a ring cannot be dragged about.
      if (edgeOn(dirs[axis], frame.origin, camera)) return null;
      const { u, v } = acrossAxis(dirs[axis]);
      const point = (degrees: number, radius: number): { x: number; y: number } => {
        const a = (degrees * Math.PI) / 180;
        return pixel(
          frame.origin
            .clone()
            .addScaledVector(u, Math.cos(a) * size * radius)
            .addScaledVector(v, Math.sin(a) * size * radius),
        );
      };
      const ring = Array.from({ length: RING_STEPS + 1 }, (_, i) => point((i * 360) / RING_STEPS, RING_PX));
      const path = `M${ring.map((p) => `${p.x.toFixed(1)} ${p.y.toFixed(1)}`).join('L')}`;
      const ticks = Array.from(
        { length: 24 },
        (_, i) => [point(i * 15, RING_PX), point(i * 15, RING_PX + (i % 6 === 0 ? 9 : 5))] as const,
      );
      const grip: Grip = { kind: 'turn', axes: [axis] };
      return handle(
        grip,
        `Turn about ${axis}`,
        <>
          <path d={path} fill="none" stroke="transparent" strokeWidth="14" />
          <path d={path} fill="none" stroke="var(--color-halo)" strokeWidth="4" opacity="0.5" />
          <path d={path} fill="none" stroke={colourOf([axis])} strokeWidth={grabbed(grip) ? 3.5 : 2.2} />
          {ticks.map(([a, b], i) => (
            <line key={i} x1={a.x} y1={a.y} x2={b.x} y2={b.y} stroke={colourOf([axis])} strokeWidth="1.2" />
          ))}
        </>,
      );
    });

  /** Posts on the faces for one axis, on the corners for all. */
  const posts = (): ReactNode[] => {
    const box = ownBox(shot, painter.picture, id);
    const { world } = matricesOf(session.evaluator, id);
    const faces = free.map((axis) => {
      const face =
        box &&
        boxPoints(box).find(
          ({ point, kind: what }) => what === 'face middle' && point[axis] === box.max[axis],
        );
      const far = face?.point.applyMatrix4(world).sub(frame.origin) ?? null;
      const reach = far ? Math.max(far.length(), size * 34) : size * ARM_PX;
      const end = pixel(frame.origin.clone().addScaledVector(dirs[axis], reach));
      if (Math.hypot(end.x - at.x, end.y - at.y) < 10) return null;
      return handle(
        { kind: 'size', axes: [axis] },
        `Size along ${axis}`,
        <>
          <line
            x1={at.x}
            y1={at.y}
            x2={end.x}
            y2={end.y}
            stroke={colourOf([axis])}
            strokeWidth="1.6"
            strokeDasharray="2 3"
          />
          <circle cx={end.x} cy={end.y} r="11" fill="transparent" />
          <rect
            x={end.x - 4}
            y={end.y - 7}
            width="8"
            height="14"
            rx="2"
            fill={colourOf([axis])}
            stroke="var(--color-halo)"
          />
        </>,
      );
    });
    if (free.length < 3) return faces;
    const corners = box
      ? boxPoints(box)
          .filter(({ kind: what }) => what === 'corner')
          .map(({ point }) => pixel(point.applyMatrix4(world)))
      : [pixel(frame.origin.clone().add(new Vector3(1, 1, 1).multiplyScalar(size * 40)))];
    return [
      ...faces,
      handle(
        { kind: 'size', axes: AXES },
        'Size all ways',
        corners.map((corner, i) => (
          <g key={i}>
            <circle cx={corner.x} cy={corner.y} r="10" fill="transparent" />
            <path
              d={`M${corner.x - 5} ${corner.y + 5}h10v-10`}
              fill="none"
              stroke="var(--color-halo)"
              strokeWidth="4"
              opacity="0.7"
            />
            <path
              d={`M${corner.x - 5} ${corner.y + 5}h10v-10`}
              fill="none"
              stroke="var(--color-teal)"
              strokeWidth="2.2"
            />
          </g>
        )),
      ),
    ];
  };

  const others = chosen.slice(0, -1).flatMap((other) => {
    const entry = shot.parts[other];
    if (!entry) return [];
    const spot = toPixel(handleFrame(session.evaluator, other, entry).origin, camera, width, height);
    return spot.ahead
      ? [
          <circle
            key={other}
            cx={spot.x}
            cy={spot.y}
            r="3.5"
            fill="none"
            stroke="var(--color-teal)"
            strokeWidth="1.6"
          />,
        ]
      : [];
  });
  const readout = shown && (shown.typed === '' ? shown.label : `${shown.typed}▏`);
  const spot = shown?.snap ? pixel(shown.snap.point) : null;
  return (
    <Layer left={left} top={top} width={width} height={height}>
      {others}
      {kind === null && (
        <circle cx={at.x} cy={at.y} r="4" fill="none" stroke="var(--color-teal)" strokeWidth="2" />
      )}
      {kind === 'move' && arrows('move')}
      {kind === 'pivot' && arrows('pivot')}
      {kind === 'turn' && rings()}
      {kind === 'size' && posts()}
      {spot && shown?.snap && (
        <g>
          <rect
            x={spot.x - 5}
            y={spot.y - 5}
            width="10"
            height="10"
            fill="none"
            stroke="var(--color-now)"
            strokeWidth="2"
          />
          <text x={spot.x + 9} y={spot.y + 16} className="num" fill="var(--color-now)" fontWeight="600">
            {shown.snap.kind} of {shot.parts[shown.snap.part]?.name}
          </text>
        </g>
      )}
      {shown && readout !== null && (
        <g
          transform={`translate(${Math.max(0, Math.min(width - readout.length * 7.4 - 18, shown.x + 16))} ${Math.max(20, shown.y - 26)})`}
        >
          <rect
            width={readout.length * 7.4 + 18}
            height="21"
            rx="5"
            fill={shown.reason ? 'var(--color-now)' : colourOf(shown.grip.axes)}
          />
          <text
            x="9"
            y="14.5"
            fill="var(--color-halo)"
            className="num"
            fontWeight="600"
            data-testid="drag-readout"
          >
            {readout}
          </text>
          {shown.reason && (
            <text x="9" y="36" className="num" fill="var(--color-now)" role="alert">
              {shown.reason}
            </text>
          )}
        </g>
      )}
    </Layer>
  );
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
