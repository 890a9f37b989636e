import type { KeyboardEvent } from 'react';
import { insertKeys, shiftKeys } from '../../../../core/edit';
import type { Session } from '../session';
import { zoomedWindow } from '../timeline/time-scale';
import type { ShownTime } from '../timeline/use-time-window';
import type { Line } from './lines';
import type { PlotMap } from './plot-map';
import { pegsOf } from './plot-painter';

/** What the keys of the plot work on. */
export interface PlotKeyboard {
  readonly lines: readonly Line[];
  readonly lead: Line | null;
  readonly map: PlotMap;
  readonly time: ShownTime;
  takeLead(line: Line): void;
  menu(): void;
}

/** Share of the height of the plot by which an arrow moves values. */
const STEP_PX = 1;

/** Does what a key means while the plot has the keyboard. @returns whether it meant anything */
export function plotKey(
  session: Session,
  event: Pick<KeyboardEvent, 'key' | 'shiftKey' | 'altKey' | 'ctrlKey' | 'metaKey'>,
  { lines, lead, map, time, takeLead, menu }: PlotKeyboard,
): boolean {
  const { chosenKeys } = session.choice.now;
  const by = event.shiftKey ? 10 : 1;
  const command = event.ctrlKey || event.metaKey;
  switch (event.key) {
    case 'ArrowDown':
    case 'ArrowUp': {
      const up = event.key === 'ArrowUp';
      if (event.altKey) {
        if (!lead || chosenKeys.length === 0) return true;
        const step = (map.value(lead, 0) - map.value(lead, STEP_PX)) * by;
        session.edit((now) => shiftKeys(now, chosenKeys, 0, up ? step : -step));
        return true;
      }
      if (command) return false;
      const at = lines.findIndex((line) => line === lead);
      const next = lines[Math.max(0, Math.min(lines.length - 1, at + (up ? -1 : 1)))];
      if (next) takeLead(next);
      return true;
    }
    case 'ArrowLeft':
    case 'ArrowRight':
      if (!event.altKey) return false;
      if (chosenKeys.length > 0)
        session.edit((now) => shiftKeys(now, chosenKeys, event.key === 'ArrowLeft' ? -by : by, 0));
      return true;
    case 'Insert':
    case 'i':
      if (command || !lead?.track) return false;
      session.edit((now) => insertKeys(now, [lead.address], session.time.now.frame));
      return true;
    case '+':
    case '-': {
      const { window, first, last } = time;
      const factor = event.key === '+' ? 0.8 : 1.25;
      if (command) return false;
      session.time.show(zoomedWindow(window, session.time.now.frame, factor, first, last));
      return true;
    }
    case 'PageUp':
    case 'PageDown': {
      const { zoom, pan } = session.plot.now.lift;
      const factor = event.key === 'PageUp' ? 1.25 : 0.8;
      session.plot.look({ zoom: zoom * factor, pan: pan * factor });
      return true;
    }
    case '0':
      session.plot.look(null);
      return true;
    case 'ContextMenu':
    case 'F10':
      if (event.key === 'F10' && !event.shiftKey) return false;
      menu();
      return true;
  }
  if (!command || event.key.toLowerCase() !== 'a') return false;
  // All keys that are drawn; with Shift those of the curve that leads.
  session.choice.keys(
    lines
      .filter((line) => !event.shiftKey || line === lead)
      .flatMap((line) => pegsOf(line).map(({ id }) => ({ address: line.address, key: id }))),
  );
  return true;
}
