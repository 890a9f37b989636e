import { useState } from 'react';
import type { Camera } from 'three';
import { PIN_KINDS, pinName } from '../../../../core/document';
import { addPin, EditRefused } from '../../../../core/edit';
import { Chip, Chips } from '../../ui/chips';
import { choose } from '../actions/choosing';
import { snapshot } from '../actions/values';
import { useSession, useShot, useViewSettings } from '../session';
import { toPixel } from '../view/handle-geometry';
import { nearestSnap, POINT_REACH_PX, type SnapPoint } from '../view/snap-points';
import { useEscape } from '../view/use-escape';
import type { ViewPainter } from '../view/view-painter';
import type { Area } from '../view/view-size';
import { canBePinned, groundAt, pinOf, pinPoints, type PinPick } from './pin-points';
import { KIND_WORDS, stateOfPinned } from './pin-words';

type Props = Area & { readonly painter: ViewPainter; readonly camera: Camera };

/** Makes pins by clicks: a point of a part, the point that is to hold it, and for a line another point of it. */
export function PinTool({ painter, camera, width, height, left, top }: Props) {
  const session = useSession();
  useShot((state) => state.tick);
  const kind = useViewSettings((state) => state.pinKind);
  const [picks, setPicks] = useState<readonly PinPick[]>([]);
  const [over, setOver] = useState<PinPick | null>(null);
  const [said, setSaid] = useState<{ readonly words: string; readonly fine: boolean } | null>(null);
  const [snaps, setSnaps] = useState<readonly { x: number; y: number }[]>([]);
  useEscape(picks.length > 0, () => setPicks([]));

  const caught = (): readonly SnapPoint[] => pinPoints(session.shot, session.evaluator, painter.picture);
  const pickAt = (x: number, y: number, points: readonly SnapPoint[]): PinPick | null => {
    const snap = nearestSnap(points, x, y, camera, width, height, POINT_REACH_PX);
    const name = (part: string): string => session.shot.parts[part]!.name;
    if (snap) return { part: snap.part, point: snap.point, what: `${snap.kind} of ${name(snap.part)}` };
    const surface = painter.surface(x + left, y + top);
    if (surface && canBePinned(session.shot, surface.part))
      return { part: surface.part, point: surface.point, what: `on ${name(surface.part)}` };
    const [first] = picks;
    if (!first) return null;
    const point = groundAt(session.evaluator, session.shot, first, camera, [
      (x / width) * 2 - 1,
      1 - (y / height) * 2,
    ]);
    return point && { part: null, point, what: 'on the ground' };
  };
  const place = (event: React.PointerEvent<SVGElement>): [number, number] => {
    const box = event.currentTarget.getBoundingClientRect();
    return [event.clientX - box.left, event.clientY - box.top];
  };
  const needed = kind === 'pin' ? 2 : 3;
  const make = (all: readonly PinPick[]): void => {
    setPicks([]);
    const evaluator = snapshot(session);
    const spec = pinOf(session.shot, evaluator, kind, all);
    if (!spec) {
      setSaid({
        words:
          'Both points lie on one part: pick the second one on another part, or the same one again for the ground.',
        fine: false,
      });
      return;
    }
    try {
      const { change, id } = addPin(session.shot, evaluator, spec);
      if (!session.edit(() => change)) return;
      choose(session, [spec.a]);
      const now = session.shot;
      const state = stateOfPinned(now, spec.a);
      setSaid({ words: `${pinName(now, now.pins[id]!)}. ${state.words}`, fine: state.fine });
    } catch (error) {
      if (!(error instanceof EditRefused)) throw error;
      setSaid({ words: error.message, fine: false });
    }
  };
  const pixel = (pick: PinPick): { x: number; y: number } => toPixel(pick.point, camera, width, height);
  const asked = [
    'Pick a point of a part: ends, middles and pivots are caught',
    `${picks[0]?.what ?? ''}: now ${kind === 'pin' ? 'what holds it' : 'a point of its line'} on another part, or the same point again for the ground`,
    'Pick another point of the line',
  ][picks.length];
  const words = picks.length === 0 && said ? said : { words: asked ?? '', fine: true };
  return (
    <>
      <svg
        className="on-view pointer-events-auto absolute cursor-crosshair"
        style={{ left, top }}
        width={width}
        height={height}
        data-testid="pin-tool"
        onPointerMove={(event) => {
          const [x, y] = place(event);
          const points = caught();
          const pick = pickAt(x, y, points);
          setOver(pick);
          const near = points.flatMap(({ point, part }) => {
            if (part !== pick?.part) return [];
            const at = toPixel(point, camera, width, height);
            return at.ahead ? [at] : [];
          });
          setSnaps(near);
        }}
        onPointerDown={(event) => {
          if (event.button !== 0) return;
          const pick = pickAt(...place(event), caught());
          setSaid(null);
          if (!pick) return;
          const all = [...picks, pick];
          if (all.length < needed) setPicks(all);
          else make(all);
        }}
      >
        <PinMarks snaps={snaps} picks={picks} over={over} pixel={pixel} />
      </svg>
      <PinWords {...words} over={picks.length === 0 && !said && over ? over.what : null} />
      <Chips label="Join by" className="pointer-events-auto bottom-[44px] left-2.5">
        {PIN_KINDS.map((one) => (
          <Chip
            key={one}
            on={kind === one}
            title={KIND_WORDS[one][1]}
            onClick={() => {
              session.view.joinBy(one);
              setPicks([]);
            }}
          >
            {KIND_WORDS[one][0]}
          </Chip>
        ))}
      </Chips>
    </>
  );
}

/** What would be caught, what has been picked, and what lies under the pointer. */
function PinMarks({
  snaps,
  picks,
  over,
  pixel,
}: {
  snaps: readonly { readonly x: number; readonly y: number }[];
  picks: readonly PinPick[];
  over: PinPick | null;
  pixel(pick: PinPick): { x: number; y: number };
}) {
  return (
    <>
      {snaps.map(({ x, y }, i) => (
        <circle key={i} cx={x} cy={y} r="1.8" fill="var(--color-ink-2)" />
      ))}
      {picks[0] && over && (
        <line
          x1={pixel(picks.at(-1)!).x}
          y1={pixel(picks.at(-1)!).y}
          x2={pixel(over).x}
          y2={pixel(over).y}
          stroke="var(--color-teal)"
          strokeWidth="1.8"
          strokeDasharray="6 3"
        />
      )}
      {[...picks, ...(over ? [over] : [])].map((pick, i) => {
        const { x, y } = pixel(pick);
        return (
          <circle
            key={i}
            cx={x}
            cy={y}
            r="6"
            fill="var(--color-halo)"
            fillOpacity="0.7"
            stroke="var(--color-teal)"
            strokeWidth="2"
          />
        );
      })}
    </>
  );
}

/** What is asked for, or what has come of it. @param over what lies under the pointer, where that is to be told */
function PinWords({ words, fine, over }: { words: string; fine: boolean; over: string | null }) {
  return (
    <div
      role="status"
      className="pointer-events-none absolute left-1/2 top-11 flex w-max max-w-[92%] -translate-x-1/2 items-center gap-2 rounded-md bg-strip px-3 py-1.5 text-paper shadow-lg"
      data-testid="pinning"
    >
      {!fine && (
        <span className="text-night-brass" aria-hidden="true">
          ▲
        </span>
      )}
      <span>{words}</span>
      {over !== null && <span className="whitespace-nowrap text-night-ink-3"> · {over}</span>}
    </div>
  );
}
