import { useMemo } from 'react';
import type { KeyAddress } from '../../../../core/edit';
import { themed } from '../../shared/theme';
import { HintsCanvas } from '../timeline/hints-canvas';
import type { PointerHints } from '../timeline/pointer-hints';
import type { Line } from './lines';
import { BOX_ROOM, boxOf, handlesOf, type HandleEnd } from './plot-hit';
import type { PlotMap } from './plot-map';

const END = 4;

function paintHandles(g: CanvasRenderingContext2D, handles: readonly HandleEnd[]): void {
  g.strokeStyle = themed('teal');
  g.fillStyle = themed('field');
  for (const { key, at } of handles) {
    g.lineWidth = 1.2;
    g.beginPath();
    g.moveTo(key.x, key.y);
    g.lineTo(at.x, at.y);
    g.stroke();
    g.lineWidth = 1.6;
    g.beginPath();
    g.arc(at.x, at.y, END, 0, 2 * Math.PI);
    g.fill();
    g.stroke();
  }
}

function paintBox(g: CanvasRenderingContext2D, box: NonNullable<ReturnType<typeof boxOf>>): void {
  g.strokeStyle = themed('teal');
  g.lineWidth = 1;
  g.setLineDash([4, 3]);
  g.beginPath();
  g.roundRect(
    box.x0 - BOX_ROOM,
    box.y0 - BOX_ROOM,
    box.x1 - box.x0 + 2 * BOX_ROOM,
    box.y1 - box.y0 + 2 * BOX_ROOM,
    3,
  );
  g.stroke();
  g.setLineDash([]);
}

/** Handles of the chosen keys and the box round them whose edges scale, and over them what follows the pointer. */
export function PlotOverlay({
  map,
  lines,
  chosen,
  hints,
  left,
}: {
  map: PlotMap;
  lines: readonly Line[];
  chosen: readonly KeyAddress[];
  hints: PointerHints;
  left: number;
}) {
  const handles = useMemo(() => handlesOf(map, lines, chosen), [map, lines, chosen]);
  const box = useMemo(() => boxOf(map, lines, chosen), [map, lines, chosen]);
  const below = useMemo(
    () => (g: CanvasRenderingContext2D) => {
      g.save();
      g.beginPath();
      g.rect(0, 0, map.width, map.bottom);
      g.clip();
      if (box) paintBox(g, box);
      paintHandles(g, handles);
      g.restore();
    },
    [map, box, handles],
  );
  return (
    <HintsCanvas
      hints={hints}
      left={left}
      width={map.width}
      height={map.bottom}
      below={below}
      data-handles={JSON.stringify(handles.map(({ side, at }) => ({ side, ...at })))}
      data-box={box ? JSON.stringify(box) : undefined}
    />
  );
}
