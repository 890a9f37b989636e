import { expect, it } from 'vitest';
import { blankShot } from '../../../../core/document';
import { beginLaneDrag } from '../keys/lane-drag';
import type { Session } from '../session';
import { PointerHints } from '../timeline/pointer-hints';
import { timeScale } from '../timeline/time-scale';
import { beginPlotDrag } from './plot-drag';
import { plotMap } from './plot-map';

/** An element of 500 to 300 pixels on a page, as far as a drag needs it. */
function stage() {
  const element = Object.assign(new EventTarget(), {
    ownerDocument: Object.assign(new EventTarget(), { defaultView: new EventTarget() }),
    setPointerCapture: () => undefined,
    hasPointerCapture: () => false,
    getBoundingClientRect: () => ({ left: 0, top: 0, width: 500, height: 300 }),
  });
  const at = (type: string, x: number, y: number): PointerEvent =>
    Object.assign(new Event(type), { pointerId: 1, clientX: x, clientY: y }) as unknown as PointerEvent;
  return { element, at };
}

const scale = timeScale(1, 49, 500);
const nothing = (): void => undefined;
const session = {
  shot: blankShot(),
  choice: { now: { chosenKeys: [] }, keys: nothing },
} as unknown as Session;
const size = { width: 500, top: 32, bottom: 232 };
const map = plotMap([], scale, size, { normalised: false, lift: { zoom: 1, pan: 0 } }, 'm');
const begins = {
  keys: (event: PointerEvent, element: HTMLElement, hints: PointerHints) =>
    beginLaneDrag(
      session,
      { rows: [], scale, scroll: 0, markers: [], band: null },
      { row: null, frame: 10, keys: [], keyFrame: null },
      event,
      element,
      { ...hints, gesture: nothing, marker: nothing, lane: nothing },
    ),
  curves: (event: PointerEvent, element: HTMLElement, hints: PointerHints) =>
    beginPlotDrag(
      session,
      { map, lines: [], markers: [] },
      { peg: null, handle: null, line: null, outside: null },
      event,
      element,
      { ...hints, lead: nothing, outside: nothing },
    ),
};

it.each(Object.entries(begins))(
  'a box drawn over %s says no longer what was under the pointer before it, and goes with the pointer',
  (_, begin) => {
    const { element, at } = stage();
    const hints = new PointerHints();
    hints.tip({ x: 100, y: 76, text: 'frames 1 to 30' });
    begin(at('pointerdown', 100, 100), element as unknown as HTMLElement, hints);
    expect(hints.now.tip).toBeNull();
    element.dispatchEvent(at('pointermove', 300, 200));
    expect(hints.now.rubber).toEqual({ x0: 100, y0: 100, x1: 300, y1: 200 });
    element.dispatchEvent(at('pointerup', 300, 200));
    expect(hints.now).toEqual({ rubber: null, tip: null });
  },
);
