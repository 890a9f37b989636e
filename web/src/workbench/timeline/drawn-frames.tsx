import { useTime } from '../session';
import type { TimeScale } from './time-scale';

/** Height of the bar at the foot of the ruler. */
const BAR = 3;

/** Frames whose pictures are there already, as a bar in the ruler: they play without being drawn. */
export function DrawnFrames({
  scale,
  left,
  width,
  ruler,
}: {
  scale: TimeScale;
  left: number;
  width: number;
  /** Height of the ruler. */
  ruler: number;
}) {
  const drawn = useTime((state) => state.drawn);
  if (drawn.length === 0) return null;
  const count = drawn.reduce((sum, { from, to }) => sum + to - from + 1, 0);
  return (
    <div
      className="pointer-events-none absolute overflow-hidden"
      style={{ left, width, top: ruler - BAR, height: BAR }}
      role="img"
      aria-label={`${count} ${count === 1 ? 'frame is' : 'frames are'} drawn ahead`}
      data-testid="drawn-frames"
    >
      {drawn.map(({ from, to }) => (
        <i
          key={from}
          className="absolute top-0 h-full bg-good"
          style={{ left: scale.x(from - 0.5), width: Math.max(1, (to - from + 1) * scale.perFrame) }}
        />
      ))}
    </div>
  );
}
