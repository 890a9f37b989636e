import type { Shot } from '../../../../core/document';
import {
  apply,
  changePlacement,
  EditRefused,
  moveShowings,
  stretchShowing,
  trimShowing,
  type Change,
} from '../../../../core/edit';
import { playedOf, spanOfPlacement } from '../../../../core/evaluate';
import { beginDrag } from '../../ui/drag';
import { chooseStrips } from '../actions/clips';
import type { Session } from '../session';
import { snappedFrame, type TimeScale } from '../timeline/time-scale';
import { boxOf, type StripPicture } from './strip-painter';
import type { Strip } from './strip-rows';

const EDGE_PX = 6;
const CATCH_PX = 7;
const BLEND_PX = 6;

/** What of a strip lies under the pointer. */
export type StripGrip = 'move' | 'from' | 'to' | 'blend-in' | 'blend-out';

export interface StripHit {
  readonly strip: Strip;
  readonly grip: StripGrip;
}

/** The uppermost strip under a point, and what of it. Grips of the blends lie at the upper corners of chosen strips. */
export function stripAt(picture: StripPicture, x: number, y: number): StripHit | null {
  for (const strip of [...picture.row.strips].reverse()) {
    const { left, right, top, height } = boxOf(picture, strip);
    if (x < left || x >= Math.max(right, left + EDGE_PX) || y < top || y > top + height) continue;
    const { blendIn = 0, blendOut = 0 } = strip.placement;
    if (picture.chosen.has(strip.id) && y < top + 8) {
      const entry = Math.max(left + 3, left + blendIn * picture.scale.perFrame);
      const exit = Math.min(right - 3, right - blendOut * picture.scale.perFrame);
      if (Math.abs(x - entry) < BLEND_PX && x > left) return { strip, grip: 'blend-in' };
      if (Number.isFinite(strip.to) && Math.abs(x - exit) < BLEND_PX && x < right)
        return { strip, grip: 'blend-out' };
    }
    if (right - left > EDGE_PX * 3 && x < left + EDGE_PX) return { strip, grip: 'from' };
    if (Number.isFinite(strip.to) && x > right - EDGE_PX) return { strip, grip: 'to' };
    if (strip.placement.plays === 'hold' && Math.abs(x - picture.scale.x(passEnd(strip))) < EDGE_PX)
      return { strip, grip: 'to' };
    return { strip, grip: 'move' };
  }
  return null;
}

/** Frame at which the first pass of a strip ends. */
function passEnd({ placement, clip, from }: Strip): number {
  const { first, last } = playedOf(placement, clip);
  return from + (last - first) / placement.speed;
}

/** Places on which a dragged strip catches: the playhead, the range, markers, and the ends of other strips. */
function catchesOf(session: Session, moved: readonly string[]): number[] {
  if (!session.time.now.keySnap) return [];
  const shot = session.doc.now.document;
  const ends = Object.entries(shot.placements).flatMap(([id, placement]) => {
    const clip = shot.clips[placement.clip];
    if (!clip || moved.includes(id)) return [];
    const { from, to } = spanOfPlacement(placement, clip);
    return Number.isFinite(to) ? [from, to] : [from];
  });
  return [
    session.time.now.frame,
    shot.setup.first,
    shot.setup.last + 1,
    ...Object.values(shot.markers).map((marker) => marker.frame),
    ...ends,
  ];
}

/** What a drag makes of a strip, for the tip beside the pointer. */
export interface StripDrag {
  readonly shot: Shot;
  readonly words: string;
}

/**
 * Drags a strip: moves it and the others that are chosen, trims it, repeats it by pulling its end, stretches it with
 * Alt, or blends its ends. The view follows; Escape puts everything back.
 */
export function beginStripDrag(
  session: Session,
  hit: StripHit,
  scale: TimeScale,
  event: PointerEvent,
  element: Element,
  show: (drag: StripDrag | null) => void,
): void {
  const { strip, grip } = hit;
  const { chosen } = session.strips.now;
  const together = grip === 'move' && chosen.includes(strip.id);
  if (event.shiftKey) {
    chooseStrips(
      session,
      chosen.includes(strip.id) ? chosen.filter((id) => id !== strip.id) : [...chosen, strip.id],
    );
    return;
  }
  if (!chosen.includes(strip.id)) chooseStrips(session, [strip.id]);
  const ids = together ? chosen : [strip.id];
  const catches = catchesOf(session, ids);
  const reach = CATCH_PX / scale.perFrame;
  const live = session.doc.now.opened === null;
  let make: ((shot: Shot) => Change) | null = null;
  beginDrag(element, event, {
    threshold: 3,
    move: (now) => {
      const by = (now.clientX - event.clientX) / scale.perFrame;
      make = editOf(strip, grip, ids, by, now.altKey, (frame) => snappedFrame(frame, catches, reach));
      const shot = tried(session.doc.now.document, make);
      if (!shot) return;
      if (live) session.doc.try(shot);
      show({ shot, words: wordsOf(shot, strip.id, grip) });
    },
    end: (kept, _, moved) => {
      show(null);
      session.doc.try(null);
      const wanted = make;
      if (kept && moved && wanted) session.editDocument(wanted);
      else if (kept && !moved && together) chooseStrips(session, [strip.id]);
    },
  });
}

function tried(shot: Shot, make: (shot: Shot) => Change): Shot | null {
  try {
    return apply(shot, make(shot));
  } catch (error) {
    if (error instanceof EditRefused) return null;
    throw error;
  }
}

function editOf(
  strip: Strip,
  grip: StripGrip,
  ids: readonly string[],
  by: number,
  stretches: boolean,
  snap: (frame: number) => number,
): (shot: Shot) => Change {
  const { id, from, to } = strip;
  const end = Number.isFinite(to) ? to : passEnd(strip);
  const { blendIn = 0, blendOut = 0 } = strip.placement;
  const lasts = to - from;
  switch (grip) {
    case 'move': {
      // Whichever end comes nearer to something catches on it.
      const start = snap(from + by) - from;
      const other = snap(end + by) - end;
      const shift = Math.abs(other - by) < Math.abs(start - by) ? other : start;
      return (shot) => moveShowings(shot, ids, shift);
    }
    case 'from':
      return (shot) => trimShowing(shot, id, 'from', snap(from + by));
    case 'to':
      return stretches
        ? (shot) => stretchShowing(shot, id, snap(end + by))
        : (shot) => trimShowing(shot, id, 'to', snap(end + by));
    case 'blend-in': {
      const frames = Math.max(0, Math.min(lasts, snap(from + blendIn + by) - from));
      return (shot) => changePlacement(shot, id, { blendIn: frames === 0 ? undefined : frames });
    }
    case 'blend-out': {
      const frames = Math.max(0, Math.min(lasts, to - snap(to - blendOut + by)));
      return (shot) => changePlacement(shot, id, { blendOut: frames === 0 ? undefined : frames });
    }
  }
}

const tidy = (value: number): string => String(Math.round(value * 100) / 100);

function wordsOf(shot: Shot, id: string, grip: StripGrip): string {
  const placement = shot.placements[id]!;
  const clip = shot.clips[placement.clip]!;
  const { from, to } = spanOfPlacement(placement, clip);
  switch (grip) {
    case 'move':
      return Number.isFinite(to) ? `${tidy(from)} to ${tidy(to)}` : `from ${tidy(from)} on`;
    case 'from':
      return `begins at ${tidy(from)}`;
    case 'to': {
      const { plays, speed } = placement;
      const more = plays === 'loop' ? ', over and over' : speed !== 1 ? `, ×${tidy(speed)}` : '';
      return Number.isFinite(to)
        ? `ends at ${tidy(to)}${more}`
        : `held from ${tidy(from + (playedOf(placement, clip).last - playedOf(placement, clip).first) / speed)} on`;
    }
    case 'blend-in':
      return `takes over in ${tidy(placement.blendIn ?? 0)} frames`;
    case 'blend-out':
      return `gives back in ${tidy(placement.blendOut ?? 0)} frames`;
  }
}
