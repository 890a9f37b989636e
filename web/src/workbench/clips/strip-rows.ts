import { treeOrder, type Clip, type Placement, type Shot } from '../../../../core/document';
import { rootOfShowing } from '../../../../core/edit';
import { spanOfPlacement } from '../../../../core/evaluate';

/** One showing of a clip as it lies in its row. */
export interface Strip {
  readonly id: string;
  readonly placement: Placement;
  readonly clip: Clip;
  /** Frames between which it is seen; `to` is Infinity where it has no end. */
  readonly from: number;
  readonly to: number;
  /** Height at which it lies, 0 the lowest: it covers what lies below it. */
  readonly layer: number;
}

/** The showings that move one part. */
export interface StripRow {
  readonly part: string;
  readonly name: string;
  readonly layers: number;
  readonly strips: readonly Strip[];
}

/** All showings of clips, in rows by the part that they move, in the order of the tree. */
export function rowsOfStrips(shot: Shot): StripRow[] {
  const byPart = new Map<string, Strip[]>();
  const placements = Object.entries(shot.placements).sort(
    ([a, { order }], [b, other]) => order - other.order || (a < b ? -1 : 1),
  );
  for (const [id, placement] of placements) {
    const clip = shot.clips[placement.clip];
    if (!clip) continue;
    const part = rootOfShowing(placement, clip);
    const row = byPart.get(part) ?? [];
    const span = spanOfPlacement(placement, clip);
    const overlapped = row.filter((strip) => strip.from < span.to && span.from < strip.to);
    const layer = 1 + Math.max(-1, ...overlapped.map((strip) => strip.layer));
    row.push({ id, placement, clip, ...span, layer });
    byPart.set(part, row);
  }
  const tree = treeOrder(shot).map(({ id }) => id);
  const place = (part: string): number => (tree.indexOf(part) + tree.length + 1) % (tree.length + 1);
  return [...byPart]
    .sort(([a], [b]) => place(a) - place(b))
    .map(([part, strips]) => ({
      part,
      name: shot.parts[part]?.name ?? 'A part that is gone',
      layers: 1 + Math.max(...strips.map((strip) => strip.layer)),
      strips,
    }));
}

const PLAYS_WORDS: Record<Placement['plays'], string> = {
  once: 'once',
  loop: 'over and over',
  'back-and-forth': 'back and forth',
  hold: 'then held',
};

export { PLAYS_WORDS };

const tidy = (frame: number): string => String(Math.round(frame * 100) / 100);

/** What a strip is, in words: "Wing beat, frames 24 to 48, twice the speed, mirrored". */
export function stripWords({ clip, placement, from, to }: Strip): string {
  const { speed, plays, backwards, mirrored, off } = placement;
  return [
    clip.name,
    `from frame ${tidy(from)} ${Number.isFinite(to) ? `to ${tidy(to)}` : 'on'}`,
    PLAYS_WORDS[plays],
    speed !== 1 && `${tidy(speed)} times its speed`,
    backwards && 'backwards',
    mirrored && 'mirrored',
    off && 'switched off',
  ]
    .filter(Boolean)
    .join(', ');
}
