import { changeMarker, duplicateKeys, moveKeys, scaleKeys, type KeyAddress } from '../../../../core/edit';
import { beginDrag } from '../../ui/drag';
import { goTo, stop } from '../actions/time';
import type { Session } from '../session';
import {
  gripAt,
  keysWithin,
  markerAt,
  rowsWithin,
  tidyFrame,
  type Hit,
  type LaneMap,
  type Point,
} from './lane-hit';
import { RULER } from './lanes-painter';
import { boxDrag } from '../timeline/box-drag';
import type { HintBox, HintTip } from '../timeline/pointer-hints';
import { snappedFrame } from '../timeline/time-scale';

const CATCH_PX = 7;
const CLICK_PX = 3;
const GRIP_FROM = RULER - 12;
const SHORTEST_STRETCH = 0.001;

/** What happens to the chosen keys while something is dragged. */
export type Gesture =
  | { readonly kind: 'move'; readonly by: number; readonly doubling: boolean }
  | { readonly kind: 'stretch'; readonly about: number; readonly factor: number };

/** What a drag over the lanes shows while it lasts. */
export interface DragShow {
  gesture(gesture: Gesture | null): void;
  marker(marker: { readonly id: string; readonly frame: number } | null): void;
  rubber(box: HintBox | null): void;
  tip(tip: HintTip | null): void;
  lane(hit: Hit): void;
}

interface Drag {
  onMove(at: Point): void;
  finish(kept: boolean, at: Point | null): void;
}

const nameOf = ({ address, key }: KeyAddress): string => `${address} ${key}`;

/** Whether the pointer is over a grip of the band in the ruler. */
export const overGrip = (map: LaneMap, at: Point): boolean =>
  at.y < RULER && at.y > GRIP_FROM && gripAt(map, at.x) !== null;

/** Frames that dragged keys catch on: the current one, the range, markers, and keys of the rows in sight. */
function catches(session: Session, map: LaneMap, height: number, moved: ReadonlySet<string>): number[] {
  const { keySnap, frame } = session.time.now;
  const { shot } = session;
  if (!keySnap) return [];
  const { first, last } = shot.setup;
  return [
    frame,
    first,
    last,
    ...map.markers.map((marker) => marker.frame),
    ...rowsWithin(map, RULER, height).flatMap((row) =>
      row.kind === 'lane'
        ? row.lane.keys
            .filter((key) => !moved.has(nameOf({ address: row.lane.address, key: key.id })))
            .map((key) => key.frame)
        : [],
    ),
  ];
}

/** A press over the lanes. */
interface Press {
  readonly session: Session;
  readonly map: LaneMap;
  readonly hit: Hit;
  readonly start: Point;
  readonly show: DragShow;
  /** Frames from which something is caught on. */
  readonly reach: number;
  /** Frames to catch on while some keys move. */
  placesFor(moved: ReadonlySet<string>): number[];
  /** Adds to what is chosen. */
  readonly more: boolean;
  readonly doubling: boolean;
}

/** Stretches the chosen keys by a grip of their band. */
function stretchBand(press: Press, grip: 'from' | 'to', band: { from: number; to: number }): Drag {
  const { session, map, show, reach, placesFor } = press;
  const { chosenKeys } = session.choice.now;
  const about = grip === 'from' ? band.to : band.from;
  const end = grip === 'from' ? band.from : band.to;
  const places = placesFor(new Set(chosenKeys.map(nameOf)));
  let factor = 1;
  return {
    onMove: ({ x }) => {
      const goal = snappedFrame(map.scale.frame(x), places, reach);
      factor = Math.max(SHORTEST_STRETCH, (goal - about) / (end - about));
      show.gesture({ kind: 'stretch', about, factor });
      const length = tidyFrame((band.to - band.from) * factor);
      show.tip({ x, y: RULER, text: `${Math.round(factor * 100)} %, ${length} frames` });
    },
    finish: (kept) => {
      if (kept && factor !== 1)
        session.edit((now) => scaleKeys(now, chosenKeys, about, factor, session.time.now.keySnap));
    },
  };
}

/** Moves a marker; a mere click goes to it. */
function moveMarker(press: Press, id: string): Drag {
  const { session, map, start, show, reach, placesFor } = press;
  const origin = session.shot.markers[id]!.frame;
  const places = placesFor(new Set()).filter((at) => at !== origin);
  let goal = origin;
  return {
    onMove: ({ x }) => {
      goal = snappedFrame(origin + (x - start.x) / map.scale.perFrame, places, reach);
      show.marker({ id, frame: goal });
    },
    finish: (kept) => {
      show.marker(null);
      if (!kept) return;
      if (goal !== origin) session.edit((now) => changeMarker(now, id, { frame: goal }));
      else {
        stop(session);
        goTo(session, origin);
      }
    },
  };
}

/** Goes to frames by the ruler. */
function scrub(press: Press): Drag {
  const { session, map, start } = press;
  stop(session);
  const { first, last } = session.shot.setup;
  const onMove = ({ x }: Point): void =>
    goTo(session, Math.max(first, Math.min(last, Math.round(map.scale.frame(x)))));
  onMove(start);
  return { onMove, finish: () => undefined };
}

/** Moves or doubles the chosen keys, or those that were pressed. */
function moveChosen(press: Press, origin: number): Drag {
  const { session, map, hit, start, show, reach, placesFor, more, doubling } = press;
  show.lane(hit);
  const { chosenKeys } = session.choice.now;
  const before = new Set(chosenKeys.map(nameOf));
  const already = hit.keys.every((key) => before.has(nameOf(key)));
  const names = new Set(hit.keys.map(nameOf));
  const rest = chosenKeys.filter((key) => !names.has(nameOf(key)));
  const targets = more ? (already ? rest : [...rest, ...hit.keys]) : already ? chosenKeys : hit.keys;
  session.choice.keys(targets);
  const places = placesFor(new Set(targets.map(nameOf)));
  let by = 0;
  return {
    onMove: ({ x }) => {
      const away = x - start.x;
      by =
        Math.abs(away) < CLICK_PX
          ? 0
          : snappedFrame(origin + away / map.scale.perFrame, places, reach) - origin;
      show.gesture({ kind: 'move', by, doubling });
      const sign = by > 0 ? '+' : '−';
      show.tip({
        x,
        y: start.y - 22,
        text: `frame ${tidyFrame(origin + by)}${by ? ` (${sign}${tidyFrame(Math.abs(by))})` : ''}${doubling ? ', doubled' : ''}`,
      });
    },
    finish: (kept) => {
      if (!kept || by === 0 || targets.length === 0) return;
      session.edit((now) => (doubling ? duplicateKeys(now, targets, by) : moveKeys(now, targets, by)));
    },
  };
}

/** Draws a box and chooses what lies in it; a mere click lets go of what is chosen. */
function drawBox(press: Press): Drag {
  const { session, map, hit, start, show, more } = press;
  return boxDrag(start, RULER, {
    rubber: show.rubber,
    click: () => {
      if (hit.row?.kind === 'lane') show.lane(hit);
      if (!more) session.choice.keys([]);
    },
    chosen: (at) => {
      const { chosenKeys } = session.choice.now;
      const before = new Set(chosenKeys.map(nameOf));
      const found = keysWithin(map, start, at);
      session.choice.keys(more ? [...chosenKeys, ...found.filter((key) => !before.has(nameOf(key)))] : found);
    },
  });
}

/**
 * Follows the pointer from a press over the lanes until it is let go: moves or doubles keys, stretches the band, moves a
 * marker, scrubs, or draws a box. Escape puts everything back.
 */
export function beginLaneDrag(
  session: Session,
  map: LaneMap,
  hit: Hit,
  event: PointerEvent,
  element: HTMLElement,
  show: DragShow,
): void {
  const area = element.getBoundingClientRect();
  const place = (e: { clientX: number; clientY: number }): Point => ({
    x: e.clientX - area.left,
    y: e.clientY - area.top,
  });
  const start = place(event);
  const press: Press = {
    session,
    map,
    hit,
    start,
    show,
    reach: CATCH_PX / map.scale.perFrame,
    placesFor: (moved) => catches(session, map, area.height, moved),
    more: event.shiftKey || event.ctrlKey || event.metaKey,
    doubling: event.altKey,
  };

  const choose = (): Drag => {
    if (start.y >= RULER)
      return hit.keys.length > 0 && hit.keyFrame !== null ? moveChosen(press, hit.keyFrame) : drawBox(press);
    const grip = overGrip(map, start) ? gripAt(map, start.x) : null;
    if (grip && map.band) return stretchBand(press, grip, map.band);
    const marker = markerAt(map, start);
    return marker === null ? scrub(press) : moveMarker(press, marker);
  };
  // What was under the pointer is told no longer: a drag says what it makes of it.
  show.tip(null);
  const drag = choose();
  beginDrag(element, event, {
    move: (e) => drag.onMove(place(e)),
    end: (kept, e) => {
      show.gesture(null);
      show.tip(null);
      drag.finish(kept, e ? place(e) : null);
    },
  });
}
