import { Minus, Plus } from 'lucide-react';
import {
  useEffect,
  useLayoutEffect,
  useRef,
  useState,
  type PointerEvent as Press,
  type ReactNode,
} from 'react';
import {
  changeItem,
  moveItem,
  putSound,
  REEL_FIRST,
  reelFrames,
  spansOf,
  type Reel,
  type ReelSound,
  type ShotItem,
  type Span,
} from '../../../core/reel';
import { framesPerSecond, timecodeOf } from '../../../core/time';
import type { ShotCard } from '../../../wire';
import { useEvening } from '../shared/theme';
import { beginDrag } from '../ui/drag';
import { paintWave } from '../workbench/sound/wave-painter';
import { dragKind } from './open-reel';
import { edit, strideOfItem } from './reel-edits';
import { useChosen, useDrawn, useReel, useReelSession, useReelSounds, useReelTime } from './reel-session';

const HEAD = 84;
const PAD = 10;
const ZOOMS = [1, 2, 4, 8, 16];
const DRAG_PX = 4;
/** Seconds between the marks of the ruler, the first that leave them room. */
const MARKS = [0.5, 1, 2, 5, 10, 15, 30, 60, 120, 300];
const MARK_PX = 64;
const SOUND_HEIGHT = 30;

/** Pixels of frames. */
interface Scale {
  readonly perFrame: number;
  x(frame: number): number;
  frame(x: number): number;
}

function scaleOf(frames: number, width: number, zoom: number): Scale {
  const perFrame = ((width - 2 * PAD) / Math.max(24, frames)) * zoom;
  return {
    perFrame,
    x: (frame) => PAD + (frame - REEL_FIRST) * perFrame,
    frame: (x) => REEL_FIRST + (x - PAD) / perFrame,
  };
}

/** The reel along its frames: shots and titles, what joins them, sounds, and the playhead. */
export function Strip({ shots }: { shots: readonly ShotCard[] }) {
  const session = useReelSession();
  const reel = useReel((state) => state.reel);
  const [zoom, setZoom] = useState(0);
  const [width, setWidth] = useState(800);
  const area = useRef<HTMLDivElement>(null);
  useLayoutEffect(() => {
    const watch = new ResizeObserver(([entry]) => setWidth(entry!.contentRect.width));
    watch.observe(area.current!);
    return () => watch.disconnect();
  }, []);
  const scale = scaleOf(reelFrames(reel), width, ZOOMS[zoom]!);
  const button = (label: string, by: 1 | -1, icon: ReactNode) => (
    <button
      type="button"
      aria-label={label}
      title={label}
      disabled={!(zoom + by in ZOOMS)}
      className="rounded p-1 hover:bg-line-soft"
      onClick={() => setZoom(zoom + by)}
    >
      {icon}
    </button>
  );
  return (
    <section className="panel flex min-h-0 flex-none" aria-label="The reel">
      <div className="flex flex-none flex-col border-r border-line-soft text-ink-2" style={{ width: HEAD }}>
        <span className="flex h-6 items-center px-2">
          {button('Wider view', -1, <Minus size={13} aria-hidden="true" />)}
          {button('Closer view', 1, <Plus size={13} aria-hidden="true" />)}
        </span>
        <span className="flex h-[74px] items-center px-2.5 font-semibold">Pictures</span>
        {reel.sounds.map((sound) => (
          <span key={sound.id} className="flex items-center px-2.5" style={{ height: SOUND_HEIGHT }}>
            <span className="truncate" title={sound.name}>
              {sound.name}
            </span>
          </span>
        ))}
      </div>
      <div ref={area} className="max-h-[190px] min-w-0 flex-1 overflow-auto">
        <div
          className="relative"
          style={{ width: Math.max(width - 1, scale.x(reelFrames(reel) + 1) + PAD) }}
          onPointerDown={(event) => event.target === event.currentTarget && session.choose(null)}
        >
          <Ruler reel={reel} scale={scale} />
          <ol className="relative h-[74px]" aria-label="Shots and titles">
            {spansOf(reel).map((span, at) => (
              <Block key={span.item.id} span={span} at={at} scale={scale} shots={shots} />
            ))}
          </ol>
          {reel.sounds.map((sound) => (
            <SoundBlock key={sound.id} sound={sound} scale={scale} />
          ))}
          <Playhead scale={scale} />
        </div>
      </div>
    </section>
  );
}

/** Frames along the top; a press or a drag in it moves the playhead. */
function Ruler({ reel, scale }: { reel: Reel; scale: Scale }) {
  const session = useReelSession();
  const fps = framesPerSecond(reel.rate);
  const frames = reelFrames(reel);
  const every = MARKS.find((seconds) => seconds * fps * scale.perFrame >= MARK_PX) ?? 600;
  const count = Math.floor((frames - MARK_PX / scale.perFrame) / (every * fps)) + 1;
  const to = (left: number, event: { readonly clientX: number }): void =>
    session.goTo(Math.floor(scale.frame(event.clientX - left)));
  const press = (event: Press<HTMLDivElement>): void => {
    const element = event.currentTarget;
    const at = (other: { readonly clientX: number }): void => to(element.getBoundingClientRect().left, other);
    const before = session.time.now.frame;
    at(event);
    beginDrag(element, event, { move: at, end: (kept) => !kept && session.goTo(before) });
  };
  return (
    <div
      className="relative h-6 cursor-col-resize touch-none border-b border-line-soft bg-stripe"
      data-testid="reel-ruler"
      onPointerDown={press}
    >
      <Drawn scale={scale} />
      {Array.from({ length: Math.max(1, count) }, (_, i) => {
        const frame = REEL_FIRST + Math.round(i * every * fps);
        return (
          <span
            key={i}
            className="num pointer-events-none absolute top-0 border-l border-line-strong pl-1 leading-[18px] text-ink-3"
            style={{ left: scale.x(frame) }}
          >
            {timecodeOf(frame - REEL_FIRST, reel.rate).slice(3)}
          </span>
        );
      })}
    </div>
  );
}

/** Runs of frames whose pictures are there. */
function Drawn({ scale }: { scale: Scale }) {
  const drawn = useDrawn((state) => state.drawn);
  const runs: { from: number; to: number }[] = [];
  drawn.forEach((there, i) => {
    if (!there) return;
    const open = runs.at(-1);
    if (open?.to === i) open.to = i + 1;
    else runs.push({ from: i, to: i + 1 });
  });
  return runs.map(({ from, to }) => (
    <span
      key={from}
      className="pointer-events-none absolute bottom-0 h-[3px] bg-good/70"
      style={{ left: scale.x(REEL_FIRST + from), width: (to - from) * scale.perFrame }}
    />
  ));
}

function Playhead({ scale }: { scale: Scale }) {
  const frame = useReelTime((state) => state.frame);
  const line = useRef<HTMLSpanElement>(null);
  const playing = useReelTime((state) => state.playing);
  useEffect(() => {
    if (playing) line.current?.scrollIntoView({ block: 'nearest', inline: 'nearest' });
  }, [frame, playing]);
  return (
    <span
      ref={line}
      className="pointer-events-none absolute inset-y-0 w-0.5 bg-now"
      data-testid="reel-playhead"
      style={{ left: scale.x(frame + 0.5) - 1 }}
      aria-hidden="true"
    />
  );
}

interface BlockProps {
  readonly span: Span;
  readonly at: number;
  readonly scale: Scale;
  readonly shots: readonly ShotCard[];
}

function Block({ span: { item, start, end, joins, joined }, at, scale, shots }: BlockProps) {
  const session = useReelSession();
  const chosen = useChosen() === item.id;
  const [target, setTarget] = useState<number | null>(null);
  const card = item.kind === 'shot' ? shots.find(({ id }) => id === item.shot) : undefined;
  const name =
    item.kind === 'shot'
      ? (card?.name ?? item.name)
      : item.lines.map(({ text }) => text.text).join(' ') || 'Black';
  /** Dragged, it goes to the nearest cut. */
  const press = (event: Press<HTMLButtonElement>): void => {
    if (event.button !== 0) return;
    const strip = event.currentTarget.closest('ol')!;
    let to: number | null = null;
    beginDrag(event.currentTarget, event, {
      threshold: DRAG_PX,
      move: ({ clientX }) => {
        const frame = scale.frame(clientX - strip.getBoundingClientRect().left);
        const cuts = [...spansOf(session.reel).map((each) => each.start), session.frames + 1];
        to = cuts.reduce(
          (best, cut, i) => (Math.abs(cut - frame) < Math.abs(cuts[best]! - frame) ? i : best),
          0,
        );
        setTarget(cuts[to]!);
      },
      end: (kept, _event, moved) => {
        setTarget(null);
        session.choose(item.id);
        if (kept && moved && to !== null) {
          const place = to;
          edit(session, (reel) => moveItem(reel, item.id, place));
        }
      },
    });
  };
  const width = Math.max(4, (end - start) * scale.perFrame - 1);
  return (
    <li>
      <div className="absolute inset-y-1" style={{ left: scale.x(start), width }}>
        <button
          type="button"
          aria-pressed={chosen}
          aria-label={`${name}, ${item.frames} frames`}
          title={`${name}, ${item.frames} frames. Drag it to another place.`}
          className={`flex size-full cursor-grab touch-none overflow-hidden rounded-md border-2 text-left ${chosen ? 'border-teal bg-teal-wash' : 'border-line-strong bg-raised hover:border-ink-3'}`}
          onPointerDown={press}
          onClick={() => session.choose(item.id)}
          onDoubleClick={() => session.goTo(start)}
        >
          {card && card.pictureRevision !== null && width > 60 && (
            <img
              src={`/api/shots/${card.id}/picture?revision=${card.pictureRevision}`}
              alt=""
              draggable={false}
              className="h-full w-auto flex-none"
              style={{ maxWidth: '60%', objectFit: 'cover' }}
            />
          )}
          {item.kind === 'title' && <span className="h-full w-2.5 flex-none bg-film" aria-hidden="true" />}
          <span className="min-w-0 px-1.5 py-1">
            <b className="block truncate">{name}</b>
            <span className="num block truncate text-ink-2">{item.frames}</span>
          </span>
        </button>
        <Edge item={item} side="in" scale={scale} chosen={chosen} />
        <Edge item={item} side="out" scale={scale} chosen={chosen} />
      </div>
      {item.join.manner !== 'cut' && (
        <span
          className="pointer-events-none absolute bottom-1 h-5 border-x border-brass bg-brass/55"
          data-testid={`join-${at}`}
          style={{
            left: scale.x(joins),
            width: Math.max(3, (joined - joins) * scale.perFrame),
            clipPath: item.join.manner === 'dissolve' ? 'polygon(0 100%, 100% 0, 100% 100%)' : undefined,
          }}
        />
      )}
      {target !== null && (
        <span
          className="pointer-events-none absolute inset-y-0 z-10 w-1 bg-teal"
          style={{ left: scale.x(target) - 2 }}
        />
      )}
    </li>
  );
}

/** An end of an item that is dragged: its in or out moves, and what follows moves with it. */
function Edge(props: { item: Span['item']; side: 'in' | 'out'; scale: Scale; chosen: boolean }) {
  const { item, side, scale, chosen } = props;
  const session = useReelSession();
  const press = (event: Press<HTMLSpanElement>): void => {
    if (event.button !== 0) return;
    event.stopPropagation();
    session.choose(item.id);
    const before = session.reel;
    const kind = dragKind();
    const { clientX } = event;
    beginDrag(event.currentTarget, event, {
      threshold: DRAG_PX,
      move: (to) => {
        const by = Math.round((to.clientX - clientX) / scale.perFrame);
        const frames = Math.max(1, item.frames + (side === 'out' ? by : -by));
        const gone = item.frames - frames;
        const stride = item.kind === 'shot' ? strideOfItem(session, item) : 1;
        const first =
          side === 'in' && item.kind === 'shot' ? { first: Math.round(item.first + gone * stride) } : {};
        edit(session, () => changeItem<ShotItem>(before, item as ShotItem, { frames, ...first }), kind);
      },
      end: (kept) => !kept && edit(session, () => before, kind),
    });
  };
  return (
    <span
      className={`absolute inset-y-0 w-2 cursor-ew-resize touch-none rounded ${side === 'in' ? 'left-0' : 'right-0'} ${chosen ? 'bg-teal/60' : 'hover:bg-teal/40'}`}
      data-testid={`${side} of ${item.id}`}
      onPointerDown={press}
    />
  );
}

function SoundBlock({ sound, scale }: { sound: ReelSound; scale: Scale }) {
  const session = useReelSession();
  const reel = useReel((state) => state.reel);
  const chosen = useChosen() === sound.id;
  const known = useReelSounds()[sound.asset];
  const evening = useEvening();
  const canvas = useRef<HTMLCanvasElement>(null);
  const seconds = known?.facts?.seconds ?? 0;
  const length = Math.min(sound.length ?? Infinity, Math.max(0, seconds - sound.from));
  const width = Math.max(8, length * framesPerSecond(reel.rate) * scale.perFrame);
  const left = scale.x(sound.start);
  const shown = Math.round(Math.min(width, Math.max(8, scale.x(reelFrames(reel) + 1) - left)));
  useEffect(() => {
    const g = canvas.current?.getContext('2d');
    const heard = session.heard.shot.sounds[sound.id];
    if (!g || !heard) return;
    g.clearRect(0, 0, shown, SOUND_HEIGHT - 4);
    paintWave(g, {
      shot: session.heard.shot,
      sound: heard,
      seconds,
      peaks: known?.peaks ?? null,
      samples: known?.facts?.samples ?? 0,
      scale: {
        from: 0,
        to: 1,
        perFrame: scale.perFrame,
        x: (frame) => (frame - sound.start) * scale.perFrame,
        frame: (x) => sound.start + x / scale.perFrame,
      },
      width: shown,
      height: SOUND_HEIGHT - 4,
    });
  }, [session, reel, sound, known, seconds, scale.perFrame, shown, evening]);
  const press = (event: Press<HTMLButtonElement>): void => {
    if (event.button !== 0) return;
    const { clientX } = event;
    const before = session.reel;
    const kind = dragKind();
    const put = (start: number): void =>
      edit(session, (now) => putSound(now, sound.id, { ...sound, start }), kind);
    beginDrag(event.currentTarget, event, {
      threshold: DRAG_PX,
      move: (to) => put(sound.start + Math.round((to.clientX - clientX) / scale.perFrame)),
      end: (kept, _event, moved) => {
        session.choose(sound.id);
        if (!kept && moved) edit(session, () => before, kind);
      },
    });
  };
  return (
    <div className="relative" style={{ height: SOUND_HEIGHT }}>
      <button
        type="button"
        aria-pressed={chosen}
        aria-label={`Sound ${sound.name}`}
        title={`${sound.name}. Drag it to another frame.`}
        className={`absolute inset-y-0.5 cursor-grab touch-none overflow-hidden rounded border ${chosen ? 'border-2 border-teal' : 'border-line-strong'}`}
        style={{ left, width: shown }}
        onPointerDown={press}
        onClick={() => session.choose(sound.id)}
      >
        <canvas ref={canvas} width={shown} height={SOUND_HEIGHT - 4} className="pointer-events-none" />
      </button>
    </div>
  );
}
