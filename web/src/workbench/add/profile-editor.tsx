import { useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import { PROFILE_LIMIT } from '../../../../core/document';
import { beginDrag } from '../../ui/drag';

type Profile = readonly (readonly [number, number])[];

const WIDTH = 150;
const HEIGHT = 210;
const PAD = 14;
const HIT_PX = 9;
const STEP = 0.01;

/** Profiles to begin with, from the bottom up. */
export const PROFILES: Readonly<Record<string, [number, number][]>> = {
  Bollard: [
    [0, 0],
    [1, 0],
    [1, 0.08],
    [0.72, 0.16],
    [0.66, 0.7],
    [0.95, 0.8],
    [0.9, 0.94],
    [0.55, 1],
    [0, 1],
  ],
  Bell: [
    [0.92, 0],
    [1, 0.02],
    [0.82, 0.22],
    [0.68, 0.5],
    [0.6, 0.78],
    [0.4, 0.93],
    [0.12, 1],
    [0, 1],
  ],
  Spool: [
    [0, 0],
    [1, 0],
    [1, 0.14],
    [0.4, 0.2],
    [0.4, 0.8],
    [1, 0.86],
    [1, 1],
    [0, 1],
  ],
  Post: [
    [0, 0],
    [0.7, 0],
    [0.7, 0.06],
    [0.45, 0.12],
    [0.5, 0.35],
    [0.32, 0.6],
    [0.5, 0.72],
    [0.3, 0.8],
    [0.55, 0.92],
    [0, 1],
  ],
};

const clamp = (value: number): number => Math.min(1, Math.max(0, value));
const rounded = (value: number): number => Math.round(value / STEP) * STEP;
const tidy = (value: number): number => Number(clamp(rounded(value)).toFixed(4));

const x = (r: number): number => PAD + r * (WIDTH - 2 * PAD);
const y = (h: number): number => HEIGHT - PAD - h * (HEIGHT - 2 * PAD);
const copy = (list: Profile): [number, number][] => list.map(([r, h]) => [r, h]);

/** Number of the point that begins the stretch that runs nearest to a place, or -1 where none is near. */
function stretchNear(points: Profile, px: number, py: number): number {
  let best = { gap: 24, after: -1 };
  for (let i = 0; i + 1 < points.length; i++) {
    const [a, b] = [points[i]!, points[i + 1]!];
    const [ax, ay, bx, by] = [x(a[0]), y(a[1]), x(b[0]), y(b[1])];
    const length = (bx - ax) ** 2 + (by - ay) ** 2 || 1;
    const share = clamp(((px - ax) * (bx - ax) + (py - ay) * (by - ay)) / length);
    const gap = Math.hypot(ax + share * (bx - ax) - px, ay + share * (by - ay) - py);
    if (gap < best.gap) best = { gap, after: i };
  }
  return best.after;
}

/** What a key does to the chosen point; `null` where it means nothing here, `profile` where it changes it. */
function keyOnPoint(
  profile: Profile,
  chosen: number,
  { key, shiftKey }: { readonly key: string; readonly shiftKey: boolean },
): { chosen: number | null; profile?: [number, number][] } | null {
  const next = copy(profile);
  const [r, h] = next[chosen]!;
  const by = shiftKey ? 10 * STEP : STEP;
  const moved = (to: [number, number]) => {
    next[chosen] = to;
    return { chosen, profile: next };
  };
  switch (key) {
    case 'PageUp':
      return { chosen: Math.min(profile.length - 1, chosen + 1) };
    case 'PageDown':
      return { chosen: Math.max(0, chosen - 1) };
    case 'Delete':
    case 'Backspace':
      if (next.length <= 2) return null;
      next.splice(chosen, 1);
      return { chosen: null, profile: next };
    case 'Insert': {
      if (!next[chosen + 1]) return null;
      const [nr, nh] = next[chosen + 1]!;
      next.splice(chosen + 1, 0, [tidy((r + nr) / 2), tidy((h + nh) / 2)]);
      return { chosen: chosen + 1, profile: next };
    }
    case 'ArrowLeft':
      return moved([tidy(r - by), h]);
    case 'ArrowRight':
      return moved([tidy(r + by), h]);
    case 'ArrowUp':
      return moved([r, tidy(h + by)]);
    case 'ArrowDown':
      return moved([r, tidy(h - by)]);
    default:
      return null;
  }
}

/**
 * Draws half of what is turned: the dashed line is the axis. Drag points, click the line to put one in, Delete takes one
 * out; arrow keys move the chosen point.
 */
export function ProfileEditor({
  profile,
  onChange,
}: {
  profile: Profile;
  onChange(next: [number, number][]): void;
}) {
  const [draft, setDraft] = useState<Profile | null>(null);
  const [chosen, setChosen] = useState<number | null>(null);
  const box = useRef<SVGSVGElement>(null);
  const points = draft ?? profile;
  const at = (event: { clientX: number; clientY: number }): [number, number] => {
    const area = box.current!.getBoundingClientRect();
    return [
      tidy((event.clientX - area.left - PAD) / (WIDTH - 2 * PAD)),
      tidy((HEIGHT - PAD - (event.clientY - area.top)) / (HEIGHT - 2 * PAD)),
    ];
  };

  const begin = (event: PointerEvent, index: number, list: Profile): void => {
    event.preventDefault();
    setChosen(index);
    let next = copy(list);
    beginDrag(box.current!, event, {
      move: (to) => {
        next = copy(next);
        next[index] = at(to);
        setDraft(next);
      },
      end: (kept) => {
        setDraft(null);
        if (kept && JSON.stringify(next) !== JSON.stringify(profile)) onChange(next);
      },
    });
    setDraft(next);
  };

  const onDown = (event: PointerEvent): void => {
    const area = box.current!.getBoundingClientRect();
    const [px, py] = [event.clientX - area.left, event.clientY - area.top];
    const near = points.findIndex(([r, h]) => Math.hypot(x(r) - px, y(h) - py) <= HIT_PX);
    if (near >= 0) {
      begin(event, near, points);
      return;
    }
    if (points.length >= PROFILE_LIMIT) return;
    const after = stretchNear(points, px, py);
    if (after < 0) {
      setChosen(null);
      return;
    }
    const next = copy(points);
    next.splice(after + 1, 0, at(event));
    begin(event, after + 1, next);
  };

  const onKey = (event: KeyboardEvent): void => {
    event.stopPropagation();
    if (event.key === 'Tab' || event.key === 'Escape') return;
    if (chosen === null) {
      if (event.key.startsWith('Arrow')) setChosen(0);
      return;
    }
    const answer = keyOnPoint(profile, chosen, event);
    if (!answer) return;
    event.preventDefault();
    setChosen(answer.chosen);
    if (answer.profile) onChange(answer.profile);
  };

  const point = chosen === null ? null : points[chosen];
  return (
    <div className="w-[240px]">
      <div className="flex gap-3">
        <svg
          ref={box}
          width={WIDTH}
          height={HEIGHT}
          tabIndex={0}
          role="application"
          aria-label={`Profile with ${points.length} points. Page up and down choose one, arrows move it, Insert and Delete.`}
          className="flex-none touch-none rounded border border-line bg-field"
          onPointerDown={onDown}
          onKeyDown={onKey}
        >
          <ProfileLines points={points} chosen={chosen} />
        </svg>
        <div className="flex flex-col gap-1">
          <span className="text-xs text-ink-2">Begin with</span>
          {Object.entries(PROFILES).map(([name, preset]) => (
            <button
              key={name}
              type="button"
              className="btn h-[22px]"
              onClick={() => {
                setChosen(null);
                onChange(copy(preset));
              }}
            >
              {name}
            </button>
          ))}
        </div>
      </div>
      <p className="num mt-2 min-h-4 text-ink-2">
        {point
          ? `from the axis ${point[0].toFixed(2)}, up ${point[1].toFixed(2)}`
          : 'Drag a point; click the line for a new one.'}
      </p>
    </div>
  );
}

function ProfileLines({ points, chosen }: { points: Profile; chosen: number | null }) {
  const line = points.map(([r, h]) => `${x(r)},${y(h)}`).join(' ');
  const other = points.map(([r, h]) => `${2 * x(0) - x(r)},${y(h)}`).join(' ');
  return (
    <>
      <line x1={x(0)} x2={x(0)} y1={4} y2={HEIGHT - 4} stroke="var(--color-ink-3)" strokeDasharray="4 3" />
      <polyline points={other} fill="none" stroke="var(--color-line)" strokeWidth="1" />
      <polygon
        points={`${x(0)},${y(points[0]![1])} ${line} ${x(0)},${y(points.at(-1)![1])}`}
        fill="var(--color-teal-wash)"
      />
      <polyline points={line} fill="none" stroke="var(--color-key)" strokeWidth="2" />
      {points.map(([r, h], i) => (
        <circle
          key={i}
          cx={x(r)}
          cy={y(h)}
          r={i === chosen ? 5.5 : 4}
          fill={i === chosen ? 'var(--color-teal)' : 'var(--color-key)'}
          stroke="var(--color-field)"
        />
      ))}
    </>
  );
}
