import ELK from 'elkjs/lib/elk-api';
import workerUrl from 'elkjs/lib/elk-worker.min.js?url';
import type { LinkMap } from '../../../../core/evaluate';

export const CARD_WIDTH = 214;
export const CARD_HEAD = 26;
export const CARD_ROW = 20;
const GAP = 16;

export interface Placed {
  readonly x: number;
  readonly y: number;
}

export const cardHeight = (channels: number): number => CARD_HEAD + Math.max(1, channels) * CARD_ROW + 4;

let elk: InstanceType<typeof ELK> | null = null;

/** Places of all cards, drivers left and driven right, worked out beside the page. */
export async function layOut(map: LinkMap): Promise<ReadonlyMap<string, Placed>> {
  elk ??= new ELK({ workerUrl });
  const pairs = new Set(
    map.wires
      .filter((wire) => wire.fromCard !== wire.toCard)
      .map((wire) => `${wire.fromCard} ${wire.toCard}`),
  );
  const ends = new Set(map.wires.flatMap((wire) => [wire.fromCard, wire.toCard]));
  const wired = map.cards.filter((card) => ends.has(card.id));
  const done = await elk.layout({
    id: 'map',
    layoutOptions: {
      'elk.algorithm': 'layered',
      'elk.direction': 'RIGHT',
      'elk.layered.spacing.nodeNodeBetweenLayers': '48',
      'elk.spacing.nodeNode': '14',
      'elk.layered.nodePlacement.strategy': 'BRANDES_KOEPF',
      'elk.layered.crossingMinimization.forceNodeModelOrder': 'true',
      'elk.layered.considerModelOrder.strategy': 'NODES_AND_EDGES',
    },
    children: wired.map((card) => ({
      id: card.id,
      width: CARD_WIDTH,
      height: cardHeight(card.channels.length),
    })),
    edges: [...pairs].map((pair) => {
      const [from, to] = pair.split(' ');
      return { id: pair, sources: [from!], targets: [to!] };
    }),
  });
  const { width = 0, height = 0 } = done as { width?: number; height?: number };
  const at = new Map(done.children?.map(({ id, x = 0, y = 0 }) => [id, { x, y }]));
  // What reads time alone hangs on nothing: it stands in rows below.
  const alone = map.cards.filter((card) => !ends.has(card.id));
  const columns = Math.max(4, Math.round(width / (CARD_WIDTH + GAP)));
  let [y, tallest] = [wired.length === 0 ? 0 : height + GAP, 0];
  alone.forEach((card, i) => {
    if (i > 0 && i % columns === 0) {
      y += tallest + GAP;
      tallest = 0;
    }
    tallest = Math.max(tallest, cardHeight(card.channels.length));
    at.set(card.id, { x: 12 + (i % columns) * (CARD_WIDTH + GAP), y });
  });
  return at;
}
