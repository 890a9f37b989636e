import { useMemo } from 'react';
import type { KeyAddress } from '../../../../core/edit';
import { BOX_ROOM, boxOf, handlesOf } from './plot-hit';
import type { Line } from './lines';
import type { PlotMap } from './plot-map';

/** Handles of the chosen keys, and the box round them whose edges scale. */
export function ChosenKeys({
  map,
  lines,
  chosen,
  left,
}: {
  map: PlotMap;
  lines: readonly Line[];
  chosen: readonly KeyAddress[];
  left: number;
}) {
  const handles = useMemo(() => handlesOf(map, lines, chosen), [map, lines, chosen]);
  const box = useMemo(() => boxOf(map, lines, chosen), [map, lines, chosen]);
  return (
    <svg
      className="pointer-events-none absolute top-0 overflow-hidden"
      style={{ left }}
      width={map.width}
      height={map.bottom}
      aria-hidden="true"
    >
      {box && (
        <rect
          x={box.x0 - BOX_ROOM}
          y={box.y0 - BOX_ROOM}
          width={box.x1 - box.x0 + 2 * BOX_ROOM}
          height={box.y1 - box.y0 + 2 * BOX_ROOM}
          rx="3"
          fill="none"
          stroke="var(--color-teal)"
          strokeDasharray="4 3"
          data-testid="scale-box"
        />
      )}
      {handles.map(({ key, at, target, side }) => (
        <g key={`${target.address} ${target.key} ${side}`}>
          <line x1={key.x} y1={key.y} x2={at.x} y2={at.y} stroke="var(--color-teal)" strokeWidth="1.2" />
          <circle
            cx={at.x}
            cy={at.y}
            r="4"
            fill="var(--color-field)"
            stroke="var(--color-teal)"
            strokeWidth="1.6"
            data-testid={`handle-${side}`}
          />
        </g>
      ))}
    </svg>
  );
}
