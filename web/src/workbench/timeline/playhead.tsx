import { useLayoutEffect, useRef } from 'react';
import { themed, useEvening } from '../../shared/theme';
import { useTime } from '../session';
import { clearContext } from './sized-canvas';
import type { TimeScale } from './time-scale';

const FLAG = 20;
const FLAG_TOP = 12;
const LINE = 1.5;

/**
 * The line at the current frame, with its number in the ruler. A canvas of its own, since it moves at every frame: moving an
 * element makes the browser lay the layers of the whole page out again.
 */
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
  const evening = useEvening();
  const canvas = useRef<HTMLCanvasElement>(null);
  const x = scale.x(frame);
  useLayoutEffect(() => {
    const g = clearContext(canvas.current!, width, height);
    const text = String(Math.round(frame * 100) / 100);
    const half = Math.max(15, text.length * 3.3 + 6);
    g.fillStyle = themed('now');
    g.fillRect(x - 1, 0, LINE, height);
    g.beginPath();
    g.moveTo(x - half, FLAG_TOP);
    g.lineTo(x + half, FLAG_TOP);
    g.lineTo(x + half, FLAG_TOP + 13);
    g.lineTo(x, FLAG_TOP + FLAG);
    g.lineTo(x - half, FLAG_TOP + 13);
    g.fill();
    g.fillStyle = themed('on-now');
    g.font = '700 11px "Spline Sans Mono Variable", monospace';
    g.textAlign = 'center';
    g.fillText(text, x, FLAG_TOP + 11);
  }, [x, frame, width, height, evening]);
  return (
    <canvas
      ref={canvas}
      className="pointer-events-none absolute top-0"
      style={{ left, width, height }}
      aria-hidden="true"
      data-testid="playhead"
    />
  );
}
