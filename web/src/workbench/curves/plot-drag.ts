import {
  handleLimit,
  scaleKeys,
  scaleValues,
  setHandle,
  shiftKeys,
  type Change,
  type KeyAddress,
} from '../../../../core/edit';
import { describeValue } from '../../shared/format';
import { beginDrag } from '../../ui/drag';
import { goTo, stop } from '../actions/time';
import type { Session } from '../session';
import { RULER } from '../keys/lanes-painter';
import { markerAt, tidyFrame } from '../keys/lane-hit';
import { keepTrial, tryOut } from '../shaping/trial';
import { boxDrag } from '../timeline/box-drag';
import type { HintBox, HintTip } from '../timeline/pointer-hints';
import { snappedFrame } from '../timeline/time-scale';
import type { Line } from './lines';
import {
  BOX_ROOM,
  boxOf,
  edgeAt,
  idsByCurve,
  pegsWithin,
  type HandleEnd,
  type PlotHit,
  type Point,
} from './plot-hit';
import type { PlotMap } from './plot-map';
import { pegsOf } from './plot-painter';

const CATCH_PX = 7;
const CLICK_PX = 3;
const FINER = 0.1;

/** What a drag over the plot shows while it lasts. */
export interface PlotShow {
  rubber(box: HintBox | null): void;
  tip(tip: HintTip | null): void;
  lead(line: Line): void;
  /** A click on a curve outside its keys. */
  outside(line: Line, side: 'before' | 'after', at: Point): void;
}

interface Drag {
  onMove(at: Point, event: PointerEvent): void;
  finish(kept: boolean, at: Point | null): void;
}

/** What a drag over the plot works on. */
export interface PlotPlace {
  readonly map: PlotMap;
  readonly lines: readonly Line[];
  readonly markers: readonly { readonly id: string; readonly name: string; readonly frame: number }[];
}

const nameOf = ({ address, key }: KeyAddress): string => `${address} ${key}`;

/** Frames that dragged keys catch on. */
function catches(session: Session, { lines, markers }: PlotPlace, moved: ReadonlySet<string>): number[] {
  const { keySnap, frame } = session.time.now;
  if (!keySnap) return [];
  const { first, last } = session.shot.setup;
  // Many keys stand at the same frames: each is looked at once for every step of the drag.
  const frames = new Set([frame, first, last, ...markers.map((marker) => marker.frame)]);
  for (const line of lines)
    for (const { id, frame: at } of pegsOf(line)) if (!moved.has(`${line.address} ${id}`)) frames.add(at);
  return [...frames];
}

/** A press over the plot. */
interface Press {
  readonly session: Session;
  readonly place: PlotPlace;
  readonly hit: PlotHit;
  readonly start: Point;
  readonly show: PlotShow;
  readonly shiftKey: boolean;
  readonly ctrl: boolean;
}

/** The frame that keys go to that are dragged to a frame: one that they catch on, or one to a hundredth. */
function sided({ session, place }: Press, goal: number, places: readonly number[]): number {
  if (!session.time.now.keySnap) return Math.round(goal * 100) / 100;
  return snappedFrame(goal, places, CATCH_PX / place.map.scale.perFrame);
}

/** Moves the chosen keys, or the one that was pressed, in time and value. */
function moveKeys(press: Press, peg: KeyAddress, line: Line): Drag {
  const { session, place, start, show, shiftKey, ctrl } = press;
  const { map } = place;
  const { unit } = session.shot.setup;
  show.lead(line);
  const { chosenKeys } = session.choice.now;
  const already = chosenKeys.some((key) => nameOf(key) === nameOf(peg));
  const rest = chosenKeys.filter((key) => nameOf(key) !== nameOf(peg));
  const targets = ctrl ? rest : shiftKey ? (already ? rest : [...rest, peg]) : already ? chosenKeys : [peg];
  session.choice.keys(targets);
  const key = line.track!.keys[peg.key]!;
  const value = typeof key.value === 'number' ? key.value : 0;
  const places = catches(session, place, new Set(targets.map(nameOf)));
  const y0 = line.spec.kind === 'colour' ? start.y : map.y(line, value);
  let by = { frames: 0, rise: 0 };
  const make = (shot: Session['shot']): Change => shiftKeys(shot, targets, by.frames, by.rise);
  return {
    onMove: (at, e) => {
      let [dx, dy] = [at.x - start.x, at.y - start.y];
      if (Math.hypot(dx, dy) < CLICK_PX) return;
      // Shift keeps to one axis: the one along which it went further.
      if (e.shiftKey) {
        if (Math.abs(dx) > Math.abs(dy)) dy = 0;
        else dx = 0;
      }
      const frames = dx === 0 ? 0 : sided(press, key.frame + dx / map.scale.perFrame, places) - key.frame;
      const rise = line.spec.kind === 'number' && dy !== 0 ? map.value(line, y0 + dy) - value : 0;
      by = { frames, rise };
      if (targets.length > 0) tryOut(session, make, true);
      show.tip({
        ...at,
        text: `frame ${tidyFrame(key.frame + frames)}${line.spec.kind === 'number' ? `, ${describeValue(line.spec, value + rise, unit)}` : ''}`,
      });
    },
    finish: (kept) => {
      if (kept && targets.length > 0 && (by.frames !== 0 || by.rise !== 0)) keepTrial(session, make);
      else tryOut(session, null);
    },
  };
}

/** Drags the end of a handle. */
function dragHandle(press: Press, { line, target, side, at: from }: HandleEnd): Drag {
  const { session, place, start, show } = press;
  const { map } = place;
  const { unit } = session.shot.setup;
  const key = line.track!.keys[target.key]!;
  const value = key.value as number;
  const limit = handleLimit(session.shot, target, side);
  let handle: { reach: number; rise: number } | null = null;
  const make = (shot: Session['shot']): Change => setHandle(shot, target, side, handle!);
  return {
    onMove: (at, e) => {
      const slow = e.shiftKey ? FINER : 1;
      const to = {
        x: from.x + (at.x - start.x) * slow,
        y: from.y + (at.y - start.y) * slow,
      };
      const away = (map.scale.frame(to.x) - key.frame) * (side === 'left' ? -1 : 1);
      handle = { reach: Math.max(0, Math.min(limit, away)), rise: map.value(line, to.y) - value };
      tryOut(session, make, true);
      const bound =
        away >= limit ? ', no further: the next key is there' : away <= 0 ? ', no further: time runs on' : '';
      show.tip({
        ...at,
        text: `reaches ${tidyFrame(handle.reach)} f, rises ${describeValue(line.spec, handle.rise, unit)}${bound}`,
      });
    },
    finish: (kept) => {
      if (kept && handle) keepTrial(session, make);
      else tryOut(session, null);
    },
  };
}

/** Scales the chosen keys by an edge of the box round them. */
function scaleBox(press: Press, edge: 'left' | 'right' | 'top' | 'bottom', box: HintBox): Drag {
  const { session, place, show } = press;
  const { map, lines } = place;
  const { chosenKeys } = session.choice.now;
  const lead = lines.find((line) => chosenKeys.some((key) => key.address === line.address))!;
  const inTime = edge === 'left' || edge === 'right';
  const [from, about] = {
    left: [box.x0, box.x1],
    right: [box.x1, box.x0],
    top: [box.y0, box.y1],
    bottom: [box.y1, box.y0],
  }[edge] as [number, number];
  const grip = { left: -BOX_ROOM, right: BOX_ROOM, top: -BOX_ROOM, bottom: BOX_ROOM }[edge];
  let factor = 1;
  const make = (shot: Session['shot']): Change =>
    inTime
      ? scaleKeys(shot, chosenKeys, map.scale.frame(about), factor, session.time.now.keySnap)
      : scaleValues(shot, chosenKeys, map.value(lead, about), factor);
  return {
    onMove: (at) => {
      const now = (inTime ? at.x : at.y) - grip;
      factor = (now - about) / (from - about);
      if (inTime) factor = Math.max(0.001, factor);
      tryOut(session, make, true);
      show.tip({ ...at, text: `${Math.round(factor * 1000) / 10} %` });
    },
    finish: (kept) => {
      if (kept && factor !== 1) keepTrial(session, make);
      else tryOut(session, null);
    },
  };
}

/** Goes to frames by the ruler, or to the marker that was pressed. */
function scrub(press: Press): Drag {
  const { session, place, start } = press;
  const { map } = place;
  stop(session);
  const marker = markerAt(
    { rows: [], scale: map.scale, scroll: 0, markers: place.markers, band: null },
    start,
  );
  const found = place.markers.find(({ id }) => id === marker);
  const { first, last } = session.shot.setup;
  const onMove = ({ x }: Point): void =>
    goTo(session, Math.max(first, Math.min(last, Math.round(map.scale.frame(x)))));
  if (found) goTo(session, found.frame);
  else onMove(start);
  return { onMove: (at) => !found && onMove(at), finish: () => undefined };
}

/** Draws a box and chooses what lies in it; a mere click lets go of what is chosen. */
function drawBox(press: Press): Drag {
  const { session, place, hit, start, show, shiftKey, ctrl } = press;
  return boxDrag(start, RULER, {
    rubber: show.rubber,
    click: (at) => {
      if (hit.line) show.lead(hit.line);
      if (hit.line && hit.outside) show.outside(hit.line, hit.outside, at);
      if (!shiftKey && !ctrl) session.choice.keys([]);
    },
    chosen: (at) => {
      const found = pegsWithin(place.map, place.lines, start, at);
      if (!ctrl && !shiftKey) {
        session.choice.keys(found);
        return;
      }
      const caught = idsByCurve(found);
      const { chosenKeys } = session.choice.now;
      const others = chosenKeys.filter(({ address, key }) => !caught.get(address)?.has(key));
      session.choice.keys(ctrl ? others : [...others, ...found]);
    },
  });
}

/**
 * Follows the pointer from a press over the plot: moves keys in time and value, drags a handle, scales by the edges of the
 * box round the chosen keys, draws a box, or scrubs. Escape puts everything back.
 */
export function beginPlotDrag(
  session: Session,
  place: PlotPlace,
  hit: PlotHit,
  event: PointerEvent,
  element: HTMLElement,
  show: PlotShow,
): void {
  const { map, lines } = place;
  const area = element.getBoundingClientRect();
  const pointOf = (e: { clientX: number; clientY: number }): Point => ({
    x: e.clientX - area.left,
    y: e.clientY - area.top,
  });
  const start = pointOf(event);
  const { shiftKey } = event;
  const press: Press = { session, place, hit, start, show, shiftKey, ctrl: event.ctrlKey || event.metaKey };

  const choose = (): Drag => {
    if (hit.handle) return dragHandle(press, hit.handle);
    if (start.y < RULER) return scrub(press);
    if (hit.peg && hit.line) return moveKeys(press, hit.peg, hit.line);
    const box = boxOf(map, lines, session.choice.now.chosenKeys);
    const edge = edgeAt(box, start);
    return edge && box ? scaleBox(press, edge, box) : drawBox(press);
  };
  // What was under the pointer is told no longer: a drag says what it makes of it.
  show.tip(null);
  const drag = choose();
  beginDrag(element, event, {
    move: (e) => drag.onMove(pointOf(e), e),
    end: (kept, e) => {
      show.tip(null);
      drag.finish(kept, e ? pointOf(e) : null);
    },
  });
}
