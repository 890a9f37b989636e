import { channelAt, type Shot } from '../../../../core/document';
import type { KeyAddress } from '../../../../core/edit';
import type { MenuTarget } from './key-menu';
import type { Hit } from './lane-hit';
import type { Lane } from './lanes';

type LaneTarget = Extract<MenuTarget, { kind: 'lane' }>;

function stretchAt(lane: Lane, frame: number): number {
  return lane.keys.findLastIndex((key) => key.frame <= frame);
}

const isColoured = (shot: Shot, lane: Lane): boolean => channelAt(shot, lane.address)?.spec.kind !== 'number';

/**
 * What a menu is meant for that is asked for over a lane with the pointer.
 * @param chosen the chosen keys, which are meant when the pointer is on one of them
 */
export function targetUnder(shot: Shot, hit: Hit, chosen: readonly KeyAddress[]): LaneTarget {
  const row = hit.row!;
  const lane = row.kind === 'lane' ? row.lane : row.lanes[0]!;
  const onKey = hit.keys.length > 0;
  const among = (key: KeyAddress): boolean =>
    chosen.some((entry) => entry.address === key.address && entry.key === key.key);
  const keys = onKey ? (hit.keys.every(among) ? chosen : hit.keys) : [];
  const index = stretchAt(lane, hit.frame);
  const inside = index >= 0 && index < lane.keys.length - 1 && row.kind === 'lane';
  return {
    kind: 'lane',
    address: lane.address,
    frame: Math.round(hit.frame),
    keys,
    stretches: onKey ? keys : inside ? [{ address: lane.address, key: lane.keys[index]!.id }] : [],
    onKey,
    colour: isColoured(shot, lane),
  };
}

/** What a menu is meant for that is asked for with the keyboard: the chosen keys, or those of a lane at the playhead. */
export function targetAtPlayhead(
  shot: Shot,
  lane: Lane,
  frame: number,
  chosen: readonly KeyAddress[],
): LaneTarget {
  const here = lane.keys
    .filter((key) => key.frame === frame)
    .map((key) => ({ address: lane.address, key: key.id }));
  const keys = chosen.length > 0 ? chosen : here;
  const index = stretchAt(lane, frame);
  const before = index >= 0 ? [{ address: lane.address, key: lane.keys[index]!.id }] : [];
  return {
    kind: 'lane',
    address: lane.address,
    frame,
    keys,
    stretches: keys.length > 0 ? keys : before,
    onKey: keys.length > 0,
    colour: isColoured(shot, lane),
  };
}
