import type { Camera, Vector3 } from 'three';
import { useChoice, useSession, useShot } from '../session';
import { toPixel } from './handle-geometry';
import { jointArcs } from './joint-arc';
import type { Area } from './view-size';

/** How far the joints of the chosen parts turn: an arc for each axis, and where the arm is on it. */
export function JointArcs({ camera, width, height, left, top }: Area & { readonly camera: Camera }) {
  const session = useSession();
  const shot = useShot((state) => state.shot);
  const chosen = useChoice((state) => state.chosen);
  useShot((state) => state.tick);
  const arcs = chosen.flatMap((id) => jointArcs(shot, session.evaluator, id));
  if (arcs.length === 0) return null;
  const pixel = (point: Vector3): string | null => {
    const { x, y, ahead } = toPixel(point, camera, width, height);
    return ahead ? `${x.toFixed(1)},${y.toFixed(1)}` : null;
  };
  return (
    <svg
      className="on-view pointer-events-none absolute"
      style={{ left, top }}
      width={width}
      height={height}
      role="img"
      aria-label="Limits of the joint"
      data-testid="joint-arcs"
    >
      {arcs.map(({ axis, pivot, points, now, within }, i) => {
        const [middle, end, ...corners] = [pivot, now, ...points].map(pixel);
        if (!middle || !end || corners.some((corner) => corner === null)) return null;
        const ink = within ? `var(--color-${axis})` : 'var(--color-now)';
        return (
          <g key={i} data-axis={axis} data-within={within}>
            <path
              d={`M${middle}L${corners.join('L')}ZM${middle}L${end}`}
              fill="none"
              stroke="var(--color-halo)"
              strokeOpacity="0.75"
              strokeWidth="5"
              strokeLinejoin="round"
            />
            <path
              d={`M${middle}L${corners.join('L')}Z`}
              fill={ink}
              fillOpacity="0.2"
              stroke={ink}
              strokeOpacity="0.8"
              strokeWidth="1.5"
              strokeLinejoin="round"
            />
            <path d={`M${middle}L${end}`} stroke={ink} strokeWidth="3" strokeLinecap="round" />
          </g>
        );
      })}
    </svg>
  );
}
