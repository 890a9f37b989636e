import type { KeyboardEvent } from 'react';
import { moveKeys } from '../../../../core/edit';
import type { Session } from '../session';
import { zoomedWindow } from '../timeline/time-scale';
import type { ShownTime } from '../timeline/use-time-window';
import type { Lane, LaneRow } from './lanes';

/** What the keys of the lanes work on. */
export interface LaneKeyboard {
  readonly rows: readonly LaneRow[];
  readonly time: ShownTime;
  choose(lane: Lane): void;
  /** Opens the menu of a lane at the playhead. */
  menu(row: LaneRow & { kind: 'lane' }): void;
}

/** Does what a key means while the lanes have the keyboard. @returns whether it meant anything */
export function laneKey(
  session: Session,
  event: Pick<KeyboardEvent, 'key' | 'shiftKey' | 'altKey' | 'ctrlKey' | 'metaKey'>,
  { rows, time, choose, menu }: LaneKeyboard,
): boolean {
  const { channel, chosenKeys } = session.choice.now;
  const laneRows = rows.filter((row) => row.kind === 'lane');
  const at = laneRows.findIndex((row) => row.lane.address === channel);
  const by = event.shiftKey ? 10 : 1;
  switch (event.key) {
    case 'ArrowDown':
    case 'ArrowUp': {
      const next = at + (event.key === 'ArrowDown' ? 1 : -1);
      const row = laneRows[Math.max(0, Math.min(laneRows.length - 1, next))];
      if (row) choose(row.lane);
      return true;
    }
    case 'ArrowLeft':
    case 'ArrowRight':
      if (!event.altKey) return false;
      if (chosenKeys.length > 0)
        session.edit((now) => moveKeys(now, chosenKeys, event.key === 'ArrowLeft' ? -by : by));
      return true;
    case '+':
    case '-': {
      const { window, first, last } = time;
      const factor = event.key === '+' ? 0.8 : 1.25;
      session.time.show(zoomedWindow(window, session.time.now.frame, factor, first, last));
      return true;
    }
    case 'ContextMenu':
    case 'F10': {
      const row = laneRows[at];
      if (!row || (event.key === 'F10' && !event.shiftKey)) return false;
      menu(row);
      return true;
    }
  }
  if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== 'a') return false;
  // All that the filter lets through, folded or not; with Shift those of this lane.
  const lanes = rows
    .flatMap((row) => (row.kind === 'group' ? (row.folded ? row.lanes : []) : [row.lane]))
    .filter((lane) => !event.shiftKey || lane.address === channel);
  session.choice.keys(
    lanes.flatMap((entry) => entry.keys.map((key) => ({ address: entry.address, key: key.id }))),
  );
  return true;
}
