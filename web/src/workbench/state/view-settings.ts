import type { PinKind } from '../../../../core/document';
import { draftKept, keepDraft } from '../view/draft';
import { Slice } from './slice';

export type Tool = 'pick' | 'move' | 'turn' | 'size' | 'pivot' | 'measure' | 'pin';
export type ViewSide = 'free' | 'front' | 'side' | 'top' | 'shot';
/** Along which axes handles lie: the part's own, those its channels act along, or the world's. */
export type HandleAxes = 'own' | 'parent' | 'world';

/** What dragging in the view catches on. */
export interface ViewSnap {
  /** Steps of a tenth of the shown unit, and of an angle. */
  readonly grid: boolean;
  /** Pivots, corners, edge middles and middles of other parts. */
  readonly points: boolean;
}

export interface ViewState {
  readonly tool: Tool;
  readonly side: ViewSide;
  readonly lockedAxes: readonly ('x' | 'y' | 'z')[];
  readonly axes: HandleAxes;
  readonly snap: ViewSnap;
  readonly trail: boolean;
  readonly ghosts: boolean;
  /** The view is drawn coarser and without shadows. */
  readonly draft: boolean;
  readonly finder: 'off' | 'small' | 'large';
  readonly finderAt: FinderPlace;
  /** Share of the view's width that it takes; `null` for that of small or large. */
  readonly finderShare: number | null;
  /** The viewfinder shows what lies beyond the frame, dimmed. */
  readonly beyond: boolean;
  readonly safeArea: boolean;
  /** Typing or dragging a pivot leaves the part where it is. */
  readonly pivotStays: boolean;
  /** By what parts are joined. */
  readonly pinKind: PinKind;
}

/** Where the viewfinder stands: in a corner of the view, or beside it. */
export type FinderPlace = 'bottom-right' | 'bottom-left' | 'top-right' | 'top-left' | 'beside';

type Switch = 'trail' | 'ghosts' | 'beyond' | 'safeArea' | 'draft';

/** How the view is looked at and worked in. */
export class ViewSettings extends Slice<ViewState> {
  constructor() {
    super({
      tool: 'pick',
      side: 'free',
      lockedAxes: [],
      axes: 'parent',
      snap: { grid: false, points: false },
      trail: false,
      ghosts: false,
      draft: draftKept(),
      finder: 'small',
      finderAt: 'bottom-right',
      finderShare: null,
      beyond: false,
      safeArea: false,
      pivotStays: true,
      pinKind: 'pin',
    });
  }

  take(tool: Tool): void {
    this.set({ tool });
  }

  joinBy(pinKind: PinKind): void {
    this.set({ pinKind });
  }

  look(side: ViewSide): void {
    this.set({ side });
  }

  /** To the shot as the camera sees it, or back to looking freely. */
  swapShot(): void {
    this.set({ side: this.now.side === 'shot' ? 'free' : 'shot' });
  }

  along(axes: HandleAxes): void {
    this.set({ axes });
  }

  toggleLock(axis: 'x' | 'y' | 'z'): void {
    const { lockedAxes } = this.now;
    this.set({
      lockedAxes: lockedAxes.includes(axis)
        ? lockedAxes.filter((other) => other !== axis)
        : [...lockedAxes, axis],
    });
  }

  toggleSnap(to: keyof ViewSnap): void {
    const { snap } = this.now;
    this.set({ snap: { ...snap, [to]: !snap[to] } });
  }

  toggle(what: Switch): void {
    this.set({ [what]: !this.now[what] });
    if (what === 'draft') keepDraft(this.now.draft);
  }

  find(finder: ViewState['finder']): void {
    this.set({ finder, finderShare: null });
  }

  /** Puts the viewfinder into another corner, or beside the view. */
  putFinder(finderAt: FinderPlace): void {
    if (finderAt !== this.now.finderAt) this.set({ finderAt, finderShare: null });
  }

  /** Makes the viewfinder wider or narrower: a share of the view's width. */
  sizeFinder(share: number | null): void {
    this.set({ finderShare: share === null ? null : Math.min(0.9, Math.max(0.12, share)) });
  }

  keepPlaceOfPivot(pivotStays: boolean): void {
    this.set({ pivotStays });
  }
}
