import { channelAt, EXTENDS, trackOf, type Shot } from '../../../../core/document';
import {
  compose,
  insertKeys,
  removeAllKeys,
  removeKeys,
  reverseKeys,
  scaleKeys,
  setBlend,
  setExtend,
  setRange,
  setStretch,
  snapKeys,
  stretchManner,
  type KeyAddress,
} from '../../../../core/edit';
import { EASING_NAMES } from '../../../../core/easing';
import type { MenuAction, MenuEntries } from '../../ui/menu';
import { entryOf } from '../commands';
import { goTo } from '../actions/time';
import { evaluatorAt } from '../actions/values';
import type { Session } from '../session';
import { BLEND_WORDS, EXTEND_WORDS, mannerWords, STRETCHES } from './key-words';

interface LaneTarget {
  readonly kind: 'lane';
  readonly address: string;
  readonly frame: number;
  /** Keys that are meant: the chosen ones, or the one under the pointer. */
  readonly keys: readonly KeyAddress[];
  /** Keys with which stretches that are meant begin. */
  readonly stretches: readonly KeyAddress[];
  readonly onKey: boolean;
  readonly colour: boolean;
}

/** What the pointer was over when a menu was asked for. */
export type MenuTarget =
  | { readonly kind: 'marker'; readonly id: string }
  | { readonly kind: 'ruler'; readonly frame: number }
  | LaneTarget;

function spanOf(shot: Shot, keys: readonly KeyAddress[]): { from: number; to: number } | null {
  const frames = keys.flatMap(({ address, key }) => trackOf(shot, address)?.keys[key]?.frame ?? []);
  return frames.length > 1 ? { from: Math.min(...frames), to: Math.max(...frames) } : null;
}

/** What of the menu only the lanes can do. */
export interface LaneAsks {
  mark(frame: number): void;
  renameMarker(id: string): void;
  removeMarker(id: string): void;
  stagger(): void;
}

/** An entry that runs once the lanes have the keyboard again. */
function item(label: string, run: () => void, alarm = false): MenuAction {
  return { label, run, alarm, later: true };
}

/** Menu of a peg, of a stretch, of an empty lane, of the ruler and of a marker. What cannot be done here is left out. */
export function keyMenu(session: Session, target: MenuTarget | null, asks: LaneAsks): MenuEntries {
  if (!target) return [];
  if (target.kind === 'ruler') return rulerMenu(session, target.frame, asks);
  if (target.kind === 'marker') return markerMenu(session, target.id, asks);
  const entries = [
    ...mannerEntries(session, target),
    ...keyEntries(session, target, asks),
    ...laneEntries(session, target.address),
  ];
  // A lane without keys has nothing of its own to be done: what can be done at the frame is left.
  return entries.some((entry) => entry && typeof entry === 'object' && 'label' in entry)
    ? entries
    : rulerMenu(session, Math.round(target.frame), asks);
}

function pasteEntry(session: Session): MenuAction | false {
  return (
    session.clipboard.now.copied?.kind === 'keys' &&
    entryOf(session, 'paste', { label: 'Paste keys at the playhead', later: true })
  );
}

function rulerMenu(session: Session, frame: number, asks: LaneAsks): MenuEntries {
  const { setup } = session.shot;
  return [
    item('Put a marker here', () => asks.mark(frame)),
    frame < setup.last &&
      item('Begin the range here', () => session.edit((now) => setRange(now, { first: frame }))),
    frame > setup.first &&
      item('End the range here', () => session.edit((now) => setRange(now, { last: frame }))),
    'line',
    item('Show the whole range', () => session.time.show(null)),
    pasteEntry(session),
  ];
}

function markerMenu(session: Session, id: string, asks: LaneAsks): MenuEntries {
  const marker = session.shot.markers[id];
  return [
    item('Go there', () => marker && goTo(session, marker.frame)),
    item('Rename', () => asks.renameMarker(id)),
    item('Remove the marker', () => asks.removeMarker(id), true),
  ];
}

/** How the stretches that are meant move, and how they could. */
function mannerEntries(session: Session, { stretches, onKey, colour }: LaneTarget): MenuEntries {
  const manners = new Set(
    stretches.map((entry) => stretchManner(session.shot, entry)).filter((manner) => manner !== null),
  );
  const [inForce] = manners;
  if (inForce === undefined) return [];
  const one = manners.size === 1;
  const set = (manner: Parameters<typeof setStretch>[2]): void =>
    void session.edit((now) => setStretch(now, stretches, manner));
  return [
    {
      heading: `${onKey ? 'From here on it moves' : 'This stretch moves'}: ${one ? mannerWords(inForce) : 'several ways'}`,
    },
    ...STRETCHES.filter(([manner]) => !colour || manner !== 'ease').map(([manner, label]) => ({
      label,
      current: one && inForce === manner,
      run: () => set(manner),
    })),
    {
      label: 'By an equation',
      current: one && (EASING_NAMES as readonly string[]).includes(inForce),
      entries: EASING_NAMES.map((name) => ({ label: mannerWords(name), run: () => set(name) })),
    },
    'line',
  ];
}

/** How a colour gets from key to key, and how it could. */
export function blendEntry(session: Session, addresses: readonly string[]): MenuEntries[number] {
  const keyed = addresses.filter((address) => trackOf(session.shot, address));
  if (keyed.length === 0) return false;
  return {
    label: 'Between its keys it blends',
    entries: BLEND_WORDS.map(([blend, label]) => ({
      label,
      current: keyed.every((address) => (trackOf(session.shot, address)!.blend ?? 'linear') === blend),
      run: () => session.edit((now) => keyed.map((address) => setBlend(now, address, blend)).reduce(compose)),
    })),
  };
}

function keyEntries(session: Session, target: LaneTarget, asks: LaneAsks): MenuEntries {
  const { shot } = session;
  const { keys, onKey, address, frame } = target;
  const span = spanOf(shot, keys);
  const whole = keys.every((key) => Number.isInteger(trackOf(shot, key.address)?.keys[key.key]?.frame));
  const parts = session.choice.now.chosen.filter((id) => shot.parts[id]);
  const onTheKeys: MenuEntries = [
    entryOf(session, 'copy', { label: 'Copy', later: true }),
    span && item('Half as long', () => session.edit((now) => scaleKeys(now, keys, span.from, 0.5))),
    span && item('Twice as long', () => session.edit((now) => scaleKeys(now, keys, span.from, 2))),
    span && item('Reverse', () => session.edit((now) => reverseKeys(now, keys))),
    !whole && item('Move to whole frames', () => session.edit((now) => snapKeys(now, keys))),
    item(
      keys.length > 1 ? `Remove ${keys.length} keys` : 'Remove the key',
      () => session.edit((now) => removeKeys(now, keys)),
      true,
    ),
  ];
  return [
    { heading: onKey ? (keys.length > 1 ? `${keys.length} keys` : 'This key') : 'Keys' },
    !onKey &&
      trackOf(shot, address) !== null &&
      item('Put a key in here, the curve stays', () =>
        session.edit((now) => insertKeys(now, [address], frame)),
      ),
    ...(onKey ? onTheKeys : []),
    pasteEntry(session),
    parts.length > 1 && item('Stagger the chosen parts...', asks.stagger),
  ];
}

/** What a keyed lane does outside its keys. */
function laneEntries(session: Session, address: string): MenuEntries {
  const track = trackOf(session.shot, address);
  if (!track) return [];
  return [
    channelAt(session.shot, address)?.spec.kind === 'colour' && blendEntry(session, [address]),
    'line',
    { heading: 'Outside its keys' },
    ...(['before', 'after'] as const).map((side) => ({
      label: `${side === 'before' ? 'Before the first' : 'After the last'}: ${EXTEND_WORDS[track[side]]}`,
      entries: EXTENDS.map((extend) => ({
        label: EXTEND_WORDS[extend],
        current: track[side] === extend,
        run: () => session.edit((now) => setExtend(now, address, side, extend)),
      })),
    })),
    item(
      'Delete all keys of this lane',
      () =>
        session.edit((now) => removeAllKeys(now, evaluatorAt(session, session.time.now.frame), [address])),
      true,
    ),
  ];
}
