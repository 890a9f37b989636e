import { compiledComponents, sampleTrack, type CompiledTrack } from '../curve';
import type { Clip, Placement, Shot, Track } from '../document';

/** One showing of a clip on one channel. */
export interface Showing {
  /** Frames [from, to) at which it is seen. */
  readonly from: number;
  readonly to: number;
  readonly speed: number;
  readonly first: number;
  /** Frames of the clip. */
  readonly length: number;
  readonly plays: Placement['plays'];
  /** One per component of the channel. */
  readonly tracks: readonly CompiledTrack[];
  readonly oklab: boolean;
}

/** Frames [from, to) of the shot at which a placement is seen. */
export function spanOfPlacement(placement: Placement, clip: Clip): { from: number; to: number } {
  const length = Math.max(0, clip.last - clip.first);
  const once = placement.start + length / placement.speed;
  return { from: placement.start, to: placement.plays === 'once' ? once : (placement.until ?? Infinity) };
}

/** The showings of every channel, lowest first: the last one that is seen at a frame counts. */
export function showingsOf(shot: Shot, widthOf: (address: string) => 1 | 3 | null): Map<string, Showing[]> {
  const found = new Map<string, Showing[]>();
  const placements = Object.entries(shot.placements).sort(
    ([aId, a], [bId, b]) => a.order - b.order || (aId < bId ? -1 : 1),
  );
  for (const [, placement] of placements) {
    const clip = shot.clips[placement.clip];
    if (!clip) continue;
    for (const [address, track] of Object.entries(clip.tracks)) {
      const width = widthOf(address);
      if (width === null) continue;
      const list = found.get(address) ?? [];
      list.push(showing(placement, clip, track, width));
      found.set(address, list);
    }
  }
  return found;
}

function showing(placement: Placement, clip: Clip, track: Track, width: 1 | 3): Showing {
  return {
    ...spanOfPlacement(placement, clip),
    speed: placement.speed,
    first: clip.first,
    length: Math.max(0, clip.last - clip.first),
    plays: placement.plays,
    tracks: compiledComponents(track, width),
    oklab: track.blend === 'oklab',
  };
}

/** Frame of the clip that a showing shows at a frame of the shot. */
export function clipFrame(showing: Showing, frame: number): number {
  const { length } = showing;
  const gone = (frame - showing.from) * showing.speed;
  if (length <= 0) return showing.first;
  switch (showing.plays) {
    case 'loop':
      return showing.first + (gone - length * Math.floor(gone / length));
    case 'back-and-forth': {
      const both = gone - 2 * length * Math.floor(gone / (2 * length));
      return showing.first + (both <= length ? both : 2 * length - both);
    }
    default:
      return showing.first + Math.min(gone, length);
  }
}

/** Value of one component of a showing at a frame of the shot. */
export function showingValue(showing: Showing, component: number, frame: number): number {
  return sampleTrack(showing.tracks[component]!, clipFrame(showing, frame));
}
