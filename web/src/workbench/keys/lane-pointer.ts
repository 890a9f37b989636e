import type { PointerEvent } from 'react';
import { trackOf } from '../../../../core/document';
import { insertKeys } from '../../../../core/edit';
import { choose } from '../actions/choosing';
import type { Session } from '../session';
import type { PointerHints } from '../timeline/pointer-hints';
import type { MenuTarget } from './key-menu';
import { beginLaneDrag, overGrip, type DragShow } from './lane-drag';
import { factsOf, hitAt, markerAt, type LaneMap, type Point } from './lane-hit';
import { targetUnder } from './lane-target';
import type { Lane } from './lanes';
import { RULER } from './lanes-painter';

export function chooseLane(session: Session, lane: Lane): void {
  if (lane.part && !session.choice.now.chosen.includes(lane.part)) choose(session, [lane.part]);
  session.choice.showChannel(lane.address);
}

const pointOf = (event: { clientX: number; clientY: number; currentTarget: Element }): Point => {
  const area = event.currentTarget.getBoundingClientRect();
  return { x: event.clientX - area.left, y: event.clientY - area.top };
};

/** What a menu is meant for that is about to be asked for at a point; what lies there is chosen. */
function aimMenu(session: Session, map: LaneMap, at: Point): MenuTarget {
  const hit = hitAt(map, at);
  const marker = at.y < RULER ? markerAt(map, at) : null;
  if (marker) return { kind: 'marker', id: marker };
  if (at.y < RULER || !hit.row) return { kind: 'ruler', frame: Math.round(map.scale.frame(at.x)) };
  const target = targetUnder(session.shot, hit, session.choice.now.chosenKeys);
  if (target.onKey && target.keys === hit.keys) session.choice.keys(hit.keys);
  if (hit.row.kind === 'lane') chooseLane(session, hit.row.lane);
  return target;
}

/** What the lanes do with the pointer. `map` tells where they stand when it is asked. */
export function lanePointer(
  session: Session,
  map: () => LaneMap,
  shows: Pick<DragShow, 'gesture' | 'marker'> & {
    readonly hints: PointerHints;
    menu(target: MenuTarget): void;
    /** Gives the lanes the keyboard. */
    focus(): void;
  },
) {
  const { hints } = shows;
  const drag: DragShow = {
    gesture: shows.gesture,
    marker: shows.marker,
    rubber: hints.rubber,
    tip: hints.tip,
    lane: ({ row }) => row?.kind === 'lane' && chooseLane(session, row.lane),
  };
  return {
    onPointerDown: (event: PointerEvent<HTMLCanvasElement>): void => {
      const at = pointOf(event);
      if (event.button !== 0) {
        shows.menu(aimMenu(session, map(), at));
        return;
      }
      shows.focus();
      beginLaneDrag(session, map(), hitAt(map(), at), event.nativeEvent, event.currentTarget, drag);
    },
    onPointerMove: (event: PointerEvent<HTMLCanvasElement>): void => {
      if (event.buttons) return;
      const at = pointOf(event);
      const hit = hitAt(map(), at);
      const cursor = overGrip(map(), at) ? 'ew-resize' : hit.keys.length > 0 ? 'grab' : 'default';
      event.currentTarget.style.cursor = cursor;
      const text = factsOf(session.shot, hit);
      hints.tip(text === null ? null : { x: at.x, y: at.y - 24, text });
    },
    onPointerLeave: (): void => hints.tip(null),
    /** A key where there is none. */
    onDoubleClick: (event: { clientX: number; clientY: number; currentTarget: Element }): void => {
      const { row, keys, frame } = hitAt(map(), pointOf(event));
      if (row?.kind !== 'lane' || keys.length > 0 || !trackOf(session.shot, row.lane.address)) return;
      session.edit((now) => insertKeys(now, [row.lane.address], Math.round(frame)));
    },
  };
}
