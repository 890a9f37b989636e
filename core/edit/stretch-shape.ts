import { compiledKey } from '../curve';
import { channelAt, sortedKeys, trackOf, type Handle, type Key, type Manner, type Shot } from '../document';
import { pathOf } from './address-path';
import { Draft, type Change } from './change';
import type { KeyAddress } from './keys';
import { componentsOf } from './put-key';
import { channelName, EditRefused } from './values';

/**
 * How a stretch moves, told apart from its frames and values: a manner, and for a curve the control points of a cubic
 * Bezier in the unit square (x1, y1, x2, y2), as in CSS Easing Functions Level 1.
 */
export interface StretchShape {
  readonly manner: Manner;
  readonly points: readonly [number, number, number, number] | null;
  /** For a piece of an easing: its ends, and its gain as a share of the way of the stretch. */
  readonly piece?: { readonly from: number; readonly to: number; readonly gain: number };
}

/** Share of the larger value below which a stretch counts as standing still. */
const STILL = 1e-9;

/** Shape of the stretch that begins with a key; `null` after the last key, and where the stretch stands still. */
export function stretchShape(shot: Shot, { address, key: id }: KeyAddress): StretchShape | null {
  const track = trackOf(shot, address);
  if (!track?.keys[id]) return null;
  const keys = sortedKeys(track);
  const index = keys.findIndex((entry) => entry.id === id);
  const [from, to] = [keys[index]!.key, keys[index + 1]?.key];
  if (!to || !(to.frame > from.frame)) return null;
  const { manner } = from;
  if (manner !== 'curve' && !from.piece) return { manner, points: null };
  const components = componentsOf(shot, address, track).map(
    (component) => [compiledKey(component, index), compiledKey(component, index + 1)] as const,
  );
  // Of a colour the component that goes furthest tells the shape.
  let widest = 0;
  components.forEach(([a, b], i) => {
    const [wide, wideTo] = components[widest]!;
    if (Math.abs(b.value - a.value) > Math.abs(wideTo.value - wide.value)) widest = i;
  });
  const [a, b] = components[widest]!;
  const way = b.value - a.value;
  if (Math.abs(way) <= STILL * Math.max(1, Math.abs(a.value), Math.abs(b.value))) return null;
  if (from.piece) {
    const { gain } = from.piece;
    return {
      manner,
      points: null,
      piece: { ...from.piece, gain: (typeof gain === 'number' ? gain : gain[widest]!) / way },
    };
  }
  const span = to.frame - from.frame;
  return {
    manner,
    points: [a.rightReach / span, a.rightRise / way, 1 - b.leftReach / span, 1 + b.leftRise / way],
  };
}

/**
 * Gives stretches a shape: their keys stay, what lies between moves as the shape says. Switches stay held.
 * @param targets keys with which the stretches begin
 */
export function setStretchShape(
  shot: Shot,
  targets: readonly KeyAddress[],
  shape: StretchShape,
  label?: string,
): Change {
  const draft = new Draft(shot);
  for (const target of targets) shapeOne(draft, target, shape);
  const first = targets[0];
  return draft.change(
    label ??
      (targets.length === 1 && first
        ? `Shape a stretch of ${channelName(shot, first.address)}`
        : `Shape ${targets.length} stretches`),
  );
}

function shapeOne(draft: Draft, { address, key: id }: KeyAddress, shape: StretchShape): void {
  const track = trackOf(draft.shot, address);
  const spec = channelAt(draft.shot, address)?.spec;
  if (!track?.keys[id] || spec?.kind === 'switch' || spec?.whole) return;
  const keys = sortedKeys(track);
  const index = keys.findIndex((entry) => entry.id === id);
  const next = keys[index + 1];
  if (!next) return;
  const path = [...pathOf(address, 'tracks'), 'keys'];
  const { right: _right, piece: _piece, ...bare } = keys[index]!.key;
  const ways = componentsOf(draft.shot, address, track).map(
    (component) => compiledKey(component, index + 1).value - compiledKey(component, index).value,
  );
  const share = (part: number): Handle['rise'] =>
    ways.length === 1 ? ways[0]! * part : (ways.map((way) => way * part) as [number, number, number]);
  const key: Key = { ...bare, manner: shape.manner };
  if (!shape.points) {
    const piece = shape.piece && { ...shape.piece, gain: share(shape.piece.gain) };
    draft.set([...path, id], piece ? { ...key, piece } : key);
    return;
  }
  const [x1, y1, x2, y2] = shape.points;
  const span = next.key.frame - keys[index]!.key.frame;
  // A handle that was worked out on the other side stays so: it is another stretch's.
  draft.set([...path, id], { ...key, right: { reach: Math.max(0, x1) * span, rise: share(y1) } });
  draft.set([...path, next.id, 'left'], { reach: Math.max(0, 1 - x2) * span, rise: share(y2 - 1) });
}

/**
 * Lets stretches move as another one does: its timing is taken over, their own keys stay.
 * @throws EditRefused where the other one stands still, or is the last key of its channel
 */
export function takeShape(shot: Shot, from: KeyAddress, to: readonly KeyAddress[]): Change {
  const shape = stretchShape(shot, from);
  if (!shape)
    throw new EditRefused(
      `The stretch of ${channelName(shot, from.address)} stands still: it has no shape that others could take over. Choose one that moves.`,
    );
  const others = to.filter(({ address, key }) => address !== from.address || key !== from.key);
  return setStretchShape(shot, others, shape, `Take over the shape of ${channelName(shot, from.address)}`);
}
