import { useReactFlow } from '@xyflow/react';
import { useMemo, useRef, type RefObject } from 'react';
import { CARD_WIDTH, cardHeight, type Placed } from './map-layout';

/** Smallest scale at which cards can still be read. */
const LEGIBLE = 0.72;
/** Height of the bar over the map, pixels. */
const BAR = 36;
/** Of a card, at least so much is in sight: across its name, down its head. */
const IN_SIGHT = { across: 120, down: 40 };
const GLIDE_MS = 200;

export interface Sight {
  readonly x: number;
  readonly y: number;
  readonly zoom: number;
}

interface Size {
  readonly wide: number;
  readonly tall: number;
}

/** All cards where they can still be read so, else the beginning of them. */
export function sightOfAll(
  at: ReadonlyMap<string, Placed>,
  cards: readonly { readonly id: string; readonly channels: readonly unknown[] }[],
  { wide, tall }: Size,
): Sight {
  const room = tall - BAR;
  const right = Math.max(...[...at.values()].map(({ x }) => x)) + CARD_WIDTH;
  const bottom = Math.max(
    ...cards.map((card) => (at.get(card.id)?.y ?? 0) + cardHeight(card.channels.length)),
  );
  const zoom = Math.max(LEGIBLE, Math.min(1, (wide - 24) / right, (room - 12) / bottom));
  return {
    x: Math.max(12, (wide - right * zoom) / 2),
    y: BAR + Math.max(2, (room - bottom * zoom) / 2),
    zoom,
  };
}

/** What is to be seen instead of `sight` so that a card at `place` is in it, or `null` where it is already. */
export function sightOfCard({ x, y, zoom }: Sight, place: Placed, { wide, tall }: Size): Sight | null {
  const [left, top] = [place.x * zoom + x, place.y * zoom + y];
  if (left >= 0 && top >= BAR && left <= wide - IN_SIGHT.across && top <= tall - IN_SIGHT.down) return null;
  return {
    x: wide / 2 - (place.x + CARD_WIDTH / 2) * zoom,
    y: tall / 2 - (place.y + 40) * zoom,
    zoom,
  };
}

/** Moves what is seen of the map in `frame`. */
export function useMapSight(frame: RefObject<HTMLElement | null>) {
  const { setViewport, getViewport } = useReactFlow();
  /** What the map glides to: while it does, this counts and not what is seen on the way. */
  const heading = useRef<Sight | null>(null);
  return useMemo(() => {
    const size = (): Size | null =>
      frame.current && { wide: frame.current.clientWidth, tall: frame.current.clientHeight };
    return {
      /** Shows all at once, or its beginning. */
      async showAll(at: ReadonlyMap<string, Placed>, cards: Parameters<typeof sightOfAll>[1]): Promise<void> {
        const room = size();
        if (!room || at.size === 0) return;
        heading.current = null;
        await setViewport(sightOfAll(at, cards, room));
      },
      /** Glides to a card that is out of sight. */
      goTo(place: Placed | undefined): void {
        const room = size();
        if (!place || !room) return;
        const sight = sightOfCard(heading.current ?? getViewport(), place, room);
        if (!sight) return;
        heading.current = sight;
        void setViewport(sight, { duration: GLIDE_MS }).then(() => {
          if (heading.current === sight) heading.current = null;
        });
      },
      /** The user has taken hold of the map: whatever it was gliding to counts no more. */
      taken(): void {
        heading.current = null;
      },
    };
  }, [frame, getViewport, setViewport]);
}
