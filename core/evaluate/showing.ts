import { compiledComponents, sampleTrack, type CompiledTrack } from '../curve';
import { flipsAcross, splitAddress, type Clip, type Placement, type Shot, type Track } from '../document';

/** When a clip is seen, and which of its frames. */
export interface Run {
  /** Frames [from, to) at which it is seen. */
  readonly from: number;
  readonly to: number;
  readonly speed: number;
  /** First frame of the clip that is played. */
  readonly first: number;
  /** Frames of the clip that are played. */
  readonly length: number;
  readonly plays: Placement['plays'];
  readonly backwards: boolean;
  /** Frames over which it takes over, and gives back. */
  readonly blendIn: number;
  readonly blendOut: number;
}

/** One showing of a clip on one channel. */
export interface Showing extends Run {
  /** 1, or -1 where a mirrored place changes its sign. */
  readonly sign: 1 | -1;
  /** One per component of the channel. */
  readonly tracks: readonly CompiledTrack[];
  readonly oklab: boolean;
}

/** Frames of a clip that a placement plays, first and last. */
export function playedOf(placement: Placement, clip: Clip): { first: number; last: number } {
  const first = placement.from ?? clip.first;
  return { first, last: Math.max(first, placement.to ?? clip.last) };
}

/** Frames [from, to) of the shot at which a placement is seen. */
export function spanOfPlacement(placement: Placement, clip: Clip): { from: number; to: number } {
  const { first, last } = playedOf(placement, clip);
  const once = placement.start + (last - first) / placement.speed;
  return { from: placement.start, to: placement.plays === 'once' ? once : (placement.until ?? Infinity) };
}

/** Address of the channel that a placement moves by a track of its clip; `null` where it moves none. */
export function shownAddress(placement: Placement, address: string): string | null {
  if (!placement.onto) return address;
  const { owner, path } = splitAddress(address);
  const other = placement.onto[owner];
  return other === undefined ? null : `${other}/${path}`;
}

/** The showings of every channel, lowest first: each covers what lies below it, or is blended over it. */
export function showingsOf(shot: Shot, widthOf: (address: string) => 1 | 3 | null): Map<string, Showing[]> {
  const found = new Map<string, Showing[]>();
  const placements = Object.entries(shot.placements).sort(
    ([aId, a], [bId, b]) => a.order - b.order || (aId < bId ? -1 : 1),
  );
  for (const [, placement] of placements) {
    const clip = shot.clips[placement.clip];
    if (!clip || placement.off) continue;
    for (const [source, track] of Object.entries(clip.tracks)) {
      const address = shownAddress(placement, source);
      const width = address === null ? null : widthOf(address);
      if (address === null || width === null) continue;
      const list = found.get(address) ?? [];
      list.push(showing(placement, clip, source, track, width));
      found.set(address, list);
    }
  }
  return found;
}

/** When a placement is seen, and which frames of its clip. */
export function runOf(placement: Placement, clip: Clip): Run {
  const { first, last } = playedOf(placement, clip);
  return {
    ...spanOfPlacement(placement, clip),
    speed: placement.speed,
    first,
    length: last - first,
    plays: placement.plays,
    backwards: placement.backwards === true,
    blendIn: placement.blendIn ?? 0,
    blendOut: placement.blendOut ?? 0,
  };
}

function showing(placement: Placement, clip: Clip, source: string, track: Track, width: 1 | 3): Showing {
  return {
    ...runOf(placement, clip),
    sign: placement.mirrored && flipsAcross(splitAddress(source).path, 'x') ? -1 : 1,
    tracks: compiledComponents(track, width),
    oklab: track.blend === 'oklab',
  };
}

/** Frame of the clip that is shown at a frame of the shot. */
export function clipFrame(run: Run, frame: number): number {
  const { length, first } = run;
  const gone = (frame - run.from) * run.speed;
  if (length <= 0) return first;
  const into = goneInto(run, gone);
  return run.backwards ? first + (length - into) : first + into;
}

function goneInto({ plays, length }: Run, gone: number): number {
  switch (plays) {
    case 'loop':
      return gone - length * Math.floor(gone / length);
    case 'back-and-forth': {
      const both = gone - 2 * length * Math.floor(gone / (2 * length));
      return both <= length ? both : 2 * length - both;
    }
    default:
      return Math.min(gone, length);
  }
}

/** Value of one component of a showing at a frame of the shot. */
export function showingValue(showing: Showing, component: number, frame: number): number {
  return showing.sign * sampleTrack(showing.tracks[component]!, clipFrame(showing, frame));
}

/** Share 3u^2 - 2u^3, the cubic Hermite between two rests. */
const eased = (u: number): number => u * u * (3 - 2 * u);

/** Share with which a showing counts over what lies below it at a frame at which it is seen, 0..1. */
export function shareOf({ from, to, blendIn, blendOut }: Run, frame: number): number {
  let share = 1;
  if (frame - from < blendIn) share = eased((frame - from) / blendIn);
  if (to - frame < blendOut) share *= eased((to - frame) / blendOut);
  return share;
}
