import { useTime } from '../session';

/** Where time stands, as a line over a row. @param props.x pixels of a frame; shown between `from` and `to` */
export function PlayLine({ x, from, to }: { x: (frame: number) => number; from: number; to: number }) {
  const frame = useTime((state) => state.frame);
  const at = x(frame);
  if (at < from || at > to) return null;
  return (
    <i
      className="pointer-events-none absolute inset-y-0 w-[1.5px] bg-now"
      style={{ left: at - 0.75 }}
      aria-hidden="true"
    />
  );
}
