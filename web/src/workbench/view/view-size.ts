import type { FinderPlace, ViewState } from '../state/view-settings';

export interface Size {
  readonly width: number;
  readonly height: number;
}

export interface Area extends Size {
  readonly left: number;
  readonly top: number;
}

export const FINDER_BAR = 24;
const FINDER_WIDTH = 262;
const FINDER_LARGE = 0.62;
const MARGIN = 10;
/** Height of the bars at the top of the view, with what is left free round them. */
const BELOW_BARS = 46;
/** Share of the view's width of a viewfinder beside it. */
const BESIDE = 0.5;

/** Rectangle with given proportions, as large as fits in the middle of a size. */
export function fitted(size: Size, aspect: number): Area {
  const width = Math.min(size.width, size.height * aspect);
  const height = width / aspect;
  return { left: (size.width - width) / 2, top: (size.height - height) / 2, width, height };
}

/** Which viewfinder there is, as the settings of the view say. */
export type FinderOf = Pick<ViewState, 'finder' | 'finderAt' | 'finderShare'>;

/** Share of the view that is left of a viewfinder beside it. */
export function shareLeft({ finder, finderAt, finderShare }: FinderOf): number {
  return finder === 'off' || finderAt !== 'beside' ? 1 : 1 - (finderShare ?? BESIDE);
}

/** Where the viewfinder's picture lies in the view. */
export function finderArea(size: Size, aspect: number, of: FinderOf): Area {
  const { finderAt, finderShare } = of;
  const large = of.finder === 'large';
  if (finderAt === 'beside') {
    const left = Math.ceil(size.width * shareLeft(of));
    const room = { width: Math.max(1, size.width - left - 2), height: size.height - FINDER_BAR };
    const within = fitted(room, aspect);
    return { ...within, left: left + 1 + within.left };
  }
  const most =
    finderShare !== null
      ? size.width * finderShare
      : large
        ? size.width * FINDER_LARGE
        : Math.min(FINDER_WIDTH, size.width * 0.45);
  const height = Math.min(most / aspect, size.height * (large || finderShare !== null ? 0.82 : 0.6));
  const width = height * aspect;
  return {
    left: finderAt.endsWith('left') ? MARGIN : size.width - width - MARGIN,
    top: finderAt.startsWith('top') ? BELOW_BARS : size.height - height - FINDER_BAR - MARGIN,
    width,
    height,
  };
}

/** The corner of the view that a point is nearest to. */
export function cornerAt(size: Size, x: number, y: number): FinderPlace {
  return `${y < size.height / 2 ? 'top' : 'bottom'}-${x < size.width / 2 ? 'left' : 'right'}`;
}

/** What the viewfinder takes of the view, whose picture lies at `finder`: nothing lies over it, nor beside it. */
export function takenByFinder(size: Size, finder: Area, of: FinderOf): Area {
  if (of.finderAt !== 'beside') return finder;
  return { left: size.width * shareLeft(of), top: 0, width: size.width, height: size.height };
}
