import { MoreHorizontal, Volume2, VolumeX } from 'lucide-react';
import {
  memo,
  useEffect,
  useLayoutEffect,
  useRef,
  useState,
  type KeyboardEvent,
  type PointerEvent,
} from 'react';
import type { Sound } from '../../../../core/document';
import { changeSound, removeSound } from '../../../../core/edit';
import { framesPerSecond } from '../../../../core/time';
import { useEvening } from '../../shared/theme';
import { beginDrag } from '../../ui/drag';
import { MenuButton, MenuOn, type MenuEntries } from '../../ui/menu';
import { keyNow } from '../actions/keying';
import { entryOf } from '../commands';
import { useKnownSound, useSession, useShot, useTime, type Session } from '../session';
import { PlayLine } from '../timeline/play-line';
import { sizedContext } from '../timeline/sized-canvas';
import { snappedFrame } from '../timeline/time-scale';
import { useSizeOf, useTimeWheel, useTimeWindow } from '../timeline/use-time-window';
import { paintWave, spanOf } from './wave-painter';

const ROW = 34;
const ROWS_SHOWN = 3;
const EDGE_PX = 6;
const CATCH_PX = 7;

/** The sounds of the shot above the lanes: their waves, moved and cut by dragging. */
export const SoundRows = memo(function SoundRows({ left, right }: { left: number; right: number }) {
  const sounds = useShot((state) => state.shot.sounds);
  const box = useRef<HTMLDivElement>(null);
  const size = useSizeOf(box, { width: 900, height: 0 });
  const width = Math.max(60, size.width - left - right);
  const time = useTimeWindow(width);
  useTimeWheel(box, left, time, (by) => box.current?.scrollBy(0, by));
  const ids = Object.keys(sounds).sort((a, b) => sounds[a]!.start - sounds[b]!.start || (a < b ? -1 : 1));
  return (
    <div
      ref={box}
      role="group"
      aria-label="Sounds"
      className={`relative flex-none overflow-y-auto overflow-x-hidden ${ids.length > 0 ? 'border-b border-line' : ''}`}
      style={{ height: Math.min(ROWS_SHOWN, ids.length) * ROW }}
    >
      {ids.map((id) => (
        <SoundRow key={id} id={id} sound={sounds[id]!} left={left} width={width} time={time} />
      ))}
      {ids.length > 0 && <SoundsTable ids={ids} />}
    </div>
  );
});

/** What can be done with a sound. */
function soundMenu(session: Session, id: string): MenuEntries {
  const sound = session.shot.sounds[id];
  if (!sound) return [];
  const { frame } = session.time.now;
  const fps = framesPerSecond(session.shot.setup.rate);
  const change = (options: Parameters<typeof changeSound>[2]): boolean =>
    session.edit((now) => changeSound(now, id, options));
  const into = (frame - sound.start) / fps;
  return [
    { label: 'Levels, fades, beats ...', later: true, run: () => session.sheets.showSound(id) },
    'line',
    { label: 'Let it begin at the playhead', run: () => change({ start: Math.round(frame) }) },
    {
      label: 'Cut its beginning off here',
      disabled: into <= 0,
      run: () => change({ start: frame, from: (sound.from ?? 0) + into, ...lengthLess(sound, into) }),
    },
    { label: 'Cut its end off here', disabled: into <= 0, run: () => change({ length: into }) },
    {
      label: 'Play all of its file',
      disabled: sound.from === undefined && sound.length === undefined,
      run: () => change({ from: undefined, length: undefined }),
    },
    'line',
    {
      label: 'Over and over',
      checked: sound.loop === true,
      run: () => change({ loop: sound.loop ? undefined : true }),
    },
    {
      label: 'Muted',
      checked: sound.muted === true,
      run: () => change({ muted: sound.muted ? undefined : true }),
    },
    { label: 'Key its level here', run: () => keyNow(session, [`${id}/level`]) },
    'line',
    entryOf(session, 'save-mix', { label: 'Save what is heard of the shot as WAV' }),
    {
      label: 'Take it out of the shot',
      alarm: true,
      run: () => session.edit((now) => removeSound(now, id)),
    },
  ];
}

const lengthLess = (sound: Sound, by: number): { length?: number } =>
  sound.length === undefined ? {} : { length: Math.max(0.01, sound.length - by) };

/** Follows the pointer from a press on a wave: moves the sound, or cuts it at an edge. */
function beginSoundDrag(
  session: Session,
  element: HTMLElement,
  event: globalThis.PointerEvent,
  of: {
    readonly id: string;
    readonly sound: Sound;
    /** Length of its file. */
    readonly seconds: number;
    readonly edge: 'from' | 'to' | null;
    readonly time: ReturnType<typeof useTimeWindow>;
    /** Is told the sound as it is meanwhile, and `null` at the end. */
    onDragged(sound: Sound | null): void;
  },
): void {
  const { id, sound, seconds, edge, time, onDragged } = of;
  const { shot } = session;
  const { scale } = time;
  const span = spanOf(shot, sound, seconds);
  const fps = framesPerSecond(shot.setup.rate);
  const { from = 0 } = sound;
  const catches = session.time.now.keySnap
    ? [session.time.now.frame, time.first, ...Object.values(shot.markers).map((marker) => marker.frame)]
    : [];
  let next: Sound = sound;
  beginDrag(element, event, {
    threshold: 3,
    move: (now) => {
      const by = (now.clientX - event.clientX) / scale.perFrame;
      const reach = CATCH_PX / scale.perFrame;
      if (edge === 'to') {
        const to = snappedFrame(span.to + by, catches, reach);
        const length = Math.max(0.02, Math.min(seconds - from, (to - sound.start) / fps));
        next = { ...sound, length };
      } else if (edge === 'from') {
        const goal = snappedFrame(sound.start + by, catches, reach);
        const start = Math.max(sound.start - from * fps, Math.min(span.to - 1, goal));
        const cut = (start - sound.start) / fps;
        next = { ...sound, start, from: Math.max(0, from + cut), ...lengthLess(sound, cut) };
      } else next = { ...sound, start: snappedFrame(sound.start + by, catches, reach) };
      onDragged(next);
    },
    end: (kept, _, moved) => {
      onDragged(null);
      if (!kept || !moved) return;
      const { start, from: cutOff, length } = next;
      session.edit((now) =>
        changeSound(now, id, {
          start,
          ...(cutOff === undefined ? {} : { from: cutOff }),
          ...(length === undefined ? {} : { length }),
        }),
      );
    },
  });
}

function SoundRow(props: {
  id: string;
  sound: Sound;
  left: number;
  width: number;
  time: ReturnType<typeof useTimeWindow>;
}) {
  const { id, sound, left, width, time } = props;
  const session = useSession();
  const shot = useShot((state) => state.shot);
  const known = useKnownSound(sound.asset);
  const evening = useEvening();
  const canvas = useRef<HTMLCanvasElement>(null);
  /** The sound as it is while it is dragged. */
  const [dragged, setDragged] = useState<Sound | null>(null);
  const shown = dragged ?? sound;
  const seconds = known?.facts?.seconds ?? 1;
  const { scale } = time;
  const peaks = known?.peaks ?? null;
  const samples = known?.facts?.samples ?? 0;
  useLayoutEffect(() => {
    const g = sizedContext(canvas.current!, width, ROW);
    paintWave(g, { shot, sound: shown, seconds, peaks, samples, scale, width, height: ROW });
  }, [shot, shown, seconds, peaks, samples, scale, width, evening]);
  const state = known?.failed
    ? `cannot be heard: ${known.failed}`
    : known?.facts?.state === 'ready'
      ? null
      : 'is being read ...';
  const edgeAt = (x: number): 'from' | 'to' | null => {
    const span = spanOf(shot, sound, seconds);
    if (Math.abs(x - scale.x(span.from)) <= EDGE_PX) return 'from';
    return Math.abs(x - scale.x(span.to)) <= EDGE_PX && !sound.loop ? 'to' : null;
  };
  const begin = (event: PointerEvent<HTMLCanvasElement>): void => {
    if (event.button !== 0) return;
    const area = event.currentTarget.getBoundingClientRect();
    const x = event.clientX - area.left;
    const edge = edgeAt(x);
    const span = spanOf(shot, sound, seconds);
    if (!edge && (x < scale.x(span.from) || x > scale.x(span.to))) return;
    beginSoundDrag(session, event.currentTarget, event.nativeEvent, {
      id,
      sound,
      seconds,
      edge,
      time,
      onDragged: setDragged,
    });
  };
  return (
    <div className="relative flex border-b border-line-soft last:border-0" style={{ height: ROW }}>
      <SoundLabel id={id} sound={sound} width={left} state={state} failed={Boolean(known?.failed)} />
      <MenuOn entries={() => soundMenu(session, id)}>
        <canvas
          ref={canvas}
          className="touch-none"
          style={{ width, height: ROW }}
          data-testid={`wave-${sound.name}`}
          role="img"
          aria-label={`${sound.name}, from frame ${Math.round(sound.start * 100) / 100}`}
          onPointerDown={begin}
          onPointerMove={(event) => {
            const x = event.clientX - event.currentTarget.getBoundingClientRect().left;
            const span = spanOf(shot, sound, seconds);
            const on = x >= scale.x(span.from) && x <= scale.x(span.to);
            event.currentTarget.style.cursor = edgeAt(x) ? 'ew-resize' : on ? 'grab' : 'default';
          }}
          onDoubleClick={() => session.sheets.showSound(id)}
        />
      </MenuOn>
      <button
        type="button"
        aria-label={`Place of ${sound.name}: arrows move it, with Alt its end, Enter opens its sheet, Delete takes it out`}
        className="pointer-events-none absolute inset-y-0.5 rounded opacity-0 focus-visible:opacity-100"
        style={{ left, width }}
        onKeyDown={(event) => {
          if (!soundKey(session, id, seconds, event)) return;
          event.preventDefault();
          event.stopPropagation();
        }}
      />
      <PlayLine x={(frame) => left + scale.x(frame)} from={left} to={left + width} />
    </div>
  );
}

function SoundLabel({
  id,
  sound,
  width,
  state,
  failed,
}: {
  id: string;
  sound: Sound;
  width: number;
  /** Why it is not heard yet. */
  state: string | null;
  failed: boolean;
}) {
  const session = useSession();
  return (
    <div
      className="flex flex-none items-center gap-1.5 border-r border-line bg-panel pl-2.5 pr-1.5"
      style={{ width }}
    >
      <button
        type="button"
        aria-label={sound.muted ? `Let ${sound.name} be heard` : `Mute ${sound.name}`}
        title={sound.muted ? 'Let it be heard' : 'Mute it'}
        className={`flex-none ${sound.muted ? 'text-ink-3' : 'text-teal'}`}
        onClick={() => session.edit((now) => changeSound(now, id, { muted: sound.muted ? undefined : true }))}
      >
        {sound.muted ? <VolumeX size={14} aria-hidden="true" /> : <Volume2 size={14} aria-hidden="true" />}
      </button>
      <button
        type="button"
        className="min-w-0 flex-1 truncate text-left font-semibold hover:text-teal"
        title={`${sound.name}: levels, fades, beats`}
        onClick={() => session.sheets.showSound(id)}
      >
        {sound.name}
        {state && <span className={`font-normal ${failed ? 'text-now' : 'text-ink-3'}`}> {state}</span>}
      </button>
      <MenuButton
        label={`What can be done with ${sound.name}`}
        title="Cut here, key its level, take it out ..."
        className="flex-none rounded p-0.5 text-ink-3 hover:bg-raised hover:text-ink"
        side="top"
        align="start"
        entries={() => soundMenu(session, id)}
      >
        <MoreHorizontal size={14} aria-hidden="true" />
      </MenuButton>
    </div>
  );
}

const FAR = 10;

/** What a key does to the sound that has the focus. @param seconds length of its file @returns whether it was taken */
function soundKey(session: Session, id: string, seconds: number, event: KeyboardEvent): boolean {
  const { shot } = session;
  const sound = shot.sounds[id];
  if (!sound) return false;
  const { key, altKey, shiftKey } = event;
  if (key === 'ArrowLeft' || key === 'ArrowRight') {
    const by = (key === 'ArrowLeft' ? -1 : 1) * (shiftKey ? FAR : 1);
    if (!altKey) {
      session.edit((now) => changeSound(now, id, { start: sound.start + by }));
      return true;
    }
    const { from = 0, length = seconds - from } = sound;
    const wanted = length + by / framesPerSecond(shot.setup.rate);
    const next = Math.max(0.02, Math.min(seconds - from, wanted));
    session.edit((now) => changeSound(now, id, { length: next }));
    return true;
  }
  if (key === 'Enter') session.sheets.showSound(id);
  else if (key === 'Delete' || key === 'Backspace') session.edit((now) => removeSound(now, id));
  else return false;
  return true;
}

/** The sounds as a table for screen readers. */
function SoundsTable({ ids }: { ids: readonly string[] }) {
  const shot = useShot((state) => state.shot);
  return (
    <table className="sr-only" aria-label="Sounds of the shot">
      <thead>
        <tr>
          <th scope="col">Sound</th>
          <th scope="col">Begins</th>
          <th scope="col">How it plays</th>
        </tr>
      </thead>
      <tbody>
        {ids.map((id) => {
          const { name, start, from, length, loop, muted } = shot.sounds[id]!;
          const how = [
            from !== undefined && `without its first ${tidy(from)} seconds`,
            length !== undefined && `for ${tidy(length)} seconds`,
            loop && 'over and over',
            muted && 'muted',
          ].filter(Boolean);
          return (
            <tr key={id}>
              <th scope="row">{name}</th>
              <td>frame {tidy(start)}</td>
              <td>{how.length > 0 ? how.join(', ') : 'all of its file'}</td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

const tidy = (value: number): string => String(Math.round(value * 100) / 100);

/** Lets the sound at a frame be heard when one goes there; readies it with the first click or key, before which browsers let nothing be heard. */
export function Scrubbing() {
  const session = useSession();
  const frame = useTime((state) => state.frame);
  const playing = useTime((state) => state.playing);
  const first = useRef(true);
  const sounds = useShot((state) => state.shot.sounds);
  useEffect(() => {
    const until = new AbortController();
    const ready = (): void => session.heard.prepare();
    for (const event of ['pointerdown', 'keydown'])
      addEventListener(event, ready, { signal: until.signal, once: true, capture: true });
    return () => until.abort();
  }, [session, sounds]);
  useEffect(() => {
    if (first.current) first.current = false;
    else if (!playing) session.heard.scrub(frame);
    // Only another frame is heard, not that play-back has stopped.
    // oxlint-disable-next-line react-hooks/exhaustive-deps
  }, [frame]);
  return null;
}
