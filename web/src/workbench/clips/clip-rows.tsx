import { MoreHorizontal, Pencil } from 'lucide-react';
import { memo, useLayoutEffect, useMemo, useRef, useState, type PointerEvent } from 'react';
import { useEvening } from '../../shared/theme';
import { MenuButton, MenuOn } from '../../ui/menu';
import { choose } from '../actions/choosing';
import { chooseStrips, closeClip, openClip } from '../actions/clips';
import { useSession, useShot, useStrips } from '../session';
import { sizedContext } from '../timeline/sized-canvas';
import { useSizeOf, useTimeWheel, useTimeWindow } from '../timeline/use-time-window';
import { PlayLine } from '../timeline/play-line';
import { beginStripDrag, stripAt, type StripDrag, type StripGrip } from './strip-drag';
import { stripKey } from './strip-keyboard';
import { clipsMenu, stripMenu } from './strip-menu';
import { boxOf, heightOf, paintStrips } from './strip-painter';
import { rowsOfStrips, stripWords, type StripRow } from './strip-rows';

const MOST_PX = 84;

const CURSORS: Record<StripGrip, string> = {
  move: 'grab',
  from: 'ew-resize',
  to: 'ew-resize',
  'blend-in': 'col-resize',
  'blend-out': 'col-resize',
};

const GRIP_WORDS: Record<StripGrip, string> = {
  move: 'Drag to move, double-click to open',
  from: 'Drag to trim its beginning',
  to: 'Drag to trim, beyond its end to repeat; with Alt to stretch',
  'blend-in': 'Drag to blend its beginning over what lies below',
  'blend-out': 'Drag to blend its end over what lies below',
};

/** The clips of the shot above the lanes: a row for each part that they move, a strip for each showing. */
export const ClipRows = memo(function ClipRows({ left, right }: { left: number; right: number }) {
  const shot = useShot((state) => state.document);
  const [drag, setDrag] = useState<StripDrag | null>(null);
  const box = useRef<HTMLDivElement>(null);
  const size = useSizeOf(box, { width: 900, height: 0 });
  const width = Math.max(60, size.width - left - right);
  const time = useTimeWindow(width);
  useTimeWheel(box, left, time, (by) => box.current?.scrollBy(0, by));
  const rows = useMemo(() => rowsOfStrips(drag?.shot ?? shot), [drag, shot]);
  const height = rows.reduce((sum, row) => sum + heightOf(row), 0);
  return (
    <>
      <OpenBar />
      <div
        ref={box}
        role="group"
        aria-label="Clips"
        className={`relative flex-none overflow-y-auto overflow-x-hidden ${rows.length > 0 ? 'border-b border-line' : ''}`}
        style={{ height: Math.min(MOST_PX, height) }}
      >
        {rows.map((row) => (
          <Row key={row.part} row={row} left={left} width={width} time={time} drag={drag} onDrag={setDrag} />
        ))}
        <StripsTable rows={rows} />
      </div>
    </>
  );
});

/** Says which clip is open, and closes it. */
function OpenBar() {
  const session = useSession();
  const opened = useShot((state) => state.opened);
  const shot = useShot((state) => state.document);
  const placement = opened === null ? undefined : shot.placements[opened];
  const clip = placement && shot.clips[placement.clip];
  if (!clip) return null;
  const times = Object.values(shot.placements).filter((other) => other.clip === placement.clip).length;
  return (
    <div
      role="status"
      className="flex flex-none items-center gap-2 border-b border-brass bg-brass-wash px-2.5 py-1 font-semibold"
    >
      <Pencil size={13} aria-hidden="true" className="text-brass" />
      <span className="min-w-0 truncate">
        {clip.name} is open: its keys stand below
        {times > 1 ? `, and all ${times} showings follow` : ''}
        {placement.backwards || placement.mirrored ? '. It is seen as it was made, not turned round' : ''}.
      </span>
      <button type="button" className="btn ml-auto h-[22px] flex-none" onClick={() => closeClip(session)}>
        Close the clip
      </button>
    </div>
  );
}

function Row(props: {
  row: StripRow;
  left: number;
  width: number;
  time: ReturnType<typeof useTimeWindow>;
  drag: StripDrag | null;
  onDrag: (drag: StripDrag | null) => void;
}) {
  const { row, left, width, time, drag, onDrag } = props;
  const session = useSession();
  const chosenIds = useStrips((state) => state.chosen);
  const opened = useShot((state) => state.opened);
  const evening = useEvening();
  const canvas = useRef<HTMLCanvasElement>(null);
  const [tip, setTip] = useState<{ x: number; text: string } | null>(null);
  const [meant, setMeant] = useState<string | null>(null);
  const { scale } = time;
  const chosen = useMemo(() => new Set(chosenIds), [chosenIds]);
  const picture = { row, scale, width, chosen, opened };
  const height = heightOf(row);
  useLayoutEffect(() => {
    paintStrips(sizedContext(canvas.current!, width, height), { row, scale, width, chosen, opened });
  }, [row, scale, width, height, chosen, opened, evening]);
  const at = (event: { clientX: number; clientY: number }) => {
    const area = canvas.current!.getBoundingClientRect();
    const x = event.clientX - area.left;
    return { x, hit: stripAt(picture, x, event.clientY - area.top) };
  };
  const press = (event: PointerEvent<HTMLCanvasElement>): void => {
    const { hit } = at(event);
    setMeant(hit?.strip.id ?? null);
    if (event.button !== 0) {
      if (hit && !chosen.has(hit.strip.id)) chooseStrips(session, [hit.strip.id]);
      return;
    }
    setTip(null);
    if (!hit) {
      chooseStrips(session, []);
      return;
    }
    beginStripDrag(session, hit, scale, event.nativeEvent, event.currentTarget, onDrag);
    document.getElementById(`strip-${hit.strip.id}`)?.focus({ preventScroll: true });
  };
  const dragged = drag && row.strips.some((strip) => strip.id === chosenIds.at(-1)) ? drag.words : null;
  const lead = row.strips.find((strip) => strip.id === chosenIds.at(-1));
  const words = dragged && lead ? { x: boxOf(picture, lead).left, text: dragged } : tip;
  return (
    <div className="relative flex border-b border-line-soft last:border-0" style={{ height }}>
      <RowLabel row={row} width={left} />
      <MenuOn entries={() => (meant === null ? clipsMenu(session) : stripMenu(session, meant))}>
        <div className="relative" style={{ width, height }} data-testid={`strips-${row.name}`}>
          <canvas
            ref={canvas}
            className="block touch-none"
            style={{ width, height }}
            role="img"
            aria-label={`Strips of the clips on ${row.name}`}
            onPointerDown={press}
            onPointerMove={(event) => {
              if (event.buttons) return;
              const { x, hit } = at(event);
              event.currentTarget.style.cursor = hit ? CURSORS[hit.grip] : 'default';
              setTip(hit && hit.grip !== 'move' ? { x, text: GRIP_WORDS[hit.grip] } : null);
            }}
            onPointerLeave={() => setTip(null)}
            onDoubleClick={(event) => {
              const { hit } = at(event);
              if (!hit) return;
              if (opened === hit.strip.id) closeClip(session);
              else openClip(session, hit.strip.id);
            }}
          />
          {row.strips.map((strip) => {
            const { left: x, right, top, height: tall } = boxOf(picture, strip);
            const seen = right > 0 && x < width;
            return (
              <button
                key={strip.id}
                id={`strip-${strip.id}`}
                type="button"
                aria-label={`${stripWords(strip)}, on ${row.name}`}
                aria-pressed={chosen.has(strip.id)}
                className="pointer-events-none absolute rounded-[3px] opacity-0 focus-visible:opacity-100"
                style={{
                  left: Math.max(0, seen ? x : 0),
                  top,
                  height: tall,
                  width: seen ? Math.max(4, Math.min(width, right) - Math.max(0, x)) : 4,
                }}
                onFocus={() => {
                  setMeant(strip.id);
                  if (!session.strips.now.chosen.includes(strip.id)) chooseStrips(session, [strip.id]);
                }}
                onClick={() => chooseStrips(session, [strip.id])}
                onKeyDown={(event) => {
                  if (!stripKey(session, strip.id, event)) return;
                  event.preventDefault();
                  event.stopPropagation();
                }}
              />
            );
          })}
          {words && <RowWords at={words.x} width={width} text={words.text} />}
        </div>
      </MenuOn>
      <PlayLine x={(frame) => left + scale.x(frame)} from={left} to={left + width} />
    </div>
  );
}

function RowLabel({ row, width }: { row: StripRow; width: number }) {
  const session = useSession();
  return (
    <div
      className="flex flex-none items-center gap-1.5 border-r border-line bg-panel pl-2.5 pr-1.5"
      style={{ width }}
    >
      <i className="h-3 w-[5px] flex-none rounded-sm bg-clip" aria-hidden="true" />
      <button
        type="button"
        className="min-w-0 flex-1 truncate text-left font-semibold hover:text-teal"
        title={`${row.name}: choose the part`}
        onClick={() => session.shot.parts[row.part] && choose(session, [row.part])}
      >
        {row.name}
      </button>
      <MenuButton
        label={`Clips of ${row.name}`}
        title="Show a clip here, make one ..."
        className="flex-none rounded p-0.5 text-ink-3 hover:bg-raised hover:text-ink"
        side="top"
        align="start"
        entries={() => clipsMenu(session)}
      >
        <MoreHorizontal size={14} aria-hidden="true" />
      </MenuButton>
    </div>
  );
}

/** Words beside the pointer, on the side that has more room. */
function RowWords({ at, width, text }: { at: number; width: number; text: string }) {
  return (
    <span
      className="pointer-events-none absolute top-0 z-10 whitespace-nowrap rounded bg-ink px-1.5 py-0.5 text-xs text-panel"
      style={at > width / 2 ? { right: Math.max(0, width - at + 10) } : { left: Math.max(0, at + 10) }}
    >
      {text}
    </span>
  );
}

/** The showings as a table for screen readers. */
function StripsTable({ rows }: { rows: readonly StripRow[] }) {
  if (rows.length === 0) return null;
  return (
    <table className="sr-only" aria-label="Showings of clips">
      <thead>
        <tr>
          <th scope="col">Part</th>
          <th scope="col">Showings</th>
        </tr>
      </thead>
      <tbody>
        {rows.map((row) => (
          <tr key={row.part}>
            <th scope="row">{row.name}</th>
            <td>{row.strips.map(stripWords).join('; ')}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
