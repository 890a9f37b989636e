import { Vector3, type Camera } from 'three';
import type { ReactNode } from 'react';
import type { Shot } from '../../../../core/document';
import type { Evaluator } from '../../../../core/evaluate';
import type { Grip } from './drag';
import type { Shown } from './handle-gesture';
import { acrossAxis, AXES, edgeOn, type Axis, type HandleFrame } from './handle-geometry';
import { matricesOf } from './part-place';
import { boxPoints, ownBox } from './snap-points';
import type { ViewPainter } from './view-painter';

const ARM_PX = 86;
const RING_PX = 72;
const RING_STEPS = 72;
const PLANE_FROM = 0.3;
const PLANE_TO = 0.5;
const MIDDLE_PX = 8;

/** What handles are drawn with. */
export interface HandleScene {
  readonly id: string;
  readonly shot: Shot;
  readonly evaluator: Evaluator;
  readonly painter: ViewPainter;
  readonly camera: Camera;
  readonly frame: HandleFrame;
  /** Directions of the axes in the world. */
  readonly dirs: Readonly<Record<Axis, Vector3>>;
  /** Where the handles stand, in pixels of the drawn picture. */
  readonly at: Place;
  /** Metres that a pixel is there. */
  readonly size: number;
  /** Axes that are not locked. */
  readonly free: readonly Axis[];
  pixel(point: Vector3): Place;
  /** Something to be grasped. */
  handle(grip: Grip, label: string, children: ReactNode): ReactNode;
  grabbed(grip: Grip): boolean;
}

export interface Place {
  readonly x: number;
  readonly y: number;
}

export const colourOf = (axes: readonly Axis[]): string =>
  axes.length === 1 ? `var(--color-${axes[0]})` : 'var(--color-ink)';

/** Arrows along the axes, squares across them, and the middle: for the part or its pivot. */
export function arrows(scene: HandleScene, which: 'move' | 'pivot'): ReactNode[] {
  const { free } = scene;
  return [
    ...free.map((axis) => arrow(scene, which, axis)),
    ...free.map((axis, i) => {
      const other = free[(i + 1) % free.length];
      if (other === undefined || other === axis || (free.length === 2 && i === 1)) return null;
      return square(scene, which, axis, other);
    }),
    free.length === 3 ? middle(scene, which) : null,
  ];
}

function arrow(scene: HandleScene, which: 'move' | 'pivot', axis: Axis): ReactNode {
  const { at, frame, dirs, size, pixel, handle } = scene;

  const tip = pixel(frame.origin.clone().addScaledVector(dirs[axis], size * ARM_PX));
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
}

function square(scene: HandleScene, which: 'move' | 'pivot', axis: Axis, other: Axis): ReactNode {
  const { frame, dirs, size, camera, pixel, handle } = scene;
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
  if (edgeOn(normal.normalize(), frame.origin, camera)) return null;
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
}

function middle({ at, handle }: HandleScene, which: 'move' | 'pivot'): ReactNode {
  return handle(
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
  );
}

/** Rings about the axes. */
export function rings(scene: HandleScene): ReactNode[] {
  return scene.free.map((axis) => ring(scene, axis));
}

function ring(scene: HandleScene, axis: Axis): ReactNode {
  const { frame, dirs, size, camera, pixel, handle, grabbed } = scene;

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
  const points = Array.from({ length: RING_STEPS + 1 }, (_, i) => point((i * 360) / RING_STEPS, RING_PX));
  const path = `M${points.map((p) => `${p.x.toFixed(1)} ${p.y.toFixed(1)}`).join('L')}`;
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
}

/** Posts on the faces for one axis, on the corners for all. */
export function posts(scene: HandleScene): ReactNode[] {
  const { shot, painter, id, evaluator, free, frame, size, pixel, handle } = scene;
  const box = ownBox(shot, painter.picture, id);
  const { world } = matricesOf(evaluator, id);
  const faces = free.map((axis) => post(scene, axis, box, world));
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
}

function post(
  scene: HandleScene,
  axis: Axis,
  box: ReturnType<typeof ownBox>,
  world: ReturnType<typeof matricesOf>['world'],
): ReactNode {
  const { at, frame, dirs, size, pixel, handle } = scene;

  const face =
    box &&
    boxPoints(box).find(({ point, kind: what }) => what === 'face middle' && point[axis] === box.max[axis]);
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
}

/** What a drag gives, beside the pointer, and the point that it has caught. */
export function Readout({ shown, scene, width }: { shown: Shown; scene: HandleScene; width: number }) {
  const readout = shown.typed === '' ? shown.label : `${shown.typed}▏`;
  const spot = shown.snap ? scene.pixel(shown.snap.point) : null;
  return (
    <>
      {spot && shown.snap && (
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
            {shown.snap.kind} of {scene.shot.parts[shown.snap.part]?.name}
          </text>
        </g>
      )}
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
    </>
  );
}
