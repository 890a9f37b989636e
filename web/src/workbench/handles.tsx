import { useEffect, useRef, useState } from 'react';
import { Vector3, type Camera } from 'three';
import { linkOf, trackOf } from '../../../core/document';
import { sample } from '../../../core/evaluate';
import { METRES_PER_UNIT } from '../../../core/formula';
import { formatNumber } from '../shared/format';
import {
  acrossAxis,
  alongLine,
  edgeOn,
  angleAbout,
  AXES,
  handleFrame,
  rayAt,
  toPixel,
  unitsPerPixel,
  type Axis,
} from './handle-geometry';
import { useSession, useSessionState } from './session';

const ARM_PX = 86;
const RING_PX = 72;
const RING_STEPS = 72;
const FINER = 0.1;
const SNAP_TURN = 15;
const SNAP_MOVE = 0.1;

interface Props {
  readonly camera: Camera;
  readonly width: number;
  readonly height: number;
  /** Left and top of the drawn picture inside the view. */
  readonly left: number;
  readonly top: number;
}

interface Drag {
  readonly axis: Axis;
  readonly address: string;
  readonly start: number;
  readonly label: string;
  readonly x: number;
  readonly y: number;
  value: number;
}

/** Arrows and protractor rings of the chosen part, its trail, and the readout while one is dragged. */
export function Handles({ camera, width, height, left, top }: Props) {
  const session = useSession();
  const id = useSessionState((state) => state.chosen.at(-1) ?? null);
  const tool = useSessionState((state) => state.tool);
  const trail = useSessionState((state) => state.trail);
  const locked = useSessionState((state) => state.lockedAxes);
  useSessionState((state) => state.tick);
  const [drag, setDrag] = useState<Drag | null>(null);
  const current = useRef<Drag | null>(null);
  current.current = drag;
  const cancelled = useRef(false);

  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      if (event.key !== 'Escape' || !current.current) return;
      cancelled.current = true;
      session.preview(null);
      setDrag(null);
    };
    window.addEventListener('keydown', onKey, true);
    return () => window.removeEventListener('keydown', onKey, true);
  }, [session]);

  const part = id === null ? null : session.state.shot.parts[id];
  if (!part || id === null) return null;
  const frame = handleFrame(session.evaluator, id, part);
  const at = toPixel(frame.origin, camera, width, height);
  if (!at.ahead) return null;
  const size = unitsPerPixel(frame.origin, camera, width, height);
  const pixel = (point: Vector3): { x: number; y: number } => toPixel(point, camera, width, height);

  const begin = (event: React.PointerEvent<SVGElement>, axis: Axis, kind: 'move' | 'turn'): void => {
    event.stopPropagation();
    if (event.button !== 0) return;
    const address = `${id}/${kind === 'move' ? 'location' : 'rotation'}.${axis}`;
    if (linkOf(session.state.shot, address)) {
      session.setChannels([[address, session.evaluator.number(address)]]);
      return;
    }
    session.stop();
    session.store.setState({ channel: address });
    event.currentTarget.setPointerCapture(event.pointerId);
    cancelled.current = false;
    const box = event.currentTarget.ownerSVGElement!.getBoundingClientRect();
    const ray = (x: number, y: number) => rayAt(x - box.left, y - box.top, camera, width, height);
    const start = session.evaluator.number(address);
    const measure = (x: number, y: number): number | null =>
      kind === 'move'
        ? alongLine(ray(x, y), frame.origin, frame.move[axis])
        : angleAbout(ray(x, y), frame.origin, frame.turn[axis]);
    let before = measure(event.clientX, event.clientY);
    let gone = 0;
    const target = event.currentTarget;
    const move = (next: PointerEvent): void => {
      if (cancelled.current) return;
      const now = measure(next.clientX, next.clientY);
      if (now !== null && before !== null) {
        let step = now - before;
        // A turn goes the short way from one move of the pointer to the next, and so counts whole turns.
        if (kind === 'turn') step -= 360 * Math.round(step / 360);
        gone += step * (next.shiftKey ? FINER : 1);
      }
      before = now ?? before;
      const grid = kind === 'turn' ? SNAP_TURN : SNAP_MOVE * METRES_PER_UNIT[session.state.shot.setup.unit];
      const raw = start + gone;
      const value = next.ctrlKey
        ? Math.round(raw / grid) * grid
        : Number(raw.toFixed(kind === 'turn' ? 3 : 5));
      session.preview({ [address]: value });
      setDrag({
        axis,
        address,
        start,
        value,
        label:
          kind === 'turn' ? turnLabel(value - start) : moveLabel(axis, value, session.state.shot.setup.unit),
        x: next.clientX - box.left,
        y: next.clientY - box.top,
      });
    };
    const end = (): void => {
      target.removeEventListener('pointermove', move);
      target.removeEventListener('pointerup', end);
      target.removeEventListener('pointercancel', end);
      const last = current.current;
      setDrag(null);
      if (cancelled.current || !last) session.preview(null);
      else session.setChannels([[last.address, last.value]]);
    };
    target.addEventListener('pointermove', move);
    target.addEventListener('pointerup', end);
    target.addEventListener('pointercancel', end);
  };

  const colour = (axis: Axis): string => `var(--color-${axis})`;
  const dim = (kind: 'location' | 'rotation', axis: Axis): boolean =>
    linkOf(session.state.shot, `${id}/${kind}.${axis}`) !== null;

  return (
    <svg
      className="pointer-events-none absolute"
      style={{ left, top }}
      width={width}
      height={height}
      data-testid="handles"
    >
      {trail && <Trail camera={camera} width={width} height={height} id={id} />}
      {tool === 'pick' && (
        <circle cx={at.x} cy={at.y} r="4" fill="none" stroke="var(--color-teal)" strokeWidth="2" />
      )}
      {tool === 'move' &&
        AXES.filter((axis) => !locked.includes(axis)).map((axis) => {
          const tip = pixel(frame.origin.clone().addScaledVector(frame.move[axis], size * ARM_PX));
          const length = Math.hypot(tip.x - at.x, tip.y - at.y);
          if (length < 8) return null;
          const [ux, uy] = [(tip.x - at.x) / length, (tip.y - at.y) / length];
          const [nx, ny] = [-uy, ux];
          const tail = [at.x - ux * 12, at.y - uy * 12] as const;
          return (
            <g
              key={axis}
              className="pointer-events-auto cursor-grab"
              opacity={dim('location', axis) ? 0.35 : 1}
              onPointerDown={(event) => begin(event, axis, 'move')}
              data-handle={`move-${axis}`}
              role="button"
              aria-label={`Move along ${axis}`}
            >
              <line x1={tail[0]} y1={tail[1]} x2={tip.x} y2={tip.y} stroke="transparent" strokeWidth="16" />
              <line
                x1={tail[0]}
                y1={tail[1]}
                x2={tip.x}
                y2={tip.y}
                stroke="#fff"
                strokeWidth="5"
                opacity="0.55"
              />
              <line x1={tail[0]} y1={tail[1]} x2={tip.x} y2={tip.y} stroke={colour(axis)} strokeWidth="2.5" />
              <line
                x1={tail[0] + nx * 6}
                y1={tail[1] + ny * 6}
                x2={tail[0] - nx * 6}
                y2={tail[1] - ny * 6}
                stroke={colour(axis)}
                strokeWidth="3"
              />
              <path
                d={`M${tip.x + ux * 12} ${tip.y + uy * 12}L${tip.x + nx * 6} ${tip.y + ny * 6}L${tip.x - nx * 6} ${tip.y - ny * 6}z`}
                fill={colour(axis)}
                stroke="#fff"
                strokeWidth="0.8"
              />
            </g>
          );
        })}
      {tool === 'turn' &&
        AXES.filter((axis) => !locked.includes(axis)).map((axis) => {
          // Seen edge-on a ring cannot be dragged about.
          if (edgeOn(frame.turn[axis], frame.origin, camera)) return null;
          const { u, v } = acrossAxis(frame.turn[axis]);
          const point = (degrees: number, radius: number): { x: number; y: number } => {
            const a = (degrees * Math.PI) / 180;
            return pixel(
              frame.origin
                .clone()
                .addScaledVector(u, Math.cos(a) * size * radius)
                .addScaledVector(v, Math.sin(a) * size * radius),
            );
          };
          const ring = Array.from({ length: RING_STEPS + 1 }, (_, i) =>
            point((i * 360) / RING_STEPS, RING_PX),
          );
          const path = `M${ring.map((p) => `${p.x.toFixed(1)} ${p.y.toFixed(1)}`).join('L')}`;
          const ticks = Array.from(
            { length: 24 },
            (_, i) => [point(i * 15, RING_PX), point(i * 15, RING_PX + (i % 6 === 0 ? 9 : 5))] as const,
          );
          return (
            <g
              key={axis}
              className="pointer-events-auto cursor-grab"
              opacity={dim('rotation', axis) ? 0.35 : 1}
              onPointerDown={(event) => begin(event, axis, 'turn')}
              data-handle={`turn-${axis}`}
              role="button"
              aria-label={`Turn about ${axis}`}
            >
              <path d={path} fill="none" stroke="transparent" strokeWidth="14" />
              <path d={path} fill="none" stroke="#fff" strokeWidth="4" opacity="0.5" />
              <path
                d={path}
                fill="none"
                stroke={colour(axis)}
                strokeWidth={drag?.axis === axis ? 3.5 : 2.2}
              />
              {ticks.map(([a, b], i) => (
                <line key={i} x1={a.x} y1={a.y} x2={b.x} y2={b.y} stroke={colour(axis)} strokeWidth="1.2" />
              ))}
            </g>
          );
        })}
      {drag && (
        <g transform={`translate(${Math.min(width - 130, drag.x + 16)} ${Math.max(20, drag.y - 26)})`}>
          <rect width={drag.label.length * 7.4 + 18} height="21" rx="5" fill={colour(drag.axis)} />
          <text x="9" y="14.5" fill="#fff" className="num" fontWeight="600" data-testid="drag-readout">
            {drag.label}
          </text>
        </g>
      )}
    </svg>
  );
}

function turnLabel(by: number): string {
  const turns = Math.trunc(by / 360);
  const rest = by - turns * 360;
  const sign = by < 0 ? '−' : '+';
  const whole = turns === 0 ? '' : `${Math.abs(turns)} ${Math.abs(turns) === 1 ? 'turn' : 'turns'} `;
  return `${sign}${whole}${formatNumber(Math.abs(rest), 1)}°`;
}

function moveLabel(axis: Axis, value: number, unit: keyof typeof METRES_PER_UNIT): string {
  return `${axis.toUpperCase()} ${formatNumber(value / METRES_PER_UNIT[unit], 3)} ${unit}`;
}

/** Where the part's pivot goes over the range: a dot for every frame, a larger one at each key. */
function Trail({ camera, width, height, id }: { camera: Camera; width: number; height: number; id: string }) {
  const session = useSession();
  const plan = useSessionState((state) => state.plan);
  const now = useSessionState((state) => state.frame);
  const { first, last } = plan.shot.setup;
  const pivot = ['x', 'y', 'z'].map((axis) => session.evaluator.number(`${id}/pivot.${axis}`)) as [
    number,
    number,
    number,
  ];
  const { values, frames } = sample(plan, [`${id}/world`], first, Math.min(last, first + 2000));
  const keyed = new Set(
    AXES.flatMap((axis) =>
      ['location', 'rotation'].flatMap((name) =>
        Object.values(trackOf(plan.shot, `${id}/${name}.${axis}`)?.keys ?? {}).map((key) => key.frame),
      ),
    ),
  );
  const points = Array.from(frames, (frame, i) => {
    const m = values.subarray(i * 16, i * 16 + 16);
    const point = new Vector3(
      ...([0, 4, 8].map(
        (row) => m[row]! * pivot[0] + m[row + 1]! * pivot[1] + m[row + 2]! * pivot[2] + m[row + 3]!,
      ) as [number, number, number]),
    );
    return { frame, ...toPixel(point, camera, width, height) };
  }).filter((point) => point.ahead);
  return (
    <g aria-hidden="true">
      <polyline
        points={points.map((point) => `${point.x.toFixed(1)},${point.y.toFixed(1)}`).join(' ')}
        fill="none"
        stroke="var(--color-teal)"
        strokeWidth="1.2"
        opacity="0.7"
      />
      {points.map((point) => (
        <circle
          key={point.frame}
          cx={point.x}
          cy={point.y}
          r={keyed.has(point.frame) ? 4 : 1.7}
          fill={
            point.frame === now
              ? 'var(--color-now)'
              : keyed.has(point.frame)
                ? 'var(--color-key)'
                : 'var(--color-teal)'
          }
          stroke="#fff"
          strokeWidth={keyed.has(point.frame) ? 1 : 0}
        />
      ))}
    </g>
  );
}
