import { BLENDS, EXTENDS, FRAME_LIMIT, HANDLE_KINDS, MANNERS, RISE_LIMIT } from './key-schema';

const ID = /^(prt|shp|lok|dia|key|snd|clp|plc|rcp)_[A-Za-z0-9_-]{1,40}$/;
const manners: ReadonlySet<unknown> = new Set(MANNERS);
const extendNames: ReadonlySet<unknown> = new Set(EXTENDS);
const blends: ReadonlySet<unknown> = new Set([undefined, ...BLENDS]);
const handleKinds: ReadonlySet<unknown> = new Set(HANDLE_KINDS);

const within = (value: unknown, limit: number): boolean =>
  typeof value === 'number' && value >= -limit && value <= limit;
const finite = (value: unknown): boolean => typeof value === 'number' && value - value === 0;

function soundValue(value: unknown): boolean {
  if (typeof value === 'number') return finite(value);
  return (
    Array.isArray(value) &&
    value.length === 3 &&
    value.every((part) => typeof part === 'number' && part >= 0 && part <= 1)
  );
}

function soundHandle(handle: unknown): boolean {
  if (typeof handle !== 'object' || handle === null) return false;
  const { reach, rise } = handle as Record<string, unknown>;
  if (!within(reach, FRAME_LIMIT * 2) || (reach as number) < 0 || !within(rise, RISE_LIMIT)) return false;
  for (const name in handle) if (name !== 'reach' && name !== 'rise') return false;
  return true;
}

function soundKey(key: unknown): boolean {
  if (typeof key !== 'object' || key === null) return false;
  const fields = key as Record<string, unknown>;
  if (!within(fields.frame, FRAME_LIMIT) || !soundValue(fields.value) || !manners.has(fields.manner))
    return false;
  for (const name in fields)
    switch (name) {
      case 'frame':
      case 'value':
      case 'manner':
        break;
      case 'left':
      case 'right':
        if (!soundHandle(fields[name])) return false;
        break;
      case 'handles':
        if (!handleKinds.has(fields[name])) return false;
        break;
      default:
        return false;
    }
  return true;
}

/**
 * Whether tracks are surely as the schema wants them: a quick look for the usual case, since keys are most of a large
 * shot. False means "let the schema judge", not "wrong"; a test holds that true is never said of what the schema refuses.
 */
export function surelySoundTracks(tracks: unknown): boolean {
  if (typeof tracks !== 'object' || tracks === null || Array.isArray(tracks)) return false;
  for (const path in tracks) {
    const track = (tracks as Record<string, unknown>)[path];
    if (typeof track !== 'object' || track === null) return false;
    const { before, after, keys, blend } = track as Record<string, unknown>;
    if (!extendNames.has(before) || !extendNames.has(after) || !blends.has(blend)) return false;
    for (const name in track)
      if (name !== 'before' && name !== 'after' && name !== 'keys' && name !== 'blend') return false;
    if (typeof keys !== 'object' || keys === null || Array.isArray(keys)) return false;
    for (const id in keys) if (!ID.test(id) || !soundKey((keys as Record<string, unknown>)[id])) return false;
  }
  return true;
}
