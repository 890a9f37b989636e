import { compiledComponents, sampleTrack, type CompiledTrack, type ValueAt } from '../../../../core/curve';
import {
  channelAt,
  keyList,
  linkOf,
  trackOf,
  type ChannelSpec,
  type Shot,
  type Track,
} from '../../../../core/document';
import type { LaneCurves } from '../keys/lane-curves';
import type { Lane } from '../keys/lanes';

/** Colours that curves take in turn; a linked one has that of links. */
export const LINE_COLOURS = ['curve-1', 'curve-2', 'curve-3', 'curve-4', 'curve-5', 'curve-6'] as const;
export type LineColour = (typeof LINE_COLOURS)[number] | 'link';

/** One curve of the plot. */
export interface Line {
  readonly address: string;
  readonly name: string;
  readonly part: string | null;
  readonly spec: ChannelSpec;
  readonly track: Track | null;
  readonly linked: boolean;
  readonly colour: LineColour;
  /** One for a number; red, green and blue (or what the colour blends in) for a colour. */
  readonly components: readonly CompiledTrack[];
  /** Value at a frame of what is drawn; `null` while a link is being worked out. */
  readonly at: ValueAt | null;
  /** What the link of a colour makes of it at a frame, as `#rrggbb`. */
  readonly shade?: (frame: number) => string;
  /** Least and largest value over the range and at the keys. */
  readonly low: number;
  readonly high: number;
}

interface Span {
  readonly low: number;
  readonly high: number;
}

const LOOKS = 160;
const spans = new WeakMap<Track, { first: number; last: number; span: Span }>();

/** Least and largest value of a track over a range. */
function spanOfTrack(track: Track, components: readonly CompiledTrack[], first: number, last: number): Span {
  const known = spans.get(track);
  if (known?.first === first && known.last === last) return known.span;
  let [low, high] = [Infinity, -Infinity];
  for (const component of components)
    for (let i = 0; i <= LOOKS; i++) {
      const value = sampleTrack(component, first + ((last - first) * i) / LOOKS);
      low = Math.min(low, value);
      high = Math.max(high, value);
    }
  for (const { value, left, right } of keyList(track)) {
    if (typeof value !== 'number') continue;
    low = Math.min(low, value, value + riseOf(left), value + riseOf(right));
    high = Math.max(high, value, value + riseOf(left), value + riseOf(right));
  }
  const span = { low, high };
  spans.set(track, { first, last, span });
  return span;
}

/** Handles that reach far out are not brought into sight whole: a long one would flatten the curve. */
function riseOf(handle: { readonly rise: number | readonly number[] } | undefined): number {
  return handle && typeof handle.rise === 'number' ? handle.rise / 2 : 0;
}

const made = new WeakMap<
  Track,
  { readonly lane: Lane; readonly first: number; readonly last: number; readonly line: Line }
>();

/** The curve of a lane in a document, which may be one that is tried; the same one for as long as nothing of it changes. */
export function lineOf(shot: Shot, lane: Lane, colour: LineColour, curves: LaneCurves): Line | null {
  const spec = channelAt(shot, lane.address)?.spec;
  if (!spec) return null;
  const track = trackOf(shot, lane.address);
  const linked = linkOf(shot, lane.address) !== null;
  const { first, last } = shot.setup;
  const known = track && made.get(track);
  if (
    known &&
    !linked &&
    known.lane === lane &&
    known.line.colour === colour &&
    known.first === first &&
    known.last === last
  )
    return known.line;
  const components = track ? compiledComponents(track, spec.kind === 'colour' ? 3 : 1) : [];
  const base = { address: lane.address, name: lane.name, part: lane.part, spec, track, linked, components };
  if (linked) {
    const sampled = curves.sampled(lane.address);
    const shown = spec.kind === 'colour' ? curves.of(lane.address) : null;
    return {
      ...base,
      ...(shown?.kind === 'colour' ? { shade: shown.at } : {}),
      colour: 'link',
      at: sampled?.at ?? null,
      low: sampled?.low ?? 0,
      high: sampled?.high ?? 1,
    };
  }
  if (!track) return null;
  const [component] = components;
  const { low, high } = spanOfTrack(track, components, first, last);
  const line = { ...base, colour, at: (frame: number) => sampleTrack(component!, frame), low, high };
  made.set(track, { lane, first, last, line });
  return line;
}

/** Lanes that the plot draws: those of the chosen parts, else all that are keyed, and the one of the chosen channel. */
export function lanesToPlot(
  lanes: readonly Lane[],
  chosen: readonly string[],
  channel: string | null,
): readonly Lane[] {
  const ofParts = lanes.filter((lane) => lane.part !== null && chosen.includes(lane.part));
  if (ofParts.length > 0) return ofParts;
  return lanes.filter((lane) => lane.keys.length > 0 || lane.address === channel);
}
