import { useStore } from 'zustand';
import { LaneTip, RubberBox, type LaneTipAt } from '../keys/lane-overlays';
import { Slice } from '../state/slice';
import type { PlotBox } from './plot-drag';

/** What follows the pointer over the plot: kept beside the editor, which is not drawn again for it. */
export class PlotHints extends Slice<{ readonly rubber: PlotBox | null; readonly tip: LaneTipAt | null }> {
  constructor() {
    super({ rubber: null, tip: null });
  }

  readonly rubber = (rubber: PlotBox | null): void => this.set({ rubber });

  readonly tip = (tip: LaneTipAt | null): void => {
    if (tip !== this.now.tip) this.set({ tip });
  };
}

/** The box with which keys are chosen, and what is under the pointer. */
export function PlotPointer({ hints, left, width }: { hints: PlotHints; left: number; width: number }) {
  const { rubber, tip } = useStore(hints.store);
  return (
    <>
      {rubber && <RubberBox rubber={rubber} left={left} />}
      {tip && <LaneTip tip={tip} left={left} room={left + width} />}
    </>
  );
}
