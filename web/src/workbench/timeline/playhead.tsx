import { useTime } from '../session';
import type { TimeScale } from './time-scale';

/** The line at the current frame, with its number in the ruler. */
export function Playhead({
  scale,
  left,
  width,
  height,
}: {
  scale: TimeScale;
  left: number;
  width: number;
  height: number;
}) {
  const frame = useTime((state) => state.frame);
  const text = String(Math.round(frame * 100) / 100);
  const half = Math.max(15, text.length * 3.3 + 6);
  return (
    <div
      className="pointer-events-none absolute top-0 overflow-hidden"
      style={{ left, width, height }}
      aria-hidden="true"
    >
      <div
        className="absolute left-0 top-0 h-full will-change-transform"
        style={{ transform: `translateX(${scale.x(frame)}px)` }}
        data-testid="playhead"
      >
        <i className="absolute -left-px top-0 h-full w-[1.5px] bg-now" />
        <svg className="absolute top-3" style={{ left: -half }} width={half * 2} height="20">
          <path d={`M0 0H${half * 2}V13L${half} 20L0 13Z`} className="fill-now" />
          <text x={half} y="11" textAnchor="middle" className="num fill-on-now text-[11px] font-bold">
            {text}
          </text>
        </svg>
      </div>
    </div>
  );
}
