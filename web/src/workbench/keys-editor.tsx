import { ContextMenu } from 'radix-ui';
import { useEffect, useLayoutEffect, useMemo, useRef, useState, type PointerEvent } from 'react';
import { channelAt, EXTENDS, trackOf, type Extend } from '../../../core/document';
import {
  moveKeys,
  removeKeys,
  setExtend,
  setStretch,
  type KeyAddress,
  type StretchManner,
} from '../../../core/edit';
import { describeValue } from '../shared/format';
import { laneCurves, lanesOf, type Lane } from './lanes';
import { Ring, RING_WORDS, ringOf } from './ring';
import { useSession, useSessionState } from './session';

const NAMES_WIDTH = 216;
const RULER = 24;
const LANE = 25;
const PAD = 12;
const PEG_HALF = 3.5;
const HIT_PX = 6;
const OVERSCAN = 4;

const STRETCHES: readonly [StretchManner, string][] = [
  ['hold', 'Hold'],
  ['linear', 'Straight'],
  ['smooth', 'Smooth'],
  ['ease', 'Ease'],
  ['ease-in', 'Ease in'],
  ['ease-out', 'Ease out'],
  ['ease-in-out', 'Ease both'],
];
const EXTEND_WORDS: Record<Extend, string> = {
  hold: 'hold',
  straight: 'go on straight',
  repeat: 'repeat',
  'repeat-adding': 'repeat, adding on',
  mirror: 'to and fro',
};

interface Hit {
  readonly lane: Lane;
  readonly key: Lane['keys'][number] | null;
  /** Key at the start of the stretch that was hit. */
  readonly stretch: Lane['keys'][number] | null;
}

/** Lanes with pegs for every channel that moves or is linked, whatever it belongs to. */
export function KeysEditor() {
  const session = useSession();
  const shot = useSessionState((state) => state.shot);
  const plan = useSessionState((state) => state.plan);
  const frame = useSessionState((state) => state.frame);
  const loose = useSessionState((state) => state.loose);
  const channel = useSessionState((state) => state.channel);
  const chosenKeys = useSessionState((state) => state.chosenKeys);
  const chosen = useSessionState((state) => state.chosen);
  const box = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const [size, setSize] = useState({ width: 800, height: 200 });
  const [scroll, setScroll] = useState(0);
  const [hit, setHit] = useState<Hit | null>(null);
  const [shift, setShift] = useState(0);
  const [tip, setTip] = useState<{ x: number; y: number; text: string } | null>(null);

  const { first, last } = shot.setup;
  const lanes = useMemo(() => lanesOf(shot), [shot]);
  const curves = useMemo(() => laneCurves(plan, lanes), [plan, lanes]);
  const plotWidth = size.width - NAMES_WIDTH;
  const perFrame = (plotWidth - 2 * PAD) / Math.max(1, last - first);
  const xOf = (at: number): number => PAD + (at - first) * perFrame;
  const frameOf = (x: number): number => first + (x - PAD) / perFrame;
  const isChosen = (address: string, key: string): boolean =>
    chosenKeys.some((entry) => entry.address === address && entry.key === key);
  const from = Math.max(0, Math.floor(scroll / LANE) - OVERSCAN);
  const to = Math.min(lanes.length, Math.ceil((scroll + size.height) / LANE) + OVERSCAN);

  // The lane of what is chosen comes into sight.
  const lastChosen = chosen.at(-1);
  useEffect(() => {
    const index = lanes.findIndex((lane) =>
      channel !== null ? lane.address === channel : lane.part === lastChosen,
    );
    if (index < 0) return;
    const top = index * LANE;
    const room = size.height - RULER;
    setScroll((now) => (top < now ? top : top + LANE > now + room ? top + LANE - room : now));
    // Scrolling by hand is left alone: only a new choice moves the lanes.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [channel, lastChosen]);

  useLayoutEffect(() => {
    const watcher = new ResizeObserver(([entry]) =>
      setSize({ width: Math.round(entry!.contentRect.width), height: Math.round(entry!.contentRect.height) }),
    );
    watcher.observe(box.current!);
    return () => watcher.disconnect();
  }, []);

  useEffect(() => {
    const element = canvas.current!;
    const ratio = window.devicePixelRatio;
    const height = size.height;
    element.width = Math.max(1, plotWidth * ratio);
    element.height = Math.max(1, height * ratio);
    const g = element.getContext('2d')!;
    g.scale(ratio, ratio);
    const style = getComputedStyle(document.documentElement);
    const colour = (name: string): string => style.getPropertyValue(`--color-${name}`);
    g.fillStyle = colour('panel');
    g.fillRect(0, 0, plotWidth, height);
    for (let i = from; i < to; i++) {
      const lane = lanes[i]!;
      const y = RULER + i * LANE - scroll;
      g.fillStyle = lane.address === channel ? colour('teal-wash') : i % 2 ? colour('panel') : '#f6f3ed';
      g.fillRect(0, y, plotWidth, LANE);
      g.fillStyle = colour('line-soft');
      g.fillRect(0, y + LANE - 1, plotWidth, 1);
      const curve = curves.get(lane.address);
      if (curve?.colours) {
        curve.colours.forEach((hex, j) => {
          g.fillStyle = hex;
          const x = xOf(curve.from + j * curve.step);
          g.fillRect(x, y + 6, curve.step * perFrame + 1, 13);
        });
      } else if (curve?.shares) {
        g.strokeStyle = lane.linked ? colour('link') : colour('key');
        g.lineWidth = 1.5;
        g.setLineDash(lane.linked ? [4, 3] : []);
        g.beginPath();
        curve.shares.forEach((share, j) => {
          const x = xOf(curve.from + j * curve.step);
          const level = y + 20.5 - share * 15;
          if (j === 0) g.moveTo(x, level);
          else g.lineTo(x, level);
        });
        g.stroke();
        g.setLineDash([]);
      }
      for (const key of lane.keys) {
        const selected = isChosen(lane.address, key.id);
        const x = xOf(key.frame + (selected ? shift : 0));
        g.fillStyle = selected ? colour('teal') : colour('key');
        g.strokeStyle = '#fff';
        g.lineWidth = 1;
        g.beginPath();
        g.roundRect(x - PEG_HALF, y + 4.5, PEG_HALF * 2, 16, PEG_HALF);
        g.fill();
        g.stroke();
      }
    }
    g.fillStyle = '#e9e5db';
    g.fillRect(0, 0, plotWidth, RULER);
    const every =
      [1, 2, 4, 6, 12, 24, 48, 96, 240, 480, 1200, 2400, 12000].find((step) => step * perFrame >= 54) ??
      24000;
    const minor = perFrame >= 4 ? 1 : every / 4;
    g.font = '10.5px "Spline Sans Mono Variable", monospace';
    for (let f = first; f <= last; f += minor) {
      const major = Math.abs(((f - first) / every) % 1) < 1e-9;
      g.fillStyle = major ? colour('ink-2') : '#b9b3a5';
      g.fillRect(Math.round(xOf(f)), major ? 11 : 19, 1, major ? 13 : 5);
      if (major) {
        g.fillStyle = colour('ink-2');
        g.fillText(String(f), xOf(f) + 4, 15);
      }
    }
    const x = xOf(frame);
    g.fillStyle = colour('now');
    g.fillRect(x - 0.75, 0, 1.5, height);
    g.beginPath();
    g.moveTo(x - 15, 2);
    g.lineTo(x + 15, 2);
    g.lineTo(x + 15, 14);
    g.lineTo(x, 22);
    g.lineTo(x - 15, 14);
    g.fill();
    g.fillStyle = '#fff';
    g.textAlign = 'center';
    g.font = '700 11px "Spline Sans Mono Variable", monospace';
    g.fillText(String(Math.round(frame * 100) / 100), x, 13);
  });

  const hitAt = (x: number, y: number): Hit | null => {
    const lane = lanes[Math.floor((y - RULER + scroll) / LANE)];
    if (!lane || y < RULER) return null;
    const at = frameOf(x);
    const key =
      lane.keys
        .filter((entry) => Math.abs(xOf(entry.frame) - x) <= HIT_PX)
        .sort((a, b) => Math.abs(a.frame - at) - Math.abs(b.frame - at))[0] ?? null;
    const index = lane.keys.findLastIndex((entry) => entry.frame <= at);
    return { lane, key, stretch: index >= 0 && index < lane.keys.length - 1 ? lane.keys[index]! : null };
  };

  const chooseLane = (lane: Lane): void => {
    session.store.setState({ channel: lane.address });
    if (lane.part && !chosen.includes(lane.part)) session.choose([lane.part]);
  };

  const onPointerDown = (event: PointerEvent<HTMLCanvasElement>): void => {
    const area = event.currentTarget.getBoundingClientRect();
    const place = (e: { clientX: number; clientY: number }): { x: number; y: number } => ({
      x: e.clientX - area.left,
      y: e.clientY - area.top,
    });
    const start = place(event);
    const found = hitAt(start.x, start.y);
    setHit(found);
    if (event.button !== 0) {
      if (found?.key && !isChosen(found.lane.address, found.key.id))
        session.store.setState({ chosenKeys: [{ address: found.lane.address, key: found.key.id }] });
      return;
    }
    const element = event.currentTarget;
    element.setPointerCapture(event.pointerId);
    box.current?.focus({ preventScroll: true });
    let onMove: (e: globalThis.PointerEvent) => void;
    let finish = (_e: globalThis.PointerEvent): void => undefined;
    if (found?.key) {
      chooseLane(found.lane);
      const target: KeyAddress = { address: found.lane.address, key: found.key.id };
      const already = isChosen(target.address, target.key);
      const targets = event.shiftKey
        ? already
          ? chosenKeys
          : [...chosenKeys, target]
        : already
          ? chosenKeys
          : [target];
      session.store.setState({ chosenKeys: targets });
      const origin = found.key.frame;
      let by = 0;
      onMove = (e) => {
        by = Math.round(frameOf(place(e).x) - frameOf(start.x));
        setShift(by);
        setTip({
          x: place(e).x,
          y: start.y - 22,
          text: `frame ${origin + by}${by ? ` (${by > 0 ? '+' : '−'}${Math.abs(by)})` : ''}`,
        });
      };
      finish = (e) => {
        setShift(0);
        setTip(null);
        if (by !== 0 && e.type !== 'pointercancel') session.edit((current) => moveKeys(current, targets, by));
      };
    } else {
      if (found) chooseLane(found.lane);
      session.store.setState({ chosenKeys: [] });
      session.stop();
      const scrub = (e: { clientX: number; clientY: number }): void =>
        session.goTo(Math.max(first, Math.min(last, Math.round(frameOf(place(e).x)))));
      scrub(event);
      onMove = scrub;
    }
    const end = (e: globalThis.PointerEvent): void => {
      element.removeEventListener('pointermove', onMove);
      element.removeEventListener('pointerup', end);
      element.removeEventListener('pointercancel', end);
      finish(e);
    };
    element.addEventListener('pointermove', onMove);
    element.addEventListener('pointerup', end);
    element.addEventListener('pointercancel', end);
  };

  const hover = (event: PointerEvent<HTMLCanvasElement>): void => {
    if (event.buttons) return;
    const area = event.currentTarget.getBoundingClientRect();
    const [x, y] = [event.clientX - area.left, event.clientY - area.top];
    const found = hitAt(x, y);
    if (!found?.key) {
      setTip(null);
      return;
    }
    const spec = channelAt(shot, found.lane.address)!.spec;
    const value = trackOf(shot, found.lane.address)!.keys[found.key.id]!.value;
    setTip({
      x,
      y: y - 22,
      text: `frame ${found.key.frame}: ${describeValue(spec, value, shot.setup.unit)}, then ${found.key.manner}`,
    });
  };

  const menuKeys = (): KeyAddress[] => {
    if (hit?.key)
      return chosenKeys.length > 0 ? [...chosenKeys] : [{ address: hit.lane.address, key: hit.key.id }];
    return hit?.stretch ? [{ address: hit.lane.address, key: hit.stretch.id }] : [];
  };
  const track = hit ? trackOf(shot, hit.lane.address) : null;
  const isColour = hit ? channelAt(shot, hit.lane.address)?.spec.kind !== 'number' : false;

  return (
    <div
      ref={box}
      tabIndex={0}
      className="relative min-h-0 flex-1 overflow-hidden outline-none focus-visible:outline-2"
      aria-label="Lanes"
      role="group"
      data-first-x={NAMES_WIDTH + PAD}
      data-per-frame={perFrame}
      onWheel={(event) =>
        setScroll((now) =>
          Math.max(0, Math.min(lanes.length * LANE + RULER + 30 - size.height, now + event.deltaY)),
        )
      }
    >
      <div
        className="absolute bottom-0 left-0 top-0 overflow-hidden border-r border-line"
        style={{ width: NAMES_WIDTH }}
      >
        <div
          className="absolute inset-x-0 top-0 z-10 flex items-center justify-between bg-[#e9e5db] px-2 text-xs text-ink-3"
          style={{ height: RULER }}
        >
          {lanes.length} {lanes.length === 1 ? 'lane' : 'lanes'}
        </div>
        <ul role="listbox" aria-label="Channels that move or are linked">
          {lanes.slice(from, to).map((lane, i) => {
            const state = ringOf(shot, lane.address, frame, loose);
            const failed =
              Boolean(plan.linkOf.get(lane.address)?.error) || session.evaluator.hasFailed(lane.address);
            return (
              <li
                key={lane.address}
                role="option"
                aria-selected={lane.address === channel}
                aria-label={`${lane.name}, ${RING_WORDS[state]}${lane.keys.length ? `, keys at ${lane.keys.map((key) => key.frame).join(', ')}` : ''}`}
                title={failed ? `${lane.name}: the link is out of force` : lane.name}
                className={`absolute inset-x-0 flex items-center gap-1.5 border-b border-line-soft px-2 ${lane.address === channel ? 'bg-teal-wash font-bold' : ''} ${failed ? 'text-now' : ''}`}
                style={{ top: RULER + (from + i) * LANE - scroll, height: LANE }}
                onClick={() => chooseLane(lane)}
              >
                <Ring state={state} error={failed} />
                <span className="truncate">{lane.name}</span>
              </li>
            );
          })}
        </ul>
      </div>
      <ContextMenu.Root>
        <ContextMenu.Trigger asChild>
          <canvas
            ref={canvas}
            className="absolute top-0 touch-none"
            style={{ left: NAMES_WIDTH, width: plotWidth, height: size.height }}
            data-testid="lanes-canvas"
            aria-label="Keys over time"
            onPointerDown={onPointerDown}
            onPointerMove={hover}
            onPointerLeave={() => setTip(null)}
          />
        </ContextMenu.Trigger>
        <ContextMenu.Portal>
          <ContextMenu.Content className="menu-surface">
            {menuKeys().length === 0 && !track && (
              <ContextMenu.Item className="menu-item" disabled>
                No keys on this lane
              </ContextMenu.Item>
            )}
            {menuKeys().length > 0 && (
              <>
                <ContextMenu.Label className="px-2 py-1 text-xs font-bold text-ink-3">
                  {hit?.key ? 'From this key on' : 'This stretch'}
                </ContextMenu.Label>
                {STRETCHES.filter(([manner]) => !isColour || manner !== 'ease').map(([manner, words]) => (
                  <ContextMenu.Item
                    key={manner}
                    className="menu-item"
                    onSelect={() => session.edit((current) => setStretch(current, menuKeys(), manner))}
                  >
                    {words}
                  </ContextMenu.Item>
                ))}
                <ContextMenu.Separator className="my-1 h-px bg-line-soft" />
              </>
            )}
            {hit?.key && (
              <ContextMenu.Item
                className="menu-item text-now"
                onSelect={() => {
                  session.edit((current) => removeKeys(current, menuKeys()));
                }}
              >
                Remove {menuKeys().length > 1 ? `${menuKeys().length} keys` : 'the key'}
              </ContextMenu.Item>
            )}
            {track &&
              (['before', 'after'] as const).map((side) => (
                <ContextMenu.Sub key={side}>
                  <ContextMenu.SubTrigger className="menu-item">
                    {side === 'before' ? 'Before the first' : 'After the last'}: {EXTEND_WORDS[track[side]]}
                  </ContextMenu.SubTrigger>
                  <ContextMenu.Portal>
                    <ContextMenu.SubContent className="menu-surface">
                      {EXTENDS.map((extend) => (
                        <ContextMenu.Item
                          key={extend}
                          className="menu-item"
                          onSelect={() =>
                            session.edit((current) => setExtend(current, hit!.lane.address, side, extend))
                          }
                        >
                          {EXTEND_WORDS[extend]}
                        </ContextMenu.Item>
                      ))}
                    </ContextMenu.SubContent>
                  </ContextMenu.Portal>
                </ContextMenu.Sub>
              ))}
          </ContextMenu.Content>
        </ContextMenu.Portal>
      </ContextMenu.Root>
      {lanes.length === 0 && (
        <p className="absolute text-ink-2" style={{ left: NAMES_WIDTH + 24, top: RULER + 20 }}>
          Nothing moves yet. Choose a part, go to a frame and press K to key its place, or write a formula
          after = in any field.
        </p>
      )}
      {tip && (
        <div
          className="num pointer-events-none absolute z-20 whitespace-nowrap rounded bg-ink px-2 py-1 text-paper"
          style={{ left: Math.min(size.width - 230, NAMES_WIDTH + tip.x + 10), top: Math.max(2, tip.y) }}
        >
          {tip.text}
        </div>
      )}
    </div>
  );
}
