import { useTime } from '../session';
import { stopDrawing } from './view-commands';

/** How far drawing ahead has come, and what ends it. */
export function DrawingAhead() {
  const drawing = useTime((state) => state.drawing);
  if (!drawing) return null;
  return (
    <div
      role="status"
      className="absolute left-1/2 top-[44px] flex -translate-x-1/2 items-center gap-2 rounded-[7px] border border-line bg-raised/95 py-1 pl-2.5 pr-1"
    >
      <progress className="h-1.5 w-32 accent-teal" max={drawing.total} value={drawing.done} />
      <span className="num">
        Drawing ahead: {drawing.done} of {drawing.total}
      </span>
      <button type="button" className="btn h-[22px]" onClick={stopDrawing}>
        Stop (Esc)
      </button>
    </div>
  );
}
