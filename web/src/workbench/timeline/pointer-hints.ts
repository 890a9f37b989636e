import { themed } from '../../shared/theme';
import { Slice } from '../state/slice';

/** A box that is drawn with the pointer, in pixels of the plot. */
export interface HintBox {
  readonly x0: number;
  readonly y0: number;
  readonly x1: number;
  readonly y1: number;
}

/** Words beside the pointer: what is under it, or what a drag makes of it. */
export interface HintTip {
  readonly x: number;
  readonly y: number;
  readonly text: string;
}

interface Hints {
  readonly rubber: HintBox | null;
  readonly tip: HintTip | null;
}

/** What follows the pointer over time: kept beside the editors, which are not drawn again for it. */
export class PointerHints extends Slice<Hints> {
  constructor() {
    super({ rubber: null, tip: null });
  }

  readonly rubber = (rubber: HintBox | null): void => {
    if (rubber !== this.now.rubber) this.set({ rubber });
  };

  readonly tip = (tip: HintTip | null): void => {
    if (tip !== this.now.tip) this.set({ tip });
  };
}

const TIP = { font: '11px "Spline Sans Mono Variable", monospace', height: 22, room: 8, round: 4 };

/** Draws the box and the words on a canvas of so many pixels. */
export function paintHints(g: CanvasRenderingContext2D, { rubber, tip }: Hints, width: number): void {
  if (rubber) {
    const { x0, y0, x1, y1 } = rubber;
    g.fillStyle = themed('teal');
    g.strokeStyle = themed('teal');
    g.lineWidth = 1;
    g.setLineDash([]);
    g.globalAlpha = 0.15;
    g.fillRect(x0, y0, x1 - x0, y1 - y0);
    g.globalAlpha = 1;
    g.strokeRect(x0 + 0.5, y0 + 0.5, Math.max(0, x1 - x0 - 1), Math.max(0, y1 - y0 - 1));
  }
  if (!tip) return;
  g.font = TIP.font;
  const wide = g.measureText(tip.text).width + 2 * TIP.room;
  const x = Math.round(Math.max(0, Math.min(width - wide - 2, tip.x + 10)));
  const y = Math.round(Math.max(2, tip.y));
  g.fillStyle = themed('strip');
  g.beginPath();
  g.roundRect(x, y, wide, TIP.height, TIP.round);
  g.fill();
  g.fillStyle = themed('paper');
  g.textAlign = 'left';
  g.textBaseline = 'middle';
  g.fillText(tip.text, x + TIP.room, y + TIP.height / 2 + 0.5);
  g.textBaseline = 'alphabetic';
}
