import type { Shot } from '../../../../core/document';
import { Slice } from './slice';

/** What is drawn below the curves, for the channel that leads. */
export type Below = 'nothing' | 'speed' | 'acceleration' | 'slip';

/** Another channel laid over the one that leads, to see whether the two agree. */
export interface Overlay {
  readonly address: string;
  /** Its values are multiplied by this, then raised by `offset`; it is shown `shift` frames later. */
  readonly scale: number;
  readonly offset: number;
  readonly shift: number;
}

/** A wheel that is held against a way. */
export interface Rolling {
  readonly way: string;
  /** Metres. */
  readonly radius: number;
  readonly sign: 1 | -1;
}

export interface PlotState {
  /** Channels that are not drawn. */
  readonly hidden: ReadonlySet<string>;
  /** The only channel that is drawn. */
  readonly only: string | null;
  /** Each curve has the full height. */
  readonly normalised: boolean;
  readonly below: Below;
  readonly overlay: Overlay | null;
  readonly rolling: Rolling | null;
  /** How much closer the values are looked at, and by which share of the height they are moved. */
  readonly lift: { readonly zoom: number; readonly pan: number };
  /** A document that is tried: shown by the curves, nothing is changed by it. */
  readonly trial: Shot | null;
  /** The trial is being dragged: the axes stay as they are, so that what is dragged stays under the pointer. */
  readonly dragged: boolean;
  /** The document before the last edit, whose curves stay as thin lines. */
  readonly before: Shot | null;
  /** Tolerance shown as a band round the curve that leads, in its unit. */
  readonly band: number | null;
}

const WHOLE = { zoom: 1, pan: 0 };

/** How curves are plotted. */
export class Plot extends Slice<PlotState> {
  constructor() {
    super({
      hidden: new Set(),
      only: null,
      normalised: false,
      below: 'nothing',
      overlay: null,
      rolling: null,
      lift: WHOLE,
      trial: null,
      dragged: false,
      before: null,
      band: null,
    });
  }

  toggleHidden(address: string): void {
    const hidden = new Set(this.now.hidden);
    if (!hidden.delete(address)) hidden.add(address);
    this.set({ hidden, only: null });
  }

  isolate(only: string | null): void {
    this.set({ only, lift: WHOLE });
  }

  normalise(normalised: boolean): void {
    this.set({ normalised, lift: WHOLE });
  }

  show(below: Below): void {
    this.set({ below });
  }

  lay(overlay: Overlay | null): void {
    this.set({ overlay });
  }

  roll(rolling: Rolling | null): void {
    this.set({ rolling, ...(rolling ? { below: 'slip' as const } : {}) });
  }

  look(lift: PlotState['lift'] | null): void {
    this.set({ lift: lift ?? WHOLE });
  }

  try(trial: Shot | null, dragged = false): void {
    if (trial !== this.now.trial) this.set({ trial, dragged: dragged && trial !== null });
  }

  edited(before: Shot): void {
    this.set({ before, trial: null, dragged: false });
  }

  /** What was before is nothing to compare with any longer. */
  forget(): void {
    this.set({ before: null, trial: null, dragged: false });
  }

  tolerate(band: number | null): void {
    if (band !== this.now.band) this.set({ band });
  }
}
