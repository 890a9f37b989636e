import { solveShare, EASES, type Ease } from '../../../../core/curve';
import { EASING_NAMES, EASINGS, type EasingName } from '../../../../core/easing';
import type { Shot } from '../../../../core/document';
import {
  setStretch,
  setStretchShape,
  type Change,
  type KeyAddress,
  type StretchManner,
  type StretchShape,
} from '../../../../core/edit';
import type { OwnManner } from '../../../../wire';
import { mannerWords } from '../keys/key-words';

/** A way to move as a tile of the palette. */
export interface MannerTile {
  readonly id: string;
  readonly words: string;
  /** Share of the way gone at a share of the time. */
  readonly at: (share: number) => number;
  readonly apply: (shot: Shot, stretches: readonly KeyAddress[]) => Change;
  /** Kept by people with their project. */
  readonly own: boolean;
}

type Points = readonly [number, number, number, number];

/** A cubic Bezier of the unit square as share of the way over share of the time. */
function bezier([x1, y1, x2, y2]: Points): (share: number) => number {
  const [c, cy] = [3 * x1, 3 * y1];
  const [b, by] = [3 * x2 - 2 * c, 3 * y2 - 2 * cy];
  return (share) => {
    const s = solveShare(1 - b - c, b, c, share);
    return (((1 - by - cy) * s + by) * s + cy) * s;
  };
}

/** What automatic handles do between two keys that stand alone. */
const SMOOTH: Points = [1 / 3, 0, 2 / 3, 1];

function shareOf(manner: StretchManner): (share: number) => number {
  if (manner === 'hold') return (share) => (share < 1 ? 0 : 1);
  if (manner === 'linear') return (share) => share;
  if (manner === 'smooth') return bezier(SMOOTH);
  if (Object.hasOwn(EASES, manner)) return bezier(EASES[manner as Ease]);
  return EASINGS[EASING_NAMES.indexOf(manner as EasingName)]!;
}

const tile = (manner: StretchManner): MannerTile => ({
  id: manner,
  words: mannerWords(manner),
  at: shareOf(manner),
  apply: (shot, stretches) => setStretch(shot, stretches, manner),
  own: false,
});

/** Every way to move that Whirl brings along, the plain ones first. */
export const TILES: readonly MannerTile[] = [
  ...(['hold', 'linear', 'smooth', 'ease', 'ease-in', 'ease-out', 'ease-in-out'] as const),
  ...EASING_NAMES,
].map(tile);

function shareOfShape({ manner, points, piece }: StretchShape): (share: number) => number {
  if (points) return bezier(points);
  const whole = shareOf(manner === 'curve' ? 'smooth' : manner);
  if (!piece) return whole;
  const { from, to, gain } = piece;
  const start = whole(from);
  const rest = 1 - gain * (whole(to) - start);
  return (share) => gain * (whole(from + (to - from) * share) - start) + rest * share;
}

export const ownTile = ({ name, shape }: OwnManner): MannerTile => ({
  id: `own ${name}`,
  words: name,
  at: shareOfShape(shape),
  apply: (shot, stretches) => setStretchShape(shot, stretches, shape, `Move as "${name}"`),
  own: true,
});

/** A drawn curve for a tile, from the lower left to the upper right of a box; what shoots over stays in sight. */
export function tilePath(at: (share: number) => number, width: number, height: number): string {
  const count = 32;
  const values = Array.from({ length: count + 1 }, (_, i) => at(i / count));
  const low = Math.min(0, ...values);
  const high = Math.max(1, ...values);
  return values
    .map((value, i) => {
      const x = (i / count) * width;
      const y = (1 - (value - low) / (high - low)) * height;
      return `${i === 0 ? 'M' : 'L'}${x.toFixed(1)} ${y.toFixed(1)}`;
    })
    .join('');
}

const RECENT_KEY = 'whirl:recent-manners';
const RECENT = 5;

/** Ids of the ways to move used last in this browser, the latest first. */
export function recentManners(): readonly string[] {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(RECENT_KEY) ?? '[]');
    return Array.isArray(kept)
      ? kept.filter((id): id is string => typeof id === 'string').slice(0, RECENT)
      : [];
  } catch {
    return [];
  }
}

export function rememberManner(id: string): void {
  try {
    const next = [id, ...recentManners().filter((other) => other !== id)].slice(0, RECENT);
    localStorage.setItem(RECENT_KEY, JSON.stringify(next));
  } catch {
    // A browser that keeps nothing only loses the row of those used last.
  }
}
