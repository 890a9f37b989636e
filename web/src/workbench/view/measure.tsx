import { useState } from 'react';
import type { Vector3 } from 'three';
import { type Camera } from 'three';
import { METRES_PER_UNIT } from '../../../../core/formula';
import { formatNumber } from '../../shared/format';
import { useSession, useShot } from '../session';
import { toPixel } from './handle-geometry';
import { factsOf, type Pick } from './measure-facts';
import { nearestSnap, otherPoints, POINT_REACH_PX } from './snap-points';
import { useEscape } from './use-escape';
import type { ViewPainter } from './view-painter';

interface Props {
  readonly painter: ViewPainter;
  readonly camera: Camera;
  readonly width: number;
  readonly height: number;
  readonly left: number;
  readonly top: number;
}

/** Distance and angle between two points picked on things: corners, edge middles, pivots, or any place of a surface. */
export function Measure({ painter, camera, width, height, left, top }: Props) {
  const session = useSession();
  useShot((state) => state.tick);
  const unit = useShot((state) => state.shot.setup.unit);
  const [picks, setPicks] = useState<readonly Pick[]>([]);
  const [over, setOver] = useState<Pick | null>(null);
  useEscape(picks.length > 0, () => setPicks([]));

  const pickAt = (x: number, y: number): Pick | null => {
    const { shot } = session;
    const surface = painter.surface(x + left, y + top);
    const snap = nearestSnap(
      otherPoints(shot, session.evaluator, painter.picture, []),
      x,
      y,
      camera,
      width,
      height,
      POINT_REACH_PX,
    );
    if (snap)
      return {
        point: snap.point,
        normal: surface?.normal ?? null,
        what: `${snap.kind} of ${shot.parts[snap.part]!.name}`,
      };
    return (
      surface && {
        point: surface.point,
        normal: surface.normal,
        what: `on ${shot.parts[surface.part]!.name}`,
      }
    );
  };
  const place = (event: React.PointerEvent<SVGElement>): { x: number; y: number } => {
    const box = event.currentTarget.getBoundingClientRect();
    return { x: event.clientX - box.left, y: event.clientY - box.top };
  };
  const [a, b] = picks;
  const shown = b ?? (a ? over : null);
  const pixel = (point: Vector3): { x: number; y: number } => toPixel(point, camera, width, height);
  const length = (metres: number): string => `${formatNumber(metres / METRES_PER_UNIT[unit], 3)} ${unit}`;
  const facts = a && shown ? factsOf(a, shown) : null;
  return (
    <>
      <svg
        className="on-view pointer-events-auto absolute cursor-crosshair"
        style={{ left, top }}
        width={width}
        height={height}
        data-testid="measure"
        onPointerMove={(event) => {
          const { x, y } = place(event);
          setOver(pickAt(x, y));
        }}
        onPointerDown={(event) => {
          if (event.button !== 0) return;
          const { x, y } = place(event);
          const pick = pickAt(x, y);
          if (pick) setPicks(picks.length === 1 ? [picks[0]!, pick] : [pick]);
        }}
      >
        {a && shown && (
          <line
            x1={pixel(a.point).x}
            y1={pixel(a.point).y}
            x2={pixel(shown.point).x}
            y2={pixel(shown.point).y}
            stroke="var(--color-ink)"
            strokeWidth="1.8"
            strokeDasharray="6 3"
          />
        )}
        {[a, b ?? over].map((pick, i) => {
          if (!pick) return null;
          const { x, y } = pixel(pick.point);
          return (
            <g key={i} stroke="var(--color-ink)" strokeWidth="1.6" fill="none">
              <circle cx={x} cy={y} r="5" fill="var(--color-halo)" fillOpacity="0.7" />
              <path d={`M${x - 9} ${y}h5M${x + 4} ${y}h5M${x} ${y - 9}v5M${x} ${y + 4}v5`} />
            </g>
          );
        })}
      </svg>
      <div
        role="status"
        className="pointer-events-none absolute left-1/2 top-11 -translate-x-1/2 rounded-md bg-strip px-3 py-1.5 text-paper shadow-lg"
        data-testid="measured"
      >
        {facts ? (
          <span className="num whitespace-nowrap">
            <b>{length(facts.distance)}</b> x {length(facts.way.x)} y {length(facts.way.y)} z{' '}
            {length(facts.way.z)}
            {facts.angle !== null && <> · faces {formatNumber(facts.angle, 2)}° apart</>} · slope{' '}
            {formatNumber(facts.slope, 2)}°
          </span>
        ) : (
          <span>
            {a
              ? `From the ${a.what}: pick the second point`
              : 'Pick two points: corners and edge middles are caught'}
            {!a && over && <span className="text-night-ink-3"> · {over.what}</span>}
          </span>
        )}
      </div>
    </>
  );
}
