import { expect, it } from 'vitest';
import { blankShot } from '../../../../core/document';
import { dragStage } from '../../ui/testing';
import { beginLaneDrag } from '../keys/lane-drag';
import type { Session } from '../session';
import { PointerHints } from '../timeline/pointer-hints';
import { timeScale } from '../timeline/time-scale';
import { beginPlotDrag } from './plot-drag';
import { plotMap } from './plot-map';

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
    const { element, pointer, send } = dragStage();
    const at = (clientX: number, clientY: number) => ({ clientX, clientY });
    const hints = new PointerHints();
    hints.tip({ x: 100, y: 76, text: 'frames 1 to 30' });
    const press = pointer('pointerdown', at(100, 100)) as PointerEvent;
    begin(press, element as unknown as HTMLElement, hints);
    expect(hints.now.tip).toBeNull();
    send(element, 'pointermove', at(300, 200));
    expect(hints.now.rubber).toEqual({ x0: 100, y0: 100, x1: 300, y1: 200 });
    send(element, 'pointerup', at(300, 200));
    expect(hints.now).toEqual({ rubber: null, tip: null });
  },
);
